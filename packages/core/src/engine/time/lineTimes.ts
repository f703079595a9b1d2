import { firstAfter } from '../../show';
import { CLOCKS_A_BEAT } from './clockTimes';
import type { LineState } from '../state/liveState';
import type { World, WorldSong } from '../world/world';

/** A clock that has not come for this long is lost, in ms: twice as long as between two ticks at 20 bpm. */
export const CLOCK_LOST_MS = 250;
/** How much later than expected a tick may come before what lies at it is done without it, in ms. */
const TICK_MAY_BE_LATE_MS = 6;

export const lineSong = (world: World, line: LineState): WorldSong | undefined =>
  world.songs[world.songAt.get(line.entryId) ?? -1];

/** When a time line comes to a beat, in ms, if it goes on as it does. */
const beatMs = (line: LineState, beat: number): number =>
  line.sinceMs + ((beat - line.beat) * 60_000) / line.bpm;

/** The beat that a time line stands at. One that follows a clock waits for the next tick, unless it goes on by itself. */
export function lineBeat(world: World, line: LineState, nowMs: number): number {
  if (!line.isRunning) return line.beat;
  const beat = line.beat + (Math.max(0, nowMs - line.sinceMs) * line.bpm) / 60_000;
  if (!line.clock || (line.clock.ticks >= 0 && goesOn(world, line))) return beat;
  return line.clock.ticks < 0 ? line.beat : Math.min(beat, (line.clock.ticks + 1) / CLOCKS_A_BEAT);
}

const goesOn = (world: World, line: LineState): boolean =>
  lineSong(world, line)?.song.line.whenLost === 'go-on';

/** What a time line comes to next. */
export type LineStop = {
  readonly kind: 'event' | 'loop' | 'end' | 'lost';
  readonly beat: number;
  /** When, in ms; infinite while it waits for a clock. */
  readonly atMs: number;
};

/** `null` where nothing lies ahead. */
export function nextStop(world: World, line: LineState): LineStop | null {
  const song = lineSong(world, line);
  if (!line.isRunning || !song) return null;
  const { events, loop, beats } = song.line;
  const next = events[firstAfter(events, line.doneBeat)];
  let kind: LineStop['kind'] | null = null;
  let beat = Infinity;
  // Where the loop turns back, what stands there is not done.
  if (line.isLooping && loop && loop.to > line.beat) [kind, beat] = ['loop', loop.to];
  if (next && next.atBeat < beat) [kind, beat] = ['event', next.atBeat];
  // A clock that is followed says itself when it stops.
  const end = beats !== null && !line.clock ? Math.max(beats, line.beat) : Infinity;
  if (end < beat) [kind, beat] = ['end', end];
  const stop = kind && { kind, beat, atMs: arrivalMs(world, line, beat) };
  if (!line.clock || line.clock.isLost || line.clock.ticks < 0) return stop;
  const lostMs = line.sinceMs + CLOCK_LOST_MS;
  return stop && stop.atMs <= lostMs ? stop : { kind: 'lost', beat: line.beat, atMs: lostMs };
}

/** When a beat is come to: with its tick, or between two ticks at the tempo heard. */
function arrivalMs(world: World, line: LineState, beat: number): number {
  const { clock } = line;
  if (!clock) return beatMs(line, beat);
  if (clock.ticks < 0) return Infinity;
  const tick = beat * CLOCKS_A_BEAT;
  if (tick <= clock.ticks) return line.sinceMs;
  if (tick < clock.ticks + 1) return beatMs(line, beat);
  return goesOn(world, line) ? beatMs(line, beat) + TICK_MAY_BE_LATE_MS : Infinity;
}

/** When a time line does something next, in ms. */
export const lineDueMs = (world: World, line: LineState): number => nextStop(world, line)?.atMs ?? Infinity;

/** The time line at another tempo: it goes on from where it is. */
export const retimedLine = (line: LineState | null, bpm: number, nowMs: number): LineState | null =>
  !line || line.bpm === bpm
    ? line
    : line.isRunning
      ? {
          ...line,
          beat: line.beat + (Math.max(0, nowMs - line.sinceMs) * line.bpm) / 60_000,
          sinceMs: nowMs,
          bpm,
        }
      : { ...line, bpm };
