/** What a document is made of; a field that is undefined is one that is absent. */
export type Json = null | boolean | number | string | readonly Json[] | Table;

/** A part with fields. */
export type Table = { readonly [key: string]: Json | undefined };

export const isTable = (value: Json | undefined): value is Table =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** By what a row of a list is known, the first that all rows have. */
const ROW_KEYS = ['id', 'functionId', 'controlId'] as const;

/** Rows of a list by what they are known by, in their order, with the field that says it. */
class Rows extends Map<string, Table> {
  constructor(readonly key: string) {
    super();
  }
}

/** The rows of a list; `null` for a list of plain values. */
export function rowsOf(list: readonly Json[]): Rows | null {
  for (const key of ROW_KEYS) {
    const rows = new Rows(key);
    for (const row of list) {
      const id = isTable(row) ? row[key] : undefined;
      if (!isTable(row) || typeof id !== 'string' || rows.has(id)) break;
      rows.set(id, row);
    }
    if (rows.size === list.length) return rows;
  }
  return null;
}

/** Whether two texts are the same; a part that is undefined is one that is absent. */
export function isSameJson(a: Json | undefined, b: Json | undefined): boolean {
  if (a === b) return true;
  if (Array.isArray(a) && Array.isArray(b))
    return a.length === b.length && a.every((x: Json, i) => isSameJson(x, b[i]));
  if (!isTable(a) || !isTable(b)) return false;
  for (const key in a) if (!isSameJson(a[key], b[key])) return false;
  for (const key in b) if (b[key] !== undefined && a[key] === undefined) return false;
  return true;
}
