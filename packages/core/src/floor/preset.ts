import type { Curve } from './curve';
import { GESTURES, PLAIN_TIMING, type GestureTiming, type GestureWants } from './gesture';

/** How long an action waits after its gesture: 0 and above. Beats are counted at the tempo of that moment. */
export type ActionDelay = { readonly amount: number; readonly unit: 'ms' | 'beats' };

/** What every action has: an id of its own so that lists can be edited safely, its delay, and whether it is left out. */
type ActionHead = {
  readonly id: string;
  readonly delay?: ActionDelay | undefined;
  readonly isOff?: boolean | undefined;
};

type ActionBody =
  | { readonly kind: 'set'; readonly functionId: string; readonly value: number }
  | { readonly kind: 'toggle'; readonly functionId: string }
  /** Arms exactly this track: every other one that its device arms by message is let go. */
  | { readonly kind: 'arm-only'; readonly functionId: string }
  /** One value when its gesture fires, another when the switch goes up. */
  | { readonly kind: 'momentary'; readonly functionId: string; readonly down: number; readonly up: number }
  /** The next of a list of values each time; from wherever the function is, if that is in the list. */
  | {
      readonly kind: 'step';
      readonly functionId: string;
      readonly values: readonly number[];
      readonly direction: 'forward' | 'back';
      readonly atEnd: 'round' | 'stop';
    }
  /** Complete MIDI messages as typed, 0–255 each, to a port at the computer. */
  | { readonly kind: 'raw'; readonly portId: string; readonly bytes: readonly number[] }
  | { readonly kind: 'bank'; readonly to: BankTarget }
  | { readonly kind: 'scene'; readonly to: SceneTarget }
  | { readonly kind: 'song'; readonly to: 'next' | 'previous' }
  | { readonly kind: 'tap' }
  | { readonly kind: 'panic' };

/** One thing that a gesture causes. */
export type Action = ActionBody extends infer B ? (B extends ActionBody ? ActionHead & B : never) : never;

/** The function that an action moves, or `null`. */
export const functionOfAction = (action: Action): string | null =>
  'functionId' in action ? action.functionId : null;

export type ActionKind = Action['kind'];

/** Up and down go round at the ends. Our own choice. */
export type BankTarget =
  { readonly kind: 'up' } | { readonly kind: 'down' } | { readonly kind: 'bank'; readonly bankId: string };

/** `index` counts the scenes of the song from 0. Next after a song's last scene is the next song's first. */
export type SceneTarget =
  { readonly kind: 'next' } | { readonly kind: 'previous' } | { readonly kind: 'at'; readonly index: number };

/** What a pedal drives: heel gives `from`, toe gives `to`, in the function's values; swapped when inverted. */
export type Sweep = {
  readonly id: string;
  readonly functionId: string;
  readonly from: number;
  readonly to: number;
  readonly invert: boolean;
  readonly curve: Curve;
};

/** What one control does in one bank. An empty `label` means: take the one proposed from what it does. */
export type Assignment = {
  readonly controlId: string;
  readonly label: string;
  readonly press: readonly Action[];
  readonly release: readonly Action[];
  readonly hold: readonly Action[];
  readonly doublePress: readonly Action[];
  readonly timing: GestureTiming;
  readonly sweeps: readonly Sweep[];
};

/** One page of assignments. */
export type Bank = {
  readonly id: string;
  readonly name: string;
  readonly assignments: readonly Assignment[];
};

/** Everything a board is told. */
export type Preset = {
  readonly id: string;
  readonly rigId: string;
  readonly boardId: string;
  readonly name: string;
  readonly banks: readonly Bank[];
};

/** What an assignment is like where nothing is assigned. */
export const PLAIN_ASSIGNMENT = {
  label: '',
  press: [],
  release: [],
  hold: [],
  doublePress: [],
  timing: PLAIN_TIMING,
  sweeps: [],
} as const satisfies Omit<Assignment, 'controlId'>;

/** All actions of an assignment, gesture by gesture. */
export const actionsOf = (assignment: Assignment): readonly Action[] =>
  GESTURES.flatMap((gesture) => assignment[gesture]);

/** What the recogniser has to look out for in an assignment: gestures with an action that is not switched off. */
export const gestureWants = ({ timing, hold, doublePress }: Assignment): GestureWants => ({
  ...timing,
  hold: hold.some((a) => !a.isOff),
  doublePress: doublePress.some((a) => !a.isOff),
});

/** The functions that an assignment moves, each once, in order of first use. */
export function functionsMoved(assignment: Assignment): string[] {
  const ids = actionsOf(assignment).flatMap((a) => functionOfAction(a) ?? []);
  return [...new Set([...ids, ...assignment.sweeps.map((s) => s.functionId)])];
}
