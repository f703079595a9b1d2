import type { Action } from '@idle-step/core/floor';
import type { Song } from '@idle-step/core/show';
/** What the fields of one kind of action are given. */
export type Fields<K extends Action['kind']> = {
  action: Action & { kind: K };
  onChange(action: Action): void;
};

/** Where an action stands: at a control of a board, or in a cue of a song. */
export type ActionHome =
  { readonly kind: 'board'; readonly boardIndex: number } | { readonly kind: 'cue'; readonly song: Song };
