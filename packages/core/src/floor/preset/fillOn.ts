import type { Action } from './action';
import {
  assignmentAt,
  seriesValues,
  withAssignments,
  type Filled,
  type Series,
  type TableCell,
} from './fill';
import type { Assignment, Preset, Sweep } from './preset';
import { nth } from '../../sure';

/** How what the first cell says goes on from cell to cell. */
export type FillOn = Pick<Series, 'step' | 'atEnd'> & {
  readonly kind: 'on';
  /** The lowest and highest value of a function; `null` where it is gone. */
  limits(functionId: string): Pick<Series, 'low' | 'high'> | null;
};

/** A number in an action or sweep that can count on, and what it may be. */
type Counted<T> = Pick<Series, 'start' | 'low' | 'high'> & { with(n: number): T };

/**
 * Fills every cell after the first with what the first says, its number counting on: of a message, a value, a scene, song,
 * cue or bank. What has no number is the same in each. Cells of the other sort (switch, pedal) are left alone.
 */
export function fillOn(
  preset: Preset,
  cells: readonly TableCell[],
  fill: FillOn,
  newId: () => string,
): Filled {
  const [first] = cells;
  if (!first) return { preset, changed: 0 };
  const fitting = cells.filter((c) => (c.list === 'sweeps') === (first.list === 'sweeps'));
  const from = assignmentAt(preset, first);
  const next = new Map<string, Map<string, Assignment>>();
  const put = (cell: TableCell, after: (before: Assignment) => Assignment) => {
    const page = next.get(cell.pageId) ?? new Map<string, Assignment>();
    next.set(cell.pageId, page);
    page.set(cell.controlId, after(page.get(cell.controlId) ?? assignmentAt(preset, cell)));
  };
  const count = <T extends { readonly id: string }>(source: T | undefined, counted: Counted<T> | null) => {
    if (!source) return [];
    const numbers = counted ? seriesValues({ ...fill, ...counted }, fitting.length) : null;
    return fitting.map((_, i): T | null => {
      const number = numbers ? nth(numbers, i) : 0;
      return number === null ? null : { ...(counted ? counted.with(number) : source), id: newId() };
    });
  };
  let changed = 0;
  if (first.list === 'sweeps') {
    const sweeps = count(from.sweeps[0], from.sweeps[0] ? countedSweep(from.sweeps[0]) : null);
    for (const [i, sweep] of sweeps.entries()) {
      if (i === 0 || !sweep) continue;
      put(nth(fitting, i), (before) => ({ ...before, sweeps: [sweep], response: from.response }));
      changed++;
    }
  } else {
    const [source] = from[first.list];
    const actions = count(source, source ? countedAction(source, preset, fill) : null);
    for (const [i, action] of actions.entries()) {
      const cell = nth(fitting, i);
      if (i === 0 || !action || cell.list === 'sweeps') continue;
      const { list } = cell;
      put(cell, (before) => ({ ...before, [list]: [action] }));
      changed++;
    }
  }
  return changed === 0 ? { preset, changed } : { preset: withAssignments(preset, next), changed };
}

/** Scenes, songs and cues that an action can name at the most. */
const SCENES = 200;
const CUES = 500;

function countedAction(action: Action, { banks }: Preset, fill: FillOn): Counted<Action> | null {
  switch (action.kind) {
    case 'message':
      return { start: action.number, low: 0, high: 127, with: (number) => ({ ...action, number }) };
    case 'set': {
      const limits = fill.limits(action.functionId);
      return limits && { start: action.value, ...limits, with: (value) => ({ ...action, value }) };
    }
    case 'scene':
    case 'cue': {
      const { to } = action;
      if (to.kind !== 'at') return null;
      const high = (action.kind === 'cue' ? CUES : SCENES) - 1;
      return { start: to.index, low: 0, high, with: (index) => ({ ...action, to: { kind: 'at', index } }) };
    }
    case 'song': {
      const { to } = action;
      if (typeof to === 'string') return null;
      return { start: to.index, low: 0, high: SCENES - 1, with: (index) => ({ ...action, to: { index } }) };
    }
    case 'bank': {
      const { to } = action;
      const start = to.kind === 'bank' ? banks.findIndex((b) => b.id === to.bankId) : -1;
      if (start < 0) return null;
      const bank = (n: number): Action => ({ ...action, to: { kind: 'bank', bankId: nth(banks, n).id } });
      return { start, low: 0, high: banks.length - 1, with: bank };
    }
    default:
      return null;
  }
}

const countedSweep = (sweep: Sweep): Counted<Sweep> | null =>
  sweep.functionId === null
    ? { start: sweep.controller, low: 0, high: 127, with: (controller) => ({ ...sweep, controller }) }
    : null;
