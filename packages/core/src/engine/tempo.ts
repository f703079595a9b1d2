import { retimedClocks } from './clockTimes';
import type { Tempo } from './liveState';
import { retimed } from './rampTimes';
import { tap } from './tapTempo';
import type { Turn } from './turn';

/** Takes a tempo: whatever counts beats goes on from where it is. */
export function setTempo({ state, nowMs }: Turn, tempo: Tempo): void {
  state.tempo = tempo;
  state.ramps = retimed(state.ramps, tempo.bpm, nowMs);
  state.clocks = retimedClocks(state.clocks, tempo.bpm);
}

/** A tap of the foot. */
export function takeTap(turn: Turn): void {
  const { taps, tempo } = tap(turn.state, turn.nowMs);
  turn.state.taps = taps;
  setTempo(turn, tempo);
}
