import { NO_ROUTE_MEMORY } from '../../routing';
import type { Bookmark } from './bookmark';
import { CLOCKS_A_BEAT } from '../time/clockTimes';
import { initialState, type LiveState } from './liveState';
import { lineBeat } from '../time/lineTimes';
import type { Live } from '../live/live';
import { placeOf } from '../world/place';
import { type World } from '../world/world';
import { nth } from '../../sure';

/** What of a state has to be in a bookmark: while none of it has changed, none has to be written. */
export const BOOKMARKED = [
  'position',
  'tempo',
  'songStartedAtMs',
  'run',
  'view',
  'registers',
  'banks',
  'pages',
  'latched',
  'steps',
  'evens',
  'pedals',
  'routes',
  'line',
  'sounding',
  'hung',
] as const satisfies readonly (keyof LiveState)[];

/** @param nowMs on the clock of the state. */
export const bookmarkOf = (world: World, state: LiveState, nowMs: number): Bookmark => ({
  rigId: world.show.rig.id,
  setId: world.show.setId ?? null,
  position: state.position,
  bpm: state.tempo.bpm,
  beatsPerBar: state.tempo.beatsPerBar,
  beatUnit: state.tempo.beatUnit,
  songForMs: state.songStartedAtMs === null ? null : nowMs - state.songStartedAtMs,
  run: state.run && {
    forMs: nowMs - state.run.startedAtMs,
    pauseId: state.run.pauseId,
    pausedForMs: state.run.pausedAtMs === null ? null : nowMs - state.run.pausedAtMs,
  },
  view: state.view,
  registers: state.registers,
  banks: state.banks,
  pages: state.pages,
  latched: state.latched,
  steps: state.steps,
  evens: state.evens,
  pedals: state.pedals,
  gates: state.routes.gates,
  switched: state.routes.switched,
  line: state.line && {
    entryId: state.line.entryId,
    beat: lineBeat(world, state.line, nowMs),
    isLooping: state.line.isLooping,
  },
  sounding: [...state.sounding, ...state.hung],
});

/** Goes on where a bookmark says; one of another rig is left alone. */
export function resume(live: Live, bookmark: Bookmark, awayMs: number): void {
  const state = resumed(live.world, bookmark, live.nowMs, awayMs);
  if (!state) return;
  // What was struck before the bookmark was read is let go like what sounded before.
  const hung = [...state.hung, ...live.state.hung, ...live.state.sounding];
  // A port that is unplugged by now stays so until it is found.
  const lostPorts = [...new Set([...live.state.lostPorts, ...hung.map((n) => n.portId)])];
  Object.assign(live.state, state, { here: live.state.here, hung, lostPorts });
  live.lampsSeen = null;
}

/**
 * The state in which an evening goes on after the page was away. Nothing is sent: what was being played stands where it
 * stood, glides and clocks are over, the time line stands still at its beat, and notes that were left sounding end as
 * soon as their port is there (`port-found`).
 * @param nowMs on the clock of events.
 * @param awayMs since the bookmark was written.
 * @returns `null` where the bookmark is of another rig.
 */
function resumed(world: World, bookmark: Bookmark, nowMs: number, awayMs: number): LiveState | null {
  if (bookmark.rigId !== world.show.rig.id) return null;
  const plain = initialState(world, nowMs);
  const isSameSet = bookmark.setId === (world.show.setId ?? null);
  const position =
    world.songAt.has(bookmark.position.entryId ?? '') && isSameSet ? bookmark.position : plain.position;
  const { songIndex } = placeOf(world, { position });
  const isThere = position.entryId !== null;
  const { line, run } = bookmark;
  return {
    ...plain,
    position,
    tempo: isThere
      ? {
          bpm: bookmark.bpm,
          beatsPerBar: bookmark.beatsPerBar,
          beatUnit: bookmark.beatUnit,
          originMs: nowMs,
        }
      : plain.tempo,
    songStartedAtMs: isThere && bookmark.songForMs !== null ? nowMs - bookmark.songForMs - awayMs : null,
    run:
      run && isSameSet
        ? {
            startedAtMs: nowMs - run.forMs - awayMs,
            pauseId: world.show.pauses?.some((p) => p.id === run.pauseId) ? run.pauseId : null,
            pausedAtMs: run.pausedForMs === null ? null : nowMs - run.pausedForMs - awayMs,
          }
        : null,
    view: bookmark.view,
    registers: bookmark.registers,
    banks: bookmark.banks,
    pages: bookmark.pages,
    latched: ofControls(world, bookmark.latched),
    steps: bookmark.steps,
    evens: bookmark.evens,
    pedals: ofControls(world, bookmark.pedals),
    routes: { ...NO_ROUTE_MEMORY, gates: bookmark.gates, switched: bookmark.switched },
    line:
      line && line.entryId === world.songs[songIndex]?.entryId && isThere
        ? {
            ...line,
            isRunning: false,
            sinceMs: nowMs,
            bpm: bookmark.bpm,
            doneBeat: line.beat,
            clock: nth(world.songs, songIndex).song.line.follows
              ? { ticks: Math.round(line.beat * CLOCKS_A_BEAT), isLost: true }
              : null,
          }
        : null,
    hung: bookmark.sounding.filter((n) => world.portIds.has(n.portId)),
  };
}

const ofControls = <T>(world: World, record: Readonly<Record<string, T>>): Record<string, T> =>
  Object.fromEntries(Object.entries(record).filter(([id]) => world.controls.has(id)));
