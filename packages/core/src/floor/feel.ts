import { applyCurve } from './curve';
import { PLAIN_FEEL, type Feel, type Preset } from './preset';
import type { Board, ControlKind } from './board';

/** How the controls of a kind feel in a preset. */
export const feelOf = (preset: Pick<Preset, 'feel'>, kind: ControlKind): Feel =>
  preset.feel.find((f) => f.kind === kind) ?? { kind, ...PLAIN_FEEL };

/**
 * The velocity that a strike is sent with, 1–127.
 * @param struck 1–127 as it arrived.
 */
export function velocityOf(feel: Pick<Feel, 'velocity' | 'fixed' | 'curve'>, struck: number): number {
  if (feel.velocity === 'fixed') return feel.fixed;
  return Math.max(1, Math.round(applyCurve(feel.curve, struck / 127) * 127));
}

/** How many controls of a board a change of feel is heard on. */
export const controlsOfKind = (board: Pick<Board, 'controls'>, kind: ControlKind): number =>
  board.controls.filter((c) => c.kind === kind).length;
