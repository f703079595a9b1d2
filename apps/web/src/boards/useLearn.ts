import type { Device } from '@idle-step/core/gear';
import { type FullRig, portName } from '@idle-step/core/routing';
import { boundAlready, isPressed, keyName, learn, type Candidate, type Control } from '@idle-step/core/floor';
import { useCallback, useEffect, useState } from 'react';
import { useEdit } from '../drafts/useDocs';
import { withLearned } from '../edits/boardEdits';
import { wayIn, type WayChange, type WayIn } from '../edits/wayIn';
import { unboundName } from '../live/ports/unboundInput';
import type { HeardSince } from '../live/LiveHost';
import { useLiveHost, useLiveOf } from '../live/use/useLive';
import { there } from '@idle-step/core/sure';

/** After this long without anything new, what was touched is taken as done, in ms. */
const QUIET_MS = 700;
/** Of a switch only one movement was heard: it may still be held, so it is waited for longer, in ms. */
const HELD_MS = 2000;
/** Who goes on to the next control of a row has let go of the one before for so long, in ms. */
const NEXT_AFTER_MS = 60;
/** Learning ends by itself when nothing is touched for this long, in ms. */
const TIMEOUT_MS = 30_000;

export type Learning = {
  readonly control: Control;
  /** Controls still to come, along the row. */
  readonly left: number;
  /** What no other control of the board sends, best first. */
  readonly candidates: readonly Candidate[];
  /** What other controls of the board send: another one than asked for was touched. */
  readonly others: readonly { readonly control: Control; readonly candidate: Candidate }[];
  /** The foot rests: it is time to choose, or to ask for more. */
  readonly isQuiet: boolean;
};

export type LearnState = {
  readonly learning: Learning | null;
  /** What has been learned and what was passed over, each as a sentence. */
  readonly said: readonly string[];
  /** Where the board is not heard where it was learned: what is missing, to be chosen. */
  readonly way: (WayIn & { readonly kind: 'asked' }) | null;
  start(controlIds: readonly string[]): void;
  take(candidate: Candidate, swapWith: Control | null): void;
  skip(): void;
  again(): void;
  cancel(): void;
  /** Does what was offered, so that the board is heard. */
  open(change: WayChange): void;
};

/** Learning of controls, one or along a row, without a hand on the mouse between. */
export function useLearn(rig: FullRig, boardId: string): LearnState {
  const host = useLiveHost();
  const heard = useLiveOf((live) => live.heard);
  const edit = useEdit('rigs');
  const [queue, setQueue] = useState<readonly string[]>([]);
  const [lookedMs, setLooked] = useState(0);
  const [quietAt, setQuietAt] = useState<string | null>(null);
  const [said, setSaid] = useState<readonly string[]>([]);
  const board = rig.boards.find((b) => b.id === boardId);
  const device = rig.devices.find((d) => d.id === board?.deviceId);
  const control = board?.controls.find((c) => c.id === queue[0]) ?? null;
  const touchedAt = (nowMs: number, all = heard) =>
    (control && all ? learn(all, control.kind, nowMs) : []).map((candidate) => ({
      candidate,
      control: boundAlready(board?.controls ?? [], device?.channel ?? 0, candidate, there(control).id),
    }));
  const sorted = touchedAt(Math.max(lookedMs, heard?.at(-1)?.atMs ?? 0));
  const touched = sorted.map((s) => s.candidate);
  const candidates = sorted.flatMap((s) => (s.control ? [] : s.candidate));
  const others = sorted.flatMap((s) => (s.control ? { ...s, control: s.control } : []));
  const count = touched.reduce((n, c) => n + c.count, 0);
  // Not how much alone: as much of another control may be heard before the last of it was drawn as gone.
  const heardSoFar = inOrder(touched);
  const isQuiet = quietAt === heardSoFar && count > 0;
  const best = candidates[0];

  const goOn = useCallback(
    (rest: readonly string[], keeps: HeardSince | null = null) => {
      setQueue(rest);
      setQuietAt(null);
      host.learn(rest.length > 0, keeps);
    },
    [host],
  );
  // A page that is left while learning would swallow every press.
  useEffect(() => () => host.learn(false), [host]);
  const say = (sentence: string) => setSaid((before) => [...before, sentence]);
  const { way, setWay, open, plugIn } = useWay(rig, device, say);
  const nameOf = (id: string) => board?.controls.find((c) => c.id === id)?.name ?? 'a control that is gone';

  const take = (candidate: Candidate, swapWith: Control | null, sinceMs: number | null = null) => {
    if (!control || !device) return;
    edit(rig.id, `learn ${control.name}`, (r) =>
      withLearned(r, boardId, control.id, candidate, swapWith?.id ?? null),
    );
    say(`${control.name} sends ${sentWords(candidate)}: ${candidate.looksLike}.`);
    const moved = candidate.sends.kind === 'key' ? null : plugIn(candidate);
    goOn(queue.slice(1), sinceMs === null ? null : { sinceMs, moved });
  };

  /** The foot rests: what is sure is taken without a click, what is not is asked for or shown. */
  const rest = () => {
    if (!control) return;
    const now = host.clock();
    const sortedNow = touchedAt(now, host.heardNow());
    // The next control was touched at this very moment and is not drawn yet: what is drawn next begins the wait anew.
    if (inOrder(sortedNow.map((s) => s.candidate)) !== heardSoFar) return;
    if (count === 0) {
      say(
        `Nothing was heard of ${queue.map(nameOf).join(', ')} in ${TIMEOUT_MS / 1000} s, so nothing of them was changed.${whyUnheard(rig, host.unheardPorts(), host.ports.status.kind === 'on')}`,
      );
      goOn([]);
      return;
    }
    const rested = sortedNow.flatMap((s) => (s.control ? [] : s.candidate));
    if (rested[0]?.wants === null && rested.length === 1) {
      take(rested[0], null);
      return;
    }
    setLooked(now);
    setQuietAt(heardSoFar);
  };
  const controlId = control?.id;
  const isOneMovement = best?.wants === 'press-again' && isPressed(control?.kind ?? 'footswitch');
  useEffect(() => {
    if (!controlId) return;
    const next = queue.length < 2 || others.length > 0 ? null : nextAlong(candidates);
    const goesOn = next && (() => take(next.first, null, next.sinceMs));
    const rested = count < 3 ? HELD_MS : Math.max(QUIET_MS, (best?.restMs ?? 0) + 20);
    const quietMs = isOneMovement ? rested : QUIET_MS;
    const timer = window.setTimeout(goesOn ?? rest, goesOn ? 0 : count === 0 ? TIMEOUT_MS : quietMs);
    return () => window.clearTimeout(timer);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- begins anew with each thing heard, and with it only
  }, [controlId, heardSoFar]);

  return {
    learning: control && { control, left: queue.length - 1, candidates, others, isQuiet },
    said,
    way,
    start: (ids) => {
      setSaid([]);
      setWay(null);
      if (host.ports.status.kind === 'off') void host.ports.open();
      goOn(ids);
    },
    take,
    skip: () => {
      if (control) say(`${control.name} was passed over, as you chose.`);
      goOn(queue.slice(1));
    },
    again: () => goOn(queue),
    cancel: () => {
      const names = queue.map(nameOf).join(', ');
      say(
        queue.length === 1 ? `Stopped; nothing of ${names} was changed.` : `Stopped; not learned: ${names}.`,
      );
      goOn([]);
    },
    open,
  };
}

/** The way by which a board is heard where it was learned: taken where it is sure, else asked for. */
function useWay(rig: FullRig, device: Device | undefined, say: (sentence: string) => void) {
  const host = useLiveHost();
  const edit = useEdit('rigs');
  const [way, setWay] = useState<LearnState['way']>(null);
  const open = ({ bind, unbind, edit: change }: WayChange) => {
    if (unbind !== null) host.ports.bind(unbind, null);
    if (change) edit(rig.id, 'plug in a board', change);
    if (bind) host.ports.bind(bind.portId, bind.input);
    setWay(null);
  };
  /** @returns the port at which what was heard counts from now on, where that is another one. */
  const plugIn = ({ portId }: Candidate): HeardSince['moved'] => {
    if (!device) return null;
    const name = unboundName(portId);
    const came = name === null ? ({ kind: 'port', portId } as const) : ({ kind: 'input', name } as const);
    const found = wayIn(rig, device, came, (id) => host.ports.boundName(id));
    if (found.kind === 'asked') setWay(found);
    if (found.kind !== 'sure') return null;
    open(found.change);
    say(found.sentence);
    const { bind } = found.change;
    return bind && { from: portId, to: bind.portId };
  };
  return { way, setWay, open, plugIn };
}

/** Along a row the next control is touched as soon as one likes: what came before it was the one in hand. */
function nextAlong(candidates: readonly Candidate[]): { first: Candidate; sinceMs: number } | null {
  const [first, next] = [...candidates].sort((a, b) => a.firstMs - b.firstMs);
  if (!first || !next || first.wants !== null || next.firstMs - first.lastMs < NEXT_AFTER_MS) return null;
  return { first, sinceMs: next.firstMs };
}

/** Why nothing may have been heard: ports that spoke and are not enabled for learning, or none that are open. */
function whyUnheard(rig: FullRig, unheard: readonly string[], isOpen: boolean): string {
  if (unheard.length > 0)
    return ` ${unheard.map((id) => portName(rig, id)).join(', ')} spoke, but is not enabled for learning: tick “Learns” at its port in Rig.`;
  return isOpen ? ' Is it switched on and plugged in?' : ' The ports of this browser are not open.';
}

/** What was touched and how often, in the order in which it was heard first. */
const inOrder = (touched: readonly Candidate[]): string =>
  [...touched]
    .sort((a, b) => a.firstMs - b.firstMs)
    .map((c) => `${c.portId} ${sentWords(c)} ${c.count}`)
    .join(', ');

/** Example: `CC 20 on channel 16`. */
export const sentWords = ({ sends, channel }: Pick<Candidate, 'sends' | 'channel'>): string =>
  sends.kind === 'key' ? messageWords(sends) : `${messageWords(sends)} on channel ${channel + 1}`;

const MESSAGE_WORDS: Record<Candidate['sends']['kind'], string> = {
  controller: 'CC',
  note: 'note',
  program: 'program',
  'controller-14': 'CC pair',
  rpn: 'RPN',
  nrpn: 'NRPN',
  'pitch-bend': 'pitch bend',
  'channel-pressure': 'channel pressure',
  key: 'key',
};

export const messageWords = ({ kind, number }: Candidate['sends']): string =>
  kind === 'pitch-bend' || kind === 'channel-pressure'
    ? MESSAGE_WORDS[kind]
    : kind === 'key'
      ? `the key ${keyName(number)}`
      : `${MESSAGE_WORDS[kind]} ${number}`;

/** What the person is asked to do with the control. */
export function askWords({ control, candidates, isQuiet }: Learning): string {
  const { kind, name } = control;
  const wants = candidates[0]?.wants;
  if (isPressed(kind)) {
    if (wants === 'press-again')
      return isQuiet ? `Press ${name} again, three times in all, as fast as you like.` : `Let go of ${name}.`;
    return `Press ${name}, and let go.`;
  }
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
