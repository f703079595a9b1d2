import type { Curve } from '../travel/curve';
import type { ActionListName } from '../gestures/gesture';
import type { Action, LooseAction, PlainMessage } from './action';
import {
  isBare,
  PLAIN_ASSIGNMENT,
  withEachAssignment,
  withLists,
  type Assignment,
  type Bank,
  type Preset,
  type Sweep,
} from './preset';
import type { CellSweep } from './readCell';
import type { Takeover } from '../travel/takeOver';
import { nth, there } from '../../sure';

/** One place of a preset's table: a control in a bank or page, and which of its lists. */
export type TableCell = {
  readonly pageId: string;
  readonly controlId: string;
  readonly list: ActionListName | 'sweeps';
};

/** Numbers that go on by a step. What comes after the last one that is allowed: it stays, begins again, or is left out. */
export type Series = {
  readonly start: number;
  readonly step: number;
  readonly atEnd: 'stay' | 'again' | 'leave';
  readonly low: number;
  readonly high: number;
};

/**
 * The first `count` numbers of a series; `null` where a cell is left alone.
 * Example: from 126 by 1, allowed to 127: 126, 127, then 127 (`stay`), 126 (`again`) or nothing (`leave`).
 */
export function seriesValues({ start, step, atEnd, low, high }: Series, count: number): (number | null)[] {
  const clamped = Math.min(high, Math.max(low, start));
  const room =
    step === 0 ? Infinity : Math.floor(step > 0 ? (high - clamped) / step : (clamped - low) / -step);
  return Array.from({ length: count }, (_, i) => {
    if (i <= room) return clamped + i * step;
    if (atEnd === 'leave') return null;
    return clamped + (atEnd === 'stay' ? room : i % (room + 1)) * step;
  });
}

/** What a fill does to each cell, in their order. */
export type Fill =
  /** One plain message in place of what was there. */
  | {
      readonly kind: 'message';
      readonly deviceId: string;
      readonly channel: number | null;
      readonly send: PlainMessage['send'];
      readonly numbers: Series;
      readonly value: number;
    }
  /** A function set to values that count on. */
  | { readonly kind: 'set'; readonly functionId: string; readonly values: Series }
  /** One action in place of what was there. */
  | { readonly kind: 'action'; readonly action: LooseAction }
  /** Channel (0–15), number or value of the plain messages and values that are there already. */
  | { readonly kind: 'channel' | 'number' | 'value'; readonly numbers: Series }
  | { readonly kind: 'holdMs' | 'doubleMs'; readonly numbers: Series }
  /** A pedal or knob moves a function over a range. */
  | { readonly kind: 'sweep'; readonly functionId: string; readonly from: number; readonly to: number }
  /** A pedal or knob sends a controller, whether or not a chart names it. */
  | ({ readonly kind: 'plain-sweep' } & Extract<CellSweep, { readonly functionId: null }>)
  | { readonly kind: 'curve'; readonly curve: Exclude<Curve, 'points'> }
  | { readonly kind: 'takeover'; readonly takeover: Takeover }
  | { readonly kind: 'clear' };

/** What a fill made of a preset: how many cells changed. */
export type Filled = { readonly preset: Preset; readonly changed: number };

/**
 * Fills cells in the order given. Cells that a fill does not fit (a sweep on a switch, a value where nothing is sent)
 * stay as they are and do not use up a number.
 * @param newId makes an identifier for each action or sweep that did not exist before.
 */
export function fillCells(
  preset: Preset,
  cells: readonly TableCell[],
  fill: Fill,
  newId: () => string,
): Filled {
  const fitting = cells.filter((cell) => fits(cell, fill, assignmentAt(preset, cell)));
  const numbers = seriesOf(fill) ? seriesValues(there(seriesOf(fill)), fitting.length) : null;
  const next = new Map<string, Map<string, Assignment>>();
  let changed = 0;
  fitting.forEach((cell, i) => {
    const number = numbers ? nth(numbers, i) : 0;
    if (number === null) return;
    const page = next.get(cell.pageId) ?? new Map<string, Assignment>();
    next.set(cell.pageId, page);
    const before = page.get(cell.controlId) ?? assignmentAt(preset, cell);
    const after = filled(before, cell, fill, number, newId);
    if (after !== before) changed++;
    page.set(cell.controlId, after);
  });
  return changed === 0 ? { preset, changed } : { preset: withAssignments(preset, next), changed };
}

/** Puts other assignments in; those that are left bare are taken out. */
export function withAssignments(
  preset: Preset,
  next: ReadonlyMap<string, ReadonlyMap<string, Assignment>>,
): Preset {
  const inPage = (page: Bank): Bank => {
    const put = next.get(page.id);
    if (!put) return page;
    const known = new Set(page.assignments.map((a) => a.controlId));
    const added = [...put.values()].filter((a) => !known.has(a.controlId));
    return {
      ...page,
      assignments: [...page.assignments.map((a) => put.get(a.controlId) ?? a), ...added].filter(
        (a) => !isBare(a),
      ),
    };
  };
  return {
    ...preset,
    banks: preset.banks.map(inPage),
    groups: preset.groups.map((g) => ({ ...g, pages: g.pages.map(inPage) })),
  };
}

/** What a control does in a bank or page; bare where nothing is assigned. */
export function assignmentAt(
  preset: Preset,
  { pageId, controlId }: Pick<TableCell, 'pageId' | 'controlId'>,
): Assignment {
  const pages = [...preset.banks, ...preset.groups.flatMap((g) => g.pages)];
  const page = pages.find((p) => p.id === pageId);
  return page?.assignments.find((a) => a.controlId === controlId) ?? { ...PLAIN_ASSIGNMENT, controlId };
}

/** The copy of an assignment on another control, with identifiers of its own. */
export const copiedTo = (assignment: Assignment, controlId: string, newId: () => string): Assignment => {
  const fresh = <T extends { id: string }>(list: readonly T[]): T[] =>
    list.map((x) => ({ ...x, id: newId() }));
  return { ...withLists(assignment, fresh), controlId, sweeps: fresh(assignment.sweeps) };
};

/** The copy of a bank or page, with identifiers of its own. */
export const copiedBank = (bank: Bank, name: string, newId: () => string): Bank => ({
  ...bank,
  id: newId(),
  name,
  assignments: bank.assignments.map((a) => copiedTo(a, a.controlId, newId)),
});

/**
 * Every plain message of a preset with one channel or number changed for another.
 * @param send only messages of this kind, or all. Channels 0–15; messages on their device's own channel stay.
 */
export function replaceInMessages(
  preset: Preset,
  field: 'channel' | 'number',
  from: number,
  to: number,
  send: PlainMessage['send'] | null,
): Filled {
  let changed = 0;
  const replace = (action: Action): Action => {
    if (action.kind !== 'message' || action[field] !== from || (send !== null && action.send !== send))
      return action;
    changed++;
    return { ...action, [field]: to };
  };
  const next = withEachAssignment(preset, (a) => withLists(a, (list) => list.map(replace)));
  return changed === 0 ? { preset, changed } : { preset: next, changed };
}

const seriesOf = (fill: Fill): Series | null =>
  'numbers' in fill ? fill.numbers : fill.kind === 'set' ? fill.values : null;

function fits(cell: TableCell, fill: Fill, assignment: Assignment): boolean {
  switch (fill.kind) {
    case 'clear':
      return true;
    case 'sweep':
    case 'plain-sweep':
      return cell.list === 'sweeps';
    case 'curve':
    case 'takeover':
      return cell.list === 'sweeps' && assignment.sweeps.length > 0;
    case 'message':
    case 'action':
    case 'set':
      return cell.list !== 'sweeps';
    case 'holdMs':
      return cell.list === 'hold';
    case 'doubleMs':
      return cell.list === 'doublePress';
    case 'channel':
    case 'number':
      return cell.list !== 'sweeps' && assignment[cell.list].some((a) => a.kind === 'message');
    case 'value':
      return cell.list !== 'sweeps' && assignment[cell.list].some(isValued);
  }
}

const isValued = (a: Action): boolean => a.kind === 'set' || (a.kind === 'message' && a.send !== 'program');

function filled(
  before: Assignment,
  { list }: TableCell,
  fill: Fill,
  number: number,
  newId: () => string,
): Assignment {
  if (list === 'sweeps') return filledSweeps(before, fill, newId);
  const actions = before[list];
  const put = (next: readonly Action[]): Assignment => ({ ...before, [list]: next });
  switch (fill.kind) {
    case 'message': {
      const { deviceId, channel, send, value } = fill;
      const id = actions[0]?.id ?? newId();
      return put([{ id, kind: 'message', deviceId, channel, send, number, value }]);
    }
    case 'action':
      return put([{ ...fill.action, id: actions[0]?.id ?? newId() }]);
    case 'set':
      return put([
        { id: actions[0]?.id ?? newId(), kind: 'set', functionId: fill.functionId, value: number },
      ]);
    case 'channel':
    case 'number':
      return put(actions.map((a) => (a.kind === 'message' ? { ...a, [fill.kind]: number } : a)));
    case 'value':
      return put(actions.map((a) => (isValued(a) ? { ...a, value: number } : a)));
    case 'holdMs':
    case 'doubleMs':
      return { ...before, timing: { ...before.timing, [fill.kind]: number } };
    case 'clear':
      return actions.length === 0 ? before : put([]);
    default:
      return before;
  }
}

function filledSweeps(before: Assignment, fill: Fill, newId: () => string): Assignment {
  switch (fill.kind) {
    case 'sweep':
    case 'plain-sweep': {
      const [old] = before.sweeps;
      const shape = {
        id: old?.id ?? newId(),
        invert: false,
        curve: old?.curve ?? 'linear',
        points: old?.points ?? [],
      };
      const sweep: Sweep =
        fill.kind === 'sweep'
          ? { ...shape, functionId: fill.functionId, from: fill.from, to: fill.to }
          : {
              ...shape,
              functionId: null,
              deviceId: fill.deviceId,
              channel: fill.channel,
              controller: fill.controller,
              from: 0,
              to: 127,
            };
      return { ...before, sweeps: [sweep] };
    }
    case 'curve':
      return { ...before, sweeps: before.sweeps.map((s) => ({ ...s, curve: fill.curve })) };
    case 'takeover':
      return { ...before, response: { ...before.response, takeover: fill.takeover } };
    case 'clear':
      return before.sweeps.length === 0 ? before : { ...before, sweeps: [] };
    default:
      return before;
  }
}
