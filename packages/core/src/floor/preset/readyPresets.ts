import { isUsable, type Device } from '../../gear';
import { isPressed, type Board, type RigWithBoards } from '../board/board';
import { copiedBank } from './fill';
import { layOut } from './layOut';
import { type Action, type LooseAction } from './action';
import {
  PLAIN_ASSIGNMENT,
  PLAIN_BANK,
  PLAIN_PRESET,
  withEachAssignment,
  withLists,
  type Assignment,
  type Preset,
} from './preset';

/** A preset that comes with the application: it can be looked at and duplicated, not changed. */
export type ReadyPreset = { readonly kind: string; readonly text: string; readonly preset: Preset };

/**
 * Ready-made presets for a board of a rig, for whatever gear there is: scenes to walk through, the main functions of
 * each receiver, and notes in order.
 * @param newId makes every identifier.
 */
export function readyPresets(rig: RigWithBoards, board: Board, newId: () => string): ReadyPreset[] {
  const make = (
    kind: string,
    text: string,
    name: string,
    assignments: readonly Assignment[],
  ): ReadyPreset => ({
    kind,
    text,
    preset: {
      ...PLAIN_PRESET,
      id: newId(),
      rigId: rig.id,
      boardId: board.id,
      name,
      banks: [{ ...PLAIN_BANK, id: newId(), name: 'Bank 1', assignments }],
    },
  });
  const receivers = rig.devices.filter((d) => d.role === 'receiver');
  const swept = sweptControls(board, receivers, newId);
  const [first] = receivers;
  return [
    make('scenes', 'The scenes of the song in order; the last switch goes on', 'Scenes in order', [
      ...onSwitches(board, newId, (i, count) => ({
        kind: 'scene',
        to: i === count - 1 ? { kind: 'next' } : { kind: 'at', index: i },
      })),
      ...swept,
    ]),
    ...(first
      ? [
          make('notes', `Notes from 36 on, to ${first.name}`, 'Notes in order', [
            ...onSwitches(board, newId, (i) => ({
              kind: 'message',
              deviceId: first.id,
              channel: null,
              send: 'note',
              number: Math.min(127, 36 + i),
              value: 100,
            })),
            ...swept,
          ]),
        ]
      : []),
    ...receivers.flatMap((device) => {
      const laid = layOut(device, board.controls, newId).laid.map((l) => l.assignment);
      const text = `The main functions of ${device.name}`;
      return laid.length > 0 ? [make(`device/${device.id}`, text, `${device.name} by foot`, laid)] : [];
    }),
  ];
}

/** One action on the press of each switch, in their order. */
const onSwitches = (
  board: Board,
  newId: () => string,
  action: (index: number, count: number) => LooseAction,
): Assignment[] =>
  board.controls
    .filter((c) => isPressed(c.kind))
    .map(({ id }, i, all) => ({
      ...PLAIN_ASSIGNMENT,
      controlId: id,
      press: [{ ...action(i, all.length), id: newId() }],
    }));

/** The preset as one of one's own: identifiers of its own, actions and all. */
export function duplicated(preset: Preset, name: string, newId: () => string): Preset {
  const ids = new Map<string, string>();
  const bank = (b: Preset['banks'][number]) => {
    const copy = copiedBank(b, b.name, newId);
    ids.set(b.id, copy.id);
    return copy;
  };
  const banks = preset.banks.map(bank);
  const groups = preset.groups.map((g) => {
    const id = newId();
    ids.set(g.id, id);
    return { ...g, id, pages: g.pages.map(bank) };
  });
  // What turns to a bank or page turns to its copy.
  const retarget = (action: Action): Action => {
    if (action.kind !== 'bank' && action.kind !== 'page') return action;
    const to =
      action.to.kind === 'bank'
        ? { ...action.to, bankId: ids.get(action.to.bankId) ?? action.to.bankId }
        : action.to;
    return action.kind === 'page'
      ? { ...action, to, groupId: ids.get(action.groupId) ?? action.groupId }
      : { ...action, to };
  };
  return withEachAssignment({ ...preset, id: newId(), name, banks, groups }, (a) =>
    withLists(a, (list) => list.map(retarget)),
  );
}

/** Pedals and knobs on the first ranges of the first receiver that has some, volume and expression before others. */
function sweptControls(board: Board, receivers: readonly Device[], newId: () => string): Assignment[] {
  const moved = board.controls.filter((c) => !isPressed(c.kind));
  const device = receivers.find((d) => d.chart.some((fn) => fn.shape.kind === 'range' && isUsable(d, fn)));
  if (!device) return [];
  const rank = (number: number | null) => (number === 7 ? 0 : number === 11 ? 1 : 2);
  const numberOf = (fn: Device['chart'][number]) =>
    fn.drive.kind === 'controller' ? fn.drive.controller : null;
  const chart = [...device.chart].sort((a, b) => rank(numberOf(a)) - rank(numberOf(b)));
  return layOut({ ...device, chart }, moved, newId).laid.map((l) => l.assignment);
}
