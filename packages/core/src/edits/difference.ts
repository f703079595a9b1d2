import { isSameJson, isTable, rowsOf, type Json } from './json';
import { got, nth } from '../sure';

/** One step of the way to a part: the name of a field, or a row of a list by what it is known by. */
export type PathStep = string | { readonly row: string };
export type Path = readonly PathStep[];

/** One change of a document, as plain data. */
export type Change =
  /** A field or a whole row has another value. `undefined`: it is not there. */
  | { readonly kind: 'put'; readonly path: Path; readonly from?: Json; readonly to?: Json }
  /**
   * A list has other rows, or an object other fields, or the same ones in another order. Both are lists of their
   * keys.
   */
  | {
      readonly kind: 'order';
      readonly path: Path;
      readonly from: readonly string[];
      readonly to: readonly string[];
    };

/** What makes one text of a document into another; changes of different parts, in no order that matters. */
export type Difference = readonly Change[];

/**
 * What makes `before` into `after`. Rows of lists are known by their ids, so that a row that moved is not one that
 * changed. Law: `applied(before, differenceOf(before, after))` is the same as `after`.
 * Example: `differenceOf({ a: 1 }, { a: 2 })` is `[{ kind: 'put', path: ['a'], from: 1, to: 2 }]`.
 */
export function differenceOf(before: Json, after: Json): Difference {
  const changes: Change[] = [];
  collect(before, after, [], changes);
  return changes;
}

function collect(a: Json | undefined, b: Json | undefined, path: Path, into: Change[]): void {
  if (isSameJson(a, b)) return;
  if (isTable(a) && isTable(b)) {
    for (const key of new Set([...Object.keys(a), ...Object.keys(b)]))
      collect(a[key], b[key], [...path, key], into);
    // A field that comes and goes comes back to its place, so that undo gives the same text letter by letter.
    const [from, to] = [Object.keys(a), Object.keys(b)];
    if (from.length !== to.length || from.some((key) => !(key in b)))
      into.push({ kind: 'order', path, from, to });
    return;
  }
  const rows = Array.isArray(a) && Array.isArray(b) ? [rowsOf(a), rowsOf(b)] : [];
  const [rowsA, rowsB] = rows;
  // Rows that are known by different fields could be taken for one another.
  if (!rowsA || !rowsB || (rowsA.key !== rowsB.key && rowsA.size * rowsB.size > 0)) {
    into.push(put(path, a, b));
    return;
  }
  for (const id of new Set([...rowsA.keys(), ...rowsB.keys()]))
    collect(rowsA.get(id), rowsB.get(id), [...path, { row: id }], into);
  const [from, to] = [[...rowsA.keys()], [...rowsB.keys()]];
  if (!isSameJson(from, to)) into.push({ kind: 'order', path, from, to });
}

function put(path: Path, from: Json | undefined, to: Json | undefined): Change {
  return {
    kind: 'put',
    path,
    ...(from === undefined ? {} : { from }),
    ...(to === undefined ? {} : { to }),
  };
}

/**
 * A document with a difference made. A change of a part whose surroundings are gone is left out: nothing is made up
 * around it. Rows that the difference does not know keep their neighbours.
 */
export function applied<D extends Json>(doc: D, difference: Difference): D {
  let next: Json | undefined = doc;
  // Rows come and go first, so that the order can be brought about afterwards.
  for (const change of difference) if (change.kind === 'put') next = withChange(next, change.path, change);
  for (const change of difference) if (change.kind === 'order') next = withChange(next, change.path, change);
  // Both texts of a difference have this type, so the result has it too.
  return (next ?? null) as D;
}

function withChange(at: Json | undefined, path: Path, change: Change): Json | undefined {
  const [step, ...rest] = path;
  if (step === undefined) return change.kind === 'put' ? change.to : ordered(at, change.to);
  if (typeof step === 'string') {
    if (!isTable(at)) return at;
    const next = withChange(at[step], rest, change);
    if (next === at[step]) return at;
    const { [step]: _before, ...others } = at;
    if (next === undefined) return others;
    // A field keeps its place, so that the same text is written the same way.
    return step in at
      ? Object.fromEntries(Object.entries(at).map(([k, v]) => [k, k === step ? next : v]))
      : { ...at, [step]: next };
  }
  if (!Array.isArray(at)) return at;
  const rows = rowsOf(at);
  if (!rows) return at;
  const index = [...rows.keys()].indexOf(step.row);
  const next = withChange(at[index], rest, change);
  if (next === at[index]) return at;
  if (next === undefined) return at.filter((_, i) => i !== index);
  return index < 0 ? (rest.length === 0 ? [...at, next] : at) : at.with(index, next);
}

/** Rows or fields in a wanted order; one that it does not name stays behind the one that stood before it. */
function ordered(at: Json | undefined, wanted: readonly string[]): Json | undefined {
  if (isTable(at)) return Object.fromEntries(inOrder(Object.keys(at), wanted).map((key) => [key, at[key]]));
  const rows = Array.isArray(at) ? rowsOf(at) : null;
  return rows ? inOrder([...rows.keys()], wanted).map((id) => got(rows, id)) : at;
}

function inOrder(ids: readonly string[], wanted: readonly string[]): readonly string[] {
  const [here, named] = [new Set(ids), new Set(wanted)];
  const result = wanted.filter((id) => here.has(id));
  let before: string | null = null;
  for (const id of ids) {
    if (!named.has(id)) result.splice(before === null ? 0 : result.indexOf(before) + 1, 0, id);
    before = id;
  }
  return result;
}

/** What takes a difference back. Law: applying both changes nothing. */
export const reversed = (difference: Difference): Difference =>
  difference.map((change) =>
    change.kind === 'order'
      ? { ...change, from: change.to, to: change.from }
      : put(change.path, change.to, change.from),
  );

/** Two differences as one. Law: applying it gives the same as applying `first` and then `second`. */
export function squashed(first: Difference, second: Difference): Difference {
  let all: Change[] = [...first];
  for (const change of second) {
    const outer = all.find((c) => c.kind === 'put' && isWithin(change.path, c.path));
    if (outer?.kind === 'put') {
      // The first difference has put the whole around it: the change is made inside the value that was put.
      const to = withChange(outer.to, change.path.slice(outer.path.length), change);
      all = all.map((c) => (c === outer ? put(outer.path, outer.from, to) : c));
      continue;
    }
    if (change.kind === 'order') {
      const same = all.find((c) => c.kind === 'order' && isSameJson(c.path, change.path));
      const merged = same?.kind === 'order' ? { ...change, from: same.from } : change;
      all = [...all.filter((c) => c !== same), merged];
      continue;
    }
    // The first difference has changed parts inside it: `from` is then the value before these changes.
    const inner = all.filter((c) => isWithin(c.path, change.path));
    const depth = change.path.length;
    const within = reversed(inner).map((c) => ({ ...c, path: c.path.slice(depth) }));
    const from = change.from === undefined ? undefined : applied(change.from, within);
    all = [...all.filter((c) => !inner.includes(c)), put(change.path, from, change.to)];
  }
  return all.filter((c) => !isSameJson(c.from, c.to));
}

/** Whether a path leads to a part of what another one leads to, or to the same. */
export const isWithin = (path: Path, outer: Path): boolean =>
  outer.length <= path.length && outer.every((step, i) => isSameStep(step, nth(path, i)));

const isSameStep = (a: PathStep, b: PathStep): boolean =>
  typeof a === 'string' || typeof b === 'string' ? a === b : a.row === b.row;
