import type {
  Action,
  Assignment,
  Contact,
  Gesture,
  GestureState,
  HereThing,
  GestureWants,
  Lamp,
  PlainCurve,
} from '../../floor';
import type { Registers } from '../../gear';
import type { SequenceMemory } from '../../midi';
import { NO_ROUTE_MEMORY, type RouteMemory } from '../../routing';
import { quartersOf, type BeatUnit, type PlannedSend } from '../../show';
import type { World } from '../world/world';

/**
 * Where the evening is: a place of the running order, a part of its song and the scene of it, by their ids. No place is
 * the first one; no scene until the first was recalled; no part where a scene is played that stands in none.
 */
export type Position = {
  readonly entryId: string | null;
  readonly sceneId: string | null;
  readonly partId: string | null;
};

/** A set that was begun and not ended yet, and the break or talk that it stands in, and since when. */
export type SetRun = {
  readonly startedAtMs: number;
  readonly pauseId: string | null;
  readonly pausedAtMs: number | null;
};

/**
 * What the stage can show large: the scene, the labels of the switches, the running order, or the song with its
 * scenes.
 */
export const STAGE_VIEWS = ['scene', 'labels', 'order', 'song'] as const;
export type StageView = (typeof STAGE_VIEWS)[number];

/** `bpm` counts quarter notes; a bar has `beatsPerBar` beats, each a `beatUnit`th. `originMs`: when a bar began. */
export type Tempo = {
  readonly bpm: number;
  readonly beatsPerBar: number;
  readonly beatUnit: BeatUnit;
  readonly originMs: number;
};

/** How long a beat of the bar is, in ms. */
export const beatMsOf = ({ bpm, beatUnit }: Tempo): number => (quartersOf(beatUnit) * 60_000) / bpm;

/**
 * A switch that is down, or waits for a second press. It does what was assigned when it went down, even if the bank has
 * changed since.
 */
export type HeldPress = {
  readonly assignment: Assignment | null;
  readonly wants: GestureWants;
  readonly boardId: string;
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
  /** It waits for what its device answers, and no longer than until `atMs`. */
  readonly isForAnswer?: boolean;
};

/** Where an action comes from: the control, and how hard it was struck (1–127, 0 when it cannot be struck). */
export type Origin = { readonly boardId: string; readonly controlId: string; readonly struck: number };

/** A function on its way from one value to another; one that cannot glide switches at the end of its way. */
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
  /** How far apart its messages lie, in ms; `null` where it only switches at its end. */
  readonly stepMs: number | null;
  /** Steps taken since `sinceMs`. */
  readonly stepsDone: number;
};

/** A clock at work: its ticks are counted from where its tempo was last set. */
export type RunningClock = { readonly sinceMs: number; readonly bpm: number; readonly sent: number };

/** The end that a pedal stands at, and the actions done there. They end when the pedal leaves, also in another bank. */
export type PedalEnd = { readonly at: 'toe' | 'heel'; readonly actions: readonly Action[] };

/** How far the time line of a song has come. */
export type LineState = {
  /** The place of the running order whose song it is. */
  readonly entryId: string;
  readonly isRunning: boolean;
  /** The beat of the song that it stood at at `sinceMs`; it goes on from there at `bpm` while it runs. */
  readonly beat: number;
  readonly sinceMs: number;
  readonly bpm: number;
  /** Cues up to and with this beat are done; below 0 none is. */
  readonly doneBeat: number;
  readonly isLooping: boolean;
  /** Where it follows a clock that comes in: ticks since the beginning of the song, −1 before the first. */
  readonly clock: { readonly ticks: number; readonly isLost: boolean } | null;
};

/** Everything that changes while playing. Plain data: the same events on the same world give the same state. */
export type LiveState = {
  /** The time of the last event. */
  readonly atMs: number;
  readonly position: Position;
  readonly tempo: Tempo;
  readonly songStartedAtMs: number | null;
  /** The set while it runs, `null` before and after. */
  readonly run: SetRun | null;
  /** The set was played to its end by going on; going on once more does not begin it again. */
  readonly isOver: boolean;
  readonly view: StageView;
  /** What of this computer is switched on. */
  readonly here: Readonly<Record<HereThing, boolean>>;
  /** When each action that must not be doubled was done last, by action; kept only where steps are guarded. */
  readonly steppedMs: Readonly<Record<string, number>>;
  /** Times of the last taps, oldest first. */
  readonly taps: readonly number[];
  /** What each register of each device was last told or reported. */
  readonly registers: Registers;
  /** What was said of bank numbers and parameters by each port, as a receiver behind it remembers it. */
  readonly told: Readonly<Record<string, SequenceMemory>>;
  /** Id of the bank in force, by board; the first where none was chosen. */
  readonly banks: Readonly<Record<string, string>>;
  /** Id of the page in force, by group; the first where none was chosen. */
  readonly pages: Readonly<Record<string, string>>;
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
  /** Pedals that stand at an end, by control. */
  readonly ends: Readonly<Record<string, PedalEnd>>;
  /** When each encoder was turned last. */
  readonly turnedAtMs: Readonly<Record<string, number>>;
  /** When each function's value was asked for last. */
  readonly askedAtMs: Readonly<Record<string, number>>;
  /** Notes that each control plays while it is down. */
  readonly playing: Readonly<Record<string, readonly SoundingNote[]>>;
  readonly ramps: readonly Ramp[];
  /** Clocks that run, by port. */
  readonly clocks: Readonly<Record<string, RunningClock>>;
  /** The time line of the song in play, `null` until it was run. */
  readonly line: LineState | null;
  /** When the ticks of the clock that is followed came in, oldest first. */
  readonly ticksHeardMs: readonly number[];
  /** How each lamp was told to shine last, by control; one that is not here is dark. */
  readonly lamps: Readonly<Record<string, Lamp>>;
  /** Somebody learns a control: what is pressed is only listened to, and what ends still ends. */
  readonly learning: boolean;
  /** Latching switches that stand at on. */
  readonly latched: Readonly<Record<string, boolean>>;
  /** The place at which each list of steps stands, from 0, by action: of account while its value is still in force. */
  readonly steps: Readonly<Record<string, number>>;
  /** Gestures that alternate and of which the even turn is next, by the first action of their list. */
  readonly evens: Readonly<Record<string, boolean>>;
  /** Sends that wait for a device to listen again, earliest first. */
  readonly pending: readonly PlannedSend[];
  readonly listensFromMs: Readonly<Record<string, number>>;
  readonly portFreeFromMs: Readonly<Record<string, number>>;
  /** Notes that were sent on and not yet off, as `port/channel/note`. */
  readonly sounding: readonly SoundingNote[];
  /** Ports that were unplugged. */
  readonly lostPorts: readonly string[];
  /** Notes that were ended while their port was away, so that their ends were not heard. */
  readonly hung: readonly SoundingNote[];
  /** What was heard of bank, parameter and 14-bit sequences, by arrival port. */
  readonly sequences: Readonly<Record<string, SequenceMemory>>;
  readonly routes: RouteMemory;
};

export type SoundingNote = { readonly portId: string; readonly channel: number; readonly note: number };

/** Tempo of a rig with no song. */
export const DEFAULT_BPM = 120;

export function initialState(world: World, atMs: number): LiveState {
  const song = world.songs[0]?.song;
  return {
    atMs,
    position: { entryId: null, sceneId: null, partId: null },
    tempo: {
      bpm: song?.tempoBpm ?? DEFAULT_BPM,
      beatsPerBar: song?.beatsPerBar ?? 4,
      beatUnit: song?.beatUnit ?? 4,
      originMs: atMs,
    },
    songStartedAtMs: null,
    run: null,
    isOver: false,
    view: 'scene',
    here: { click: false, blackout: true, 'hands-off': false },
    steppedMs: {},
    taps: [],
    registers: {},
    told: {},
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
    askedAtMs: {},
    playing: {},
    ramps: [],
    clocks: {},
    line: null,
    ticksHeardMs: [],
    lamps: {},
    learning: false,
    latched: {},
    steps: {},
    evens: {},
    pending: [],
    listensFromMs: {},
    portFreeFromMs: {},
    sounding: [],
    lostPorts: [],
    hung: [],
    sequences: {},
    routes: NO_ROUTE_MEMORY,
  };
}

type Mutable<T> = { -readonly [K in keyof T]: T[K] };

/** A copy to write into. Field by field, because this is made at every step and a spread of so many is slow. */
export const copied = (s: LiveState): Mutable<LiveState> => ({
  atMs: s.atMs,
  position: s.position,
  tempo: s.tempo,
  songStartedAtMs: s.songStartedAtMs,
  run: s.run,
  isOver: s.isOver,
  view: s.view,
  here: s.here,
  steppedMs: s.steppedMs,
  taps: s.taps,
  registers: s.registers,
  told: s.told,
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
  askedAtMs: s.askedAtMs,
  playing: s.playing,
  ramps: s.ramps,
  clocks: s.clocks,
  line: s.line,
  ticksHeardMs: s.ticksHeardMs,
  lamps: s.lamps,
  learning: s.learning,
  latched: s.latched,
  steps: s.steps,
  evens: s.evens,
  pending: s.pending,
  listensFromMs: s.listensFromMs,
  portFreeFromMs: s.portFreeFromMs,
  sounding: s.sounding,
  lostPorts: s.lostPorts,
  hung: s.hung,
  sequences: s.sequences,
  routes: s.routes,
});
