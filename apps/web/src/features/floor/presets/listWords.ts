import type { Sent } from '@idle-step/core/proof';

/** When something is sent, in a word or two. */
export const LIST_WORDS: Record<Sent['list'], string> = {
  press: 'press',
  release: 'release',
  hold: 'hold',
  doublePress: 'double press',
  toe: 'toe',
  heel: 'heel',
  sweeps: 'as it moves',
};
