import { z } from 'zod';

/**
 * Every error over HTTP, as `application/problem+json`.
 * Source: RFC 9457. `type` is a path of this server; `errors`, `current` and `users` are extension members.
 */
export const ProblemSchema = z.object({
  type: z.string(),
  title: z.string(),
  status: z.int(),
  /** A plain sentence: what is wrong, where, and what would be right. */
  detail: z.string(),
  /** Field by field, `path` like `devices.0.channel`. */
  errors: z.array(z.object({ path: z.string(), message: z.string() })).optional(),
  /** On a stale write: what is kept now. */
  current: z.unknown().optional(),
  /** On a refused delete: what uses it. */
  users: z
    .array(z.object({ kind: z.string(), id: z.string(), name: z.string(), place: z.string() }))
    .optional(),
});

export type Problem = z.infer<typeof ProblemSchema>;
export type ProblemUser = NonNullable<Problem['users']>[number];

export const PROBLEM = {
  invalid: '/problems/invalid',
  notJson: '/problems/not-json',
  tooLarge: '/problems/too-large',
  gone: '/problems/gone',
  stale: '/problems/stale',
  inUse: '/problems/in-use',
  taken: '/problems/taken',
  versionMissing: '/problems/version-missing',
  refused: '/problems/refused',
  internal: '/problems/internal',
} as const;

/** A Zod failure as places and sentences. */
export const fieldErrors = (error: z.ZodError): { path: string; message: string }[] =>
  error.issues.map((issue) => ({ path: issue.path.join('.'), message: issue.message }));
