import { tempoIn } from '../../show';
import type { Live } from '../live/live';
import { placeOf } from '../world/place';
import { lineBeat } from './lineTimes';
import { setTempo } from './tempo';

/**
 * Takes the tempo that is written where the song stands: that of its time line, where it was run, else that of the scene in
 * play, else the song's. One that follows a clock keeps the clock's.
 */
export function backToSongTempo(live: Live): void {
  const { world, state } = live;
  const { songIndex, sceneIndex } = placeOf(world, state);
  const song = world.songs[songIndex];
  if (!song || state.line?.clock) return;
  const beat = state.line ? lineBeat(world, state.line, live.nowMs) : null;
  const scene = song.song.scenes[sceneIndex ?? -1];
  const written =
    beat !== null && song.line.tempos.length > 1
      ? song.line.tempos.findLast((t) => t.atBeat <= beat)?.bpm
      : scene && tempoIn(song.song, scene.id);
  const bpm = written ?? song.song.tempoBpm;
  state.taps = [];
  if (bpm !== state.tempo.bpm) setTempo(live, { ...state.tempo, bpm });
}
