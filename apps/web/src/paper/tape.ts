import type { StripLook } from '@idle-step/core/paper';

/** Tape colours in daylight, on paper. Source: the look's own tokens (`theme/_tokens.scss`). */
export const TAPE_ON_PAPER: StripLook['colours'] = {
  coral: '#d24a22',
  leaf: '#2f8a4b',
  sky: '#2679b3',
  sun: '#a37700',
  violet: '#7d5ba6',
  clay: '#a65e3a',
  slate: '#5b6b7a',
  teal: '#178577',
};
