import type { ShowTarget } from '../../floor';
import { runLine } from '../time/line';
import { STAGE_VIEWS, type LiveState, type SetRun, type StageView } from '../state/liveState';
import { goToScene, goToSong, recallScene } from './navigate';
import type { Live } from '../live/live';
import { placeOf } from '../world/place';
import { type Pause, type World } from '../world/world';
import { nth } from '../../sure';

/** Begins or ends the set, goes on or back in it by whatever comes (a scene, a song, a break, its end), or to its encore. */
export function walkSet(live: Live, to: ShowTarget): void {
  const { run } = live.state;
  switch (to) {
    case 'begin':
      if (run) live.note({ code: 'set-runs' });
      else beginSet(live);
      return;
    case 'end':
      if (run) endSet(live);
      else live.note({ code: 'set-runs-not' });
      return;
    case 'next':
      if (run) goOn(live, run);
      else if (live.state.isOver) live.note({ code: 'set-over' });
      else beginSet(live);
      return;
    case 'previous':
      if (run) goBack(live, run);
      else live.note({ code: 'set-runs-not' });
      return;
    case 'encore':
      goToEncore(live);
  }
}

/** The first song that is played as an encore, also where no set runs. */
function goToEncore(live: Live): void {
  const { show } = live.world;
  const first = show.pauses?.find((p) => p.kind === 'encore')?.before;
  if (first === undefined) live.note({ code: 'no-encore' });
  else goToSong(live, first, 'first');
}

/** What "next" leads to while a set runs, or would lead to at its beginning. */
export type Ahead =
  | { readonly kind: 'part'; readonly songIndex: number; readonly partIndex: number }
  /** A song without parts is entered and stands ready. */
  | { readonly kind: 'song'; readonly songIndex: number }
  | { readonly kind: 'pause'; readonly pause: Pause }
  | { readonly kind: 'end' };

/** The next thing of a set that runs. */
export function nextThing(world: World, state: Pick<Live['state'], 'position' | 'run'>): Ahead {
  const inPause = pauseNow(world, state.run);
  if (inPause) {
    const later = pausesBefore(world, inPause.before);
    return enter(world, inPause.before, later[later.indexOf(inPause) + 1]);
  }
  const { songIndex, partIndex } = placeOf(world, state);
  const next = partIndex === null ? 0 : partIndex + 1;
  // A set that has only just been begun stands before its first song.
  if (state.position.entryId !== null && next < (world.songs[songIndex]?.parts.length ?? 0))
    return { kind: 'part', songIndex, partIndex: next };
  const songAhead = state.position.entryId === null ? 0 : songIndex + 1;
  return enter(world, songAhead, pausesBefore(world, songAhead)[0]);
}

/** A pause where there is one, else the song at a place, else the end. */
function enter(world: World, songIndex: number, pause: Pause | undefined): Ahead {
  if (pause) return { kind: 'pause', pause };
  const song = world.songs[songIndex];
  if (!song) return { kind: 'end' };
  return song.parts.length > 0 ? { kind: 'part', songIndex, partIndex: 0 } : { kind: 'song', songIndex };
}

/** How a set stands in time, in seconds: since it began, still to come as planned, and over its plan (under it below 0). */
export type SetClock = { readonly goneS: number; readonly leftS: number; readonly overS: number };

/**
 * What is left is what is planned of everything still to come: of the song or break in play what it has left, and
 * nothing where it is over its time already.
 */
export function setClock(
  world: World,
  state: Pick<LiveState, 'position' | 'run' | 'songStartedAtMs'>,
  nowMs: number,
): SetClock {
  const { songs, show } = world;
  const pauses = show.pauses ?? [];
  const all = sum(songs) + sum(pauses);
  const { run } = state;
  if (!run) return { goneS: 0, leftS: all, overS: 0 };
  const goneS = Math.max(0, nowMs - run.startedAtMs) / 1000;
  const inPause = pauseNow(world, run);
  const { songIndex } = placeOf(world, state);
  const isBefore = inPause !== null || state.position.entryId === null;
  const from = inPause ? inPause.before : isBefore ? 0 : songIndex + 1;
  const ahead = inPause ? pauses.indexOf(inPause) + 1 : pauses.findIndex((p) => p.before >= from);
  const rest = sum(songs.slice(from)) + sum(ahead < 0 ? [] : pauses.slice(ahead));
  const now = inPause ?? (isBefore ? null : songs[songIndex]);
  const sinceMs = inPause ? (run.pausedAtMs ?? run.startedAtMs) : state.songStartedAtMs;
  const inItS = now && sinceMs !== null ? Math.max(0, now.lengthS - (nowMs - sinceMs) / 1000) : 0;
  const leftS = rest + inItS;
  return { goneS, leftS, overS: goneS + leftS - all };
}

const sum = (list: readonly { readonly lengthS: number }[]): number =>
  list.reduce((s, { lengthS }) => s + lengthS, 0);

/** The break or talk that a set stands in, `null` while it plays. */
export const pauseNow = (world: World, run: SetRun | null): Pause | null =>
  (run?.pauseId && world.show.pauses?.find((p) => p.id === run.pauseId)) || null;

const pausesBefore = ({ show }: World, songIndex: number): readonly Pause[] =>
  show.pauses?.filter((p) => p.before === songIndex) ?? [];

function beginSet(live: Live): void {
  if (live.world.songs.length === 0) {
    live.note({ code: 'no-songs' });
    return;
  }
  const run = { startedAtMs: live.nowMs, pauseId: null, pausedAtMs: null };
  live.state.run = run;
  live.state.isOver = false;
  // Whatever was tried before, the first song begins anew.
  live.state.position = { entryId: null, sceneId: null, partId: null };
  live.note({ code: 'set-began' });
  goOn(live, run);
}

function endSet(live: Live): void {
  stopLine(live);
  live.state.run = null;
  live.note({ code: 'set-ended' });
}

function goOn(live: Live, run: SetRun): void {
  const ahead = nextThing(live.world, live.state);
  switch (ahead.kind) {
    case 'pause':
      pauseAt(live, ahead.pause);
      return;
    case 'end':
      endSet(live);
      live.state.isOver = true;
      return;
    case 'song':
      goToSong(live, ahead.songIndex, 'first');
      return;
    case 'part':
      if (run.pauseId !== null || ahead.partIndex === 0) goToSong(live, ahead.songIndex, 'first');
      else goToScene(live, { kind: 'next' });
  }
}

function goBack(live: Live, run: SetRun): void {
  const { world } = live;
  const { songIndex, sceneIndex, partIndex } = placeOf(world, live.state);
  const inPause = pauseNow(world, run);
  if (inPause) {
    const same = pausesBefore(world, inPause.before);
    const before = same[same.indexOf(inPause) - 1];
    if (before) pauseAt(live, before);
    else if (inPause.before > 0 && sceneIndex !== null)
      recallScene(live, songIndex, sceneIndex, { partIndex });
    else live.note({ code: 'start-of-set' });
    return;
  }
  const pause = partIndex ? undefined : pausesBefore(world, songIndex).at(-1);
  if (pause) pauseAt(live, pause);
  else goToScene(live, { kind: 'previous' });
}

/** The set stands in a break: what sounded goes on sounding, and the time line of the song before is stopped. */
function pauseAt(live: Live, pause: Pause): void {
  stopLine(live);
  const startedAtMs = live.state.run?.startedAtMs ?? live.nowMs;
  live.state.run = { startedAtMs, pauseId: pause.id, pausedAtMs: live.nowMs };
  // Back from a break leads to the last scene of the song before it, on from it to the song after it.
  const before = live.world.songs[pause.before - 1];
  const { songIndex } = placeOf(live.world, live.state);
  if (before && songIndex !== pause.before - 1) {
    const part = before.parts.at(-1);
    live.state.position = {
      entryId: before.entryId,
      sceneId: part?.sceneId ?? null,
      partId: part?.id ?? null,
    };
  }
  live.note({ code: 'pause', pauseId: pause.id, name: pause.name });
}

function stopLine(live: Live): void {
  if (live.state.line?.isRunning) runLine(live, 'stop');
}

/** Turns what the stage shows, round at the ends. */
export function turnView(live: Live, to: 'next' | 'previous' | StageView): void {
  const now = STAGE_VIEWS.indexOf(live.state.view);
  const turned = (step: number) => nth(STAGE_VIEWS, (now + step) % STAGE_VIEWS.length);
  live.state.view = to === 'next' ? turned(1) : to === 'previous' ? turned(STAGE_VIEWS.length - 1) : to;
}

/** Asks the host to keep how the rig stands now as the scene in play. */
export function wantCapture(live: Live): void {
  const { songIndex, sceneIndex } = placeOf(live.world, live.state);
  const song = live.world.songs[songIndex]?.song;
  const scene = song?.scenes[sceneIndex ?? -1];
  if (!song || !scene) live.note({ code: 'no-scene' });
  else live.effects.push({ kind: 'capture', songId: song.id, sceneId: scene.id });
}
