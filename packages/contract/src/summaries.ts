import type { Setlist, Song } from '@idle-step/core/show';
import { z } from 'zod';
import { Id, whole } from './numbers';
import { SetlistSchema, SongSchema } from './song';

const { id, rigId, name, tempoBpm, beatsPerBar, beatUnit, lengthS, key, remark, tags } = SongSchema.shape;

/** A song as lists show it, without its scenes. */
export const SongSummarySchema = z.object({
  id,
  rigId,
  name,
  tempoBpm,
  beatsPerBar,
  beatUnit,
  lengthS,
  key: key.removeDefault(),
  remark: remark.removeDefault(),
  tags: tags.removeDefault(),
  sceneCount: whole('Scenes', 0, 200),
});

/** A set as lists show it, without its running order. */
export const SetSummarySchema = z.object({
  id: Id,
  rigId: Id,
  name: SetlistSchema.shape.name,
  date: SetlistSchema.shape.date.removeDefault(),
  place: SetlistSchema.shape.place.removeDefault(),
  songCount: whole('Songs', 0, 500),
});

/** Some of a list, and how many there are in all. */
export const pageSchema = <S extends z.ZodType>(item: S) =>
  z.object({ total: whole('Total', 0, 10_000_000), items: z.array(item) });

export type SongSummary = Readonly<Omit<z.infer<typeof SongSummarySchema>, 'tags'>> & {
  readonly tags: readonly string[];
};
export type SetSummary = z.infer<typeof SetSummarySchema>;
export type Page<T> = { readonly total: number; readonly items: readonly T[] };

/** Lines of a list in one answer at the most. */
export const PAGE_AT_MOST = 1000;
/** Documents that are asked for by their identifiers at the most. */
export const IDS_AT_MOST = 100;

export const songSummary = (song: Song): SongSummary => ({
  id: song.id,
  rigId: song.rigId,
  name: song.name,
  tempoBpm: song.tempoBpm,
  beatsPerBar: song.beatsPerBar,
  beatUnit: song.beatUnit,
  lengthS: song.lengthS,
  key: song.key,
  remark: song.remark,
  tags: song.tags,
  sceneCount: song.scenes.length,
});

export const setSummary = (set: Setlist): SetSummary => ({
  id: set.id,
  rigId: set.rigId,
  name: set.name,
  date: set.date,
  place: set.place,
  songCount: set.entries.filter((e) => e.kind === 'song').length,
});
