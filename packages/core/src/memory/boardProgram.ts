import { traitsOf, type SentFunction } from '../engine';
import {
  ACTION_LISTS,
  pagesOf,
  plainRow,
  type Action,
  type ActionDelay,
  type ActionListName,
  type Assignment,
  type Bank,
  type BankTarget,
  type Board,
  type Curve,
  type CurvePoint,
  type EveryOther,
  type Preset,
  type RigWithBoards,
  type SentKind,
  type Sweep,
} from '../floor';
import { isInForce, keepsNumber, messagesFor, takesValue, type Device } from '../gear';
import { controller, noteOff, noteOn, parseBytes, program, type Message } from '../midi';
import { fail, ok, type Result } from '../result';
import { nth } from '../sure';
import { LIST_WORDS, SENT_WORDS } from './boardWords';

/** What one gesture has a board do that works by itself, in messages. */
export type Deed = (
  | {
      /** One after the other of some messages, a gesture at a time; after the last the first, or none. */
      readonly kind: 'send';
      readonly turns: readonly (readonly Message[])[];
      readonly stopsAtEnd: boolean;
    }
  /** Messages when the control goes down, and others when it goes up. */
  | { readonly kind: 'held'; readonly down: readonly Message[]; readonly up: readonly Message[] }
  /** Turns to a bank, or to a page of a group: the next, the one before, or one by its place from 0. */
  | { readonly kind: 'turn'; readonly groupId: string | null; readonly to: 'next' | 'previous' | number }
  | { readonly kind: 'clock'; readonly to: 'start' | 'continue' | 'stop' }
) & { readonly delay: ActionDelay | null; readonly every: EveryOther | null };

/** What a pedal or knob has such a board send: a message at each end, and what lies between. */
export type SweepDeed = {
  readonly kind: 'sweep';
  readonly heel: Message;
  readonly toe: Message;
  readonly curve: Curve;
  readonly points: readonly CurvePoint[];
};

/** One thing of a preset, as a board that works by itself would do it; an error says why it cannot. */
export type ProgramItem = {
  readonly pageId: string;
  readonly controlId: string;
  readonly list: ActionListName | 'sweeps';
  /** That of its action or sweep. */
  readonly id: string;
  /** In words, with its device. Example: `Kelpline: toggles Drive`. */
  readonly does: string;
  readonly deed: Result<Deed | SweepDeed, string>;
};

/**
 * What a board that works by itself does of a preset: bank by bank, in each along the board, gesture by gesture. What is
 * switched off, and what stands at a control that is gone, is left out.
 */
export function boardProgram(rig: RigWithBoards, board: Board, preset: Preset): ProgramItem[] {
  const known: Known = {
    board,
    preset,
    devices: new Map(rig.devices.map((d) => [d.id, d])),
    functions: new Map(rig.devices.flatMap((d) => d.chart.map((fn) => [fn.id, { device: d, fn }] as const))),
  };
  const order = new Map(board.controls.map((c, i) => [c.id, i]));
  return pagesOf(preset).flatMap((page) => {
    const tooMany = beyondBanks(board, preset, page.id);
    return page.assignments
      .filter((a) => order.has(a.controlId))
      .toSorted((a, b) => (order.get(a.controlId) ?? 0) - (order.get(b.controlId) ?? 0))
      .flatMap((assignment) =>
        thingsOf(known, assignment).map((thing) => ({
          pageId: page.id,
          controlId: assignment.controlId,
          ...thing,
          ...(tooMany === null ? {} : { deed: fail(tooMany) }),
        })),
      );
  });
}

type Known = {
  readonly board: Board;
  readonly preset: Preset;
  readonly devices: ReadonlyMap<string, Device>;
  readonly functions: ReadonlyMap<string, SentFunction>;
};

type Thing = Pick<ProgramItem, 'list' | 'id' | 'does' | 'deed'>;
/** What an action does, before its delay and its turn. */
type Bare = Deed extends infer D ? (D extends Deed ? Omit<D, 'delay' | 'every'> : never) : never;
type Done = Result<Bare, string>;

const counted = (count: number, word: string): string => `${count} ${count === 1 ? word : `${word}s`}`;

function beyondBanks({ can }: Board, { banks }: Preset, pageId: string): string | null {
  const at = banks.findIndex((b) => b.id === pageId);
  return can.banks !== null && at >= can.banks
    ? `This board keeps ${counted(can.banks, 'bank')}; this one is number ${at + 1}.`
    : null;
}

function thingsOf(known: Known, assignment: Assignment): Thing[] {
  const ofLists = ACTION_LISTS.flatMap((list) =>
    assignment[list]
      .filter((a) => !a.isOff)
      .map((action, i): Thing => {
        const { does, gone } = rowOf(known, action);
        const why = gone ?? refused(known.board, list, i);
        return { list, id: action.id, does, deed: why === null ? deedOf(known, action) : fail(why) };
      }),
  );
  const sweeps = assignment.sweeps.map((sweep): Thing => ({
    list: 'sweeps',
    id: sweep.id,
    ...sweepDeed(known, sweep),
  }));
  return [...ofLists, ...sweeps];
}

function refused({ can }: Board, list: ActionListName, index: number): string | null {
  if (!can.gestures.includes(list)) return `This board cannot tell ${LIST_WORDS[list]} by itself.`;
  return can.actions !== null && index >= can.actions
    ? `This board keeps ${counted(can.actions, 'action')} for a gesture; this is number ${index + 1}.`
    : null;
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
  return {
    does: row.deviceName ? `${row.deviceName}: ${row.does}` : row.does,
    gone: gone?.sentence ?? null,
  };
}

function deedOf(known: Known, action: Action): ProgramItem['deed'] {
  const done = bareDeed(known, action);
  if (!done.ok) return done;
  const why = messagesOf(done.value).flatMap((m) => cannotSend(known.board, m) ?? [])[0];
  if (why !== undefined) return fail(why);
  return ok({ ...done.value, delay: action.delay ?? null, every: action.every ?? null });
}

function messagesOf(deed: Bare): readonly Message[] {
  switch (deed.kind) {
    case 'send':
      return deed.turns.flat();
    case 'held':
      return [...deed.down, ...deed.up];
    case 'turn':
    case 'clock':
      return [];
  }
}

const once = (messages: readonly Message[]): Done =>
  ok({ kind: 'send', turns: [messages], stopsAtEnd: false });

function bareDeed({ board, preset, devices, functions }: Known, action: Action): Done {
  switch (action.kind) {
    case 'message': {
      const device = devices.get(action.deviceId);
      if (!device) return fail('The device that this goes to is gone from the rig.');
      const { send, number, value } = action;
      const why = send === 'controller' ? keptBy(device, number) : null;
      if (why !== null) return fail(why);
      const channel = action.channel ?? device.channel;
      if (send === 'controller') return once([controller(channel, number, value)]);
      return send === 'program'
        ? once([program(channel, number)])
        : ok({ kind: 'held', down: [noteOn(channel, number, value)], up: [noteOff(channel, number)] });
    }
    case 'raw':
      return once(parseBytes(action.bytes).messages);
    case 'clock':
      return board.can.messages.includes('clock')
        ? ok({ kind: 'clock', to: action.to })
        : fail(cannot('clock'));
    case 'bank':
      return turned(action.to, null, preset.banks, board.can.banks);
    case 'page': {
      const group = preset.groups.find((g) => g.id === action.groupId);
      return group
        ? turned(action.to, group.id, group.pages, null)
        : fail('The group that this turns is gone.');
    }
    case 'set':
    case 'toggle':
    case 'momentary':
    case 'step': {
      const found = functions.get(action.functionId);
      return found ? functionDeed(found, action) : fail('The function that this moves is gone.');
    }
    case 'one-of':
      return fail(
        'A board by itself does not know what else is on: set this one on, and each other one off by an action.',
      );
    default:
      return fail('Only this application can do that; a board by itself cannot.');
  }
}

function turned(to: BankTarget, groupId: string | null, pages: readonly Bank[], most: number | null): Done {
  if (to.kind !== 'bank') return ok({ kind: 'turn', groupId, to: to.kind === 'up' ? 'next' : 'previous' });
  const at = pages.findIndex((p) => p.id === to.bankId);
  if (at < 0) return fail('The bank or page that this turns to is gone.');
  if (most !== null && at >= most)
    return fail(`This board keeps ${counted(most, 'bank')}; this turns to number ${at + 1}.`);
  return ok({ kind: 'turn', groupId, to: at });
}

type OfFunction = Action & { readonly kind: 'set' | 'toggle' | 'momentary' | 'step' };

/** Why a device does not answer to a row of its chart now, or `null`. */
function deafTo({ device, fn }: SentFunction): string | null {
  if (fn.reserved) return `${device.name} keeps ${fn.name} for its own hardware.`;
  if (!isInForce(device, fn))
    return `${device.name} has ${fn.name} only with ${device.setting?.name ?? 'another setting'} at ${fn.under ?? ''}.`;
  return fn.drive.kind === 'controller' ? keptBy(device, fn.drive.controller) : null;
}

/** Why a device does not take a controller, 0–127, or `null`. */
const keptBy = (device: Device, number: number): string | null =>
  keepsNumber(device, number) ||
  device.chart.some((fn) => fn.reserved && fn.drive.kind === 'controller' && fn.drive.controller === number)
    ? `${device.name} keeps controller ${number} for its own hardware.`
    : null;

function functionDeed({ device, fn }: SentFunction, action: OfFunction): Done {
  const deaf = deafTo({ device, fn });
  if (deaf !== null) return fail(deaf);
  const values = valuesOf(action);
  const odd = values.find((v) => !takesValue(fn.shape, v));
  if (odd !== undefined) return fail(`${device.name} ${fn.name} does not take ${odd}.`);
  const turns = values.map((v) => messagesFor(device, fn, v));
  if (action.kind === 'momentary') return ok({ kind: 'held', down: nth(turns, 0), up: nth(turns, 1) });
  return ok({ kind: 'send', turns, stopsAtEnd: action.kind === 'step' && action.atEnd === 'stop' });
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

const SENT_KIND_OF: Partial<Record<Message['kind'], SentKind>> = {
  'note-on': 'note',
  'note-off': 'note',
  controller: 'controller',
  program: 'program',
  sysex: 'sysex',
};

const cannot = (kind: SentKind): string => `This board cannot send ${SENT_WORDS[kind]} by itself.`;

function cannotSend({ can }: Board, message: Message): string | null {
  const kind = SENT_KIND_OF[message.kind];
  return kind !== undefined && !can.messages.includes(kind) ? cannot(kind) : null;
}

function sweepDeed({ board, functions, devices }: Known, sweep: Sweep): Pick<Thing, 'does' | 'deed'> {
  const device = sweep.functionId === null ? devices.get(sweep.deviceId) : undefined;
  const row = plainRow(sweep);
  const found =
    sweep.functionId !== null
      ? functions.get(sweep.functionId)
      : device && row
        ? { device, fn: row }
        : undefined;
  if (!found)
    return { does: 'moves a function that is gone', deed: fail('The function that this moves is gone.') };
  const does = `${found.device.name}: moves ${found.fn.name}`;
  const deaf = deafTo(found);
  if (deaf !== null) return { does, deed: fail(deaf) };
  const ends = sweep.invert ? [sweep.to, sweep.from] : [sweep.from, sweep.to];
  if (ends.some((v) => !takesValue(found.fn.shape, v)))
    return {
      does,
      deed: fail(`${found.device.name} ${found.fn.name} does not take the ends that it is given.`),
    };
  const [heel = [], toe = []] = ends.map((v) => messagesFor(found.device, found.fn, v));
  const why = [...heel, ...toe].flatMap((m) => cannotSend(board, m) ?? [])[0];
  if (why !== undefined) return { does, deed: fail(why) };
  if (heel.length > 1 || toe.length > 1)
    return {
      does,
      deed: fail('Each place of the pedal takes several messages; a board by itself sends one.'),
    };
  return {
    does,
    deed: ok({
      kind: 'sweep',
      heel: nth(heel, 0),
      toe: nth(toe, 0),
      curve: sweep.curve,
      points: sweep.points,
    }),
  };
}
