import type { ActionDoc, SongDoc } from '@idle-step/contract';

/** What the fields of one kind of action are given. */
export type Fields<K extends ActionDoc['kind']> = {
  action: ActionDoc & { kind: K };
  onChange(action: ActionDoc): void;
};

/** Where an action stands: at a control of a board, or in a cue of a song. */
export type ActionHome =
  { readonly kind: 'board'; readonly boardIndex: number } | { readonly kind: 'cue'; readonly song: SongDoc };
