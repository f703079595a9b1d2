import type { FullRig } from '@idle-step/core/routing';
import { type Preset, isPressed, PLAIN_ASSIGNMENT, readyPresets } from '@idle-step/core/floor';
import { type Device, PLAIN_FUNCTION, PLAIN_PORT } from '@idle-step/core/gear';
import { withNewBoard } from './boardEdits';
import { freeDeviceName, withNewDevice, type DeviceKind } from './newDevice';
import { EMPTY_PRESET, newAction, newBank } from './presetEdits';
import { plugCable, withDevice, withLink } from './rigEdits';
import { there } from '@idle-step/core/sure';

/** What somebody says of a first rig; `null` where it was skipped. */
export type FirstAnswers = {
  /** One of `BOARD_SHAPES`, or `EMPTY_SHAPE`. */
  readonly shape: string | null;
  /** Gear of one's own, with its name and channel (0–15), or simulated gear. */
  readonly target:
    | { readonly kind: 'own'; readonly name: string; readonly channel: number }
    | { readonly kind: DeviceKind }
    | null;
  readonly through: 'computer' | 'interface';
};

export type FirstRig = {
  readonly rig: FullRig;
  readonly boardId: string | null;
  /** The first control that is pressed, and the port by which the gear is told something. */
  readonly controlId: string | null;
  readonly targetId: string | null;
  readonly outPortId: string | null;
  /** What the board does at first; `null` where there is no board or nothing to move. */
  readonly preset: Preset | null;
};

/** The rig with what was answered: cabled, with a preset that lets the first press move something. */
export function firstRig(before: FullRig, { shape, target, through }: FirstAnswers): FirstRig {
  let rig = before;
  const board = shape === null ? null : withNewBoard(rig, shape, false);
  if (board) rig = board.rig;
  const added = target && withNewDevice(rig, target.kind === 'own' ? 'receiver' : target.kind);
  if (added) {
    rig = added.rig;
    if (target.kind === 'own') rig = withDevice(rig, added.deviceId, (d) => ownGear(rig, d, target, through));
  }
  const direct = { rig, outPortId: inputOf(rig, added?.deviceId)?.id ?? null };
  const cabled = through === 'interface' ? withInterface(rig, board?.deviceId, added?.deviceId) : direct;
  const made = board && added ? firstPreset(cabled.rig, board.boardId, added.deviceId) : null;
  return {
    rig: made
      ? {
          ...cabled.rig,
          boards: cabled.rig.boards.map((b) =>
            b.id === there(board).boardId ? { ...b, presetId: made.id } : b,
          ),
        }
      : cabled.rig,
    boardId: board?.boardId ?? null,
    controlId: made?.banks[0]?.assignments[0]?.controlId ?? null,
    targetId: added?.deviceId ?? null,
    outPortId: cabled.outPortId,
    preset: made,
  };
}

/**
 * Gear that nobody wrote a chart for: every one of them takes a program change. It has the ports that gear added later has,
 * and USB where the computer reaches it by that.
 */
const ownGear = (
  rig: FullRig,
  device: Device,
  own: { name: string; channel: number },
  through: FirstAnswers['through'],
): Device => ({
  ...device,
  name: freeDeviceName(rig, own.name),
  channel: own.channel,
  ports: through === 'interface' ? device.ports : [usbIn(), ...device.ports],
  chart: [
    {
      ...PLAIN_FUNCTION,
      id: crypto.randomUUID(),
      name: 'Program',
      drive: { kind: 'program', bank: null },
      shape: { kind: 'program', names: [] },
    },
  ],
});

const usbIn = (): Device['ports'][number] => ({
  ...PLAIN_PORT,
  id: crypto.randomUUID(),
  name: 'USB',
  direction: 'in',
  link: 'usb',
  atComputer: true,
});

const inputOf = (rig: FullRig, deviceId: string | undefined) =>
  rig.devices.find((d) => d.id === deviceId)?.ports.find((p) => p.direction === 'in');

/** An interface between: the board into its first input, gear that is no simulation behind its first output. */
function withInterface(
  before: FullRig,
  boardDeviceId: string | undefined,
  targetId: string | undefined,
): { rig: FullRig; outPortId: string | null } {
  const { rig: withIt, deviceId } = withNewDevice(before, 'interface');
  const [firstIn, , firstOut] = there(withIt.devices.find((d) => d.id === deviceId)).ports;
  let rig = withIt;
  const plug = (ownerId: string, portId: string, from: string, to: string) => {
    const unplugged = withDevice(rig, ownerId, (d) => ({
      ...d,
      ports: d.ports.map((p) =>
        p.id === portId
          ? { ...withLink(p, 'din'), name: p.direction === 'out' ? 'Out' : 'In', atComputer: false }
          : p,
      ),
    }));
    rig = plugCable(unplugged, from, to).rig ?? rig;
  };
  const boardOut = rig.devices.find((d) => d.id === boardDeviceId)?.ports.find((p) => p.direction === 'out');
  if (boardDeviceId && boardOut) plug(boardDeviceId, boardOut.id, boardOut.id, there(firstIn).id);
  const target = rig.devices.find((d) => d.id === targetId);
  const targetIn = inputOf(rig, targetId);
  if (!target || !targetIn || target.standIn) return { rig, outPortId: targetIn?.id ?? null };
  plug(target.id, targetIn.id, there(firstOut).id, targetIn.id);
  return { rig, outPortId: there(firstOut).id };
}

/** The main functions of the gear on the switches in order; for gear without a chart its programs from the first on. */
function firstPreset(rig: FullRig, boardId: string, targetId: string): Preset | null {
  const board = rig.boards.find((b) => b.id === boardId);
  const target = rig.devices.find((d) => d.id === targetId);
  if (!board || !target) return null;
  const newId = () => crypto.randomUUID();
  const ready = readyPresets(rig, board, newId).find((r) => r.kind === `device/${targetId}`);
  if (ready) return { ...ready.preset, name: 'First preset' };
  const program = target.chart.find((f) => f.shape.kind === 'program');
  if (!program) return null;
  const pressed = board.controls.filter((c) => isPressed(c.kind));
  return {
    ...EMPTY_PRESET,
    id: newId(),
    rigId: rig.id,
    boardId,
    name: 'First preset',
    banks: [
      {
        ...newBank(1),
        assignments: pressed.slice(0, 128).map((c, i) => ({
          ...PLAIN_ASSIGNMENT,
          controlId: c.id,
          press: [newAction({ kind: 'set', functionId: program.id, value: i })],
        })),
      },
    ],
  };
}
