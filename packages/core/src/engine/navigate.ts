import type { SceneTarget } from '../floor';
import type { RecallTarget } from '../show';
import { DEFAULT_BPM } from './liveState';
import { setTempo } from './tempo';
import { recall, type Turn } from './turn';
import { placeOf } from './world';

/** Goes to a scene of the song in play, over its ends into the songs beside it. */
export function goToScene(turn: Turn, to: SceneTarget): void {
  const { songIndex, sceneIndex } = placeOf(turn.world, turn.state);
  const song = turn.world.songs[songIndex]?.song;
  if (!song) {
    turn.note({ code: 'no-songs' });
    return;
  }
  const last = song.scenes.length - 1;
  switch (to.kind) {
    case 'at':
      if (to.index > last)
        turn.note({ code: 'no-such-scene', index: to.index, sceneCount: song.scenes.length });
      else recallScene(turn, songIndex, to.index);
      return;
    case 'next': {
      const next = sceneIndex === null ? 0 : sceneIndex + 1;
      if (next <= last) recallScene(turn, songIndex, next);
      else goToSong(turn, songIndex + 1, 'first');
      return;
    }
    case 'previous': {
      const previous = (sceneIndex ?? 0) - 1;
      if (previous >= 0) recallScene(turn, songIndex, previous);
      else goToSong(turn, songIndex - 1, 'last');
      return;
    }
  }
}

/** Goes to a song of the running order and into its first scene (or its last, on the way back). */
export function goToSong(turn: Turn, songIndex: number, scene: 'first' | 'last'): void {
  const song = turn.world.songs[songIndex]?.song;
  if (!song) {
    turn.note({
      code: turn.world.songs.length === 0 ? 'no-songs' : songIndex < 0 ? 'start-of-set' : 'end-of-set',
    });
    return;
  }
  if (song.scenes.length > 0) recallScene(turn, songIndex, scene === 'first' ? 0 : song.scenes.length - 1);
  else enterSong(turn, songIndex, null);
}

/** Recalls a scene: what differs from what is known, or everything again. */
export function recallScene(
  turn: Turn,
  songIndex: number,
  sceneIndex: number,
  mode: 'changes' | 'all' = 'changes',
): void {
  const worldSong = turn.world.songs[songIndex];
  const cells = worldSong?.cells[sceneIndex];
  if (!cells) {
    turn.note({ code: 'no-such-scene', index: sceneIndex, sceneCount: worldSong?.cells.length ?? 0 });
    return;
  }
  enterSong(turn, songIndex, sceneIndex);
  const targets: RecallTarget[] = [];
  for (const [functionId, { value, setIn }] of cells) {
    const reached = turn.world.functions.get(functionId);
    if (!reached) turn.note({ code: 'function-gone', functionId });
    // A trigger belongs to the scene that it stands in; carrying it over would fire it again.
    else if (reached.fn.shape.kind !== 'trigger' || setIn === sceneIndex) targets.push({ reached, value });
  }
  turn.tellsLamps = true;
  const plan = recall(turn, targets, mode);
  turn.note({ code: 'recalled', songIndex, sceneIndex, settlesInMs: plan.settledAtMs - turn.nowMs });
}

function enterSong(turn: Turn, songIndex: number, sceneIndex: number | null): void {
  const { state } = turn;
  const { entryId, song } = turn.world.songs[songIndex]!;
  const sceneId = song.scenes[sceneIndex ?? -1]?.id ?? null;
  if (entryId !== state.position.entryId || state.position.sceneId === null) {
    state.songStartedAtMs = turn.nowMs;
    const bpm = song.tempoBpm || DEFAULT_BPM;
    setTempo(turn, { bpm, beatsPerBar: song.beatsPerBar, originMs: turn.nowMs });
  }
  state.position = { entryId, sceneId };
}
