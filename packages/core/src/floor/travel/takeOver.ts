/** What an absolute control does after its function was moved by something else. */
export const TAKEOVERS = ['jump', 'pickup', 'scale'] as const;
export type Takeover = (typeof TAKEOVERS)[number];

/** A move of a control, as values of the function: where the control was and is, and what the function is at now. */
export type ControlMove = {
  /** Value of the control's place before; `null` when it has not been heard yet. */
  readonly before: number | null;
  readonly now: number;
  /** Where the function is, with the fractions that `scale` brought it to; `null` when that is not known. */
  readonly current: number | null;
  /** Whether the function is still where this control put it. */
  readonly isHeld: boolean;
  /** The ends of the control's range. */
  readonly low: number;
  readonly high: number;
};

/**
 * The value that a move gives the function, or `null` when it is left alone; with fractions, to be gone on from exactly.
 *
 * `jump` takes the control's place at once. `pickup` is ignored until the control reaches or crosses the value.
 * `scale` moves the value by the same share of the room that is left towards the end, so both arrive there together.
 */
export function takeOver(mode: Takeover, move: ControlMove): number | null {
  const { before, now, current, isHeld } = move;
  if (mode === 'jump' || current === null) return now;
  if (mode === 'pickup') {
    if (isHeld) return now;
    if (before === null) return now === current ? now : null;
    return (before - current) * (now - current) <= 0 ? now : null;
  }
  if (before === null || before === now) return null;
  // Where both are at one place they go together from there.
  if (before === current) return now;
  const end = now > before ? move.high : move.low;
  return before === end || now === end ? now : current + ((end - current) * (now - before)) / (end - before);
}
