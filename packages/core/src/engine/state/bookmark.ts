import type { BeatUnit } from '../../show';
import type { LiveState, SoundingNote, StageView } from './liveState';

/**
 * Where an evening stands, as it is written down while it is played, so that a page that was reloaded or killed comes
 * back to it. Plain data. Times are how long ago something began, in ms.
 */
export type Bookmark = {
  readonly rigId: string;
  readonly setId: string | null;
  readonly position: LiveState['position'];
  readonly bpm: number;
  readonly beatsPerBar: number;
  readonly beatUnit: BeatUnit;
  readonly songForMs: number | null;
  readonly run: {
    readonly forMs: number;
    readonly pauseId: string | null;
    readonly pausedForMs: number | null;
  } | null;
  readonly view: StageView;
  /** What was told and left. What still waited for a device when the page went away was never sent. */
  readonly registers: LiveState['registers'];
  readonly banks: LiveState['banks'];
  readonly pages: LiveState['pages'];
  readonly latched: LiveState['latched'];
  readonly steps: LiveState['steps'];
  readonly evens: LiveState['evens'];
  readonly pedals: LiveState['pedals'];
  readonly gates: LiveState['routes']['gates'];
  readonly switched: LiveState['routes']['switched'];
  readonly line: { readonly entryId: string; readonly beat: number; readonly isLooping: boolean } | null;
  /** Notes that were sent on, and those that could not be ended. */
  readonly sounding: readonly SoundingNote[];
};
