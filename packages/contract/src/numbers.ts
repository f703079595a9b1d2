import { z } from 'zod';

/** Rows are named by UUIDs, made by whoever makes the row. */
export const Id = z.guid({ error: 'This is not an identifier.' });

/** What was given, short enough to stand in a sentence. */
const given = (input: unknown): string =>
  input === undefined ? 'nothing' : typeof input === 'string' ? `“${input.slice(0, 40)}”` : String(input);

/** A whole number in bounds, with a sentence that names both. */
export const whole = (what: string, min: number, max: number, unit = '') =>
  z
    .int({
      error: (issue) =>
        `${what} ${given(issue.input)} is not a whole number; ${min} to ${max}${unit} would be right.`,
    })
    .refine((n) => n >= min && n <= max, {
      error: (issue) =>
        `${what} ${given(issue.input)} is out of range; ${min} to ${max}${unit} would be right.`,
    });

/** A number in bounds, fractions allowed. */
export const measure = (what: string, min: number, max: number, unit: string) =>
  z
    .number({
      error: (issue) =>
        `${what} ${given(issue.input)} is not a number; ${min} to ${max} ${unit} would be right.`,
    })
    .refine((n) => n >= min && n <= max, {
      error: (issue) =>
        `${what} ${given(issue.input)} is out of range; ${min} to ${max} ${unit} would be right.`,
    });

/** Sent 0–15; the sentence speaks of 1–16 as people do. */
export const ChannelNumber = z
  .int({
    error: (issue) =>
      `Channel ${given(issue.input)} is not a whole number; channels are 1 to 16 (sent as 0 to 15).`,
  })
  .refine((n) => n >= 0 && n <= 15, {
    error: (issue) =>
      `Channel ${Number(issue.input) + 1} does not exist; channels are 1 to 16 (sent as 0 to 15).`,
  });

export const ControllerNumber = whole('Controller', 0, 127);
export const NoteNumber = whole('Note', 0, 127);
export const DataByte = whole('Value', 0, 127);
export const RawByte = whole('Byte', 0, 255);

export const NAME_LIMIT = 80;

/** Words of people's own: kept as typed but for spaces at the ends. */
export const Name = z
  .string({ error: 'The name is missing.' })
  .trim()
  .min(1, { error: 'The name is empty; one character is enough.' })
  .max(NAME_LIMIT, { error: `The name is longer than ${NAME_LIMIT} characters.` });

export const Remark = z
  .string({ error: 'Text is expected here.' })
  .max(400, { error: 'The text is longer than 400 characters.' });

/** Refuses lists in which two rows share a key, at the place of the second. */
export function refuseDoubles<T>(
  rows: readonly T[],
  keyOf: (row: T) => string,
  sentence: (row: T) => string,
  issue: (index: number, message: string) => void,
): void {
  const seen = new Set<string>();
  rows.forEach((row, index) => {
    const key = keyOf(row);
    if (seen.has(key)) issue(index, sentence(row));
    seen.add(key);
  });
}

/** Refuses a document in which two things have the same identifier, however deep they lie. */
export function refuseDoubleIds(doc: unknown, ctx: z.RefinementCtx): void {
  const seen = new Set<string>();
  const visit = (value: unknown, path: (string | number)[]): void => {
    if (typeof value !== 'object' || value === null) return;
    if ('id' in value && typeof value.id === 'string') {
      if (seen.has(value.id))
        ctx.addIssue({
          code: 'custom',
          path: [...path, 'id'],
          message: 'Two things have the same identifier.',
        });
      seen.add(value.id);
    }
    for (const [key, child] of Object.entries(value))
      visit(child, [...path, Array.isArray(value) ? Number(key) : key]);
  };
  visit(doc, []);
}
