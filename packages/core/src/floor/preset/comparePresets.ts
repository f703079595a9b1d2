import { ACTION_LISTS } from '../gestures/gesture';
import { PLAIN_ASSIGNMENT, type Assignment, type Bank, type Preset } from './preset';
import { nth, there } from '../../sure';

/** What one control does differently in two presets. Banks and pages are matched by their place. */
export type ControlDifference = {
  readonly place: string;
  readonly controlId: string;
  readonly left: Assignment;
  readonly right: Assignment;
  /** What differs: lists, sweeps, label and settings, by their names. */
  readonly in: readonly (keyof Assignment)[];
};

/** Banks or pages that only one of two presets has. */
export type PageDifference = {
  readonly place: string;
  readonly name: string;
  readonly only: 'left' | 'right';
};

/** How two presets of one board differ, control by control, in order. Identifiers of actions do not count. */
export function comparePresets(
  left: Preset,
  right: Preset,
): { controls: ControlDifference[]; pages: PageDifference[] } {
  const controls: ControlDifference[] = [];
  const pages: PageDifference[] = [];
  const compare = (place: string, a: readonly Bank[], b: readonly Bank[]) => {
    for (let i = 0; i < Math.max(a.length, b.length); i++) {
      const at = `${place} ${i + 1}`;
      if (!a[i] || !b[i])
        pages.push({ place: at, name: there(a[i] ?? b[i]).name, only: a[i] ? 'left' : 'right' });
      else controls.push(...comparePages(nth(a, i), nth(b, i), at));
    }
  };
  compare('bank', left.banks, right.banks);
  const groups = new Set([...left.groups, ...right.groups].map((g) => g.name));
  for (const name of groups) {
    const pagesIn = (p: Preset) => p.groups.find((g) => g.name === name)?.pages ?? [];
    compare(`${name}, page`, pagesIn(left), pagesIn(right));
  }
  return { controls, pages };
}

function comparePages(left: Bank, right: Bank, place: string): ControlDifference[] {
  const ids = [...new Set([...left.assignments, ...right.assignments].map((a) => a.controlId))];
  return ids.flatMap((controlId) => {
    const of = (bank: Bank): Assignment =>
      bank.assignments.find((a) => a.controlId === controlId) ?? { ...PLAIN_ASSIGNMENT, controlId };
    const [a, b] = [of(left), of(right)];
    const differing = COMPARED.filter((key) => plain(a[key]) !== plain(b[key]));
    return differing.length === 0 ? [] : [{ place, controlId, left: a, right: b, in: differing }];
  });
}

const COMPARED: readonly (keyof Assignment)[] = [
  'label',
  'colour',
  'remark',
  ...ACTION_LISTS,
  'sweeps',
  'timing',
  'response',
  'lamp',
];

/** A value as text, without the identifiers of actions and sweeps. */
const plain = (value: unknown): string =>
  JSON.stringify(value, (key, inner: unknown) => (key === 'id' ? undefined : inner)) ?? '';
