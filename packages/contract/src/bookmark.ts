import { STAGE_VIEWS, type Bookmark } from '@idle-step/core/engine';
import { z } from 'zod';
import { BeatUnitNumber } from './song';

const Text = z.string().max(200);
const Place = z.number();
const recordOf = <S extends z.ZodType>(schema: S) => z.record(Text, schema);

/** Where an evening stands, as it is written down while it is played. */
export const BookmarkSchema = z.object({
  rigId: Text,
  setId: Text.nullable(),
  position: z.object({ entryId: Text.nullable(), sceneId: Text.nullable(), partId: Text.nullable() }),
  bpm: Place,
  beatsPerBar: Place,
  beatUnit: BeatUnitNumber.default(4),
  songForMs: Place.nullable(),
  run: z.object({ forMs: Place, pauseId: Text.nullable(), pausedForMs: Place.nullable() }).nullable(),
  view: z.enum(STAGE_VIEWS),
  // A key has a SysEx template in it; one of before knew rows of charts, so that nothing is taken as known.
  registers: z.record(z.string().max(2200), Place.nullable()).default({}),
  banks: recordOf(Text),
  pages: recordOf(Text),
  latched: recordOf(z.boolean()),
  steps: recordOf(Place).default({}),
  evens: recordOf(z.boolean()),
  pedals: recordOf(Place),
  gates: recordOf(z.boolean()),
  switched: recordOf(z.boolean()),
  line: z.object({ entryId: Text, beat: Place, isLooping: z.boolean() }).nullable(),
  sounding: z.array(z.object({ portId: Text, channel: Place, note: Place })).readonly(),
}) satisfies z.ZodType<Bookmark>;
