import { retimedClocks } from './clockTimes';
import type { Tempo } from '../state/liveState';
import { retimedLine } from './lineTimes';
import { retimed } from './rampTimes';
import { tap } from './tapTempo';
import type { Live } from '../live/live';

/** Takes a tempo: whatever counts beats goes on from where it is. */
export function setTempo({ state, nowMs }: Live, tempo: Tempo): void {
  state.tempo = tempo;
  state.ramps = retimed(state.ramps, tempo.bpm, nowMs);
  state.clocks = retimedClocks(state.clocks, tempo.bpm);
  state.line = retimedLine(state.line, tempo.bpm, nowMs);
}

/** A tap of the foot. */
export function takeTap(live: Live): void {
  const { taps, tempo } = tap(live.state, live.nowMs);
  live.state.taps = taps;
  setTempo(live, tempo);
}
