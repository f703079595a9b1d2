import type { Change } from './difference';

/** Where a finding is, by ids and places of documents; what does not matter is not there. */
export type FindingPlace = {
  readonly deviceIds?: readonly string[];
  readonly cableId?: string;
  readonly routeIds?: readonly string[];
  readonly sceneId?: string;
  readonly functionIds?: readonly string[];
  /** A control in a page of a preset. */
  readonly control?: { readonly pageId: string; readonly controlId: string };
  /** The way to a field of a document, its steps with points between. */
  readonly field?: string;
};

/** What would put a finding right, as a plain change of one document of the rig. */
export type Mend = {
  /** What pressing it does, in words. */
  readonly text: string;
  readonly document: 'rig' | 'preset' | 'song' | 'set';
  /** Which one; without it the rig. */
  readonly documentId?: string;
  readonly changes: readonly Change[];
};

/**
 * What is held against a rig, a board, a route, a preset or a song: one form for all. `refused` cannot be done or saved at
 * all; `warned` can, and is seldom meant. The sentence says what is wrong, where, and what would be right.
 */
export type Finding<Code extends string = string> = {
  readonly code: Code;
  readonly severity: 'refused' | 'warned';
  readonly place: FindingPlace;
  readonly sentence: string;
  readonly mends: readonly Mend[];
};
