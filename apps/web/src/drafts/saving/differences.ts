import { differenceOf, isSameJson, isTable, rowsOf, type Json, type Path } from '@idle-step/core/edits';
import type { FullRig } from '@idle-step/core/routing';
import { functionTable } from '@idle-step/contract';
import type { AnyDoc } from '../../api/api';

/** One place where two texts of a document differ. */
export type Difference = { readonly where: string; readonly mine: string; readonly theirs: string };

/** Words for the parts of a document, by the name of the field. */
const WORDS: Record<string, string> = {
  tempoBpm: 'tempo',
  beatsPerBar: 'beats to the bar',
  beatUnit: 'what its beats are',
  lengthS: 'length',
  values: 'values',
  entries: 'line',
  middleC: 'name of note 60',
  programsShownFrom: 'programs shown from',
  programPattern: 'how programs are counted',
  soundOffAtPanic: 'all sound off at panic',
  dumpRequest: 'dump request',
  receiveSteps: 'ready to receive',
  identity: 'who it says it is',
  settleMs: 'settle time',
  functionId: 'function',
};

/**
 * Where two texts differ, in words: rows of lists by their names where they have one.
 * Example: `scenes › Chorus › name`, mine `Chorus`, theirs `Refrain`.
 */
export function describeDifferences(mine: AnyDoc, theirs: AnyDoc, rig: FullRig | null): Difference[] {
  const functionNames = new Map(
    rig ? [...functionTable(rig)].map(([id, { device, fn }]) => [id, `${device.name} ${fn.name}`]) : [],
  );
  const nameOf = (path: Path): string => {
    const step = path.at(-1);
    const known = typeof step === 'object' ? step.row : (step ?? '');
    return functionNames.get(known) ?? ownName(mine, path) ?? ownName(theirs, path) ?? WORDS[known] ?? known;
  };
  const where = (path: Path): string => path.map((_, i) => nameOf(path.slice(0, i + 1))).join(' › ');
  return differenceOf(theirs, mine).flatMap((change): Difference[] => {
    const { path } = change;
    if (change.kind === 'put') {
      const words = (value: Json | undefined) =>
        value === undefined ? 'nothing' : text(value, functionNames);
      return [{ where: where(path), mine: words(change.to), theirs: words(change.from) }];
    }
    // Rows that came or went are told by themselves; fields have no order that matters.
    const [from, to] = [kept(change.from, change.to), kept(change.to, change.from)];
    if (!Array.isArray(partAt(mine, path)) || isSameJson(from, to)) return [];
    const inOrder = (ids: readonly string[]) => ids.map((row) => nameOf([...path, { row }])).join(', ');
    return [{ where: `${where(path)} › order`, mine: inOrder(to), theirs: inOrder(from) }];
  });
}

const kept = (ids: readonly string[], others: readonly string[]): readonly string[] =>
  ids.filter((id) => others.includes(id));

/** What stands at the end of a way through a document. */
const partAt = (doc: Json, path: Path): Json | undefined =>
  path.reduce<Json | undefined>((at, step) => {
    if (typeof step === 'string') return isTable(at) ? at[step] : undefined;
    return Array.isArray(at) ? rowsOf(at)?.get(step.row) : undefined;
  }, doc);

function ownName(doc: Json, path: Path): string | null {
  const part = partAt(doc, path);
  return isTable(part) && typeof part['name'] === 'string' ? part['name'] : null;
}

function text(value: Json, functionNames: ReadonlyMap<string, string>): string {
  if (!isTable(value) && !Array.isArray(value)) return functionNames.get(String(value)) ?? String(value);
  if (isTable(value) && 'name' in value) return String(value['name']);
  if (isTable(value) && 'value' in value) return String(value['value']);
  return JSON.stringify(value);
}
