import { traitsOf, type SentFunction } from '../engine';
import {
  ACTION_LISTS,
  CURVE_WORDS,
  pagesOf,
  plainRow,
  type Action,
  type ActionListName,
  type Assignment,
  type Bank,
  type BankTarget,
  type Board,
  type Preset,
  type RigWithBoards,
  type SentKind,
  type Sweep,
} from '../floor';
import { messagesFor, takesValue, type Device } from '../gear';
import { encode, hex, type Message } from '../midi';
import { fail, ok, type Result } from '../result';
import { nth } from '../sure';
import { LIST_WORDS, SENT_WORDS } from './boardWords';

/** Where something is set on a board by hand. */
type HandPlace = {
  /** The same for as long as it is the same action of the same control in the same bank. */
  readonly key: string;
  readonly pageId: string;
  /** Example: `Bank 2, Solo`. */
  readonly pageName: string;
  readonly controlId: string;
  readonly controlName: string;
  readonly list: ActionListName | 'sweeps';
  /** After how long a hold fires, in ms; `null` for other gestures. */
  readonly holdMs: number | null;
};

/** One thing that hands set on a board that works by itself. */
export type HandStep = HandPlace & {
  /** What is set. Example: `controller 22, value 2, channel 3`. */
  readonly text: string;
  /** What that does. Example: `Kelpline Snapshot: 3`. */
  readonly does: string;
};

/** What such a board cannot do, with why. */
export type HandLeftOut = HandPlace & { readonly does: string; readonly sentence: string };

export type HandProgram = { readonly steps: readonly HandStep[]; readonly leftOut: readonly HandLeftOut[] };

/**
 * A preset as steps for hands, for a board without a wire in: bank by bank, control by control as they stand on the board,
 * gesture by gesture. What is switched off is no step.
 */
export function handSteps(rig: RigWithBoards, board: Board, preset: Preset): HandProgram {
  const steps: HandStep[] = [];
  const leftOut: HandLeftOut[] = [];
  const known: Known = {
    board,
    preset,
    devices: new Map(rig.devices.map((d) => [d.id, d])),
    functions: new Map(rig.devices.flatMap((d) => d.chart.map((fn) => [fn.id, { device: d, fn }] as const))),
  };
  const order = new Map(board.controls.map((c, i) => [c.id, i]));
  for (const page of pagesOf(preset)) {
    const tooMany = beyondBanks(board, preset, page.id);
    const assignments = page.assignments
      .filter((a) => order.has(a.controlId))
      .toSorted((a, b) => (order.get(a.controlId) ?? 0) - (order.get(b.controlId) ?? 0));
    for (const assignment of assignments)
      for (const { list, id, does, said } of thingsOf(known, assignment)) {
        const place: HandPlace = {
          key: `${page.id}/${assignment.controlId}/${list}/${id}`,
          pageId: page.id,
          pageName: pageName(preset, page.id),
          controlId: assignment.controlId,
          controlName: nth(board.controls, order.get(assignment.controlId) ?? 0).name,
          list,
          holdMs: list === 'hold' ? assignment.timing.holdMs : null,
        };
        if (tooMany !== null) leftOut.push({ ...place, does, sentence: tooMany });
        else if (said.ok) steps.push({ ...place, does, text: said.value });
        else leftOut.push({ ...place, does, sentence: said.error });
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

type Known = {
  readonly board: Board;
  readonly preset: Preset;
  readonly devices: ReadonlyMap<string, Device>;
  readonly functions: ReadonlyMap<string, SentFunction>;
};

type Said = Result<string, string>;
type Thing = {
  readonly list: ActionListName | 'sweeps';
  readonly id: string;
  readonly does: string;
  readonly said: Said;
};

function pageName({ banks, groups }: Preset, pageId: string): string {
  const at = banks.findIndex((b) => b.id === pageId);
  if (at >= 0) return `Bank ${at + 1}, ${nth(banks, at).name}`;
  const group = groups.find((g) => g.pages.some((p) => p.id === pageId));
  const page = group?.pages.find((p) => p.id === pageId);
  return `${group?.name ?? ''}, page ${page?.name ?? ''}`;
}

const counted = (count: number, word: string): string => `${count} ${count === 1 ? word : `${word}s`}`;

function beyondBanks({ can }: Board, { banks }: Preset, pageId: string): string | null {
  const at = banks.findIndex((b) => b.id === pageId);
  return can.banks !== null && at >= can.banks
    ? `This board keeps ${counted(can.banks, 'bank')}; this one is number ${at + 1}.`
    : null;
}

function thingsOf(known: Known, assignment: Assignment): Thing[] {
  const things: Thing[] = [];
  for (const list of ACTION_LISTS) {
    const actions = assignment[list].filter((a) => !a.isOff);
    for (const [i, action] of actions.entries()) {
      const { does, gone } = rowOf(known, action);
      const said = gone === null ? (refused(known.board, list, i) ?? actionSaid(known, action)) : fail(gone);
      things.push({ list, id: action.id, does, said });
    }
  }
  for (const sweep of assignment.sweeps)
    things.push({ list: 'sweeps', id: sweep.id, ...sweepSaid(known, sweep) });
  return things;
}

function refused({ can }: Board, list: ActionListName, index: number): Said | null {
  if (!can.gestures.includes(list)) return fail(`This board cannot tell ${LIST_WORDS[list]} by itself.`);
  if (can.actions !== null && index >= can.actions)
    return fail(
      `This board keeps ${counted(can.actions, 'action')} for a gesture; this is number ${index + 1}.`,
    );
  return null;
}

/** What an action does, in words, and why it cannot: what it points at is gone. */
function rowOf({ functions, devices, preset }: Known, action: Action): { does: string; gone: string | null } {
  const row = traitsOf(action).row(action, {
    functions,
    devices,
    pages: new Set(pagesOf(preset).map((p) => p.id)),
    groups: new Set(preset.groups.map((g) => g.id)),
    scenesAtMost: null,
  });
  const gone = row.marks.find((m) => m.code === 'gone' || m.code === 'off-by-one');
  return { does: row.deviceName ? `${row.deviceName}: ${row.does}` : row.does, gone: gone?.sentence ?? null };
}

const OTHERS = 'Only this application can do that; a board by itself cannot.';

function actionSaid(known: Known, action: Action): Said {
  const said = plainSaid(known, action);
  if (!said.ok) return said;
  const late = action.delay ? `, after ${action.delay.amount} ${action.delay.unit}` : '';
  const times = action.every === undefined ? '' : TURN_WORDS[action.every];
  return ok(`${said.value}${late}${times}`);
}

const TURN_WORDS = { odd: ', on the first, third … time', even: ', on the second, fourth … time' } as const;

function plainSaid(known: Known, action: Action): Said {
  const { board, preset, devices, functions } = known;
  switch (action.kind) {
    case 'message': {
      const device = devices.get(action.deviceId);
      if (!device) return fail('The device that this goes to is gone from the rig.');
      const channel = (action.channel ?? device.channel) + 1;
      if (!board.can.messages.includes(action.send)) return cannotSend(action.send);
      if (action.send === 'controller')
        return ok(`controller ${action.number}, value ${action.value}, channel ${channel}`);
      return ok(
        action.send === 'note'
          ? `note ${action.number}, velocity ${action.value}, channel ${channel}, off when let go`
          : `program ${action.number} counted from 0, channel ${channel}`,
      );
    }
    case 'raw':
      if (action.bytes[0] === 0xf0 && !board.can.messages.includes('sysex')) return cannotSend('sysex');
      return ok(`bytes ${hex(action.bytes)}`);
    case 'clock':
      return board.can.messages.includes('clock') ? ok(`MIDI clock: ${action.to}`) : cannotSend('clock');
    case 'bank':
      return turned(action.to, 'bank', preset.banks, board.can.banks);
    case 'page': {
      const group = preset.groups.find((g) => g.id === action.groupId);
      return group
        ? turned(action.to, `page of ${group.name}`, group.pages, null)
        : fail('The group that this turns is gone.');
    }
    case 'set':
    case 'toggle':
    case 'momentary':
    case 'step': {
      const found = functions.get(action.functionId);
      return found ? functionSaid(board, found, action) : fail('The function that this moves is gone.');
    }
    case 'one-of':
      return fail(
        'A board by itself does not know what else is on: set this one on, and each other one off by an action.',
      );
    default:
      return fail(OTHERS);
  }
}

function turned(to: BankTarget, word: string, pages: readonly Bank[], most: number | null): Said {
  if (to.kind !== 'bank') return ok(`${to.kind === 'up' ? 'next' : 'previous'} ${word}`);
  const at = pages.findIndex((p) => p.id === to.bankId);
  if (at < 0) return fail('The bank or page that this turns to is gone.');
  if (most !== null && at >= most)
    return fail(`This board keeps ${counted(most, 'bank')}; this turns to number ${at + 1}.`);
  return ok(`${word} ${at + 1}, ${nth(pages, at).name}`);
}

type OfFunction = Action & { readonly kind: 'set' | 'toggle' | 'momentary' | 'step' };

function functionSaid(board: Board, found: SentFunction, action: OfFunction): Said {
  const values = valuesOf(action);
  const odd = values.find((v) => !takesValue(found.fn.shape, v));
  if (odd !== undefined) return fail(`${found.device.name} ${found.fn.name} does not take ${odd}.`);
  const sent = values.map((v) => messagesFor(found.device, found.fn, v));
  const refused = sent.flat().flatMap((m) => cannotSendMessage(board, m) ?? []);
  if (refused[0]) return refused[0];
  const texts = valuesText(sent);
  switch (action.kind) {
    case 'set':
      return ok(texts.join(''));
    case 'momentary':
      return ok(
        isOneController(sent)
          ? joined(sent, ([down, up]) => `${down} when pressed and ${up} when let go`)
          : `${nth(texts, 0)} when pressed; ${nth(texts, 1)} when let go`,
      );
    case 'toggle':
    case 'step': {
      if (texts.length === 1) return ok(nth(texts, 0));
      const turn =
        action.kind === 'step' && action.atEnd === 'stop' ? ' in turn, up to the last' : ' in turn';
      return ok(
        isOneController(sent) ? joined(sent, (values) => values.join(', ') + turn) : texts.join(' / ') + turn,
      );
    }
  }
}

/** The values that it sends, each after the other. */
function valuesOf(action: OfFunction): readonly number[] {
  switch (action.kind) {
    case 'set':
      return [action.value];
    case 'toggle':
      return [1, 0];
    case 'momentary':
      return [action.down, action.up];
    case 'step':
      if (action.direction === 'reset') return action.values.slice(0, 1);
      return action.direction === 'forward' ? action.values : action.values.toReversed();
  }
}

const valuesText = (sent: readonly (readonly Message[])[]): string[] =>
  sent.map((messages) => messages.map(messageText).join('; '));

/** Whether all are one message of one controller, so that its number and channel are said once. */
function isOneController(sent: readonly (readonly Message[])[]): boolean {
  const first = sent[0]?.[0];
  return sent.every(
    ([m, ...more]) =>
      more.length === 0 &&
      m?.kind === 'controller' &&
      first?.kind === 'controller' &&
      m.controller === first.controller &&
      m.channel === first.channel,
  );
}

/** Several values of one controller. @param sent as `isOneController` has it. @param words says the values. */
function joined(sent: readonly (readonly Message[])[], words: (values: readonly number[]) => string): string {
  const messages = sent.flat().flatMap((m) => (m.kind === 'controller' ? m : []));
  const { controller, channel } = nth(messages, 0);
  return `controller ${controller}, value ${words(messages.map((m) => m.value))}, channel ${channel + 1}`;
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

const SENT_KIND_OF: Partial<Record<Message['kind'], SentKind>> = {
  'note-on': 'note',
  'note-off': 'note',
  controller: 'controller',
  program: 'program',
  sysex: 'sysex',
};

const cannotSend = (kind: SentKind): Said => fail(`This board cannot send ${SENT_WORDS[kind]} by itself.`);

function cannotSendMessage({ can }: Board, message: Message): Said | null {
  const kind = SENT_KIND_OF[message.kind];
  return kind !== undefined && !can.messages.includes(kind) ? cannotSend(kind) : null;
}

function sweepSaid({ board, functions, devices }: Known, sweep: Sweep): Pick<Thing, 'does' | 'said'> {
  const device = sweep.functionId === null ? devices.get(sweep.deviceId) : undefined;
  const row = plainRow(sweep);
  const found =
    sweep.functionId !== null
      ? functions.get(sweep.functionId)
      : device && row
        ? { device, fn: row }
        : undefined;
  if (!found)
    return { does: 'moves a function that is gone', said: fail('The function that this moves is gone.') };
  const does = `${found.device.name}: moves ${found.fn.name}`;
  const ends = sweep.invert ? [sweep.to, sweep.from] : [sweep.from, sweep.to];
  if (ends.some((v) => !takesValue(found.fn.shape, v)))
    return {
      does,
      said: fail(`${found.device.name} ${found.fn.name} does not take the ends that it is given.`),
    };
  const sent = ends.map((v) => messagesFor(found.device, found.fn, v));
  const refused = sent.flat().flatMap((m) => cannotSendMessage(board, m) ?? [])[0];
  if (refused) return { does, said: refused };
  if (sent.some((messages) => messages.length > 1))
    return {
      does,
      said: fail('Each place of the pedal takes several messages; a board by itself sends one.'),
    };
  const texts = valuesText(sent);
  const range = isOneController(sent)
    ? joined(sent, ([heel, toe]) => `${heel} at the heel to ${toe} at the toe`)
    : `${texts.join(' at the heel to ')} at the toe`;
  const curve = sweep.curve === 'linear' ? '' : `; the curve is ${CURVE_WORDS[sweep.curve]}`;
  return { does, said: ok(range + curve) };
}
