import { z } from 'zod';
import { whole } from './numbers';

/** What uses something: its kind, its name, and where in it. */
export const ProblemUserSchema = z.object({
  kind: z.string(),
  id: z.string(),
  name: z.string(),
  place: z.string(),
});

/**
 * Every error over HTTP, as `application/problem+json`.
 * Source: RFC 9457. `type` is a path of this server; `errors`, `current` and `users` are extension members.
 */
export const ProblemSchema = z.object({
  type: z.string(),
  title: z.string(),
  status: whole('Status', 100, 599),
  /** A plain sentence: what is wrong, where, and what would be right. */
  detail: z.string(),
  /** Field by field, `path` like `devices.0.channel`; `code` where it is one of references. */
  errors: z
    .array(z.object({ path: z.string(), message: z.string(), code: z.string().optional() }))
    .optional(),
  /** On a stale write: what is kept now. */
  current: z.unknown().optional(),
  /** On a refused delete: what uses it. */
  users: z.array(ProblemUserSchema).optional(),
});

export type Problem = z.infer<typeof ProblemSchema>;
export type ProblemUser = z.infer<typeof ProblemUserSchema>;

/** Where each kind of error is explained: a page of this server. */
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
  noDatabase: '/problems/no-database',
  full: '/problems/full',
  internal: '/problems/internal',
} as const;

/** A Zod failure as places and sentences. */
export const fieldErrors = (error: z.ZodError): { path: string; message: string }[] =>
  error.issues.map((issue) => ({ path: issue.path.join('.'), message: issue.message }));

/** What each kind of error means and what to do about it, for its page. */
export const PROBLEM_PAGES: Readonly<
  Record<keyof typeof PROBLEM, { readonly title: string; readonly says: string }>
> = {
  invalid: {
    title: 'Not valid',
    says: 'Something in the text does not hold: a number out of its range, a name that is missing, a place that points at what is gone. The answer names each place with what would be right. Nothing was stored.',
  },
  notJson: {
    title: 'Not JSON',
    says: 'The body of the request could not be read as JSON. Nothing was stored.',
  },
  tooLarge: {
    title: 'Too large',
    says: 'The body is larger than a rig, preset, song or set can be. Nothing was stored.',
  },
  gone: {
    title: 'Gone',
    says: 'There is nothing by this identifier; it may have been deleted in another window.',
  },
  stale: {
    title: 'Changed meanwhile',
    says: 'Something else was saved since the version that this change was made from. Both texts are there: the answer has the one that is kept. Put them together and save from its version.',
  },
  inUse: {
    title: 'In use',
    says: 'What this change takes away is used elsewhere; the answer lists where. Take it out there first, or save with inUse=take-out.',
  },
  taken: {
    title: 'Cannot be stored so',
    says: 'It met something else: an identifier that belongs to another thing, or something that was deleted at the same moment. Nothing was stored; look at what is kept and try again.',
  },
  versionMissing: {
    title: 'Version missing',
    says: 'A save names the version that it was made from in the header If-Match, so that nothing is overwritten unseen.',
  },
  refused: {
    title: 'Refused',
    says: 'The request was not taken: from another page, to an address that is none, or in a form that cannot be read.',
  },
  noDatabase: {
    title: 'Database off',
    says: 'The database does not answer at the moment. Nothing was stored; the page tries again by itself.',
  },
  full: {
    title: 'Disk full',
    says: 'The disk of the database has no room left. Nothing was stored; make room there, and the page stores it by itself.',
  },
  internal: {
    title: 'Server error',
    says: 'The server failed on this request and stored nothing. Its log has the reason.',
  },
};
