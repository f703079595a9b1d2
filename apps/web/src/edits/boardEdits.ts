import type { FullRig } from '@idle-step/core/routing';
import {
  type Board,
  type Control,
  BOARD_SHAPES,
  CONTROL_SIZES,
  nextMessage,
  PLAIN_CONTROL,
  PLAIN_HARDWARE,
  shapedBoard,
  type BoardShape,
  type Candidate,
  type ControlKind,
} from '@idle-step/core/floor';
import { PLAIN_DEVICE, PLAIN_PORT } from '@idle-step/core/gear';
import { freeChannel, freeDeviceName, freeMark } from './newDevice';

/** Changes of a rig's boards as pure functions. */

const newId = () => crypto.randomUUID();

export const withBoard = (rig: FullRig, boardId: string, change: (board: Board) => Board): FullRig => ({
  ...rig,
  boards: rig.boards.map((b) => (b.id === boardId ? change(b) : b)),
});

export const withoutControls = (rig: FullRig, boardId: string, ids: ReadonlySet<string>): FullRig =>
  withBoard(rig, boardId, (b) => ({ ...b, controls: b.controls.filter((c) => !ids.has(c.id)) }));

/** A shape without any control, to be built control by control. */
export const EMPTY_SHAPE = 'empty';

/** Controllers without a board: what has keys or switches, and no picture of them yet. */
export const withoutBoard = (rig: FullRig): FullRig['devices'] =>
  rig.devices.filter((d) => d.role === 'controller' && !rig.boards.some((b) => b.deviceId === d.id));

/**
 * The rig with one more board, at the right of those that lie there, and the controller whose face it is.
 * @param shapeKind one of `BOARD_SHAPES`, or `EMPTY_SHAPE`.
 * @param ownerId a controller of the rig that has no board yet; without it a new one is added.
 */
export function withNewBoard(
  rig: FullRig,
  shapeKind: string,
  isOnScreen: boolean,
  ownerId?: string,
): { rig: FullRig; boardId: string; deviceId: string } {
  const shape = BOARD_SHAPES.find((s) => s.kind === shapeKind) ?? {
    kind: EMPTY_SHAPE,
    text: 'Controller',
    name: 'Controller',
    widthMm: 400,
    heightMm: 200,
    controls: [],
  };
  const owner = rig.devices.find((d) => d.id === ownerId);
  const device = owner ?? newController(rig, shape, isOnScreen);
  const boardId = newId();
  const xMm = Math.max(0, ...rig.boards.map((b) => b.xMm + b.widthMm + 80));
  const board = {
    ...shapedBoard(shape, { id: boardId, deviceId: device.id, xMm, yMm: 0 }, newId),
    isOnScreen,
  };
  return {
    rig: {
      ...rig,
      devices: owner ? rig.devices : [...rig.devices, device],
      boards: [...rig.boards, board],
    },
    boardId,
    deviceId: device.id,
  };
}

/** Keys of the computer come by no cable. */
const isKeys = ({ controls }: Pick<BoardShape, 'controls'>): boolean =>
  controls.length > 0 && controls.every((c) => c.sends.kind === 'key');

const newController = (
  rig: FullRig,
  shape: Pick<BoardShape, 'name' | 'text' | 'controls'>,
  isOnScreen: boolean,
): FullRig['devices'][number] => ({
  ...PLAIN_DEVICE,
  id: newId(),
  name: freeDeviceName(rig, isOnScreen ? `${shape.name} on screen` : shape.name),
  description: shape.text,
  role: 'controller',
  mark: freeMark(rig),
  channel: freeChannel(rig, 'controller'),
  programsShownFrom: 1,
  ports:
    isOnScreen || isKeys(shape)
      ? []
      : [{ ...PLAIN_PORT, id: newId(), name: 'USB', direction: 'out', link: 'usb', atComputer: true }],
});

const KIND_NAMES: Record<ControlKind, string> = {
  footswitch: 'switch',
  button: 'button',
  pad: 'pad',
  key: 'key',
  'expression-pedal': 'pedal',
  fader: 'fader',
  knob: 'knob',
  strip: 'strip',
  encoder: 'encoder',
};

/** The board with more controls of a kind, in free places, each with the next free note or number. */
export function withNewControls(
  board: Board,
  kind: ControlKind,
  count: number,
): { board: Board; ids: string[]; missing: number } {
  const { w, h } = CONTROL_SIZES[kind];
  let next = board;
  const ids: string[] = [];
  for (let i = 0; i < count; i++) {
    const sends = nextMessage(next, kind);
    if (!sends) return { board: next, ids, missing: count - i };
    const place = freePlace(next, w, h);
    const id = newId();
    const control: Control = {
      ...PLAIN_CONTROL,
      id,
      name: freeControlName(next, KIND_NAMES[kind]),
      kind,
      xMm: place.x,
      yMm: place.y,
      widthMm: w,
      heightMm: h,
      sends,
      hardware:
        kind === 'encoder' ? { ...PLAIN_HARDWARE, encoding: 'twos-complement' } : { ...PLAIN_HARDWARE },
    };
    ids.push(id);
    next = {
      ...next,
      widthMm: Math.max(next.widthMm, place.x + w + 12),
      heightMm: Math.max(next.heightMm, place.y + h + 12),
      controls: [...next.controls, control],
    };
  }
  return { board: next, ids, missing: 0 };
}

/** Between controls that are placed by themselves, and at the edges of the board, mm. */
const GAP_MM = 4;
const EDGE_MM = 12;

/**
 * The first place on the board where nothing lies yet, row by row, beside and below what lies there; a new row below
 * everything when it is full.
 */
function freePlace(board: Board, w: number, h: number): { x: number; y: number } {
  const isFree = (x: number, y: number) =>
    board.controls.every(
      (c) =>
        c.xMm >= x + w + GAP_MM ||
        x >= c.xMm + c.widthMm + GAP_MM ||
        c.yMm >= y + h + GAP_MM ||
        y >= c.yMm + c.heightMm + GAP_MM,
    );
  const tops = board.controls.flatMap((c) => [c.yMm, c.yMm + c.heightMm + GAP_MM]);
  const lefts = board.controls.map((c) => c.xMm + c.widthMm + GAP_MM);
  for (const y of inOrder([EDGE_MM, ...tops]))
    for (const x of inOrder([EDGE_MM, ...lefts]))
      if (y + h + EDGE_MM <= board.heightMm && x + w + EDGE_MM <= board.widthMm && isFree(x, y))
        return { x, y };
  const low = Math.max(EDGE_MM - GAP_MM, ...board.controls.map((c) => c.yMm + c.heightMm));
  return { x: EDGE_MM, y: low + GAP_MM };
}

const inOrder = (places: readonly number[]): number[] => [...new Set(places)].sort((a, b) => a - b);

function freeControlName(board: Board, kind: string): string {
  const taken = new Set(board.controls.map((c) => c.name.toLowerCase()));
  for (let i = 1; ; i++) if (!taken.has(`${kind} ${i}`)) return `${kind} ${i}`;
}

/** The control as it was learned; one that sent the same takes over what this one sent until now. */
export function withLearned(
  rig: FullRig,
  boardId: string,
  controlId: string,
  candidate: Candidate,
  swapWithId: string | null,
): FullRig {
  const board = rig.boards.find((b) => b.id === boardId);
  const own = rig.devices.find((d) => d.id === board?.deviceId)?.channel ?? 0;
  const before = board?.controls.find((c) => c.id === controlId);
  return withBoard(rig, boardId, (b) => ({
    ...b,
    controls: b.controls.map((c) => {
      if (c.id === controlId)
        return {
          ...c,
          sends: { ...candidate.sends },
          channel: candidate.channel === own ? null : candidate.channel,
          hardware: { ...candidate.hardware, lamp: c.hardware.lamp },
        };
      if (c.id === swapWithId && before) return { ...c, sends: before.sends, channel: before.channel };
      return c;
    }),
  }));
}

/** Controls as if nothing had been learned of them: plain hardware, the board's channel, the next free numbers. */
export function withoutLearned(board: Board, ids: ReadonlySet<string>): Board {
  let next: Board = { ...board, controls: board.controls.filter((c) => !ids.has(c.id)) };
  const plain = new Map<string, Control>();
  for (const control of board.controls) {
    if (!ids.has(control.id)) continue;
    const sends = nextMessage(next, control.kind) ?? control.sends;
    const cleared = {
      ...control,
      sends,
      channel: null,
      hardware: { ...PLAIN_HARDWARE, lamp: control.hardware.lamp },
    };
    plain.set(control.id, cleared);
    next = { ...next, controls: [...next.controls, cleared] };
  }
  return { ...board, controls: board.controls.map((c) => plain.get(c.id) ?? c) };
}
