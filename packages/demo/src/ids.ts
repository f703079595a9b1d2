/** Fixed identifiers, so that the demo is the same on every machine. `space` and `number` are whole, 0 and above. */
export const demoId = (space: number, number: number): string =>
  `${space.toString(16).padStart(8, '0')}-0000-4000-8000-${number.toString(16).padStart(12, '0')}`;

/** A run of identifiers in one space. */
export function idRun(space: number): () => string {
  let next = 0;
  return () => demoId(space, ++next);
}

export const RIG_ID = demoId(1, 1);
export const PLANK_BOARD_ID = demoId(5, 1);
export const TWIG_BOARD_ID = demoId(5, 2);
export const PLANK_PRESET_ID = demoId(7, 1);
export const TWIG_PRESET_ID = demoId(7, 2);
