import type { Setlist, Song } from '@idle-step/core/show';
import { z } from 'zod';
import { Id, measure, Name, refuseDoubleIds, refuseDoubles, whole } from './numbers';

export const SceneSchema = z.object({
  id: Id,
  name: Name,
  values: z.array(z.object({ functionId: Id, value: whole('Value', 0, 16383) })).max(2000),
});

export const SongSchema = z
  .object({
    id: Id,
    rigId: Id,
    name: Name,
    tempoBpm: measure('Tempo', 20, 400, 'bpm'),
    beatsPerBar: whole('Beats to the bar', 1, 16),
    lengthS: measure('Length', 0, 36_000, 's'),
    scenes: z.array(SceneSchema).max(200),
  })
  .superRefine((song, ctx) => {
    refuseDoubleIds(song, ctx);
    song.scenes.forEach((scene, s) =>
      refuseDoubles(
        scene.values,
        (v) => v.functionId,
        () => `${scene.name} sets the same function twice.`,
        (i, message) => ctx.addIssue({ code: 'custom', path: ['scenes', s, 'values', i], message }),
      ),
    );
  }) satisfies z.ZodType<Song>;

export const SetlistSchema = z
  .object({
    id: Id,
    rigId: Id,
    name: Name,
    entries: z
      .array(
        z.discriminatedUnion('kind', [
          z.object({ id: Id, kind: z.literal('song'), songId: Id }),
          z.object({
            id: Id,
            kind: z.literal('break'),
            name: Name,
            lengthS: measure('Length', 0, 36_000, 's'),
          }),
        ]),
      )
      .max(500),
  })
  .superRefine(refuseDoubleIds) satisfies z.ZodType<Setlist>;

export type SongDoc = z.infer<typeof SongSchema>;
export type SceneDoc = SongDoc['scenes'][number];
export type SetlistDoc = z.infer<typeof SetlistSchema>;
export type SetEntryDoc = SetlistDoc['entries'][number];
