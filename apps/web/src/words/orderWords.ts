import type { SongOrder } from '../edits/songList';

/** Orders of songs as lists offer them. */
export const ORDER_WORDS: Readonly<Record<SongOrder, string>> = {
  set: 'as in the set',
  title: 'by title',
  tempo: 'by tempo',
  key: 'by key',
  length: 'by length',
};
