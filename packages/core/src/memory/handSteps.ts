import { CURVE_WORDS, type Board, type Preset, type RigWithBoards } from '../floor';
import { encode, hex, type Message } from '../midi';
import { got, nth } from '../sure';
import { boardProgram, type Deed, type ProgramItem, type SweepDeed } from './boardProgram';

/** Where something is set on a board by hand. */
type HandPlace = Pick<ProgramItem, 'pageId' | 'controlId' | 'list' | 'does'> & {
  /** The same for as long as it is the same action of the same control in the same bank. */
  readonly key: string;
  /** Example: `Bank 2, Solo`. */
  readonly pageName: string;
  readonly controlName: string;
};

/** One thing that hands set on a board that works by itself. */
export type HandStep = HandPlace & {
  /** What is set. Example: `controller 22, value 2, channel 3`. */
  readonly text: string;
};

/** What such a board cannot do, with why. */
export type HandLeftOut = HandPlace & { readonly sentence: string };

export type HandProgram = { readonly steps: readonly HandStep[]; readonly leftOut: readonly HandLeftOut[] };

/** A preset as steps for hands, for a board without a wire in, in the order of `boardProgram`. */
export function handSteps(rig: RigWithBoards, board: Board, preset: Preset): HandProgram {
  const steps: HandStep[] = [];
  const leftOut: HandLeftOut[] = [];
  const controls = new Map(board.controls.map((c) => [c.id, c]));
  for (const { pageId, controlId, list, id, does, deed } of boardProgram(rig, board, preset)) {
    const place: HandPlace = {
      key: `${pageId}/${controlId}/${list}/${id}`,
      pageId,
      pageName: pageName(preset, pageId),
      controlId,
      controlName: got(controls, controlId).name,
      list,
      does,
    };
    if (!deed.ok) leftOut.push({ ...place, sentence: deed.error });
    else {
      const held = list === 'hold' ? `, held ${holdMs(preset, pageId, controlId)} ms` : '';
      steps.push({ ...place, text: deedText(preset, deed.value) + held });
    }
  }
  return { steps, leftOut };
}
/** What was set by hand and ticked off, by its key: what stood there and where. */
export type HandDone = Readonly<Record<string, Pick<HandStep, 'text' | 'pageName' | 'controlName' | 'list'>>>;

/** A step beside what is in the board: still to do, done, or set to something else before. */
export type HandRow = {
  readonly step: HandStep;
  readonly state: 'to-do' | 'done' | 'changed';
  /** What was set there before, for one that has changed. */
  readonly was: string | null;
};

/** Steps beside what was ticked off, and what is in the board and stands nowhere any more. */
export function handRows(
  steps: readonly HandStep[],
  done: HandDone,
): {
  readonly rows: readonly HandRow[];
  readonly toClear: readonly (HandDone[string] & { readonly key: string })[];
} {
  const keys = new Set(steps.map((s) => s.key));
  const rows = steps.map((step): HandRow => {
    const was = done[step.key]?.text ?? null;
    if (was === null) return { step, state: 'to-do', was: null };
    return was === step.text ? { step, state: 'done', was: null } : { step, state: 'changed', was };
  });
  const toClear = Object.entries(done).flatMap(([key, d]) => (keys.has(key) ? [] : { ...d, key }));
  return { rows, toClear };
}

const pageIn = ({ banks, groups }: Preset, pageId: string) =>
  [...banks, ...groups.flatMap((g) => g.pages)].find((p) => p.id === pageId);

const holdMs = (preset: Preset, pageId: string, controlId: string): number | undefined =>
  pageIn(preset, pageId)?.assignments.find((a) => a.controlId === controlId)?.timing.holdMs;

/** What a bank or page of a group is called where it stands alone. Example: `Bank 2, Solo`. */
export function pageName({ banks, groups }: Preset, pageId: string): string {
  const at = banks.findIndex((b) => b.id === pageId);
  if (at >= 0) return `Bank ${at + 1}, ${nth(banks, at).name}`;
  const group = groups.find((g) => g.pages.some((p) => p.id === pageId));
  const page = group?.pages.find((p) => p.id === pageId);
  return `${group?.name ?? ''}, page ${page?.name ?? ''}`;
}

const TURN_WORDS = { odd: ', on the first, third … time', even: ', on the second, fourth … time' } as const;

function deedText(preset: Preset, deed: Deed | SweepDeed): string {
  if (deed.kind === 'sweep') {
    const { heel, toe, curve } = deed;
    const range = valuesText([[heel], [toe]], ([from, to]) => `${from} at the heel to ${to} at the toe`);
    return curve === 'linear' ? range : `${range}; the curve is ${CURVE_WORDS[curve]}`;
  }
  const late = deed.delay ? `, after ${deed.delay.amount} ${deed.delay.unit}` : '';
  return bareText(preset, deed) + late + (deed.every === null ? '' : TURN_WORDS[deed.every]);
}

function bareText({ banks, groups }: Preset, deed: Deed): string {
  switch (deed.kind) {
    case 'send': {
      const { turns, stopsAtEnd } = deed;
      if (turns.length === 1) return nth(turns, 0).map(messageText).join('; ');
      const turn = stopsAtEnd ? ' in turn, up to the last' : ' in turn';
      return valuesText(turns, (values) => values.join(', ') + turn);
    }
    case 'held':
      return isNote(deed)
        ? `${messageText(nth(deed.down, 0))}, off when let go`
        : valuesText([deed.down, deed.up], ([down, up]) => `${down} when pressed and ${up} when let go`);
    case 'turn': {
      const group = groups.find((g) => g.id === deed.groupId);
      const word = group ? `page of ${group.name}` : 'bank';
      if (typeof deed.to === 'string') return `${deed.to} ${word}`;
      return `${word} ${deed.to + 1}, ${nth(group?.pages ?? banks, deed.to).name}`;
    }
    case 'clock':
      return `MIDI clock: ${deed.to}`;
  }
}

/** Whether what is held is a note that ends with its own note-off. */
function isNote({ down, up }: Deed & { kind: 'held' }): boolean {
  const [on, off] = [down[0], up[0]];
  return (
    down.length === 1 &&
    up.length === 1 &&
    on?.kind === 'note-on' &&
    off?.kind === 'note-off' &&
    on.note === off.note &&
    on.channel === off.channel
  );
}

/**
 * Several messages in turn. Of one controller the number and the channel are said once.
 * @param words says its values.
 */
function valuesText(
  sent: readonly (readonly Message[])[],
  words: (values: readonly (number | string)[]) => string,
): string {
  const [first] = sent.flat();
  const values = sent.map((messages) => {
    const [m] = messages;
    const isSame =
      messages.length === 1 &&
      m?.kind === 'controller' &&
      first?.kind === 'controller' &&
      m.controller === first.controller &&
      m.channel === first.channel;
    return isSame ? m.value : null;
  });
  const plain = values.flatMap((v) => v ?? []);
  if (first?.kind === 'controller' && plain.length === sent.length)
    return `controller ${first.controller}, value ${words(plain)}, channel ${first.channel + 1}`;
  return words(sent.map((messages) => `(${messages.map(messageText).join('; ')})`));
}

function messageText(message: Message): string {
  switch (message.kind) {
    case 'controller':
      return `controller ${message.controller}, value ${message.value}, channel ${message.channel + 1}`;
    case 'program':
      return `program ${message.program} counted from 0, channel ${message.channel + 1}`;
    case 'note-on':
      return `note ${message.note}, velocity ${message.velocity}, channel ${message.channel + 1}`;
    case 'note-off':
      return `note ${message.note} off, channel ${message.channel + 1}`;
    case 'pitch-bend':
      return `pitch bend ${message.value}, channel ${message.channel + 1}`;
    case 'channel-pressure':
      return `pressure ${message.pressure}, channel ${message.channel + 1}`;
    default:
      return `bytes ${hex(encode(message))}`;
  }
}
