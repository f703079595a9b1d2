import { barQuarters, quartersOf, type Song } from '../../show';
import type { LiveState } from '../state/liveState';
import { placeOf } from '../world/place';
import type { World } from '../world/world';
import { lineBeat, lineSong } from './lineTimes';

/** Where a count-in stands: bar and beat from 1, of so many bars. */
export type CountIn = { readonly bar: number; readonly beat: number; readonly bars: number };

/** How long a song is counted in, in quarter notes. */
export const countInQuarters = (song: Song): number => song.countInBars * barQuarters(song);

/** Rounding of beats that are reckoned from times. */
const SAME_BEAT = 1e-6;

/**
 * The count-in of the song in play: before its time line begins to run, else from the moment at which the song was begun.
 * `null` where none is counted.
 */
export function countInNow(
  world: World,
  state: Pick<LiveState, 'line' | 'position' | 'tempo' | 'songStartedAtMs'>,
  nowMs: number,
): CountIn | null {
  const { line } = state;
  const onLine = line?.isRunning ? lineSong(world, line)?.song : undefined;
  if (line && onLine) {
    const beat = lineBeat(world, line, nowMs);
    return beat < 0 ? countAt(onLine, countInQuarters(onLine) + beat) : null;
  }
  const song = world.songs[placeOf(world, state).songIndex]?.song;
  if (!song || state.songStartedAtMs === null || state.position.sceneId === null) return null;
  return countAt(song, ((nowMs - state.songStartedAtMs) * state.tempo.bpm) / 60_000);
}

function countAt(song: Song, quarters: number): CountIn | null {
  if (quarters < 0 || quarters >= countInQuarters(song) - SAME_BEAT) return null;
  const beats = Math.floor(quarters / quartersOf(song.beatUnit) + SAME_BEAT);
  return {
    bar: Math.floor(beats / song.beatsPerBar) + 1,
    beat: (beats % song.beatsPerBar) + 1,
    bars: song.countInBars,
  };
}
