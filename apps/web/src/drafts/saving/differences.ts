import type { FullRig } from '@idle-step/core/routing';
import microdiff from 'microdiff';
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
  soundOffAtPanic: 'all sound off at panic',
  settleMs: 'settle time',
  functionId: 'function',
};

/**
 * Where two texts differ, in words: rows of lists by their names where they have one, else by their place.
 * Example: `scenes › Chorus › name`, mine `Chorus`, theirs `Refrain`.
 */
export function describeDifferences(mine: AnyDoc, theirs: AnyDoc, rig: FullRig | null): Difference[] {
  const functionNames = new Map(
    rig ? [...functionTable(rig)].map(([id, { device, fn }]) => [id, `${device.name} ${fn.name}`]) : [],
  );
  return microdiff(byId(theirs) as Record<string, unknown>, byId(mine) as Record<string, unknown>).map(
    (d) => ({
      where: d.path
        .map((part, i) => partName(d.path.slice(0, i + 1), part, mine, theirs, functionNames))
        .join(' › '),
      mine: d.type === 'REMOVE' ? 'nothing' : text(d.value, functionNames),
      theirs: d.type === 'CREATE' ? 'nothing' : text(d.oldValue, functionNames),
    }),
  );
}

/** Lists whose rows have an identifier become tables by it, so that a moved row is not taken for a changed one. */
function byId(value: unknown): unknown {
  if (Array.isArray(value)) {
    const keyed = value.every(
      (row): row is object => typeof row === 'object' && row !== null && keyOf(row) !== null,
    );
    if (keyed && value.length > 0)
      return Object.fromEntries(
        value.map((row: object, i) => [keyOf(row), { ...(byId(row) as object), place: i + 1 }]),
      );
    return value;
  }
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, byId(v)]));
}

function keyOf(row: object): string | null {
  for (const key of ['id', 'functionId', 'controlId'] as const)
    if (key in row) return String((row as Record<string, unknown>)[key]);
  return null;
}

function partName(
  path: readonly (string | number)[],
  part: string | number,
  mine: AnyDoc,
  theirs: AnyDoc,
  functionNames: ReadonlyMap<string, string>,
): string {
  const known = functionNames.get(String(part));
  if (known) return known;
  for (const doc of [mine, theirs]) {
    const row = path.reduce<unknown>((at, p) => (at as Record<string, unknown> | undefined)?.[p], byId(doc));
    if (typeof row === 'object' && row !== null && 'name' in row) return String(row.name);
  }
  return WORDS[String(part)] ?? String(part);
}

function text(value: unknown, functionNames: ReadonlyMap<string, string>): string {
  if (typeof value !== 'object' || value === null) return functionNames.get(String(value)) ?? String(value);
  if ('name' in value) return String(value.name);
  if ('value' in value) return String(value.value);
  return JSON.stringify(value);
}
