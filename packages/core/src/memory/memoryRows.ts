import { PLAIN_BOARD, PLAIN_RESPONSE, PLAIN_TIMING, type Assignment, type Board } from '../floor';
import { got } from '../sure';
import type { BoardMemory } from './boardMemory';
import type { HandStep } from './handSteps';
import { handSteps } from './handSteps';
import { memoryShow } from './memoryShow';

/** One thing that stands in a memory, in words. */
export type MemoryRow = {
  /** The same for the same place. */
  readonly key: string;
  readonly pageName: string;
  readonly controlName: string;
  /** The gesture that it belongs to, or what else of the control it is. */
  readonly list: HandStep['list'] | 'label' | 'times' | 'lamp' | 'pedal' | 'touch' | 'name';
  readonly text: string;
};

/** What differs between two memories at one place; `null` where there is nothing in one of them. */
export type MemoryDifference = Omit<MemoryRow, 'text'> & {
  readonly first: string | null;
  readonly second: string | null;
};

/** All that stands in a memory, bank by bank and control by control. */
export function memoryRows(memory: BoardMemory, hardware: Board): MemoryRow[] {
  const names = memory.controls;
  // As many controls as it was made for, whatever the board has now.
  const first = hardware.controls[0];
  const controls = first ? names.map((name, i) => ({ ...first, id: `c${i}`, name })) : [];
  const { rig, presets } = memoryShow(memory, { ...hardware, controls, can: PLAIN_BOARD.can }, 'din');
  const [preset] = presets;
  const board = rig.boards[0];
  if (!preset || !board) return [];
  const rows: MemoryRow[] = [];
  const pages = [...preset.banks, ...preset.groups.flatMap((g) => g.pages)];
  const { steps } = handSteps(rig, board, preset);
  const controlNames = new Map(controls.map((c) => [c.id, c.name]));
  pages.forEach((page, i) => {
    const pageName = i < preset.banks.length ? `Bank ${i + 1}` : `Page ${i - preset.banks.length + 1}`;
    rows.push({ key: `${page.id}/name`, pageName, controlName: '', list: 'name', text: page.name });
    for (const { key, controlName, list, text, does } of steps.filter((s) => s.pageId === page.id))
      rows.push({ key, pageName, controlName, list, text: `${text} (${does})` });
    for (const assignment of page.assignments) {
      const controlName = got(controlNames, assignment.controlId);
      for (const [list, text] of besides(assignment))
        rows.push({ key: `${page.id}/${assignment.controlId}/${list}`, pageName, controlName, list, text });
    }
  });
  return rows;
}

/** What an assignment has beside what it does, where it is not as usual. */
function besides(a: Assignment): (readonly [MemoryRow['list'], string])[] {
  const said: (readonly [MemoryRow['list'], string])[] = [];
  if (a.label !== '') said.push(['label', a.label]);
  const times = otherFields(a.timing, PLAIN_TIMING);
  if (times !== '') said.push(['times', times]);
  const pedal = otherFields(a.response, PLAIN_RESPONSE);
  if (pedal !== '') said.push(['pedal', pedal]);
  if (a.touch) said.push(['touch', otherFields(a.touch, {})]);
  if (a.lamp) said.push(['lamp', otherFields(a.lamp, {})]);
  return said;
}

const FIELD_WORDS: Readonly<Record<string, string>> = {
  holdMs: 'hold from ms',
  doubleMs: 'double press within ms',
  holdCancelsPress: 'hold takes the place of the press',
  takeover: 'take-over',
  slowStep: 'slow step',
  fastStep: 'fast step',
  fastPerS: 'fast from a second',
  toeAt: 'toe at %',
  heelAt: 'heel at %',
  kind: 'follows',
  functionId: 'row',
};

/** Fields that are not as usual, in words. */
const otherFields = (value: object, usual: object): string => {
  const plain = new Map(Object.entries(usual));
  return Object.entries(value)
    .filter(([key, v]) => JSON.stringify(v) !== JSON.stringify(plain.get(key)))
    .map(([key, v]) => `${FIELD_WORDS[key] ?? key} ${typeof v === 'string' ? v : JSON.stringify(v)}`)
    .join(', ');
};

/** What differs between two memories, place by place, in the order of the first and then of the second. */
export function memoryDifferences(
  first: BoardMemory | null,
  second: BoardMemory | null,
  hardware: Board,
): MemoryDifference[] {
  const [a, b] = [first, second].map((m) => (m ? memoryRows(m, hardware) : []));
  const before = new Map((a ?? []).map((row) => [row.key, row]));
  const after = new Map((b ?? []).map((row) => [row.key, row]));
  return [...new Set([...before.keys(), ...after.keys()])].flatMap((key) => {
    const [was, is] = [before.get(key), after.get(key)];
    const row = was ?? is;
    if (!row || was?.text === is?.text) return [];
    const { text: _text, ...place } = row;
    return { ...place, first: was?.text ?? null, second: is?.text ?? null };
  });
}
