/** What a long search comes to, without its progress. */
export function drained<T>(search: Generator<unknown, T>): T {
  for (;;) {
    const next = search.next();
    if (next.done) return next.value;
  }
}
