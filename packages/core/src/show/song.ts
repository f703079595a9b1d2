import type { PlainCurve, RampTime } from '../floor';
import type { TapeMark } from '../gear';

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
};

/** The bank that a board is brought to: its place in the preset, from 0. */
export type SceneBank = { readonly boardId: string; readonly index: number };

/** A route that is switched, or a gate that is opened or closed. */
export type SceneRoute = { readonly routeId: string; readonly part: 'route' | 'gate'; readonly on: boolean };

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

export type Song = {
  readonly id: string;
  readonly rigId: string;
  readonly name: string;
  /** 20–400. */
  readonly tempoBpm: number;
  /** 1–16. */
  readonly beatsPerBar: number;
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
} satisfies Partial<Scene>;

export const PLAIN_SONG = { key: '', remark: '', tags: [], parts: [] } satisfies Partial<Song>;

/** One line of a running order. Encores stand after the planned end and are not reckoned into the slot. */
export type SetEntry = {
  readonly id: string;
  readonly isEncore: boolean;
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
  readonly entries: readonly SetEntry[];
};

export const PLAIN_SET = {
  date: '',
  place: '',
  startMin: null,
  slotS: null,
  remark: '',
  entries: [],
} satisfies Partial<Setlist>;

export const PLAIN_ENTRY = { isEncore: false, remark: '' } satisfies Partial<SetEntry>;
