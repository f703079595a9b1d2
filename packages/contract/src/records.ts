import { z } from 'zod';
import { Id, whole } from './numbers';

const Name = z.string().max(80);
/** Bytes in base64; at most 2 MB of them. */
const Bytes = z.base64().max(2_800_000, { error: 'At most 2 MB of bytes are kept as one.' });

/** What is in a memory of a board; times as ISO 8601 in UTC. */
const InMemorySchema = z.object({ presetId: Id.nullable(), bytes: Bytes, at: z.iso.datetime() });
const MemorySchema = z.union([InMemorySchema, z.literal('unknown')]).nullable();

/** What a board holds, as this application last knew. */
const BoardRecordSchema = z.object({
  kind: z.literal('board'),
  sent: MemorySchema,
  stored: MemorySchema,
});

/** System exclusive that came from a device or a file. */
const DumpRecordSchema = z.object({
  kind: z.literal('dump'),
  name: Name.min(1, { error: 'A dump has a name.' }),
  remark: z.string().max(2000),
  bytes: Bytes,
});

export const LINE_FAULTS = [
  'right',
  'wrong-number',
  'wrong-channel',
  'nothing',
  'twice',
  'never-let-go',
  'short-travel',
  'lamp-inverted',
  'no-answer',
  'put-off',
] as const;

/** How each control and device was found, pressed one after the other. */
const LineCheckRecordSchema = z.object({
  kind: z.literal('line-check'),
  setId: Id.nullable(),
  results: z
    .array(
      z.object({
        boardId: Id.nullable(),
        thingId: Id,
        name: Name,
        found: z.enum(LINE_FAULTS),
        sentence: z.string().max(400),
        presses: whole('Presses', 0, 10_000),
      }),
    )
    .max(2000),
});

/** A finding that was looked at and is meant to be so, by the ground on which it stands. */
const SetAsideRecordSchema = z.object({
  kind: z.literal('set-aside'),
  ground: Id,
  reason: z.string().max(400),
});

/** What is known of real gear: what was sent to a board, a dump of a device, a line check; findings set aside. */
export const GearRecordSchema = z.object({
  id: Id,
  rigId: Id,
  /** The board, the device or the rig that it is about. */
  aboutId: Id,
  at: z.iso.datetime(),
  what: z.discriminatedUnion('kind', [
    BoardRecordSchema,
    DumpRecordSchema,
    LineCheckRecordSchema,
    SetAsideRecordSchema,
  ]),
});
export type GearRecord = z.infer<typeof GearRecordSchema>;
export type RecordOf<K extends GearRecord['what']['kind']> = GearRecord & {
  readonly what: Extract<GearRecord['what'], { kind: K }>;
};
