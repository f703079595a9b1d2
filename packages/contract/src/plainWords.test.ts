import { demoPresets, demoRig, demoSets, demoSongs } from '@idle-step/demo';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { PresetSchema, RigSchema, SetlistSchema, SongSchema } from './index';

describe('what is said where a schema has no sentence of its own', () => {
  it.each([
    [z.string(), 5, '5 stands where text belongs.'],
    [z.object({ a: z.number() }), {}, 'Something is missing here; a number would be right.'],
    [z.array(z.string()), null, 'Nothing stands where a list belongs.'],
    [z.enum(['on', 'off']), 'up', '“up” is not known here; on, off would be right.'],
    [z.string().max(3), 'abcd', 'This text is longer than 3 characters.'],
    [z.string().min(1), '', 'This text is shorter than 1 character.'],
    [z.array(z.number()).max(1), [1, 2], 'These are more than 1.'],
    [z.number().max(9), 10, 'This is more than 9.'],
    [z.strictObject({}), { extra: 1 }, '“extra” has no place here.'],
    [z.union([z.string(), z.number()]), [], '(a list) is of no kind that is known here.'],
    [z.uuid(), 'x', '“x” is not written as it has to be here.'],
    [z.number().multipleOf(2), 3, '3 is no multiple of 2.'],
  ] as [z.ZodType, unknown, string][])('%#', (schema, input, sentence) => {
    const result = schema.safeParse(input);
    expect(result.error?.issues[0]?.message).toBe(sentence);
  });

  it('no spoiled document is refused in the words of the validator', () => {
    const docs = [
      [RigSchema, demoRig],
      [PresetSchema, demoPresets[0]!],
      [SongSchema, demoSongs[3]!],
      [SetlistSchema, demoSets[0]!],
    ] as [z.ZodType, object][];
    const spoil = fc.constantFrom(null, undefined, '', 'x', -1, 1e9, 0.5, true, [], {}, [null], NaN);
    fc.assert(
      fc.property(fc.constantFrom(...docs), fc.nat(100_000), spoil, ([schema, doc], place, junk) => {
        const copy = structuredClone(doc) as Record<string, unknown>;
        const holders: [object, string][] = [];
        const visit = (node: object): void => {
          for (const [key, value] of Object.entries(node)) {
            holders.push([node, key]);
            if (typeof value === 'object' && value !== null) visit(value as object);
          }
        };
        visit(copy);
        const [holder, key] = holders[place % holders.length]!;
        (holder as Record<string, unknown>)[key] = junk;
        for (const { message } of schema.safeParse(copy).error?.issues ?? []) {
          expect(message).not.toMatch(
            /Invalid|, received |^Too |expected (string|number|object|array|boolean|record|one|int)/,
          );
          expect(message).toMatch(/^[A-Z“(0-9–-].*[.…]$/s);
        }
      }),
      { seed: 17, numRuns: 1500 },
    );
  });
});
