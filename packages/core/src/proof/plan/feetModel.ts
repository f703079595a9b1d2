import type { World } from '../../engine';
import type { Board } from '../../floor';
import { got, nth } from '../../sure';
import type { FootPress } from '../feet/press';
import { fittsS } from './fitts';

/** What feet need, in seconds. All of it is our own choice: say what yours need. */
export type FeetModel = {
  /** Before a foot moves at all, and for each bit of its way. */
  readonly aS: number;
  readonly bS: number;
  /** Going down on a switch and up again. */
  readonly tapS: number;
  /** On top where the left foot comes to stand to the right of the right one. */
  readonly crossedS: number;
};

export const FEET_MODEL: FeetModel = { aS: 0.2, bS: 0.15, tapS: 0.1, crossedS: 0.3 };

export const FEET = ['left', 'right'] as const;
export type Foot = (typeof FEET)[number];

/** Where a foot stands: a control, or at rest before the main board. */
export type FootPlace = string | null;
export type FeetPlaces = Readonly<Record<Foot, FootPlace>>;
export const AT_REST: FeetPlaces = { left: null, right: null };

type Target = { readonly xMm: number; readonly yMm: number; readonly widthMm: number };

/** The floor as feet see it: the middle of every control and how wide it is, in mm, and where feet rest. */
export type Floor = {
  readonly controls: ReadonlyMap<string, Target>;
  readonly rest: Readonly<Record<Foot, Target>>;
};

/** How far apart feet rest, and how far before the board, in mm. Own choice. */
const APART_MM = 240;
const BEFORE_MM = 80;

export function floorOf({ boards }: World): Floor {
  const controls = new Map<string, Target>();
  for (const { board } of boards)
    for (const c of board.controls)
      controls.set(c.id, {
        xMm: board.xMm + c.xMm + c.widthMm / 2,
        yMm: board.yMm + c.yMm + c.heightMm / 2,
        widthMm: Math.max(1, Math.min(c.widthMm, c.heightMm)),
      });
  // One stands before the board with the most on it.
  const main = boards
    .map(({ board }) => board)
    .reduce<Board | null>((most, b) => (most && most.controls.length >= b.controls.length ? most : b), null);
  const middle = main ? main.xMm + main.widthMm / 2 : 0;
  const yMm = (main ? main.yMm + main.heightMm : 0) + BEFORE_MM;
  return {
    controls,
    rest: {
      left: { xMm: middle - APART_MM / 2, yMm, widthMm: 1 },
      right: { xMm: middle + APART_MM / 2, yMm, widthMm: 1 },
    },
  };
}

const placeAt = (floor: Floor, foot: Foot, at: FootPlace): Target =>
  at === null ? floor.rest[foot] : got(floor.controls, at);

/** How far a foot has to go to a control, in mm. */
export function distanceMm(floor: Floor, foot: Foot, from: FootPlace, to: string): number {
  const a = placeAt(floor, foot, from);
  const b = got(floor.controls, to);
  return Math.hypot(a.xMm - b.xMm, a.yMm - b.yMm);
}

/** How long it takes to bring a foot to a control, in s, with the other one where it is. */
export function movesS(model: FeetModel, floor: Floor, feet: FeetPlaces, foot: Foot, to: string): number {
  const target = got(floor.controls, to);
  const leftX = foot === 'left' ? target.xMm : placeAt(floor, 'left', feet.left).xMm;
  const rightX = foot === 'right' ? target.xMm : placeAt(floor, 'right', feet.right).xMm;
  const crossed = leftX > rightX ? model.crossedS : 0;
  return fittsS(model.aS, model.bS, distanceMm(floor, foot, feet[foot], to), target.widthMm) + crossed;
}

/** How long a foot stays on a control for a gesture, in s. */
export function staysS(model: FeetModel, world: World, { controlId, gesture }: FootPress): number {
  if (gesture === 'doublePress') return 2 * model.tapS;
  if (gesture !== 'hold') return model.tapS;
  const { boardIndex } = got(world.controls, controlId);
  const { preset } = nth(world.boards, boardIndex);
  const held = preset?.banks.flatMap((b) =>
    b.assignments.flatMap((a) => (a.controlId === controlId ? a.timing.holdMs : [])),
  );
  return Math.max(model.tapS * 1000, ...(held ?? [])) / 1000;
}
