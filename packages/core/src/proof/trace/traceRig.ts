import { portName } from '../../routing';
import type { LiveState, World } from '../../engine';
import { LINK_WORDS, rigPaths, type ChartFunction, type Device, type RigPath } from '../../gear';
import { lookIn, lost, type Loss } from './hops';
import { STAND_INS } from '../../standins';
import { there } from '../../sure';

/** What a port of the rig is at this moment in this browser. */
export type PortNow =
  | 'open'
  /** Its hardware was there and is not now. */
  | 'absent'
  /** No hardware belongs to it: only stand-ins play. */
  | 'unbound'
  /** No hardware belongs to it, while others are bound: what is pressed by foot does not arrive here. */
  | 'unfed';

/** What a trace looks at: the rig as it is now. */
export class TraceRig {
  /** The recall plan waited for deaf devices already. */
  isPlanned = false;

  constructor(
    readonly world: World,
    readonly state: LiveState,
    readonly pressedAtMs: number,
    private readonly portNow: (portId: string) => PortNow,
  ) {}

  portName(portId: string): string {
    return portName(this.world.show.rig, portId);
  }

  functionName(functionId: string): string {
    const found = this.world.functions.get(functionId);
    return found ? `${found.device.name} ${found.fn.name}` : 'a function that is gone';
  }

  portDetail(portId: string): string {
    const port = this.world.show.rig.devices.flatMap((d) => d.ports).find((p) => p.id === portId);
    return port ? LINK_WORDS[port.link] : '';
  }

  /** Why nothing passes a port, or `null`. */
  shutOut(portId: string): Loss | null {
    const name = this.portName(portId);
    const owner = this.world.show.rig.devices.find((d) => d.ports.some((p) => p.id === portId));
    if (!owner)
      return lost('port', 'gone', `This goes to a port that is gone. Choose another one.`, lookIn('routes'));
    if (this.world.portsOff.has(portId))
      return lost('port', 'port-off', `${name} is not enabled for playing, so nothing passes it.`, {
        kind: 'enable-port',
        portId,
        text: `Enable ${name}`,
      });
    const now = this.portNow(portId);
    if (now === 'absent')
      return lost(
        'port',
        'port-absent',
        `The hardware of ${name} is not there. Plug it in, or choose other hardware for this port.`,
        lookIn('ports', owner.id),
      );
    return null;
  }

  /** Why what a board sends never arrives at a port, or `null`. */
  shutIn(portId: string, board: Device): Loss | null {
    const shut = this.shutOut(portId);
    if (shut || this.portNow(portId) !== 'unfed') return shut;
    const owner = there(this.world.show.rig.devices.find((d) => d.ports.some((p) => p.id === portId)));
    return lost(
      'port',
      'unfed',
      `Nothing feeds ${this.portName(portId)}: no port of this browser is bound to it, so what ${board.name} sends by foot is not heard. Bind it, or draw the cable by which it comes. Presses on the screen still play.`,
      lookIn('ports', owner.id),
    );
  }

  /** Every way through the rig, found once. */
  readonly paths = (): readonly RigPath[] => {
    const { rig } = this.world.show;
    let paths = PATHS.get(rig);
    if (!paths) PATHS.set(rig, (paths = rigPaths(rig)));
    return paths;
  };

  /** A switch whose chart says the other way round than the gear: its lamp is on while the effect is off. */
  inversionOf(device: Device, fn: ChartFunction): Loss | null {
    if (fn.shape.kind !== 'switch' || device.standIn === null) return null;
    const { on, off } = fn.shape;
    const own = STAND_INS[device.standIn].chart.find(
      (row) => row.shape.kind === 'switch' && JSON.stringify(row.drive) === JSON.stringify(fn.drive),
    );
    if (own?.shape.kind !== 'switch' || Math.sign(on - off) === Math.sign(own.shape.on - own.shape.off))
      return null;
    return lost(
      'effect',
      'inverted',
      `${device.name} ${fn.name} is inverted: its chart sends ${on} for on and ${off} for off, and the gear takes ${own.shape.on} for on. Its lamp is lit while the effect is off. Swap the two in the chart.`,
      lookIn('rig', device.id),
    );
  }
}

const PATHS = new WeakMap<object, readonly RigPath[]>();
