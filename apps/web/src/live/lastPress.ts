import type { Effect, LiveState } from '@idle-step/core/engine';

/** What the last press did, for the line beside the floor. */
export type LastPress = {
  readonly wallMs: number;
  readonly controlId: string;
  readonly label: string;
  readonly messages: number;
  /** Of them, those that no port and no stand-in took. */
  readonly untaken: number;
  /** It has not fired yet: a second press or a hold could still come. */
  readonly waits: boolean;
  readonly settledInMs: number;
  readonly trouble: string | null;
};

type Note = Extract<Effect, { kind: 'note' }>['note'];

/** The last press after a step: a new one, the one before with what it sent late, or the one before as it was. */
export function lastPressAfter(
  before: LastPress | null,
  state: LiveState,
  effects: readonly Effect[],
  untaken: number,
  wallMs: number,
): LastPress | null {
  const notes = effects.flatMap((e): Note[] => (e.kind === 'note' ? [e.note] : []));
  const sent = effects.filter((e) => e.kind === 'send').length;
  const waits = (controlId: string) => state.held[controlId]?.gesture.isPending ?? false;
  const pressed = notes.find((n) => n.code === 'pressed');
  if (!pressed) {
    // What a press sends that had to wait first belongs to it all the same.
    return before?.waits && !waits(before.controlId)
      ? { ...before, waits: false, messages: sent + messagesPending(state), untaken }
      : before;
  }
  const trouble = notes.find((n) => n.code !== 'pressed' && n.code !== 'recalled');
  return {
    wallMs,
    controlId: pressed.controlId,
    label: pressed.label,
    messages: sent + messagesPending(state),
    untaken,
    waits: waits(pressed.controlId),
    settledInMs: notes.find((n) => n.code === 'recalled')?.settlesInMs ?? 0,
    trouble: trouble?.code ?? null,
  };
}

const messagesPending = ({ pending }: LiveState): number =>
  pending.reduce((n, p) => n + p.messages.length, 0);
