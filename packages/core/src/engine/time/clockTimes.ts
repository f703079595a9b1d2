import type { RunningClock } from '../state/liveState';

/** Clocks to a quarter note. Source: MIDI 1.0 Detailed Specification, "Timing Clock". */
export const CLOCKS_A_BEAT = 24;

/** When a clock sends its next tick, in ms: ticks are counted from where its tempo was last set. */
export const clockDueMs = ({ sinceMs, bpm, sent }: RunningClock): number =>
  sinceMs + (sent * 60_000) / bpm / CLOCKS_A_BEAT;

/** Clocks at a new tempo: the next tick comes when it would have come anyway, those after it at the new tempo. */
export const retimedClocks = (
  clocks: Readonly<Record<string, RunningClock>>,
  bpm: number,
): Readonly<Record<string, RunningClock>> =>
  Object.values(clocks).some((c) => c.bpm !== bpm)
    ? Object.fromEntries(
        Object.entries(clocks).map(([portId, c]) => [portId, { sinceMs: clockDueMs(c), bpm, sent: 0 }]),
      )
    : clocks;
