import type { Action, PlainCurve, RampTime } from '../floor';
import type { TapeMark } from '../gear';
import type { NoteLength } from './noteLength';

/** How long a part is, 0 and above. Beats and bars are counted at the tempo and the bar of the song. */
export type Length = { readonly amount: number; readonly unit: 'bars' | 'beats' | 's' };

/**
 * How the functions of a scene get from where they are to what it wants: ranges glide, and whatever cannot glide switches
 * once `switchAt` of the time has passed, 0 (at once) to 1 (at the end).
 */
export type Transition = {
  readonly time: RampTime;
  readonly curve: PlainCurve;
  readonly switchAt: number;
};

/** How one value gets there, where it is another way than the scene's own. */
export type OwnWay =
  | { readonly kind: 'at-once' }
  | { readonly kind: 'glide'; readonly time: RampTime; readonly curve: PlainCurve };

/** What a scene sets. `value` as the function's shape says. */
export type SceneValue = {
  readonly functionId: string;
  readonly value: number;
  /** `null`: as the scene's transition says. */
  readonly way: OwnWay | null;
  /** The note length that it follows the tempo as; `value` is what that is at the tempo that is written. */
  readonly note?: NoteLength | undefined;
};

/** The bank that a board is brought to: its place in the preset, from 0. */
export type SceneBank = { readonly boardId: string; readonly index: number };

/** A route that is switched, or a gate that is opened or closed. */
export type SceneRoute = { readonly routeId: string; readonly part: 'route' | 'gate'; readonly on: boolean };

/**
 * What a control does from a scene on, whatever bank is in force: a pedal, knob or fader moves a function, heel `from` and
 * toe `to`; a press sets a function or toggles it; or again what its bank says.
 */
export type SceneControl = {
  readonly boardId: string;
  readonly controlId: string;
} & (
  | { readonly kind: 'move'; readonly functionId: string; readonly from: number; readonly to: number }
  | { readonly kind: 'set'; readonly functionId: string; readonly value: number }
  | { readonly kind: 'toggle'; readonly functionId: string }
  | { readonly kind: 'as-bank' }
);

/** A state of the rig: what it sets, and the rest carried over from the scenes to its left. */
export type Scene = {
  readonly id: string;
  readonly name: string;
  readonly values: readonly SceneValue[];
  /** The colour of its cloth, `null` for plain cloth. */
  readonly colour: TapeMark['colour'] | null;
  /** What the stage shows large while it lasts, or empty. */
  readonly remark: string;
  /** `null`: at once. */
  readonly transition: Transition | null;
  /** 20–400, or `null` where the tempo stays. */
  readonly tempoBpm: number | null;
  readonly banks: readonly SceneBank[];
  readonly routes: readonly SceneRoute[];
  /** Functions of the tracks that are armed, and no others; empty: none at all; `null`: as they are. */
  readonly armedFunctionIds: readonly string[] | null;
  readonly controls: readonly SceneControl[];
};

/** One stretch of a song in the order in which it is played. A scene that comes again stands in several parts. */
export type Part = {
  readonly id: string;
  readonly sceneId: string;
  /** Empty: as its scene. */
  readonly name: string;
  /** `null` where it is not known how long it is. */
  readonly length: Length | null;
  /** Beside the scene's own, or empty. */
  readonly remark: string;
};

/** Something that happens at a bar and beat of a song's time line. */
export type Cue = {
  readonly id: string;
  readonly name: string;
  /** From 1. */
  readonly bar: number;
  /** From 1 and below one more than the bar has beats; fractions lie between. */
  readonly beat: number;
  /** In this order. */
  readonly actions: readonly Action[];
};

/** What the beat of a bar is: a whole note, a half, a quarter, an eighth and so on, as the lower figure of 6/8. */
export const BEAT_UNITS = [1, 2, 4, 8, 16, 32] as const;
export type BeatUnit = (typeof BEAT_UNITS)[number];

/** Another tempo or bar from a place on. */
export type TempoChange = {
  readonly id: string;
  /** From 1. */
  readonly bar: number;
  /** From 1, in beats of its bar; fractions lie between. A bar that changes within another one cuts that short. */
  readonly beat: number;
  /** Quarter notes a minute, 20–400; `null` where the tempo stays. */
  readonly bpm: number | null;
  /** 1–32, `null` where the bar stays. */
  readonly beatsPerBar: number | null;
  /** What those beats are; `null` where the bar stays. */
  readonly beatUnit: BeatUnit | null;
  /** Whether the tempo comes there beat by beat, instead of at once. */
  readonly isGradual: boolean;
  /** Where a gradual change begins; `null`: at the change before. */
  readonly since: { readonly bar: number; readonly beat: number } | null;
};

/** Changes of tempo and bar that a song holds at the most. */
export const TEMPO_CHANGES = 2000;

/** A change of tempo that changes nothing yet. */
export const PLAIN_TEMPO_CHANGE = {
  beat: 1,
  bpm: null,
  beatsPerBar: null,
  beatUnit: null,
  isGradual: false,
  since: null,
} satisfies Partial<TempoChange>;

/** A section that is played again and again: both bars, from 1, belong to it. */
export type Loop = { readonly fromBar: number; readonly toBar: number; readonly isOn: boolean };

/** How a song runs in time. */
export type TimeLine = {
  readonly cues: readonly Cue[];
  readonly tempos: readonly TempoChange[];
  readonly loop: Loop | null;
  /** The port whose MIDI clock it follows; `null`: it runs by its own tempo. */
  readonly follows: { readonly portId: string } | null;
  /** Where the clock that it follows is lost: stand, or go on at the tempo heard last. */
  readonly whenLost: 'wait' | 'go-on';
  /** Whether parts begin by themselves at their bars while it runs; else by foot. */
  readonly partsByTime: boolean;
};

export type Song = {
  readonly id: string;
  readonly rigId: string;
  readonly name: string;
  /** Quarter notes a minute, 20–400. */
  readonly tempoBpm: number;
  /** 1–32. */
  readonly beatsPerBar: number;
  readonly beatUnit: BeatUnit;
  /** Bars that are counted when it begins, and before its time line runs, 0–8. */
  readonly countInBars: number;
  /** Planned length in seconds. */
  readonly lengthS: number;
  /** As musicians write it, like “A minor”, or empty. */
  readonly key: string;
  readonly remark: string;
  /** Words of one's own, each once. */
  readonly tags: readonly string[];
  readonly scenes: readonly Scene[];
  /** The order in which the scenes are played. Empty: each once, as they stand. */
  readonly parts: readonly Part[];
  readonly line: TimeLine;
};

/** What a new scene is like. */
export const PLAIN_SCENE = {
  values: [],
  colour: null,
  remark: '',
  transition: null,
  tempoBpm: null,
  banks: [],
  routes: [],
  armedFunctionIds: null,
  controls: [],
} satisfies Partial<Scene>;

/** What the time line of a new song is like. */
export const PLAIN_LINE = {
  cues: [],
  tempos: [],
  loop: null,
  follows: null,
  whenLost: 'wait',
  partsByTime: true,
} satisfies TimeLine;

export const PLAIN_SONG = {
  beatUnit: 4,
  countInBars: 0,
  key: '',
  remark: '',
  tags: [],
  parts: [],
  line: PLAIN_LINE,
} satisfies Partial<Song>;

/** One line of a running order. Encores stand after the planned end and are not reckoned into the slot. */
export type SetEntry = {
  readonly id: string;
  readonly isEncore: boolean;
  /** It stays in the set and is left out this evening. */
  readonly notTonight: boolean;
  readonly remark: string;
} & (
  | {
      readonly kind: 'song';
      readonly songId: string;
      /** Planned for this evening, in seconds; `null`: as the song says. */
      readonly lengthS: number | null;
      /** Scenes that are not played this evening. */
      readonly leftOutSceneIds: readonly string[];
    }
  | { readonly kind: 'break' | 'talk'; readonly name: string; readonly lengthS: number }
);

/** Songs, breaks and talk in order, for one evening. */
export type Setlist = {
  readonly id: string;
  readonly rigId: string;
  readonly name: string;
  /** `2026-11-26`, or empty. */
  readonly date: string;
  readonly place: string;
  /** Minutes after midnight, 0–1439, or `null`. */
  readonly startMin: number | null;
  /** How long the slot is, in seconds, or `null`. */
  readonly slotS: number | null;
  readonly remark: string;
  /** What calls its songs from outside: the program `base` the first one, the next the second. `null`: nothing. */
  readonly calls: SongCalls | null;
  readonly entries: readonly SetEntry[];
};

/** Programs that call the songs of a set, by which port and channel (0–15) they come, and the first of them (0–127). */
export type SongCalls = { readonly portId: string; readonly channel: number; readonly base: number };

export const PLAIN_SET = {
  date: '',
  place: '',
  startMin: null,
  slotS: null,
  remark: '',
  calls: null,
  entries: [],
} satisfies Partial<Setlist>;

export const PLAIN_ENTRY = { isEncore: false, notTonight: false, remark: '' } satisfies Partial<SetEntry>;
