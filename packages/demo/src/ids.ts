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

/** Ports of the demo rig; `keys` is a line. */
export const DEMO_PORT = {
  plankOut: demoId(3, 1),
  twigUsb: demoId(3, 2),
  crossbarIn1: demoId(3, 3),
  crossbarIn2: demoId(3, 4),
  crossbarOutA: demoId(3, 5),
  crossbarOutB: demoId(3, 6),
  kelplineIn: demoId(3, 7),
  kelplineThru: demoId(3, 8),
  deckhouseIn: demoId(3, 9),
  bollardUsb: demoId(3, 10),
  bollardHost: demoId(3, 11),
  tillerUsb: demoId(3, 12),
  roundelIn: demoId(3, 13),
  sluiceIn: demoId(3, 14),
  sluiceThru: demoId(3, 15),
  lamplighterIn: demoId(3, 16),
  keys: demoId(22, 1),
} as const;
