/** An entry of a list that has to be there. @throws RangeError where the list is shorter. */
export function nth<T>(list: ArrayLike<T>, index: number): T {
  if (!(index >= 0 && index < list.length))
    throw new RangeError(`There is no entry ${index} in a list of ${list.length}`);
  // The place is in the list, so what is there has the type of its entries.
  return list[index] as T;
}

/** The last entry of a list that is not empty. @throws RangeError for an empty one. */
export const lastOf = <T>(list: ArrayLike<T>): T => nth(list, list.length - 1);

/** What a map holds under a key that has to be there. @throws RangeError where it is not. */
export function got<K, V>(map: { get(key: K): V | undefined }, key: K): V {
  const value = map.get(key);
  if (value === undefined) throw new RangeError(`There is nothing under ${String(key)}`);
  return value;
}

/** What has to be there. @throws RangeError where it is not. */
export function there<T>(value: T | null | undefined): T {
  if (value === null || value === undefined) throw new RangeError('Something that has to be there is not');
  return value;
}

/** The names of the fields of a table that has no others than its type says. */
export const keysOf = <K extends string>(table: Readonly<Partial<Record<K, unknown>>>): K[] =>
  // TypeScript knows objects with more fields than their type says; these are written down as constants.
  Object.keys(table) as K[];

/** A table with one field for each name. */
export const tableOf = <K extends string, V>(
  keys: readonly K[],
  value: (key: K, index: number) => V,
): Record<K, V> =>
  // Each key has its field: it was made of the keys.
  Object.fromEntries(keys.map((key, i) => [key, value(key, i)])) as Record<K, V>;

/** Whether something is one of a list of values. */
export const isOneOf = <T>(list: readonly T[], value: unknown): value is T =>
  // Only compared, so that its type does not matter.
  list.includes(value as T);

/** Whether something read from outside has fields. */
export const isRecord = (value: unknown): value is Readonly<Record<string, unknown>> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
