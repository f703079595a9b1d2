/**
 * Keeps a list the same object as long as the same things stand in it in the same order: whoever draws or plays from it
 * is not woken by an edit elsewhere, or by a save that goes on.
 * @returns takes the list of now, and gives the one to use.
 */
export function steadyList<T>(): (now: readonly T[]) => readonly T[] {
  let list: readonly T[] = [];
  return (now) => {
    if (now.length !== list.length || now.some((item, i) => item !== list[i])) list = now;
    return list;
  };
}

/** The same result for the same document, worked out once. */
export function oncePerDoc<D extends object, T>(work: (doc: D) => T): (doc: D) => T {
  const known = new WeakMap<D, { readonly result: T }>();
  return (doc) => {
    const before = known.get(doc);
    if (before) return before.result;
    const result = work(doc);
    known.set(doc, { result });
    return result;
  };
}
