import { endNotes } from './actions/notes';
import { switchClock } from './time/clocks';
import { CLOCKS_A_BEAT, retimedClocks } from './time/clockTimes';
import { advance } from './time/advance';
import { finish } from './finish';
import type { Effect } from './state/events';
import {
  initialState,
  type LineState,
  type LiveState,
  type PedalEnd,
  type Position,
  type SetRun,
} from './state/liveState';
import { lineBeat } from './time/lineTimes';
import { cut, keepRun, sendModulation } from './heard/routes';
import { retimed } from './time/rampTimes';
import { endMomentary, letGoOf } from './controls/switches';
import { deliver, setFunction } from './live/sending';
import { refreshLamps } from './lamps/lampUpdate';
import { Live } from './live/live';
import { noteOff } from '../midi';
import { bpmAt, meterAt } from '../show';
import { compileWorld } from './compile/compileWorld';
import { placeOf } from './world/place';
import { type Show, type World, type WorldBank } from './world/world';

/**
 * Goes over to an edited show, or to another one. What is held and has no place in it any more ends first, by the old
 * one; what stays goes on, found again by its ids. Another rig begins anew.
 * @param atMs when, in ms on the clock of events.
 * @returns the new world, the state in it, and what the host has to do, in order.
 */
export function changeShow(
  before: World,
  given: LiveState,
  show: Show,
  atMs: number,
): { readonly world: World; readonly state: LiveState; readonly effects: readonly Effect[] } {
  const world = compileWorld(show, before.aheadMs);
  const isOther = before.show.rig.id !== show.rig.id;
  const live = new Live(before, given);
  advance(live, atMs);
  endWhatIsGone(live, isOther ? NOTHING_STAYS : staysIn(world));
  refreshLamps(live);
  live.state.atMs = live.nowMs;
  const adopted = isOther
    ? { ...initialState(world, live.nowMs), learning: given.learning, here: given.here }
    : adoptWorld(before, world, live.state);
  const next = new Live(world, adopted);
  // Lamps may have changed although nothing that they follow has.
  next.lampsSeen = null;
  if (!isOther) next.bpmBefore = given.tempo.bpm;
  const { state, effects } = finish(next);
  return { world, state, effects: [...live.effects, ...effects] };
}

const NOWHERE: Position = { entryId: null, sceneId: null, partId: null };

/** What of the old world is in the new one too. */
type Stays = {
  readonly control: (id: string) => boolean;
  readonly fn: (id: string) => boolean;
  readonly port: (id: string) => boolean;
  readonly modulation: (routeId: string) => boolean;
};

const NOTHING_STAYS: Stays = {
  control: () => false,
  fn: () => false,
  port: () => false,
  modulation: () => false,
};

const staysIn = (world: World): Stays => ({
  control: (id) => world.controls.has(id),
  fn: (id) => world.functions.has(id),
  port: (id) => world.portIds.has(id),
  modulation: (id) => (world.routes.byId.get(id)?.modulation ?? null) !== null,
});

/** Ends what is held by, or sounds at, something that will be gone: in the world in which it began. */
function endWhatIsGone(live: Live, stays: Stays): void {
  const { state } = live;
  for (const controlId in state.held) if (!stays.control(controlId)) letGoOf(live, controlId);
  for (const [controlId, { actions }] of Object.entries(state.ends))
    if (!stays.control(controlId)) endMomentary(live, actions);
  endMomentaryOf(live, (id) => !stays.fn(id));
  for (const controlId in state.playing) if (!stays.control(controlId)) endNotes(live, controlId);
  cut(
    live,
    state.routes.begun.filter((h) => !stays.port(h.portId) || h.ends.some((e) => !stays.port(e.portId))),
  );
  for (const routeId in state.routes.runs) {
    if (stays.modulation(routeId)) continue;
    const found = live.world.routes.byId.get(routeId);
    const run = state.routes.runs[routeId]!;
    if (found?.modulation && run.sent !== found.modulation.rest)
      sendModulation(live, found, run.channel, found.modulation.rest);
    keepRun(live, routeId, null);
  }
  for (const portId in state.clocks) if (!stays.port(portId)) switchClock(live, { portId, to: 'stop' });
  for (const { portId, channel, note } of state.sounding)
    if (!stays.port(portId)) deliver(live, portId, noteOff(channel, note), null, null);
}

/** Functions that will be gone and that a switch or a pedal holds down go up now. */
function endMomentaryOf(live: Live, isGone: (functionId: string) => boolean): void {
  const held = Object.values(live.state.held).flatMap(({ assignment, fired }) =>
    assignment ? fired.flatMap((gesture) => assignment[gesture]) : [],
  );
  const ends = Object.values(live.state.ends).flatMap((e: PedalEnd) => e.actions);
  for (const action of [...held, ...ends])
    if (action.kind === 'momentary' && !action.isOff && isGone(action.functionId))
      setFunction(live, action.functionId, action.up);
}

/** The banks and pages in force that are there still, or what comes next to them. */
function stayingPages(before: World, world: World, state: LiveState): Pick<LiveState, 'banks' | 'pages'> {
  const banks: Record<string, string> = {};
  const pages: Record<string, string> = {};
  for (const { board, banks: all, groups } of world.boards) {
    const old = before.boardById.get(board.id);
    stayingAt(banks, board.id, state.banks, old?.banks, all);
    for (const { group, pages: own } of groups)
      stayingAt(pages, group.id, state.pages, old?.groups.find((g) => g.group.id === group.id)?.pages, own);
  }
  return { banks, pages };
}

/**
 * Carries a running state over to an edited world: the song and scene in play, banks and pages are found by their ids,
 * and what is gone falls back to the nearest that exists; what is known of functions stays, by id.
 */
function adoptWorld(before: World, world: World, state: LiveState): LiveState {
  // Before anything was played an edit of the running order leads to its first song, whatever stood there.
  const isPlaying = state.songStartedAtMs !== null;
  const was = before.songs[placeOf(before, state).songIndex];
  const entryId = isPlaying ? foundEntry(world, state.position.entryId, was?.song.id) : null;
  const position = entryId === null ? NOWHERE : { ...state.position, entryId };
  const { songIndex, sceneIndex, partIndex } = placeOf(world, { position });
  const song = world.songs[songIndex]?.song;
  const isTempoEdited = song !== undefined && was?.song.tempoBpm !== song.tempoBpm;
  const line = stayingLine(before, world, state, entryId);
  const songLine = world.songs[songIndex]?.line;
  const bpm = !isTempoEdited
    ? state.tempo.bpm
    : line && songLine
      ? bpmAt(songLine, line.beat)
      : song.tempoBpm;
  const { beatsPerBar, beatUnit } = line && songLine ? meterAt(songLine, line.beat) : (song ?? state.tempo);
  const ofControls = <T>(record: Readonly<Record<string, T>>): Record<string, T> =>
    Object.fromEntries(Object.entries(record).filter(([id]) => world.controls.has(id)));
  return {
    ...state,
    position: {
      entryId,
      sceneId: sceneIndex === null ? null : position.sceneId,
      partId: world.songs[songIndex]?.parts[partIndex ?? -1]?.id ?? null,
    },
    tempo: song ? { ...state.tempo, bpm, beatsPerBar, beatUnit } : state.tempo,
    run: stayingRun(before, world, state.run),
    isOver: state.isOver && before.show.setId === world.show.setId,
    ...stayingPages(before, world, state),
    contacts: ofControls(state.contacts),
    coarse: ofControls(state.coarse),
    ends: ofControls(state.ends),
    held: ofControls(state.held),
    ramps: retimed(
      state.ramps.filter((r) => world.functions.has(r.functionId)),
      bpm,
      state.atMs,
    ),
    clocks: retimedClocks(
      Object.fromEntries(Object.entries(state.clocks).filter(([id]) => world.portIds.has(id))),
      bpm,
    ),
    delayed: state.delayed.filter(
      (d) => world.controls.has(d.from.controlId) || hasCue(world, entryId, d.from.controlId),
    ),
    line,
    ticksHeardMs: stayingTicks(before, world, state),
    pending: state.pending.filter((p) => world.functions.has(p.functionId)),
    sounding: state.sounding.filter((n) => world.portIds.has(n.portId)),
    lostPorts: state.lostPorts.filter((id) => world.portIds.has(id)),
    hung: state.hung.filter((n) => world.portIds.has(n.portId)),
  };
}

/** A set runs on while it is the same one; a break that was taken out of it is over. */
function stayingRun(before: World, world: World, run: SetRun | null): SetRun | null {
  if (!run || before.show.setId !== world.show.setId) return null;
  const isThere = world.show.pauses?.some((p) => p.id === run.pauseId) ?? false;
  return isThere ? run : { ...run, pauseId: null, pausedAtMs: null };
}

const hasCue = (world: World, entryId: string | null, cueId: string): boolean =>
  world.songs[world.songAt.get(entryId ?? '') ?? -1]?.song.line.cues.some((c) => c.id === cueId) ?? false;

/** The time line of the song that stays stands where it stood. What an edit puts behind it there is not done any more. */
function stayingLine(
  before: World,
  world: World,
  state: LiveState,
  entryId: string | null,
): LineState | null {
  const { line } = state;
  const song = world.songs[world.songAt.get(entryId ?? '') ?? -1];
  if (!line || !song || line.entryId !== state.position.entryId) return null;
  const beat = lineBeat(before, line, state.atMs);
  const clock = song.song.line.follows
    ? (line.clock ?? { ticks: Math.round(beat * CLOCKS_A_BEAT), isLost: false })
    : null;
  const doneBeat = line.isRunning ? Math.max(line.doneBeat, beat) : line.doneBeat;
  return { ...line, entryId: song.entryId, beat, sinceMs: state.atMs, doneBeat, clock };
}

/** What was heard of a clock counts as long as the same port is followed. */
function stayingTicks(before: World, world: World, state: LiveState): readonly number[] {
  const followed = (w: World, s: LiveState) =>
    w.songs[placeOf(w, s).songIndex]?.song.line.follows?.portId ?? null;
  return followed(before, state) === followed(world, state) ? state.ticksHeardMs : [];
}

/** The place in the running order, or the first at which the same song stands. */
function foundEntry(world: World, entryId: string | null, songId: string | undefined): string | null {
  if (entryId !== null && world.songAt.has(entryId)) return entryId;
  return world.songs.find((s) => s.song.id === songId)?.entryId ?? null;
}

/** The bank or page in force stays by its id; where it is gone, the one at its place is in force. */
function stayingAt(
  into: Record<string, string>,
  id: string,
  chosen: Readonly<Record<string, string>>,
  old: readonly WorldBank[] | undefined,
  all: readonly WorldBank[],
): void {
  const pageId = chosen[id] ?? old?.[0]?.bank.id;
  const at = Math.max(0, old?.findIndex((p) => p.bank.id === pageId) ?? 0);
  const staying = all.find((p) => p.bank.id === pageId) ?? all[Math.min(at, all.length - 1)];
  if (staying) into[id] = staying.bank.id;
}

/** A state in which nothing falls due by itself any more: playing goes on where what was due would never end. */
export const droppedDue = (state: LiveState): LiveState => ({
  ...state,
  pending: [],
  delayed: [],
  contacts: {},
  coarse: {},
  held: {},
  ramps: [],
  clocks: {},
  line: null,
  routes: { ...state.routes, runs: {}, repeats: [] },
});
