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
  const pressed = noted(effects, 'pressed');
  if (!pressed && !before?.waits) return before;
  const waits = (controlId: string) => state.held[controlId]?.gesture.isPending ?? false;
  const messages = () => effects.filter((e) => e.kind === 'send').length + messagesPending(state);
  if (!pressed)
    // What a press sends that had to wait first belongs to it all the same.
    return before && !waits(before.controlId)
      ? { ...before, waits: false, messages: messages(), untaken }
      : before;
  const notes = effects.flatMap((e): Note[] => (e.kind === 'note' ? [e.note] : []));
  const trouble = notes.find((n) => n.code !== 'pressed' && n.code !== 'recalled');
  return {
    wallMs,
    controlId: pressed.controlId,
    label: pressed.label,
    messages: messages(),
    untaken,
    waits: waits(pressed.controlId),
    settledInMs: noted(effects, 'recalled')?.settlesInMs ?? 0,
    trouble: trouble?.code ?? null,
  };
}

/** The first note of a code. It is looked for after each message that comes, so nothing is made on the way. */
function noted<C extends Note['code']>(
  effects: readonly Effect[],
  code: C,
): Extract<Note, { code: C }> | undefined {
  for (const e of effects)
    // Its code was looked at, which TypeScript does not follow through a type parameter.
    if (e.kind === 'note' && e.note.code === code) return e.note as Extract<Note, { code: C }>;
  return undefined;
}

const messagesPending = ({ pending }: LiveState): number =>
  pending.reduce((n, p) => n + p.messages.length, 0);
