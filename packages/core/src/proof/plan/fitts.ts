/**
 * How hard a movement is, in bits: log2(D / W + 1).
 * @param distance to the middle of the target, and `width` of the target, in the same unit; 0 and above, and above 0.
 * Source: MacKenzie 1992, Fitts's law in Shannon's form (from memory).
 */
export const fittsBits = (distance: number, width: number): number => Math.log2(distance / width + 1);

/** How long a movement takes, in s: a + b · bits. @param a in s. @param b in s a bit. */
export const fittsS = (a: number, b: number, distance: number, width: number): number =>
  a + b * fittsBits(distance, width);
