import { applyCurve } from '../travel/curve';
import { PLAIN_FEEL, type Assignment, type Feel, type Preset, type Touch } from './preset';
import { isStruck, type Board, type ControlKind } from '../board/board';

/** How the controls of a kind feel in a preset. */
export const feelOf = (preset: Pick<Preset, 'feel'>, kind: ControlKind): Feel =>
  preset.feel.find((f) => f.kind === kind) ?? { kind, ...PLAIN_FEEL };

/** How a control is struck: as it is told itself, else as its kind is. */
export const touchOf = (
  preset: Pick<Preset, 'feel'>,
  kind: ControlKind,
  assignment: Pick<Assignment, 'touch'> | null | undefined,
): Touch => assignment?.touch ?? feelOf(preset, kind);

/** Whether how hard the controls of a kind are struck counts. */
export const isFelt = ({ isFelt: said, kind }: Pick<Feel, 'isFelt' | 'kind'>): boolean =>
  said ?? isStruck(kind);

/** Whether how hard a control is struck counts: where it is told so itself, else as that of its kind. */
export const feelsStrikes = (
  preset: Pick<Preset, 'feel'>,
  kind: ControlKind,
  assignment: Pick<Assignment, 'touch'> | null | undefined,
): boolean => (assignment?.touch ?? null) !== null || isFelt(feelOf(preset, kind));

/**
 * The velocity that a strike is sent with, 1–127.
 * @param struck 1–127 as it arrived.
 */
export function velocityOf(feel: Pick<Touch, 'velocity' | 'fixed' | 'curve'>, struck: number): number {
  if (feel.velocity === 'fixed') return feel.fixed;
  return Math.max(1, Math.round(applyCurve(feel.curve, struck / 127) * 127));
}

/** How many controls of a board a change of feel is heard on. */
export const controlsOfKind = (board: Pick<Board, 'controls'>, kind: ControlKind): number =>
  board.controls.filter((c) => c.kind === kind).length;
