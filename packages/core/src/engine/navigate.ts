import type { SceneTarget } from '../floor';
import type { RecallTarget } from '../show';
import { DEFAULT_BPM } from './liveState';
import { setTempo } from './tempo';
import { recall, type Live } from './live';
import { placeOf } from './world';

/** Goes to a scene of the song in play, over its ends into the songs beside it. */
export function goToScene(live: Live, to: SceneTarget): void {
  const { songIndex, sceneIndex } = placeOf(live.world, live.state);
  const song = live.world.songs[songIndex]?.song;
  if (!song) {
    live.note({ code: 'no-songs' });
    return;
  }
  const last = song.scenes.length - 1;
  switch (to.kind) {
    case 'at':
      if (to.index > last)
        live.note({ code: 'no-such-scene', index: to.index, sceneCount: song.scenes.length });
      else recallScene(live, songIndex, to.index);
      return;
    case 'next': {
      const next = sceneIndex === null ? 0 : sceneIndex + 1;
      if (next <= last) recallScene(live, songIndex, next);
      else goToSong(live, songIndex + 1, 'first');
      return;
    }
    case 'previous': {
      const previous = (sceneIndex ?? 0) - 1;
      if (previous >= 0) recallScene(live, songIndex, previous);
      else goToSong(live, songIndex - 1, 'last');
      return;
    }
  }
}

/** Goes to a song of the running order and into its first scene (or its last, on the way back). */
export function goToSong(live: Live, songIndex: number, scene: 'first' | 'last'): void {
  const song = live.world.songs[songIndex]?.song;
  if (!song) {
    live.note({
      code: live.world.songs.length === 0 ? 'no-songs' : songIndex < 0 ? 'start-of-set' : 'end-of-set',
    });
    return;
  }
  if (song.scenes.length > 0) recallScene(live, songIndex, scene === 'first' ? 0 : song.scenes.length - 1);
  else enterSong(live, songIndex, null);
}

/** Recalls a scene: what differs from what is known, or everything again. */
export function recallScene(
  live: Live,
  songIndex: number,
  sceneIndex: number,
  mode: 'changes' | 'all' = 'changes',
): void {
  const worldSong = live.world.songs[songIndex];
  const cells = worldSong?.cells[sceneIndex];
  if (!cells) {
    live.note({ code: 'no-such-scene', index: sceneIndex, sceneCount: worldSong?.cells.length ?? 0 });
    return;
  }
  enterSong(live, songIndex, sceneIndex);
  const targets: RecallTarget[] = [];
  for (const [functionId, { value, setIn }] of cells) {
    const reached = live.world.functions.get(functionId);
    if (!reached) live.note({ code: 'function-gone', functionId });
    // A trigger belongs to the scene that it stands in; carrying it over would fire it again.
    else if (reached.fn.shape.kind !== 'trigger' || setIn === sceneIndex) targets.push({ reached, value });
  }
  live.tellsLamps = true;
  const plan = recall(live, targets, mode);
  live.note({ code: 'recalled', songIndex, sceneIndex, settlesInMs: plan.settledAtMs - live.nowMs });
}

function enterSong(live: Live, songIndex: number, sceneIndex: number | null): void {
  const { state } = live;
  const { entryId, song } = live.world.songs[songIndex]!;
  const sceneId = song.scenes[sceneIndex ?? -1]?.id ?? null;
  if (entryId !== state.position.entryId || state.position.sceneId === null) {
    state.songStartedAtMs = live.nowMs;
    const bpm = song.tempoBpm || DEFAULT_BPM;
    setTempo(live, { bpm, beatsPerBar: song.beatsPerBar, originMs: live.nowMs });
  }
  state.position = { entryId, sceneId };
}
