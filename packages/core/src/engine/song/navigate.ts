import { cellNow } from './followTempo';
import type { SceneTarget, SongTarget } from '../../floor';
import { isUsable, loadsProgram, messagesFor, type ChartFunction } from '../../gear';
import { byteLength, wireTimeMs } from '../../midi';
import {
  armedFirst,
  glideValue,
  routeKey,
  timedWay,
  type Cell,
  type Part,
  type Reached,
  type RecallPlan,
  type RecallTarget,
  type Scene,
} from '../../show';
import { changeBank } from '../actions/pages';
import { stands } from '../state/known';
import { DEFAULT_BPM } from '../state/liveState';
import { endMs } from '../time/rampTimes';
import { startGlides, type Glide } from '../time/ramps';
import { isRouteOn } from '../heard/routeConditions';
import { switchRoute } from '../heard/routes';
import { setTempo } from '../time/tempo';
import { recall } from '../live/sending';
import { type Live } from '../live/live';
import { placeOf } from '../world/place';
import { type WorldSong } from '../world/world';
import { nth } from '../../sure';

/**
 * Goes to a scene of the song in play: by the order of its parts, over its ends into the songs beside it, or by
 * number.
 */
export function goToScene(live: Live, to: SceneTarget): void {
  const { songIndex, partIndex } = placeOf(live.world, live.state);
  const song = live.world.songs[songIndex];
  if (!song) {
    live.note({ code: 'no-songs' });
    return;
  }
  switch (to.kind) {
    case 'at':
      recallScene(live, songIndex, to.index);
      return;
    case 'again': {
      const { sceneIndex } = placeOf(live.world, live.state);
      if (sceneIndex === null) live.note({ code: 'no-scene' });
      else recallScene(live, songIndex, sceneIndex, { mode: 'all', partIndex });
      return;
    }
    case 'is':
      recallScene(
        live,
        songIndex,
        song.song.scenes.findIndex((s) => s.id === to.sceneId),
      );
      return;
    case 'next': {
      const next = partIndex === null ? 0 : partIndex + 1;
      if (next < song.parts.length) playPart(live, songIndex, next);
      else goToSong(live, songIndex + 1, 'first');
      return;
    }
    case 'previous': {
      const previous = (partIndex ?? 0) - 1;
      if (previous >= 0) playPart(live, songIndex, previous);
      else goToSong(live, songIndex - 1, 'last');
      return;
    }
  }
}

/** Goes to a song by where it stands: beside the one in play, that one from its beginning, or by its place. */
export function goToSongAt(live: Live, to: SongTarget): void {
  const { songIndex } = placeOf(live.world, live.state);
  if (to === 'again') {
    if (live.world.songs[songIndex]) live.state.position = { ...live.state.position, sceneId: null };
    goToSong(live, songIndex, 'first', 'all');
  } else if (typeof to === 'object') goToSong(live, to.index, 'first');
  else goToSong(live, songIndex + (to === 'next' ? 1 : -1), 'first');
}

/** Goes to a song of the running order and into its first part (or its last, on the way back). */
export function goToSong(
  live: Live,
  songIndex: number,
  part: 'first' | 'last',
  mode: Wish['mode'] = 'changes',
): void {
  const song = live.world.songs[songIndex];
  if (!song) {
    live.note({
      code: live.world.songs.length === 0 ? 'no-songs' : songIndex < 0 ? 'start-of-set' : 'end-of-set',
    });
    return;
  }
  if (song.parts.length > 0) playPart(live, songIndex, part === 'first' ? 0 : song.parts.length - 1, mode);
  else enterSong(live, songIndex, null, null);
}

/** Recalls the scene of a part, which becomes the one that is played. */
export function playPart(
  live: Live,
  songIndex: number,
  partIndex: number,
  mode: Wish['mode'] = 'changes',
  elapsed?: Elapsed,
): void {
  const { song, parts } = nth(live.world.songs, songIndex);
  const sceneOf = (part: Part | undefined) => song.scenes.findIndex((s) => s.id === part?.sceneId);
  const since = elapsed && { ...elapsed, fromScene: sceneOf(parts[partIndex - 1]) };
  recallScene(live, songIndex, sceneOf(parts[partIndex]), { partIndex, mode, since });
}

/** How long ago a part began. */
export type Elapsed = { readonly beats: number; readonly seconds: number };

type Wish = {
  /** `changes`: only what differs from what is known, the usual way. `all`: everything again, without glides. */
  readonly mode?: 'changes' | 'all';
  /** The part that is played; else the next one that is this scene, or the first. */
  readonly partIndex?: number | null;
  /** The part began before now, from another scene (−1 for none): its glides are under way. */
  readonly since?: (Elapsed & { readonly fromScene: number }) | undefined;
};

/** Recalls a scene: banks and routes, then what differs from what is known, at once or on its way. */
export function recallScene(
  live: Live,
  songIndex: number,
  sceneIndex: number,
  { mode = 'changes', partIndex = null, since }: Wish = {},
): void {
  const worldSong = live.world.songs[songIndex];
  const cells = worldSong?.cells[sceneIndex];
  const scene = worldSong?.song.scenes[sceneIndex];
  if (!cells || !scene) {
    live.note({ code: 'no-such-scene', index: sceneIndex, sceneCount: worldSong?.cells.length ?? 0 });
    return;
  }
  enterSong(live, songIndex, sceneIndex, partIndex ?? nearestPart(live, songIndex, scene.id));
  surround(live, songIndex, sceneIndex);
  const targets: RecallTarget[] = [];
  const glides: Glide[] = [];
  const loading = devicesLoading(live, cells);
  for (const [functionId, written] of cells) {
    const reached = live.world.functions.get(functionId);
    if (!reached) {
      live.note({ code: 'function-gone', functionId });
      continue;
    }
    const cell = cellNow(live, reached, written);
    const { value, setIn } = cell;
    // A trigger belongs to the scene that it stands in; carrying it over would fire it again.
    if (reached.fn.shape.kind === 'trigger' && setIn !== sceneIndex) continue;
    const ramp = live.state.ramps.find((r) => r.functionId === functionId);
    const isLoading = loading.has(reached.device.id);
    // A glide that already leads to the value goes on, unless this scene sets the value itself.
    if (ramp && ramp.to === value && setIn !== sceneIndex && mode === 'changes' && !isLoading) continue;
    // What moves the same under another name is over, too.
    const others = live.world.carrying.replacedBy(functionId);
    // It may not glide: each step would overwrite what the scene sets by another row of the same register.
    const movesOthers = others.some((id) => cells.has(id));
    if (live.state.ramps.length > 0)
      live.state.ramps = live.state.ramps.filter(
        (r) =>
          r !== ramp &&
          !others.includes(r.functionId) &&
          !live.world.carrying.replacedBy(r.functionId).includes(functionId),
      );
    const glide =
      mode === 'changes' && !isLoading && !movesOthers && reached.path && isUsable(reached.device, reached.fn)
        ? glideTo(live, reached.fn, cell, scene, setIn === sceneIndex)
        : null;
    const onTheWay =
      since && !isLoading ? glideSince(worldSong, since, reached, cell, scene, sceneIndex) : null;
    if (glide) glides.push(glide);
    else targets.push({ reached, value: onTheWay?.now ?? value });
    if (onTheWay) glides.push(onTheWay);
  }
  live.tellsLamps = true;
  const plan = recall(live, armedFirst(targets), mode);
  startGlides(live, glides);
  live.note({ code: 'recalled', songIndex, sceneIndex, settlesInMs: settledAtMs(live, plan) - live.nowMs });
}

/** When the last message has arrived: of this plan, of what waited before it, and of all that glides. */
function settledAtMs({ state, world }: Live, plan: RecallPlan): number {
  let atMs = plan.settledAtMs;
  for (const { landsAtMs } of state.pending) atMs = Math.max(atMs, landsAtMs);
  for (const ramp of state.ramps) {
    const reached = world.functions.get(ramp.functionId);
    if (!reached?.path) continue;
    const bytes = messagesFor(reached.device, reached.fn, ramp.to).reduce((n, m) => n + byteLength(m), 0);
    const landsMs = endMs(ramp) + wireTimeMs(bytes, reached.path.link) + reached.path.latencyMs;
    atMs = Math.max(atMs, landsMs);
  }
  return atMs;
}

/** What the scene in play says of everything behind a port is sent again, whatever is known of it; nothing fires. */
export function recallBehind(live: Live, portId: string): void {
  recallAnew(live, 'all', ({ path }) => path?.portId === portId);
}

/** What the scene in play says and is not so, as far as it is known, is sent; nothing fires. */
export function makeWhole(live: Live): void {
  recallAnew(live, 'changes', () => true);
}

function recallAnew(live: Live, mode: 'changes' | 'all', isMeant: (reached: Reached) => boolean): void {
  const { songIndex, sceneIndex } = placeOf(live.world, live.state);
  if (sceneIndex === null) return;
  const targets: RecallTarget[] = [];
  for (const [functionId, cell] of nth(nth(live.world.songs, songIndex).cells, sceneIndex)) {
    const reached = live.world.functions.get(functionId);
    if (reached && reached.fn.shape.kind !== 'trigger' && isMeant(reached))
      targets.push({ reached, value: cellNow(live, reached, cell).value });
  }
  if (targets.length > 0) recall(live, armedFirst(targets), mode);
}

/** Devices that load another program now: whatever else they are to be is set once they have, not on its way. */
function devicesLoading(live: Live, cells: ReadonlyMap<string, Cell>): ReadonlySet<string> {
  const loading = new Set<string>();
  for (const [functionId, { value }] of cells) {
    const reached = live.world.functions.get(functionId);
    if (reached && loadsProgram(reached.fn) && !stands(live.state, reached, value))
      loading.add(reached.device.id);
  }
  return loading;
}

/** How a function gets to what a scene wants over time; `null` where it is set at once, or is there already. */
function glideTo(
  live: Live,
  fn: ChartFunction,
  { value: to, way }: Cell,
  { transition }: Scene,
  isOwn: boolean,
): Glide | null {
  const from = live.value(fn.id);
  if (from === undefined || from === to) return null;
  return glideFrom(fn, from, to, isOwn ? way : null, transition);
}

/** How a function gets over time from one value to another that a scene wants; `null` where it is set at once. */
function glideFrom(
  { id: functionId, shape: { kind: shape } }: ChartFunction,
  from: number,
  to: number,
  own: Cell['way'],
  transition: Scene['transition'],
): Glide | null {
  if (shape === 'trigger' || shape === 'program' || shape === 'sound') return null;
  const timed = timedWay(own, transition);
  if (!timed) return null;
  const { time, curve } = timed;
  if (shape === 'range') return { functionId, from, to, time, curve, isSwitch: false };
  const at = own ? 1 : (transition?.switchAt ?? 0);
  return at > 0
    ? { functionId, from, to, time: { ...time, amount: time.amount * at }, curve, isSwitch: true }
    : null;
}

/** The glide of a part that began some time ago, and the value that it has come to; `null` where it is over. */
function glideSince(
  song: WorldSong,
  { beats, seconds, fromScene }: NonNullable<Wish['since']>,
  { fn }: Reached,
  { value: to, way, setIn }: Cell,
  { transition }: Scene,
  sceneIndex: number,
): (Glide & { readonly now: number }) | null {
  const from = song.cells[fromScene]?.get(fn.id)?.value;
  if (from === undefined || from === to) return null;
  const own = setIn === sceneIndex ? way : null;
  const glide = glideFrom(fn, from, to, own, transition);
  if (!glide || glide.time.amount <= 0) return null;
  const share = (glide.time.unit === 's' ? seconds : beats) / glide.time.amount;
  if (share >= 1) return null;
  return { ...glide, share, now: glide.isSwitch ? from : glideValue(from, to, glide.curve, share) };
}

/** The tempo, banks and routes of a scene, where they are not so already. */
function surround(live: Live, songIndex: number, sceneIndex: number): void {
  const { tempo, banks, routes } = nth(nth(live.world.songs, songIndex).surrounds, sceneIndex);
  const bpm = tempo?.value ?? null;
  if (bpm !== null && bpm !== live.state.tempo.bpm)
    setTempo(live, { ...live.state.tempo, bpm, originMs: live.nowMs });
  for (const [boardId, { value }] of banks) {
    const bankId = live.world.boardById.get(boardId)?.banks[value]?.bank.id;
    if (bankId === undefined) live.note({ code: 'bank-gone' });
    else if (live.state.banks[boardId] !== bankId) changeBank(live, boardId, { kind: 'bank', bankId });
  }
  for (const [key, { value }] of routes) {
    const [part, routeId] = splitKey(key);
    switchRoute(live, { routeId, part, to: value ? 'on' : 'off' });
  }
  // What a scene says nothing of is played as it is written.
  for (const { route } of live.world.layers)
    if (!routes.has(routeKey(route.id, 'route')) && isRouteOn(live.state, route) !== route.isOn)
      switchRoute(live, { routeId: route.id, part: 'route', to: route.isOn ? 'on' : 'off' });
}

function splitKey(key: string): readonly ['route' | 'gate', string] {
  const at = key.indexOf('/');
  return [key.slice(0, at) === 'gate' ? 'gate' : 'route', key.slice(at + 1)];
}

/** The next part from where the song is that is a scene, else the first that is; `null` where it stands in none. */
function nearestPart(live: Live, songIndex: number, sceneId: string): number | null {
  const { parts } = nth(live.world.songs, songIndex);
  const now = placeOf(live.world, live.state);
  const from = now.songIndex === songIndex ? (now.partIndex ?? 0) : 0;
  const next = parts.findIndex((p, i) => i >= from && p.sceneId === sceneId);
  const found = next >= 0 ? next : parts.findIndex((p) => p.sceneId === sceneId);
  return found < 0 ? null : found;
}

/** Brings boards whose bank follows the song to the one of its name or number, where they have one. */
function followSong(live: Live, songIndex: number): void {
  const name = nth(live.world.songs, songIndex).song.name.trim().toLowerCase();
  for (const { board, banks } of live.world.boards) {
    const at =
      board.bankFollows === 'song-name'
        ? banks.findIndex((b) => b.bank.name.trim().toLowerCase() === name)
        : board.bankFollows === 'song-number'
          ? songIndex
          : -1;
    const bankId = banks[at]?.bank.id;
    if (bankId !== undefined && live.state.banks[board.id] !== bankId)
      changeBank(live, board.id, { kind: 'bank', bankId });
  }
}

function enterSong(live: Live, songIndex: number, sceneIndex: number | null, partIndex: number | null): void {
  const { state } = live;
  const { entryId, song, parts } = nth(live.world.songs, songIndex);
  const sceneId = song.scenes[sceneIndex ?? -1]?.id ?? null;
  if (entryId !== state.position.entryId || state.position.sceneId === null) {
    state.songStartedAtMs = live.nowMs;
    const bpm = song.tempoBpm || DEFAULT_BPM;
    const { beatsPerBar, beatUnit } = song;
    setTempo(live, { bpm, beatsPerBar, beatUnit, originMs: live.nowMs });
    followSong(live, songIndex);
  }
  state.isOver = false;
  // What is played ends the break before it.
  if (state.run?.pauseId) state.run = { ...state.run, pauseId: null, pausedAtMs: null };
  // The time line of another song is over.
  if (state.line && state.line.entryId !== entryId) state.line = null;
  state.position = { entryId, sceneId, partId: parts[partIndex ?? -1]?.id ?? null };
}
