import { isTable, mapReferences, type Json } from '@idle-step/core/edits';
import { crc32 } from '@idle-step/core/transfer';
import type { Preset } from '@idle-step/core/floor';
import type { FullRig } from '@idle-step/core/routing';
import type { Setlist, Song } from '@idle-step/core/show';
import { z } from 'zod';
import { readJson, whole } from './numbers';
import { PresetSchema } from './preset';
import { RigSchema } from './rig';
import { SetlistSchema, SongSchema } from './song';
import { nth } from '@idle-step/core/sure';

/** What a rig file says it is. */
export const RIG_FILE_FORMAT = 'idle-step-rig';

/** A rig with everything that belongs to it: what is duplicated, given away, deleted and brought back as one. */
export const RigFileSchema = z
  .strictObject({
    format: z.literal(RIG_FILE_FORMAT, { error: 'This file does not say that it is a rig of Idle Step.' }),
    version: z.literal(1, { error: 'This file is of a version that is not known here; 1 would be right.' }),
    rig: RigSchema,
    presets: z.array(PresetSchema).max(2000),
    songs: z.array(SongSchema).max(20_000),
    sets: z.array(SetlistSchema).max(5000),
    /** What `sumOf` gives for the rest, as eight hexadecimal digits: a file that was damaged on its way is told from it. */
    sum: z
      .string()
      .regex(/^[0-9A-F]{8}$/, { error: 'The sum has eight hexadecimal digits.' })
      .optional(),
  })
  .superRefine(({ rig, presets, songs, sets }, ctx) => {
    for (const [field, docs] of Object.entries({ presets, songs, sets }))
      docs.forEach(({ rigId, name }, i) => {
        if (rigId !== rig.id)
          ctx.addIssue({
            code: 'custom',
            path: [field, i, 'rigId'],
            message: `${name} belongs to another rig than ${rig.name}.`,
          });
      });
  });
export type RigFile = {
  readonly format: typeof RIG_FILE_FORMAT;
  readonly version: 1;
  readonly rig: FullRig;
  readonly presets: readonly Preset[];
  readonly songs: readonly Song[];
  readonly sets: readonly Setlist[];
};

/** Some of what belongs to a rig that comes in several bodies. */
export const RigPartSchema = z.object({
  presets: z.array(PresetSchema).max(2000).default([]),
  songs: z.array(SongSchema).max(2000).default([]),
  sets: z.array(SetlistSchema).max(2000).default([]),
});
export type RigPart = Pick<RigFile, 'presets' | 'songs' | 'sets'>;

/** How many songs of a rig are through while it is kept, deleted or brought back; 0 of 0 where nothing goes on. */
export const RigProgressSchema = z.object({
  done: whole('Songs', 0, 10_000_000),
  of: whole('Songs', 0, 10_000_000),
});
export type RigProgress = z.infer<typeof RigProgressSchema>;

type Content = {
  readonly rig: unknown;
  readonly presets: unknown;
  readonly songs: unknown;
  readonly sets: unknown;
};

/** CRC-32 of the UTF-16 halves of what a file holds, as JSON without spaces; eight hexadecimal digits. */
const sumOf = ({ rig, presets, songs, sets }: Content): string => {
  const text = JSON.stringify([rig, presets, songs, sets]);
  const bytes = new Uint8Array(2 * text.length);
  for (let i = 0; i < text.length; i++) {
    bytes[2 * i] = text.charCodeAt(i) >> 8;
    bytes[2 * i + 1] = text.charCodeAt(i) & 255;
  }
  return crc32(bytes).toString(16).toUpperCase().padStart(8, '0');
};

/** The text of a rig file, with its sum. */
export const writeRigFile = (file: RigFile): string =>
  `${JSON.stringify({ ...file, sum: sumOf(file) }, null, 2)}\n`;

/** Reads a rig file. The error is a sentence with its place. */
export function readRigFile(
  text: string,
): { readonly file: RigFile; readonly error?: undefined } | { readonly error: string } {
  const json = readJson(text);
  if (json.error !== undefined) return json;
  const parsed = RigFileSchema.safeParse(json.value);
  if (parsed.success) {
    const { sum, ...file } = parsed.data;
    // What was read is an object with these fields, or its schema would not have taken it.
    const isWhole = sum === undefined || sum === sumOf(json.value as Content);
    return isWhole
      ? { file }
      : {
          error:
            'It was damaged on its way, or edited by hand: what it holds does not agree with its sum. Fetch it anew, or take out the line “sum” if you edited it.',
        };
  }
  const issue = nth(parsed.error.issues, 0);
  return { error: `${issue.message}${issue.path.length > 0 ? ` (at ${issue.path.join('.')})` : ''}` };
}

/**
 * The same rig with identifiers of its own, so that nothing of one is the other's.
 * @param newId makes an identifier; as many are asked for as the file has parts with one.
 */
export function copiedRig(file: RigFile, name: string, newId: () => string): RigFile {
  const ids = new Map<string, string>();
  collectIds(file, (id) => ids.has(id) || ids.set(id, newId()));
  const pointed = mapReferences(file, ({ id }) => ids.get(id) ?? id);
  // Only identifiers were changed.
  const copy = withIds(pointed, ids) as RigFile;
  return { ...copy, rig: { ...copy.rig, name } };
}

function collectIds(part: Json, found: (id: string) => void): void {
  if (Array.isArray(part)) for (const row of part) collectIds(row, found);
  else if (isTable(part))
    for (const [field, value] of Object.entries(part)) {
      if (value === undefined) continue;
      if (field === 'id' && typeof value === 'string') found(value);
      else collectIds(value, found);
    }
}

function withIds(part: Json, ids: ReadonlyMap<string, string>): Json {
  if (Array.isArray(part)) return part.map((row: Json) => withIds(row, ids));
  if (!isTable(part)) return part;
  return Object.fromEntries(
    Object.entries(part).map(([field, value]) => [
      field,
      field === 'id' && typeof value === 'string' ? (ids.get(value) ?? value) : value && withIds(value, ids),
    ]),
  );
}

/** The published schema of a rig file, as JSON Schema. */
export const rigFileJsonSchema = (): unknown =>
  z.toJSONSchema(RigFileSchema, { io: 'input', unrepresentable: 'any', reused: 'ref' });
