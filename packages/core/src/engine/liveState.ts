import type {
  Action,
  Assignment,
  Contact,
  Gesture,
  GestureState,
  GestureWants,
  Lamp,
  PlainCurve,
} from '../floor';
import type { SequenceMemory } from '../midi';
import { NO_ROUTE_MEMORY, type RouteMemory } from '../routing';
import type { PlannedSend } from '../show';
import type { World, WorldBank } from './world';

/** Where the evening is. `sceneIndex` is `null` until the first scene was recalled. */
export type Position = { readonly songIndex: number; readonly sceneIndex: number | null };

export type Tempo = { readonly bpm: number; readonly beatsPerBar: number; readonly originMs: number };

/**
 * A switch between its gestures: whatever comes does what was assigned when it went down, even if the bank has changed
 * since.
 */
export type HeldPress = {
  readonly assignment: Assignment | null;
  readonly wants: GestureWants;
  readonly boardIndex: number;
  readonly gesture: GestureState;
  /** How hard it was struck, 1–127; 0 when it cannot be struck. */
  readonly struck: number;
  /** Gestures that fired since it went down: their momentary actions end when it goes up. */
  readonly fired: readonly Gesture[];
};

/** An action that waits for its delay. */
export type DelayedAction = {
  readonly atMs: number;
  readonly from: Origin;
  readonly action: Action;
};

/** Where an action comes from: the control, and how hard it was struck (1–127, 0 when it cannot be struck). */
export type Origin = { readonly boardIndex: number; readonly controlId: string; readonly struck: number };

/** A function on its way from one value to another. */
export type Ramp = {
  readonly functionId: string;
  readonly from: number;
  readonly to: number;
  readonly curve: PlainCurve;
  readonly amount: number;
  readonly unit: 's' | 'beats';
  /** The tempo that its beats are counted at since `sinceMs`, when it had come `share` (0–1) of its way. */
  readonly bpm: number;
  readonly sinceMs: number;
  readonly share: number;
};

/** Everything that changes while playing. Plain data: the same events on the same world give the same state. */
export type LiveState = {
  readonly position: Position;
  readonly tempo: Tempo;
  readonly songStartedAtMs: number | null;
  /** Times of the last taps, oldest first. */
  readonly taps: readonly number[];
  /** What each function was last told or reported, by function. */
  readonly values: Readonly<Record<string, number>>;
  /** Bank in force, by board. */
  readonly banks: Readonly<Record<string, number>>;
  /** Page in force, by group. */
  readonly pages: Readonly<Record<string, number>>;
  /** Switches whose contacts bounce, by control. */
  readonly contacts: Readonly<Record<string, Contact>>;
  readonly held: Readonly<Record<string, HeldPress>>;
  /** Earliest first. */
  readonly delayed: readonly DelayedAction[];
  /** Where each pedal or knob stands in its real travel, 0–127, fractions where it has 14 bits. */
  readonly pedals: Readonly<Record<string, number>>;
  /** The same as its hardware says it, before its ends are taken into account. */
  readonly raws: Readonly<Record<string, number>>;
  /** Coarse halves that wait for their fine ones, by control. */
  readonly coarse: Readonly<Record<string, { readonly raw: number; readonly atMs: number }>>;
  /** What each sweep put its function to last, by sweep: it has hold of it as long as it is still there. */
  readonly grips: Readonly<Record<string, number>>;
  /** The end that a pedal is at, by control. */
  readonly ends: Readonly<Record<string, 'toe' | 'heel' | 'between'>>;
  /** When each encoder was turned last. */
  readonly turnedAtMs: Readonly<Record<string, number>>;
  /** Notes that each control plays while it is down. */
  readonly playing: Readonly<Record<string, readonly SoundingNote[]>>;
  readonly ramps: readonly Ramp[];
  /** When the next clock is due, by port. */
  readonly clocks: Readonly<Record<string, number>>;
  readonly lamps: Readonly<Record<string, boolean>>;
  /** The world was edited: lamps may have changed although nothing that they follow has. */
  readonly lampsStale: boolean;
  /** How a lamp shines that is not simply lit, by control. */
  readonly looks: Readonly<Record<string, Lamp>>;
  /** Latching switches that stand at on. */
  readonly latched: Readonly<Record<string, boolean>>;
  /** Sends that wait for a device to listen again, earliest first. */
  readonly pending: readonly PlannedSend[];
  readonly listensFromMs: Readonly<Record<string, number>>;
  readonly portFreeFromMs: Readonly<Record<string, number>>;
  /** Notes that were sent on and not yet off, as `port/channel/note`. */
  readonly sounding: readonly SoundingNote[];
  /** What was heard of bank, parameter and 14-bit sequences, by arrival port. */
  readonly sequences: Readonly<Record<string, SequenceMemory>>;
  readonly routes: RouteMemory;
};

export type SoundingNote = { readonly portId: string; readonly channel: number; readonly note: number };

/** Tempo of a rig with no song. Our own choice. */
export const DEFAULT_BPM = 120;

export function initialState(world: World, atMs: number): LiveState {
  const song = world.songs[0]?.song;
  return {
    position: { songIndex: 0, sceneIndex: null },
    tempo: { bpm: song?.tempoBpm ?? DEFAULT_BPM, beatsPerBar: song?.beatsPerBar ?? 4, originMs: atMs },
    songStartedAtMs: null,
    taps: [],
    values: {},
    banks: {},
    pages: {},
    contacts: {},
    held: {},
    delayed: [],
    pedals: {},
    raws: {},
    coarse: {},
    grips: {},
    ends: {},
    turnedAtMs: {},
    playing: {},
    ramps: [],
    clocks: {},
    lamps: {},
    lampsStale: true,
    looks: {},
    latched: {},
    pending: [],
    listensFromMs: {},
    portFreeFromMs: {},
    sounding: [],
    sequences: {},
    routes: NO_ROUTE_MEMORY,
  };
}

type Mutable<T> = { -readonly [K in keyof T]: T[K] };

/** A copy to write into. Field by field, because this is made at every step and a spread of so many is slow. */
export const copied = (s: LiveState): Mutable<LiveState> => ({
  position: s.position,
  tempo: s.tempo,
  songStartedAtMs: s.songStartedAtMs,
  taps: s.taps,
  values: s.values,
  banks: s.banks,
  pages: s.pages,
  contacts: s.contacts,
  held: s.held,
  delayed: s.delayed,
  pedals: s.pedals,
  raws: s.raws,
  coarse: s.coarse,
  grips: s.grips,
  ends: s.ends,
  turnedAtMs: s.turnedAtMs,
  playing: s.playing,
  ramps: s.ramps,
  clocks: s.clocks,
  lamps: s.lamps,
  lampsStale: s.lampsStale,
  looks: s.looks,
  latched: s.latched,
  pending: s.pending,
  listensFromMs: s.listensFromMs,
  portFreeFromMs: s.portFreeFromMs,
  sounding: s.sounding,
  sequences: s.sequences,
  routes: s.routes,
});

/**
 * Carries a running state over to an edited world: positions and banks that are gone fall back to the nearest
 * that exists; what is known of functions stays, by id.
 * @param before the world that the state was made in: the song in play is found again by its id.
 */
export function adoptWorld(before: World, world: World, state: LiveState): LiveState {
  const songId = before.songs[state.position.songIndex]?.song.id;
  const sceneId =
    before.songs[state.position.songIndex]?.song.scenes[state.position.sceneIndex ?? -1]?.id ?? null;
  const stays = world.songs[state.position.songIndex]?.song.id === songId;
  // Before anything was played an edit of the running order leads to its first song, whatever stood there.
  const found =
    state.songStartedAtMs === null
      ? 0
      : stays
        ? state.position.songIndex
        : world.songs.findIndex((s) => s.song.id === songId);
  const songIndex = Math.max(0, found);
  const song = world.songs[songIndex]?.song;
  const sceneFound = song?.scenes.findIndex((s) => s.id === sceneId) ?? -1;
  const sceneIndex = sceneFound >= 0 ? sceneFound : null;
  const banks: Record<string, number> = {};
  for (const { board, banks: all } of world.boards) {
    const old = before.boards.find((b) => b.board.id === board.id)?.banks ?? [];
    banks[board.id] = stayingAt(old, all, state.banks[board.id] ?? 0);
  }
  const pages: Record<string, number> = {};
  const groupsBefore = before.boards.flatMap((b) => b.groups);
  for (const { group, pages: all } of world.boards.flatMap((b) => b.groups)) {
    const old = groupsBefore.find((g) => g.group.id === group.id)?.pages ?? [];
    pages[group.id] = stayingAt(old, all, state.pages[group.id] ?? 0);
  }
  const tempoEdited = song && before.songs[state.position.songIndex]?.song.tempoBpm !== song.tempoBpm;
  return {
    ...state,
    position: { songIndex, sceneIndex },
    tempo: song
      ? { ...state.tempo, bpm: tempoEdited ? song.tempoBpm : state.tempo.bpm, beatsPerBar: song.beatsPerBar }
      : state.tempo,
    banks,
    pages,
    lampsStale: true,
    contacts: Object.fromEntries(Object.entries(state.contacts).filter(([id]) => world.controls.has(id))),
    ramps: state.ramps.filter((r) => world.functions.has(r.functionId)),
    held: Object.fromEntries(Object.entries(state.held).filter(([, h]) => world.boards[h.boardIndex])),
    delayed: state.delayed.filter((d) => world.boards[d.from.boardIndex]),
    pending: state.pending.filter((p) => world.functions.has(p.functionId)),
  };
}

/** Where the bank or page in force stands after an edit: found by its id, else the nearest that there is. */
function stayingAt(old: readonly WorldBank[], all: readonly WorldBank[], index: number): number {
  const found = all.findIndex((b) => b.bank.id === old[index]?.bank.id);
  return found >= 0 ? found : Math.min(index, Math.max(0, all.length - 1));
}
