import type { Finding } from '../edits';
import {
  functionRow,
  traitsOf,
  type OddWord,
  type SentCode,
  type SentFunction,
  type SentRow,
} from '../engine';
import {
  ACTION_LISTS,
  feelOf,
  isTurnedRound,
  pagesOf,
  plainRow,
  type Action,
  type ActionListName,
  type Assignment,
  type Board,
  type Control,
  type Preset,
  type RigWithBoards,
} from '../floor';
import { shownValue, sentText } from '../gear';
import { there } from '../sure';
import { LIST_WORDS, SENT_WORDS } from '../memory';

/** One message that a preset can send, and what is odd about it. */
export type Sent = Omit<SentRow, 'marks'> & {
  readonly pageId: string;
  readonly pageName: string;
  readonly controlId: string;
  readonly controlName: string;
  readonly list: ActionListName | 'sweeps';
  readonly marks: readonly SentMark[];
};

/** What is odd about a message; its place is the control that sends it. */
export type SentMark = Finding<SentCode>;

const markAt = (place: Pick<Sent, 'pageId' | 'controlId'>, { code, sentence }: OddWord): SentMark => ({
  code,
  severity: 'warned',
  place: { control: { pageId: place.pageId, controlId: place.controlId } },
  sentence,
  mends: [],
});

/**
 * Everything that a preset sends, one row for each action and sweep that is switched on, in order of channel and
 * number; with doubles, near misses and what points at nothing marked.
 */
export function presetSends(rig: RigWithBoards, preset: Preset, scenesAtMost: number | null = null): Sent[] {
  const board = rig.boards.find((b) => b.id === preset.boardId);
  const functions = new Map(
    rig.devices.flatMap((d) => d.chart.map((fn) => [fn.id, { device: d, fn }] as const)),
  );
  const devices = new Map(rig.devices.map((d) => [d.id, d]));
  const pages = new Set(pagesOf(preset).map((p) => p.id));
  const groups = new Set(preset.groups.map((g) => g.id));
  const rows: Sent[] = [];
  for (const page of pagesOf(preset))
    for (const assignment of page.assignments) {
      const control = board?.controls.find((c) => c.id === assignment.controlId);
      const place = {
        pageId: page.id,
        pageName: page.name,
        controlId: assignment.controlId,
        controlName: control?.name ?? 'a control that is gone',
      };
      const gone = control
        ? []
        : [{ code: 'gone' as const, sentence: 'This control is gone from the board.' }];
      for (const list of ACTION_LISTS)
        for (const action of assignment[list]) {
          if (action.isOff) continue;
          const row = traitsOf(action).row(action, { functions, devices, pages, groups, scenesAtMost });
          const marks = [
            ...gone,
            ...row.marks,
            ...labelMarks(assignment, action, functions),
            ...lampMarks(preset, control, assignment, action, functions),
            ...(board ? boardMarks(board, assignment, list, action) : []),
          ];
          rows.push({ ...place, list, ...row, marks: marks.map((m) => markAt(place, m)) });
        }
      for (const sweep of assignment.sweeps) {
        const plain = plainRow(sweep);
        const owner = sweep.functionId === null ? devices.get(sweep.deviceId) : undefined;
        const found =
          sweep.functionId !== null
            ? functions.get(sweep.functionId)
            : plain && owner
              ? { device: owner, fn: plain }
              : undefined;
        const moves = found ? `moves ${found.fn.name}` : 'moves a function that is gone';
        const swept = functionRow(found, null, moves);
        rows.push({
          ...place,
          list: 'sweeps',
          ...swept,
          marks: (gone.length > 0 ? gone : swept.marks).map((m) => markAt(place, m)),
        });
      }
    }
  return markDoubles(rows).sort(
    (a, b) => (a.channel ?? 99) - (b.channel ?? 99) || (a.number ?? 999) - (b.number ?? 999),
  );
}

/** A label that says a number which is what is sent and not what the device shows. */
function labelMarks(
  { label }: Assignment,
  action: Action,
  functions: ReadonlyMap<string, SentFunction>,
): OddWord[] {
  if (action.kind !== 'set') return [];
  const found = functions.get(action.functionId);
  const said = /\d+/.exec(label)?.[0];
  if (!found || said === undefined || found.fn.shape.kind !== 'choice') return [];
  const shown = shownValue(found.device, found.fn, action.value).number;
  if (said === shown || said !== sentText(found.fn, action.value)) return [];
  return [
    {
      code: 'off-by-one',
      sentence: `The label says ${said}, but ${found.device.name} shows ${shown} for it: ${said} is what is sent.`,
    },
  ];
}

/** A lamp that is lit while what its switch turns on is off. */
function lampMarks(
  preset: Preset,
  control: Control | undefined,
  assignment: Assignment,
  action: Action,
  functions: ReadonlyMap<string, SentFunction>,
): OddWord[] {
  if (!control || !('functionId' in action)) return [];
  const found = functions.get(action.functionId);
  const rule = assignment.lamp ?? feelOf(preset, control.kind).lamp;
  if (rule?.kind !== 'function' || rule.functionId !== action.functionId) return [];
  if (found?.fn.shape.kind !== 'switch' || !isTurnedRound(rule)) return [];
  return [
    {
      code: 'lamp-turned-round',
      sentence: `The lamp of ${control.name} is lit while ${found.device.name} ${found.fn.name} is off, and dark while it is on.`,
    },
  ];
}

/** What the board's own program cannot do. */
export function boardMarks(
  board: Board,
  assignment: Assignment,
  list: ActionListName,
  action: Action,
): OddWord[] {
  if (board.mode !== 'standalone') return [];
  const { can } = board;
  const marks: OddWord[] = [];
  const mark = (sentence: string) => marks.push({ code: 'beyond-board', sentence });
  if (!can.gestures.includes(list)) mark(`This board cannot tell ${LIST_WORDS[list]} by itself.`);
  if (can.actions !== null && assignment[list].length > can.actions)
    mark(`This board keeps ${can.actions} actions for a gesture; here are ${assignment[list].length}.`);
  const kind = traitsOf(action).byBoard(action);
  if (kind === 'host') mark('Only this application can do that; a board by itself cannot.');
  else if (kind && !can.messages.includes(kind))
    mark(`This board cannot send ${SENT_WORDS[kind]} by itself.`);
  return marks;
}

/** The same message from two controls of one page is a double; on two pages it is not, for only one is in force. */
function markDoubles(rows: readonly Sent[]): Sent[] {
  const byMessage = new Map<string, Sent[]>();
  for (const row of rows) {
    if (row.message === '' || row.value === null) continue;
    const key = [row.pageId, row.deviceName, row.channel, row.message, row.value].join('/');
    byMessage.set(key, [...(byMessage.get(key) ?? []), row]);
  }
  const twins = new Map<Sent, Sent>();
  for (const list of byMessage.values()) {
    const controls = new Set(list.map((r) => r.controlId));
    if (controls.size < 2) continue;
    for (const row of list) twins.set(row, there(list.find((r) => r.controlId !== row.controlId)));
  }
  return rows.map((row) => {
    const twin = twins.get(row);
    if (!twin) return row;
    const sentence = `${twin.controlName} sends the same on this page.`;
    return { ...row, marks: [...row.marks, markAt(row, { code: 'double', sentence })] };
  });
}
