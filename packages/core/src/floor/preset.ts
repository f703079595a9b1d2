import type { Curve } from './curve';

/** One thing that a gesture causes. Every action has an id of its own so that lists can be edited safely. */
export type Action =
  | { readonly id: string; readonly kind: 'set'; readonly functionId: string; readonly value: number }
  | { readonly id: string; readonly kind: 'toggle'; readonly functionId: string }
  /** Complete MIDI messages as typed, 0–255 each, to a port at the computer. */
  | { readonly id: string; readonly kind: 'raw'; readonly portId: string; readonly bytes: readonly number[] }
  | { readonly id: string; readonly kind: 'bank'; readonly to: BankTarget }
  | { readonly id: string; readonly kind: 'scene'; readonly to: SceneTarget }
  | { readonly id: string; readonly kind: 'song'; readonly to: 'next' | 'previous' }
  | { readonly id: string; readonly kind: 'panic' };

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

/** The functions that an assignment moves, each once, in order of first use. */
export function functionsMoved(assignment: Assignment): string[] {
  const ids = [...assignment.press, ...assignment.release].flatMap((a) =>
    a.kind === 'set' || a.kind === 'toggle' ? [a.functionId] : [],
  );
  return [...new Set([...ids, ...assignment.sweeps.map((s) => s.functionId)])];
}
