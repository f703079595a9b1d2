import type { RigDoc } from '@idle-step/contract';
import { boundAlready, isPressed, learn, type Candidate, type Control } from '@idle-step/core/floor';
import { useCallback, useEffect, useState } from 'react';
import { useEdit } from '../../drafts/useDocs';
import { useLiveHost, useLiveOf } from '../../live/useLive';
import { withLearned } from '../../edits/boardEdits';

/** After this long without anything new, what was touched is taken as done, in ms. */
const QUIET_MS = 700;
/** Learning ends by itself when nothing is touched for this long, in ms. */
const TIMEOUT_MS = 30_000;

export type Learning = {
  readonly control: Control;
  readonly presses: number;
  /** Controls still to come, along the row. */
  readonly left: number;
  readonly candidates: readonly Candidate[];
  /** The foot rests: it is time to choose, or to ask for more. */
  readonly isQuiet: boolean;
  readonly bound: Control | null;
};

export type LearnState = {
  readonly learning: Learning | null;
  /** How the last learning ended. */
  readonly said: string | null;
  start(controlIds: readonly string[]): void;
  take(candidate: Candidate, isSwapping: boolean): void;
  skip(): void;
  again(): void;
  cancel(): void;
};

/** Learning of controls, one or along a row, without a hand on the mouse between. */
export function useLearn(rig: RigDoc, boardId: string): LearnState {
  const host = useLiveHost();
  const heard = useLiveOf((live) => live.heard);
  const edit = useEdit('rigs');
  const [queue, setQueue] = useState<readonly string[]>([]);
  const [presses, setPresses] = useState(1);
  const [quietAt, setQuietAt] = useState<number | null>(null);
  const [said, setSaid] = useState<string | null>(null);
  const board = rig.boards.find((b) => b.id === boardId);
  const control = board?.controls.find((c) => c.id === queue[0]) ?? null;
  const ownChannel = rig.devices.find((d) => d.id === board?.deviceId)?.channel ?? 0;
  const candidates = control && heard ? learn(heard, control.kind, presses) : [];
  const count = candidates.reduce((n, c) => n + c.count, 0);
  const isQuiet = quietAt !== null && quietAt === count && count > 0;
  const best = candidates[0];
  const bound =
    best && control && board
      ? boundAlready(board.controls as readonly Control[], ownChannel, best, control.id)
      : null;

  const goOn = useCallback(
    (rest: readonly string[]) => {
      setQueue(rest);
      setPresses(1);
      setQuietAt(null);
      host.learn(rest.length > 0);
    },
    [host],
  );
  // A page that is left while learning would swallow every press.
  useEffect(() => () => host.learn(false), [host]);

  const take = (candidate: Candidate, isSwapping: boolean) => {
    if (!control) return;
    const other = board
      ? boundAlready(board.controls as readonly Control[], ownChannel, candidate, control.id)
      : null;
    edit(rig.id, `learn ${control.name}`, (r) =>
      withLearned(r, boardId, control.id, candidate, isSwapping ? (other?.id ?? null) : null),
    );
    setSaid(`${control.name} sends ${sentWords(candidate)}: ${candidate.looksLike}.`);
    goOn(queue.slice(1));
  };

  /** The foot rests: what is sure is taken without a click, what is not is asked for or shown. */
  const rest = () => {
    if (!control) return;
    if (count === 0) {
      setSaid(
        `Nothing was heard of ${control.name} in ${TIMEOUT_MS / 1000} s. Is its port open, and enabled for learning in Rig?`,
      );
      goOn([]);
      return;
    }
    if (best && best.wants === null && candidates.length === 1 && !bound) {
      take(best, false);
      return;
    }
    setQuietAt(count);
    if (best?.wants === 'press-again') setPresses(2);
  };
  const controlId = control?.id;
  useEffect(() => {
    if (!controlId) return;
    const timer = window.setTimeout(rest, count > 0 ? QUIET_MS : TIMEOUT_MS);
    return () => window.clearTimeout(timer);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- begins anew with each thing heard, and with it only
  }, [controlId, count, presses]);

  return {
    learning: control && {
      control: control as Control,
      presses,
      left: queue.length - 1,
      candidates,
      isQuiet,
      bound,
    },
    said,
    start: (ids) => {
      setSaid(null);
      goOn(ids);
    },
    take,
    skip: () => goOn(queue.slice(1)),
    again: () => goOn(queue),
    cancel: () => {
      setSaid('Stopped; nothing was changed.');
      goOn([]);
    },
  };
}

/** Example: `CC 20 on channel 16`. */
export const sentWords = ({ sends, channel }: Pick<Candidate, 'sends' | 'channel'>): string =>
  `${messageWords(sends)} on channel ${channel + 1}`;

const MESSAGE_WORDS: Record<Candidate['sends']['kind'], string> = {
  controller: 'CC',
  note: 'note',
  program: 'program',
  'controller-14': 'CC pair',
  rpn: 'RPN',
  nrpn: 'NRPN',
  'pitch-bend': 'pitch bend',
  'channel-pressure': 'channel pressure',
};

export const messageWords = ({ kind, number }: Candidate['sends']): string =>
  kind === 'pitch-bend' || kind === 'channel-pressure'
    ? MESSAGE_WORDS[kind]
    : `${MESSAGE_WORDS[kind]} ${number}`;

/** What the person is asked to do with the control. */
export function askWords({ control, presses, candidates }: Learning): string {
  const { kind, name } = control;
  const wants = candidates[0]?.wants;
  if (isPressed(kind))
    return presses > 1 || wants === 'press-again'
      ? `Press ${name} once more, and let go.`
      : `Press ${name}, and let go.`;
  if (kind === 'encoder' || wants === 'turn-back')
    return wants === 'turn-back'
      ? `Turn ${name} back to the left now.`
      : `Turn ${name} to the right, then to the left.`;
  return wants === 'full-travel'
    ? `Move ${name} all the way, from one end to the other.`
    : kind === 'expression-pedal'
      ? `Move ${name} from heel to toe and back.`
      : `Move ${name} from one end to the other and back.`;
}
