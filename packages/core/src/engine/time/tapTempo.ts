import type { LiveState } from '../state/liveState';
import { nth } from '../../sure';

/** Taps further apart than this start over. 2000 ms is 30 bpm. */
export const LONGEST_GAP_MS = 2000;
const MOST_TAPS = 5;

/**
 * Takes a tap: from the second on, the tempo is the mean of the gaps, to a tenth of a bpm, 30–400.
 * Example: taps 600 ms apart are 100 bpm.
 */
export function tap(state: LiveState, atMs: number): Pick<LiveState, 'taps' | 'tempo'> {
  const last = state.taps[state.taps.length - 1];
  const goesOn = last !== undefined && atMs > last && atMs - last <= LONGEST_GAP_MS;
  const taps = goesOn ? [...state.taps, atMs].slice(-MOST_TAPS) : [atMs];
  if (taps.length < 2) return { taps, tempo: { ...state.tempo, originMs: atMs } };
  const meanMs = (atMs - nth(taps, 0)) / (taps.length - 1);
  const bpm = Math.min(400, Math.max(30, Math.round(600_000 / meanMs) / 10));
  return { taps, tempo: { ...state.tempo, bpm, originMs: atMs } };
}
