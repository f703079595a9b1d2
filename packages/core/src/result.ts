/** An expected outcome: a value, or a failure that is itself data. Bugs throw instead. */
export type Result<T, E> =
  { readonly ok: true; readonly value: T } | { readonly ok: false; readonly error: E };

export const ok = <T>(value: T): Result<T, never> => ({ ok: true, value });
export const fail = <E>(error: E): Result<never, E> => ({ ok: false, error });

/** Closes a `switch` over a union: the compiler refuses a missing case, and a case from outside throws. */
export function assertNever(value: never): never {
  throw new TypeError(`Unexpected case: ${JSON.stringify(value)}`);
}
