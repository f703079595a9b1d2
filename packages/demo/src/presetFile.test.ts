import type { FullRig } from '@idle-step/core/routing';
import {
  PresetSchema,
  presetFaults,
  presetFileJsonSchema,
  readPresetFile,
  writePresetFile,
  type PresetFile,
} from '@idle-step/contract';
import { comparePresets } from '@idle-step/core/floor';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoPresets, demoRig } from './index';

let next = 0;
const id = () => `00000000-0000-4000-9000-${String(++next).padStart(12, '0')}`;

describe('preset files', () => {
  const ferry = demoPresets[0]!;
  const text = writePresetFile(demoRig, ferry);
  const read = (given: string, rig: FullRig = demoRig, board = ferry.boardId) =>
    readPresetFile(given, rig, board, id);
  const changed = (change: (file: PresetFile) => unknown) =>
    JSON.stringify(change(JSON.parse(text) as PresetFile));

  it('are read back as the same preset with identifiers of its own', () => {
    const back = read(text);
    if (back.error !== undefined) throw new Error(back.error);
    expect(back.missing).toEqual([]);
    expect(back.preset.id).not.toBe(ferry.id);
    expect(comparePresets(ferry, back.preset)).toEqual({ controls: [], pages: [] });
    expect(PresetSchema.safeParse(back.preset).success).toBe(true);
  });
  it('find what they point at by its name in another rig, and name what is not there', () => {
    const ids = new Map<string, string>();
    const moved = JSON.parse(JSON.stringify(demoRig), (key, value: unknown) => {
      if (key !== 'id' || typeof value !== 'string') return value;
      ids.set(value, ids.get(value) ?? id());
      return ids.get(value);
    }) as FullRig;
    const other = {
      ...moved,
      devices: moved.devices.filter((d) => d.name !== 'Deckhouse'),
      boards: moved.boards.slice(0, 1),
    };
    const back = read(text, other, other.boards[0]!.id);
    if (back.error !== undefined) throw new Error(back.error);
    expect(back.missing).toContain('Deckhouse / Arm Bow');
    expect(back.missing.every((name) => name.startsWith('Deckhouse'))).toBe(true);
    expect(
      presetFaults(
        { ...other, boards: other.boards.map((b) => ({ ...b, deviceId: other.devices[0]!.id })) },
        back.preset,
      ),
    ).toEqual([]);
  });
  it.each([
    ['cut off', text.slice(0, 500), /^This is no JSON: .* It may be cut off: save the file again/],
    ['nothing', '', /^This is no JSON/],
    ['another format', '{"format":"other"}', /does not say that it is a preset/],
    ['a later version', changed((f) => ({ ...f, version: 2 })), /1 would be right/],
    [
      'a wrong value',
      changed((f) => ({ ...f, preset: { ...f.preset, name: '' } })),
      /The name is empty.*at preset\.name/,
    ],
  ])('refuse %s with the reason', (_name, given, reason) => expect(read(given).error).toMatch(reason));
  it('damaged anywhere are read whole or refused, and never throw', () => {
    fc.assert(
      fc.property(fc.nat(text.length - 1), fc.constantFrom('', '"', '{', '0', 'x', ','), (at, put) => {
        const result = read(text.slice(0, at) + put + text.slice(at + 1));
        if (result.error === undefined) expect(PresetSchema.safeParse(result.preset).success).toBe(true);
      }),
      { seed: 93, numRuns: 150 },
    );
  });
  it('have a published schema that says what they are', async () => {
    // With `npx vitest run -u` the file is written anew after a change of the contract.
    const schema = `${JSON.stringify(presetFileJsonSchema(), null, 2)}\n`;
    await expect(schema).toMatchFileSnapshot('../../../docs/preset.schema.json');
  });
});
