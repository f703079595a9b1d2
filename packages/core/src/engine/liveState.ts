import type { Action, Assignment, Gesture, GestureState, GestureWants } from '../floor';
import type { SequenceMemory } from '../midi';
import type { PlannedSend } from '../show';
import type { World } from './world';

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
  /** Gestures that fired since it went down: their momentary actions end when it goes up. */
  readonly fired: readonly Gesture[];
};

/** An action that waits for its delay. */
export type DelayedAction = { readonly atMs: number; readonly boardIndex: number; readonly action: Action };

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
  readonly held: Readonly<Record<string, HeldPress>>;
  /** Earliest first. */
  readonly delayed: readonly DelayedAction[];
  /** Last position of each pedal, 0–127. */
  readonly pedals: Readonly<Record<string, number>>;
  readonly lamps: Readonly<Record<string, boolean>>;
  /** Sends that wait for a device to listen again, earliest first. */
  readonly pending: readonly PlannedSend[];
  readonly listensFromMs: Readonly<Record<string, number>>;
  readonly portFreeFromMs: Readonly<Record<string, number>>;
  /** Notes that were sent on and not yet off, as `port/channel/note`. */
  readonly sounding: readonly SoundingNote[];
  /** What was heard of bank, parameter and 14-bit sequences, by arrival port. */
  readonly sequences: Readonly<Record<string, SequenceMemory>>;
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
    held: {},
    delayed: [],
    pedals: {},
    lamps: {},
    pending: [],
    listensFromMs: {},
    portFreeFromMs: {},
    sounding: [],
    sequences: {},
  };
}

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
  for (const { board, banks: all } of world.boards)
    banks[board.id] = Math.min(state.banks[board.id] ?? 0, Math.max(0, all.length - 1));
  const tempoEdited = song && before.songs[state.position.songIndex]?.song.tempoBpm !== song.tempoBpm;
  return {
    ...state,
    position: { songIndex, sceneIndex },
    tempo: song
      ? { ...state.tempo, bpm: tempoEdited ? song.tempoBpm : state.tempo.bpm, beatsPerBar: song.beatsPerBar }
      : state.tempo,
    banks,
    held: Object.fromEntries(Object.entries(state.held).filter(([, h]) => world.boards[h.boardIndex])),
    delayed: state.delayed.filter((d) => world.boards[d.boardIndex]),
    pending: state.pending.filter((p) => world.functions.has(p.functionId)),
  };
}
