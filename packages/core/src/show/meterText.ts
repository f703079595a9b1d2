import { BEAT_UNITS, type BeatUnit } from './song';

/** How many beats a bar has, and what they are. */
export type BarShape = { readonly beatsPerBar: number; readonly beatUnit: BeatUnit };

/** A bar as musicians write it. Example: `4/4`, `6/8`. */
export const barText = ({ beatsPerBar, beatUnit }: BarShape): string => `${beatsPerBar}/${beatUnit}`;

/** Reads `6/8`, or `3` for quarters. @returns `null` for what is no bar: 1–32 beats of a whole note to a 32nd. */
export function readBar(text: string): BarShape | null {
  const match = /^(\d{1,2})(?:\s*\/\s*(\d{1,2}))?$/.exec(text.trim());
  if (!match) return null;
  const beatsPerBar = Number(match[1]);
  const beatUnit = BEAT_UNITS.find((unit) => unit === Number(match[2] ?? 4));
  return beatUnit && beatsPerBar >= 1 && beatsPerBar <= 32 ? { beatsPerBar, beatUnit } : null;
}
