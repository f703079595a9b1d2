import { z } from 'zod';

/** Rows are named by UUIDs, made by whoever makes the row. */
export const Id = z.guid({ error: 'This is not an identifier.' });

/** What was given, short enough to stand in a sentence; whatever it is, it can be said. */
export function given(input: unknown): string {
  switch (typeof input) {
    case 'undefined':
      return 'nothing';
    case 'string':
      return `“${[...input].slice(0, 40).join('')}”`;
    case 'number':
    case 'boolean':
      return String(input);
    default:
      return input === null ? 'nothing' : Array.isArray(input) ? '(a list)' : '(a group of fields)';
  }
}

/** A whole number in bounds, with a sentence that names both. */
export const whole = (what: string, min: number, max: number, unit = '') => {
  const outside = {
    error: (issue: { readonly input?: unknown }) =>
      `${what} ${given(issue.input)} is out of range; ${min} to ${max}${unit} would be right.`,
  };
  return z
    .int({
      error: (issue) =>
        `${what} ${given(issue.input)} is not a whole number; ${min} to ${max}${unit} would be right.`,
    })
    .min(min, outside)
    .max(max, outside);
};

/** A number in bounds, fractions allowed. */
export const measure = (what: string, min: number, max: number, unit: string) => {
  const outside = {
    error: (issue: { readonly input?: unknown }) =>
      `${what} ${given(issue.input)} is out of range; ${min} to ${max} ${unit} would be right.`,
  };
  return z
    .number({
      error: (issue) =>
        `${what} ${given(issue.input)} is not a number; ${min} to ${max} ${unit} would be right.`,
    })
    .min(min, outside)
    .max(max, outside);
};

const noSuchChannel = {
  error: (issue: { readonly input?: unknown }) =>
    `Channel ${Number(issue.input) + 1} does not exist; channels are 1 to 16 (sent as 0 to 15).`,
};

/** Sent 0–15; the sentence speaks of 1–16 as people do. */
export const ChannelNumber = z
  .int({
    error: (issue) =>
      `Channel ${given(issue.input)} is not a whole number; channels are 1 to 16 (sent as 0 to 15).`,
  })
  .min(0, noSuchChannel)
  .max(15, noSuchChannel);

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

/** Levels that a document may be deep; those of ours are under twenty. */
const DEEPEST = 64;

/**
 * Why a value that was read as JSON cannot be a document of ours at all, or `null`: it is nested without end, or has
 * text that is no text. Found without recursion, before anything else looks at it.
 */
export function unreadable(value: unknown): string | null {
  const waiting: { readonly part: unknown; readonly depth: number }[] = [{ part: value, depth: 0 }];
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    const { part, depth } = next;
    if (typeof part === 'string' && !isText(part))
      return 'It has half a character in it (a lone surrogate), which cannot be stored.';
    if (typeof part !== 'object' || part === null) continue;
    if (depth > DEEPEST) return `It is nested more than ${DEEPEST} levels deep.`;
    for (const [key, child] of Object.entries(part)) {
      if (!isText(key)) return 'The name of a field has half a character in it (a lone surrogate).';
      waiting.push({ part: child, depth: depth + 1 });
    }
  }
  return null;
}

/** Whether every surrogate has its other half. */
const isText = (text: string): boolean =>
  !/[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/.test(text);

/** A JSON text as a value, in the words of today, or why it cannot be read. */
export function readJson(
  text: string,
): { readonly value: unknown; readonly error?: undefined } | { readonly error: string } {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    const why = error instanceof Error ? error.message : 'it cannot be read';
    return {
      error: `This is no JSON: ${why}. It may be cut off: save the file again where it was made, and choose it once more.`,
    };
  }
  const fault = unreadable(value);
  if (fault !== null) return { error: `This cannot be read: ${fault}` };
  return { value: text.includes(OLDER_WORD) ? JSON.parse(text, inNewWords) : value };
}

const OLDER_WORD = '"turn"';
const TOGGLED = new Set<unknown>(['route', 'line', 'loop']);

/** What is switched over was written `turn` at first. */
function inNewWords(_key: string, part: unknown): unknown {
  if (typeof part !== 'object' || part === null || !('to' in part) || part.to !== 'turn') return part;
  return 'kind' in part && TOGGLED.has(part.kind) ? { ...part, to: 'toggle' } : part;
}

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
