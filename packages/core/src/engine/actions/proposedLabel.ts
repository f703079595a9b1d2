import {
  ACTION_LISTS,
  alternates,
  isDoneBy,
  movedBy,
  plainRow,
  type Action,
  type Assignment,
} from '../../floor';
import type { Names } from './names';
import { traitsOf } from './table';

/**
 * A short name for a control from the first thing it does; empty when it does nothing.
 * Example: a switch that sets Kelpline's Snapshot to value 2 is proposed as `Full`.
 */
export function proposedLabel(assignment: Assignment, names: Names): string {
  const sweep = assignment.sweeps[0];
  if (sweep) return plainRow(sweep)?.name ?? names.find(movedBy(sweep))?.fn.name ?? 'gone';
  return [...new Set(firstActions(assignment).map((a) => traitsOf(a).label(a, names)))].join(' / ');
}

/** The first action that is not switched off, gesture by gesture; where it alternates, the first of each turn. */
function firstActions(assignment: Assignment): Action[] {
  for (const list of ACTION_LISTS) {
    const actions = assignment[list].filter((a) => !a.isOff);
    if (actions.length > 0 && alternates(actions))
      return [false, true].flatMap((isEven) => actions.find((a) => isDoneBy(a, isEven)) ?? []);
    if (actions[0]) return [actions[0]];
  }
  return [];
}
