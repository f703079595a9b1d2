import type { z } from 'zod';

/**
 * What was stored, as its schema has it: what was added to documents since is filled in. A rule that came later than the
 * row does not make it unreadable: then it is as it was stored, and the next save says what is wrong.
 */
export function asKept<T>(schema: z.ZodType<T>, stored: unknown): T {
  const result = schema.safeParse(stored);
  return result.success ? result.data : (stored as T);
}
