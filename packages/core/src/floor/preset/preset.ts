import { PLAIN_FUNCTION, type ChartFunction, type TapeMark } from '../../gear';
import type { Control, ControlKind } from '../board/board';
import type { Curve, CurvePoint, PlainCurve } from '../travel/curve';
import type { TurnResponse } from '../travel/encoder';
import { ACTION_LISTS, PLAIN_TIMING, type GestureTiming, type GestureWants } from '../gestures/gesture';
import { functionOfAction, type Action } from './action';
import type { LampRule } from './lampRule';
import type { Takeover } from '../travel/takeOver';

/** What a pedal drives: heel gives `from`, toe gives `to`, in the function's values; swapped when inverted. */
export type Sweep = SweepShape & (FunctionSweep | PlainSweep);

type SweepShape = {
  readonly id: string;
  readonly from: number;
  readonly to: number;
  readonly invert: boolean;
  readonly curve: Curve;
  /** Places of a curve of one's own, in order of `x`; of no account for the other curves. */
  readonly points: readonly CurvePoint[];
};

type FunctionSweep = { readonly functionId: string };

/** A controller by its number, 0–127, whether or not a chart names it; `channel` 0–15 or `null` for the device's own. */
type PlainSweep = {
  readonly functionId: null;
  readonly deviceId: string;
  readonly channel: number | null;
  readonly controller: number;
};

/** The function that a sweep moves: one of a chart, or for a plain controller one that stands for it alone. */
export const movedBy = (sweep: Sweep): string => sweep.functionId ?? sweep.id;

/** The row that a chart would have for a plain controller; `null` for a sweep of a function. */
export const plainRow = (sweep: Sweep): ChartFunction | null =>
  sweep.functionId === null
    ? {
        ...PLAIN_FUNCTION,
        id: sweep.id,
        name: `CC ${sweep.controller}`,
        drive: { kind: 'controller', controller: sweep.controller },
        shape: { kind: 'range', min: 0, max: 127, shownFrom: 0 },
        channel: sweep.channel,
      }
    : null;

/** How a control that is moved takes hold of its functions, and when its ends fire. */
export type MoveResponse = TurnResponse & {
  readonly takeover: Takeover;
  /** The toe fires when the pedal comes to this share of its travel, the heel when it comes back to this one, in %. */
  readonly toeAt: number;
  readonly heelAt: number;
  /** How far the pedal has to leave an end before it can fire again, in %. */
  readonly hysteresis: number;
};

export type TapeColour = TapeMark['colour'];

/** What one control does in one bank. An empty `label` means: take the one proposed from what it does. */
export type Assignment = {
  readonly controlId: string;
  readonly label: string;
  /** The colour of its cloth label, `null` for plain cloth. */
  readonly colour: TapeColour | null;
  readonly remark: string;
  readonly press: readonly Action[];
  readonly release: readonly Action[];
  readonly hold: readonly Action[];
  readonly doublePress: readonly Action[];
  readonly timing: GestureTiming;
  readonly sweeps: readonly Sweep[];
  readonly toe: readonly Action[];
  readonly heel: readonly Action[];
  readonly response: MoveResponse;
  /** How this one is struck; `null`: as its kind is told in the preset. */
  readonly touch: Touch | null;
  /** `null`: as its kind is told in the preset, or else lit by what the control is about. */
  readonly lamp: LampRule | null;
};

/** One page of assignments. */
export type Bank = {
  readonly id: string;
  readonly name: string;
  readonly colour: TapeColour | null;
  readonly remark: string;
  readonly assignments: readonly Assignment[];
};

/** Controls with pages of their own, turned by switches that have that job; the banks leave them alone. */
export type ControlGroup = {
  readonly id: string;
  readonly name: string;
  readonly controlIds: readonly string[];
  readonly pages: readonly Bank[];
};

/** How a strike and the pressure after it are sent. */
export type Touch = {
  readonly velocity: 'played' | 'fixed';
  /** 1–127, for a fixed velocity. */
  readonly fixed: number;
  /** How hard a strike has to be: a curve from what is struck to what is sent. */
  readonly curve: PlainCurve;
  readonly pressure: 'off' | 'controller' | 'channel' | 'poly';
  /** 0–127, for pressure that becomes a controller. */
  readonly controller: number;
};

/** How the controls of one kind feel, all over a preset. */
export type Feel = Touch & {
  readonly kind: ControlKind;
  readonly lamp: LampRule | null;
  /** Whether how hard they are pressed counts; where nothing is said that of pads and keys does. */
  readonly isFelt?: boolean | undefined;
};

/** Everything a board is told. */
export type Preset = {
  readonly id: string;
  readonly rigId: string;
  readonly boardId: string;
  readonly name: string;
  /** The folder that it is kept in, empty for none. */
  readonly folder: string;
  readonly banks: readonly Bank[];
  readonly groups: readonly ControlGroup[];
  readonly feel: readonly Feel[];
};

/** First figures of a new assignment. */
export const PLAIN_RESPONSE: MoveResponse = {
  takeover: 'jump',
  slowStep: 1,
  fastStep: 4,
  fastPerS: 30,
  growth: 'linear',
  reverse: false,
  wrap: false,
  toeAt: 96,
  heelAt: 4,
  hysteresis: 4,
};

/** First figures for a control: an encoder waits until the value is known that it is to go on from. */
export const plainResponse = ({ hardware }: Pick<Control, 'hardware'>): MoveResponse =>
  hardware.encoding === 'absolute' ? PLAIN_RESPONSE : { ...PLAIN_RESPONSE, takeover: 'pickup' };

export const PLAIN_FEEL: Omit<Feel, 'kind'> = {
  velocity: 'played',
  fixed: 100,
  curve: 'linear',
  pressure: 'off',
  controller: 1,
  lamp: null,
};

/** What an assignment is like where nothing is assigned. */
export const PLAIN_ASSIGNMENT = {
  label: '',
  colour: null,
  remark: '',
  press: [],
  release: [],
  hold: [],
  doublePress: [],
  timing: PLAIN_TIMING,
  sweeps: [],
  toe: [],
  heel: [],
  response: PLAIN_RESPONSE,
  touch: null,
  lamp: null,
} as const satisfies Omit<Assignment, 'controlId'>;

export const PLAIN_BANK = { colour: null, remark: '', assignments: [] } as const satisfies Partial<Bank>;

export const PLAIN_PRESET = { folder: '', groups: [], feel: [] } as const satisfies Partial<Preset>;

/** Every bank of a preset and every page of its groups. */
export const pagesOf = ({ banks, groups }: Pick<Preset, 'banks' | 'groups'>): readonly Bank[] => [
  ...banks,
  ...groups.flatMap((g) => g.pages),
];

/** All actions of an assignment, list by list. */
export const actionsOf = (assignment: Assignment): readonly Action[] =>
  ACTION_LISTS.flatMap((list) => assignment[list]);

/** Whether an assignment has any action. Asked at every message of a control, so nothing is made for it. */
export function hasActions(assignment: Assignment): boolean {
  for (const list of ACTION_LISTS) if (assignment[list].length > 0) return true;
  return false;
}

/** An assignment with each of its lists of actions changed. */
export const withLists = <A extends Assignment>(
  assignment: A,
  change: (actions: readonly Action[]) => readonly Action[],
): A => ({
  ...assignment,
  ...Object.fromEntries(ACTION_LISTS.map((list) => [list, change(assignment[list])])),
});

/** A preset with every assignment of its banks and pages changed. */
export function withEachAssignment(preset: Preset, change: (assignment: Assignment) => Assignment): Preset {
  const inPage = (page: Bank): Bank => ({ ...page, assignments: page.assignments.map(change) });
  return {
    ...preset,
    banks: preset.banks.map(inPage),
    groups: preset.groups.map((g) => ({ ...g, pages: g.pages.map(inPage) })),
  };
}

/** Whether an assignment does nothing and says nothing, so that it need not be kept. */
export const isBare = (a: Assignment): boolean =>
  a.label === '' &&
  a.remark === '' &&
  a.colour === null &&
  a.lamp === null &&
  a.sweeps.length === 0 &&
  !hasActions(a);

/** What the recogniser has to look out for in an assignment: gestures with an action that is not switched off. */
export const gestureWants = ({ timing, hold, doublePress }: Assignment): GestureWants => ({
  ...timing,
  hold: hold.some((a) => !a.isOff),
  doublePress: doublePress.some((a) => !a.isOff),
});

/** Whether a control turns pages: then it may not send as well. */
export const turnsPages = (assignment: Assignment): boolean =>
  actionsOf(assignment).some((a) => a.kind === 'page');

/** The functions that an assignment moves, each once, in order of first use. */
export function functionsMoved(assignment: Assignment): string[] {
  const ids = actionsOf(assignment).flatMap((a) => functionOfAction(a) ?? []);
  return [...new Set([...ids, ...assignment.sweeps.map(movedBy)])];
}

/** The devices that an assignment's plain messages go to, each once. */
export const devicesAddressed = (assignment: Assignment): string[] => [
  ...new Set(actionsOf(assignment).flatMap((a) => ('deviceId' in a ? [a.deviceId] : []))),
];
