/** What a scene sets. `value` as the function's shape says. */
export type SceneValue = { readonly functionId: string; readonly value: number };

/** A part of a song together with what it sets of the rig; the rest is carried over from the scene before. */
export type Scene = { readonly id: string; readonly name: string; readonly values: readonly SceneValue[] };

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
  readonly scenes: readonly Scene[];
};

/** One line of a running order. */
export type SetEntry =
  | { readonly id: string; readonly kind: 'song'; readonly songId: string }
  | { readonly id: string; readonly kind: 'break'; readonly name: string; readonly lengthS: number };

/** Songs and breaks in order. */
export type Setlist = {
  readonly id: string;
  readonly rigId: string;
  readonly name: string;
  readonly entries: readonly SetEntry[];
};
