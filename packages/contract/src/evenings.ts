import type { EveningEntry, PlannedSong } from '@idle-step/core/show';
import { z } from 'zod';
import { Id, whole } from './numbers';

const Words = z.string().max(400);
const Hex = z.string().regex(/^[0-9A-F]{2}( [0-9A-F]{2})*$/, {
  error: 'Bytes are hexadecimal pairs with spaces between; B0 07 40 would be right.',
});
const head = {
  number: whole('Line', 0, 10_000_000),
  atMs: z.number().min(0, { error: 'Nothing happens before the set begins.' }),
};

/** One thing that happened while a set was played. */
export const EveningEntrySchema = z.discriminatedUnion('kind', [
  z.object({ ...head, kind: z.literal('begin') }),
  z.object({ ...head, kind: z.literal('end') }),
  z.object({ ...head, kind: z.literal('scene'), entryId: Words, song: Words, scene: Words }),
  z.object({ ...head, kind: z.literal('pause'), name: Words }),
  z.object({ ...head, kind: z.literal('press'), control: Words, label: Words }),
  z.object({
    ...head,
    kind: z.literal('message'),
    way: z.enum(['in', 'out']),
    port: Words,
    bytes: Hex,
    times: whole('Times', 1, 1_000_000),
    lateMs: z.number().nullable(),
    isLost: z.boolean(),
  }),
  z.object({ ...head, kind: z.literal('note'), code: Words, text: z.string().max(1000) }),
]) satisfies z.ZodType<EveningEntry>;

export const PlannedSongSchema = z.object({
  entryId: Words,
  songId: Id,
  name: Words,
  lengthS: z.number().min(0),
}) satisfies z.ZodType<PlannedSong>;

/** One time that a set was played. Times as ISO 8601 in UTC. */
export const EveningSchema = z.object({
  id: Id,
  rigId: Id,
  setId: Id.nullable(),
  setName: Words,
  startedAt: z.iso.datetime(),
  /** `null` while it is played, and where it was never ended. */
  endedAt: z.iso.datetime().nullable(),
  /** The songs of the running order as it was. */
  plan: z.array(PlannedSongSchema).max(1000),
});
export type Evening = z.infer<typeof EveningSchema>;

/** Lines of a log in one request at the most. */
export const LINES_AT_MOST = 2000;

/** What a page tells of an evening: its head, and lines that may have been told before. */
export const EveningReportSchema = z.object({
  evening: EveningSchema,
  entries: z.array(EveningEntrySchema).max(LINES_AT_MOST),
});
export type EveningReport = z.infer<typeof EveningReportSchema>;

/** How many lines of an evening the server has. */
export const ReportedSchema = z.object({ lineCount: whole('Lines', 0, 10_000_000) });

/** An evening in a list, with how many lines its log has. */
export const EveningLineSchema = EveningSchema.extend({ lineCount: whole('Lines', 0, 10_000_000) });
export type EveningLine = z.infer<typeof EveningLineSchema>;

/** An evening with its log in order. */
export const EveningLogSchema = z.object({
  evening: EveningSchema,
  entries: z.array(EveningEntrySchema),
});
export type EveningLog = z.infer<typeof EveningLogSchema>;
