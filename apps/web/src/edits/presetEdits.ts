import {
  type Assignment,
  type Bank,
  type Preset,
  type Sweep,
  isBare,
  PLAIN_ASSIGNMENT,
  type Action,
  type LooseAction,
  type Board,
} from '@idle-step/core/floor';
import { type ChartFunction, valueBounds } from '@idle-step/core/gear';

/** Changes of a preset as pure functions. */

export const emptyAssignment = (controlId: string): Assignment => ({ ...PLAIN_ASSIGNMENT, controlId });

export const assignmentOf = (controlId: string, bank: Bank | undefined): Assignment =>
  bank?.assignments.find((a) => a.controlId === controlId) ?? emptyAssignment(controlId);

/** The preset with one assignment changed; one that does nothing and has no label is left out. */
export function withAssignment(preset: Preset, bankId: string, assignment: Assignment): Preset {
  return withPage(preset, bankId, (bank) => {
    const at = bank.assignments.findIndex((a) => a.controlId === assignment.controlId);
    const others = bank.assignments.filter((a) => a.controlId !== assignment.controlId);
    if (isBare(assignment)) return { ...bank, assignments: others };
    const assignments = at < 0 ? [...bank.assignments, assignment] : bank.assignments.with(at, assignment);
    return { ...bank, assignments };
  });
}

/** The preset with one bank, or one page of a group, changed. */
export function withPage(preset: Preset, id: string, change: (page: Bank) => Bank): Preset {
  const inList = (pages: readonly Bank[]) => pages.map((p) => (p.id === id ? change(p) : p));
  return {
    ...preset,
    banks: inList(preset.banks),
    groups: preset.groups.map((g) =>
      g.pages.some((p) => p.id === id) ? { ...g, pages: inList(g.pages) } : g,
    ),
  };
}

/** What a new preset has beside its name and banks. */
export const EMPTY_PRESET: Pick<Preset, 'folder' | 'groups' | 'feel'> = {
  folder: '',
  groups: [],
  feel: [],
};

/** The value that a new action sets: on for a switch, else the lowest. */
export const firstValue = (fn: ChartFunction): number =>
  fn.shape.kind === 'switch' ? 1 : valueBounds(fn.shape).min;

export const newAction = (part: LooseAction): Action => ({ ...part, id: crypto.randomUUID() });

export function newSweep(fn: ChartFunction): Sweep {
  const { min, max } = valueBounds(fn.shape);
  const sweep: Sweep = {
    id: crypto.randomUUID(),
    functionId: fn.id,
    from: min,
    to: max,
    invert: false,
    curve: 'linear',
    points: [],
  };
  return sweep;
}

/** A controller by its number that a pedal sends, whether or not a chart names it. */
export const newPlainSweep = (deviceId: string, controller: number): Sweep => ({
  id: crypto.randomUUID(),
  functionId: null,
  deviceId,
  channel: null,
  controller,
  from: 0,
  to: 127,
  invert: false,
  curve: 'linear',
  points: [],
});

export const newBank = (number: number): Bank => ({
  id: crypto.randomUUID(),
  name: `Bank ${number}`,
  colour: null,
  remark: '',
  assignments: [],
});

/**
 * A preset without a group: what its controls do on the page in force goes to a bank, so that they go on doing it.
 * What they did on its other pages goes.
 */
export function withoutGroup(preset: Preset, groupId: string, pageId: string, bankId: string): Preset {
  const group = preset.groups.find((g) => g.id === groupId);
  const kept = group?.pages.find((p) => p.id === pageId)?.assignments ?? [];
  const own = new Set(kept.map((a) => a.controlId));
  return {
    ...preset,
    groups: preset.groups.filter((g) => g.id !== groupId),
    banks: preset.banks.map((bank) =>
      bank.id === bankId
        ? { ...bank, assignments: [...bank.assignments.filter((a) => !own.has(a.controlId)), ...kept] }
        : bank,
    ),
  };
}

/** A group with one page, of the controls given; it is called after their kind where they have one in common. */
export function withGroup(preset: Preset, board: Board, id: string, controlIds: readonly string[]): Preset {
  const kinds = new Set(board.controls.flatMap((c) => (controlIds.includes(c.id) ? c.kind : [])));
  const kind = kinds.size === 1 ? [...kinds][0] : undefined;
  const name = kind ? `${kind.replace('expression-', '')}s`.replace(/^./, (c) => c.toUpperCase()) : 'Group';
  const group = { id, name, controlIds: [], pages: [{ ...newBank(1), name: 'Page 1' }] };
  return withJoined({ ...preset, groups: [...preset.groups, group] }, id, controlIds);
}

/** Controls that join a group: what they did in the first bank that knew them goes onto its first page. */
export function withJoined(preset: Preset, groupId: string, controlIds: readonly string[]): Preset {
  const joining = new Set(controlIds);
  const carried = controlIds.flatMap((id) => {
    const found = preset.banks.flatMap((b) => b.assignments).find((a) => a.controlId === id);
    return found ? [found] : [];
  });
  return {
    ...preset,
    banks: preset.banks.map((b) => ({
      ...b,
      assignments: b.assignments.filter((a) => !joining.has(a.controlId)),
    })),
    groups: preset.groups.map((g) =>
      g.id === groupId
        ? {
            ...g,
            controlIds: [...g.controlIds, ...controlIds],
            pages: g.pages.map((p, i) =>
              i === 0 ? { ...p, assignments: [...p.assignments, ...carried] } : p,
            ),
          }
        : g,
    ),
  };
}

/** A control that leaves its group: what it did on the first page goes back into the first bank. */
export function withParted(preset: Preset, groupId: string, controlId: string): Preset {
  const group = preset.groups.find((g) => g.id === groupId);
  const back = group?.pages[0]?.assignments.find((a) => a.controlId === controlId);
  return {
    ...preset,
    banks: preset.banks.map((b, i) =>
      i === 0 && back ? { ...b, assignments: [...b.assignments, back] } : b,
    ),
    groups: preset.groups.map((g) =>
      g.id === groupId
        ? {
            ...g,
            controlIds: g.controlIds.filter((id) => id !== controlId),
            pages: g.pages.map((p) => ({
              ...p,
              assignments: p.assignments.filter((a) => a.controlId !== controlId),
            })),
          }
        : g,
    ),
  };
}
