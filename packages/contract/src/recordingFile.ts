import {
  STAGE_VIEWS,
  type Command,
  type RecordedEntry,
  type Recording,
  type SentBytes,
  type Show,
} from '@idle-step/core/engine';
import { applied, differenceOf, type Change, type Json } from '@idle-step/core/edits';
import { encode, hex, parseBytes } from '@idle-step/core/midi';
import { z } from 'zod';
import { BookmarkSchema } from './bookmark';
import { readJson, whole } from './numbers';
import { HereSchema, PresetSchema, ShowTargetSchema, SongTargetSchema } from './preset';
import { RigSchema, StepGuardMs } from './rig';
import { SetlistSchema, SongSchema } from './song';
import { nth } from '@idle-step/core/sure';

/** What a recording says it is. */
export const RECORDING_FORMAT = 'idle-step-recording';

const At = z.number().min(0);
const Text = z.string().max(200);
const Value = z.number();
const Turn = z.union([z.enum(['up', 'down']), z.object({ bankId: Text })]);

const CommandSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('scene'), to: z.enum(['next', 'previous', 'again']) }),
  z.object({ kind: z.literal('go'), songIndex: whole('Song', 0, 9999), sceneIndex: whole('Scene', 0, 199) }),
  z.object({ kind: z.literal('song'), to: SongTargetSchema }),
  z.object({ kind: z.literal('show'), to: ShowTargetSchema }),
  z.object({ kind: z.literal('here'), ...HereSchema.shape }),
  z.object({ kind: z.literal('view'), to: z.enum(['next', 'previous', ...STAGE_VIEWS]) }),
  z.object({ kind: z.literal('key'), number: whole('Key', 0, 127), isDown: z.boolean() }),
  z.object({ kind: z.literal('bank'), boardId: Text, to: Turn }),
  z.object({ kind: z.literal('page'), boardId: Text, groupId: Text, to: Turn }),
  z.object({ kind: z.literal('switch'), controlId: Text, velocity: Value }),
  z.object({ kind: z.literal('move'), controlId: Text, travel: Value }),
  z.object({ kind: z.literal('turn'), controlId: Text, detents: Value }),
  z.object({ kind: z.literal('lamps') }),
  z.object({ kind: z.literal('set'), functionId: Text, value: Value }),
  z.object({ kind: z.literal('tap') }),
  z.object({ kind: z.literal('line'), to: z.enum(['start', 'continue', 'stop', 'toggle']) }),
  z.object({ kind: z.literal('cue'), index: whole('Cue', 0, 499) }),
  z.object({ kind: z.literal('locate'), beat: At }),
  z.object({ kind: z.literal('loop'), to: z.enum(['on', 'off', 'toggle']) }),
  z.object({
    kind: z.literal('route'),
    routeId: Text,
    part: z.enum(['route', 'gate']),
    to: z.enum(['on', 'off', 'toggle']),
  }),
  z.object({ kind: z.literal('learn'), on: z.boolean() }),
  z.object({ kind: z.literal('port-lost'), portId: Text }),
  z.object({ kind: z.literal('port-found'), portId: Text, isToldAgain: z.boolean() }),
  z.object({ kind: z.literal('resume'), bookmark: BookmarkSchema, awayMs: At }),
  z.object({ kind: z.literal('panic') }),
]) satisfies z.ZodType<Command>;

const Bytes = z.string().regex(/^[0-9A-F]{2}( [0-9A-F]{2})*$/, {
  error: 'Bytes are hexadecimal pairs with spaces between; B0 07 40 would be right.',
});

const PathSchema = z.array(z.union([z.string(), z.object({ row: z.string() })]));
const ChangeSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('put'), path: PathSchema, from: z.json().optional(), to: z.json().optional() }),
  z.object({
    kind: z.literal('order'),
    path: PathSchema,
    from: z.array(z.string()),
    to: z.array(z.string()),
  }),
]) satisfies z.ZodType<Change>;

/** Shapes only: on the way from one edit to the next a rig may break rules that hold when it is kept. */
export const ShowSchema = z.object({
  // Recordings from before steps were guarded have every one of them.
  rig: z.object({ ...RigSchema.shape, stepGuardMs: StepGuardMs.default(0) }),
  presets: z.array(z.object(PresetSchema.shape)),
  setId: Text.nullable().optional(),
  setName: z.string(),
  songs: z.array(z.object(SongSchema.shape)),
  entryIds: z.array(Text).optional(),
  leftOut: z.array(z.array(Text)).optional(),
  lengthsS: z.array(z.number().min(0)).optional(),
  pauses: z
    .array(
      z.object({
        id: Text,
        kind: z.enum(['break', 'talk', 'encore']),
        name: z.string(),
        lengthS: z.number().min(0),
        before: whole('Place', 0, 9999),
      }),
    )
    .optional(),
  calls: SetlistSchema.shape.calls.removeDefault().optional(),
});

/**
 * A rehearsal or an evening as a file: the rig, presets and songs as they were, with every edit; each message, command
 * and tick as it came; and every message that was sent. Times in ms.
 */
export const RecordingFileSchema = z.object({
  format: z.literal(RECORDING_FORMAT, {
    error: 'This file does not say that it is a recording of Idle Step.',
  }),
  version: z.literal([1, 2], {
    error: 'This file is of a version that is not known here; 1 or 2 would be right.',
  }),
  /** When it was begun, as a date and time. */
  begun: z.string(),
  startedAtMs: At,
  /** How long before their time glides and clocks were handed to the ports; not at all where it is missing. */
  aheadMs: At.optional(),
  shows: z.array(ShowSchema).min(1, { error: 'The recording has no rig.' }),
  entries: z.array(
    z.discriminatedUnion('kind', [
      z.object({ kind: z.literal('message'), atMs: At, leavesMs: At.optional(), portId: Text, bytes: Bytes }),
      z.object({ kind: z.literal('tick'), atMs: At, leavesMs: At.optional() }),
      z.object({ kind: z.literal('command'), atMs: At, leavesMs: At.optional(), command: CommandSchema }),
      /** What an edit changed of the show before it. */
      z.object({ kind: z.literal('edit'), atMs: At, changes: z.array(ChangeSchema) }),
      /** As version 1 had it: the show after an edit, whole. */
      z.object({ kind: z.literal('show'), atMs: At, show: whole('Show', 0, 400_000) }),
    ]),
  ),
  sent: z.array(z.object({ atMs: At, portId: Text, bytes: Bytes })),
});
export type RecordingFile = z.infer<typeof RecordingFileSchema>;

/** A recording that was read, with what was sent when it was made. */
export type ReadRecording =
  | {
      readonly recording: Recording;
      readonly sent: readonly SentBytes[];
      readonly begun: string;
      readonly error?: undefined;
    }
  | { readonly error: string };

/** The text of a recording. @param begun a date and time for people. */
export function writeRecording(recording: Recording, sent: readonly SentBytes[], begun: string): string {
  let now = json(recording.show);
  const entries = recording.entries.map((entry): RecordingFile['entries'][number] => {
    if (entry.kind === 'show') {
      const changes = [...differenceOf(now, json(entry.show))];
      now = json(entry.show);
      // The changes are plain data; Zod knows them as its own Json type, which is not named.
      return { kind: 'edit', atMs: entry.atMs, changes } as RecordingFile['entries'][number];
    }
    const { event } = entry;
    if (event.kind !== 'message') return { ...event };
    const { message, ...heard } = event;
    return { ...heard, bytes: hex(encode(message)) };
  });
  const file = {
    format: RECORDING_FORMAT,
    version: 2,
    begun,
    startedAtMs: recording.startedAtMs,
    aheadMs: recording.aheadMs,
    shows: [recording.show],
    entries,
    sent,
  };
  return JSON.stringify(file);
}

/** Reads a recording whole, or says what is wrong with it and where. */
export function readRecording(text: string): ReadRecording {
  const file = readJson(text);
  if (file.error !== undefined) return file;
  const parsed = RecordingFileSchema.safeParse(file.value);
  if (!parsed.success) {
    const issue = nth(parsed.error.issues, 0);
    return { error: `${issue.message}${issue.path.length > 0 ? ` (at ${issue.path.join('.')})` : ''}` };
  }
  const { shows, entries, sent, startedAtMs, aheadMs, begun } = parsed.data;
  const read: RecordedEntry[] = [];
  let lastMs = startedAtMs;
  let now = json(nth(shows, 0));
  for (const [i, entry] of entries.entries()) {
    const place = `Entry ${i + 1}`;
    if (entry.atMs < lastMs) return { error: `${place} comes before the one above it; times only rise.` };
    lastMs = entry.atMs;
    if (Math.max(lastMs, 'leavesMs' in entry ? (entry.leavesMs ?? 0) : 0) - startedAtMs > LONGEST_MS)
      return { error: `${place} comes more than a week after the beginning; a recording is shorter.` };
    if (entry.kind === 'edit') {
      const edited = showAfter(now, entry.changes);
      if ('error' in edited) return { error: `${place} leaves no rig that could be played: ${edited.error}` };
      now = edited.now;
      read.push({ kind: 'show', atMs: entry.atMs, show: edited.show });
    } else if (entry.kind === 'show') {
      const show = shows[entry.show];
      if (!show) return { error: `${place} goes over to rig ${entry.show}, and there are ${shows.length}.` };
      read.push({ kind: 'show', atMs: entry.atMs, show });
    } else if (entry.kind === 'message') {
      const { messages, faults } = parseBytes(entry.bytes.split(' ').map((pair) => parseInt(pair, 16)));
      if (messages.length !== 1 || faults.length > 0)
        return { error: `${place} is to be one whole message, and ${entry.bytes} is not.` };
      const { bytes: _bytes, ...heard } = entry;
      read.push({ kind: 'event', event: { ...heard, message: nth(messages, 0) } });
    } else read.push({ kind: 'event', event: entry });
  }
  return { recording: { startedAtMs, aheadMs, show: nth(shows, 0), entries: read }, sent, begun };
}

// Shows are plain data.
const json = (show: object): Json => show as Json;

/** A recording lasts no longer than this, in ms: a week. */
const LONGEST_MS = 7 * 24 * 3_600_000;

/** A show after an edit of it, or why it is none. */
function showAfter(
  before: Json,
  changes: readonly Change[],
): { readonly now: Json; readonly show: Show } | { readonly error: string } {
  let now: Json;
  try {
    now = applied(before, changes);
  } catch {
    return { error: 'it changes what is not there.' };
  }
  const show = ShowSchema.safeParse(now);
  if (show.success) return { now, show: show.data };
  const issue = nth(show.error.issues, 0);
  return { error: `${issue.message}${issue.path.length > 0 ? ` (at ${issue.path.join('.')})` : ''}` };
}

/** The published schema of a recording, as JSON Schema. */
export const recordingJsonSchema = (): unknown =>
  z.toJSONSchema(RecordingFileSchema, { io: 'input', unrepresentable: 'any', reused: 'ref' });
