import {
  PLAIN_ASSIGNMENT,
  PLAIN_BANK,
  PLAIN_BOARD,
  PLAIN_CONTROL,
  PLAIN_PRESET,
  PLAIN_TIMING,
  type Action,
  type Assignment,
  type Board,
  type GestureTiming,
  type Preset,
  type RigWithBoards,
} from './floor';
import {
  PLAIN_DEVICE,
  PLAIN_FUNCTION,
  PLAIN_PORT,
  writesOf,
  type Cable,
  type ChartFunction,
  type Device,
  type Port,
  type Registers,
} from './gear';
import { valueAt, type Known, type World } from './engine';
import { PLAIN_SCENE, PLAIN_SONG, type Song } from './show';

/** Small builders for tests: a whole thing with only what matters said. */

let next = 0;
const freshId = (what: string): string => `${what}-${++next}`;

/** A switch is off at power-on. */
export const makeFunction = (part: Partial<ChartFunction> = {}): ChartFunction => ({
  id: freshId('function'),
  name: 'Function',
  drive: { kind: 'controller', controller: 20 },
  shape: { kind: 'range', min: 0, max: 127, shownFrom: 0 },
  ...PLAIN_FUNCTION,
  powerOn: part.shape?.kind === 'switch' ? 0 : null,
  ...part,
});

/** What is known of every function, by id. */
export const valuesOf = (world: World, state: Known): Record<string, number> =>
  Object.fromEntries(
    [...world.functions.values()].flatMap((reached) => {
      const value = valueAt(state, reached);
      return value === undefined ? [] : [[reached.fn.id, value]];
    }),
  );

/** Registers in which functions stand at values. */
export const registersAt = (world: World, values: Record<string, number>): Registers =>
  Object.fromEntries(
    Object.entries(values).flatMap(([id, value]) => {
      const { device, fn } = world.functions.get(id)!;
      return writesOf(device, fn, value).map((w) => [w.key, w.value] as const);
    }),
  );

export const makePort = (part: Partial<Port> = {}): Port => ({
  id: freshId('port'),
  name: 'Port',
  direction: 'in',
  link: 'din',
  ...PLAIN_PORT,
  ...part,
});

export const makeDevice = (part: Partial<Device> = {}): Device => ({
  id: freshId('device'),
  name: 'Device',
  role: 'receiver',
  mark: { shape: 'tee', colour: 'leaf' },
  ...PLAIN_DEVICE,
  ...part,
});

export const cable = (from: Port, to: Port): Cable => ({
  id: freshId('cable'),
  fromPortId: from.id,
  toPortId: to.id,
});

export const makeRig = (devices: Device[], cables: Cable[] = [], boards: Board[] = []): RigWithBoards => ({
  id: 'rig',
  name: 'Rig',
  middleC: 3,
  devices,
  cables,
  boards,
});

type LooseAction = Action extends infer A ? (A extends { id: string } ? Omit<A, 'id'> : never) : never;

const withIds = (list: LooseAction[]): Action[] =>
  list.map((a) => ({ ...a, id: freshId('action') }) as Action);

export const assign = (
  controlId: string,
  press: LooseAction[],
  release: LooseAction[] = [],
  part: { hold?: LooseAction[]; doublePress?: LooseAction[]; timing?: Partial<GestureTiming> } = {},
): Assignment => ({
  ...PLAIN_ASSIGNMENT,
  controlId,
  press: withIds(press),
  release: withIds(release),
  hold: withIds(part.hold ?? []),
  doublePress: withIds(part.doublePress ?? []),
  timing: { ...PLAIN_TIMING, ...part.timing },
});

/** A board of footswitches that send controllers 30, 31, … and pedals that send 4, 5, … on channel index 15. */
export function makeBoard(
  switches: number,
  pedals: number,
  banks: Assignment[][],
): { device: Device; board: Board; preset: Preset } {
  const out = makePort({ direction: 'out', link: 'usb', atComputer: true, id: 'board-out' });
  const device = makeDevice({ id: 'board-device', role: 'controller', channel: 15, ports: [out] });
  const size = { xMm: 0, yMm: 0, widthMm: 10, heightMm: 10 };
  const board: Board = {
    id: 'board',
    deviceId: device.id,
    presetId: 'preset',
    ...size,
    ...PLAIN_BOARD,
    controls: [
      ...Array.from({ length: switches }, (_, i) => ({
        id: `s${i}`,
        name: `switch ${i + 1}`,
        kind: 'footswitch' as const,
        ...size,
        ...PLAIN_CONTROL,
        sends: { kind: 'controller' as const, number: 30 + i },
      })),
      ...Array.from({ length: pedals }, (_, i) => ({
        id: `p${i}`,
        name: `pedal ${i + 1}`,
        kind: 'expression-pedal' as const,
        ...size,
        ...PLAIN_CONTROL,
        sends: { kind: 'controller' as const, number: 4 + i },
      })),
    ],
  };
  const preset: Preset = {
    id: 'preset',
    rigId: 'rig',
    boardId: board.id,
    name: 'Preset',
    ...PLAIN_PRESET,
    banks: banks.map((assignments, i) => ({
      ...PLAIN_BANK,
      id: `bank-${i}`,
      name: `Bank ${i + 1}`,
      assignments,
    })),
  };
  return { device, board, preset };
}

export const makeSong = (
  name: string,
  scenes: [string, Record<string, number>][],
  part: Partial<Song> = {},
): Song => ({
  id: freshId('song'),
  rigId: 'rig',
  name,
  tempoBpm: 100,
  beatsPerBar: 4,
  lengthS: 200,
  ...PLAIN_SONG,
  scenes: scenes.map(([sceneName, values]) => ({
    ...PLAIN_SCENE,
    id: freshId('scene'),
    name: sceneName,
    values: Object.entries(values).map(([functionId, value]) => ({ functionId, value, way: null })),
  })),
  ...part,
});
