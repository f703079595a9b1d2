/** Rows written or read at once: enough to be quick, few enough that others get their turn between. */
export const CHUNK = 10;

/** A list in pieces of at most `CHUNK`. */
export function* inChunks<T>(all: readonly T[]): Generator<readonly T[]> {
  for (let at = 0; at < all.length; at += CHUNK) yield all.slice(at, at + CHUNK);
}
