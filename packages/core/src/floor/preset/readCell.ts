import { isUsable, parseShown, shownValue, type ChartFunction, type Device } from '../../gear';
import type { MiddleC } from '../../midi';
import { fail, ok, type Result } from '../../result';
import { findName } from '../../typed';
import { HERE_THINGS, type Action, type BankTarget, type HereThing, type LooseAction } from './action';
import { messageText, parseCellText, type CellMessage, type CellTextError } from './cellText';
import { movedBy, type Sweep } from './preset';
import { nth, there } from '../../sure';

/** What cells of a preset's table are read with. */
export type CellContext = {
  readonly devices: readonly Device[];
  readonly middleC: MiddleC;
  /** Where a plain message goes that says nothing of it, and what it is where it says less. */
  readonly fallback: CellMessage & { readonly deviceId: string | null };
  readonly banks: readonly { readonly id: string; readonly name: string }[];
};

const EXPECTED = 'CC 7, ch 3 CC 11, note 40, program 5, scene 2, bank + or a function like Reverb on';
const NO_WAY = 'a cable to a device that could answer, laid in Rig,';

type Read<T> = Result<T | null, CellTextError>;

/**
 * Reads what a cell of a switch says: a message (`CC 7 value 100 channel 3`, `ch 3 CC 11`, `36`), a function with its value
 * (`Snapshot 3`, `Kelpline Reverb on`; a switch without one is toggled), or where to go (`scene 2`, `next song`, `bank +`,
 * `cue 3`), `tap`, `panic`. `null` for an empty cell.
 */
export function readActionCell(text: string, context: CellContext): Read<LooseAction> {
  const typed = text.trim().replace(/\s+/g, ' ');
  if (typed === '') return ok(null);
  const going = readGoing(typed.toLowerCase(), context);
  if (going) return ok(going);
  const message = parseCellText(channelLast(typed), context.middleC, context.fallback);
  if (message.ok && message.value) {
    const { deviceId } = context.fallback;
    if (deviceId === null) return fail({ received: typed, expected: NO_WAY });
    return ok({ kind: 'message', deviceId, ...message.value });
  }
  const found = functionIn(typed, context);
  if (!found) return fail({ received: typed, expected: EXPECTED });
  const { device, fn, rest } = found;
  if (rest === '' && fn.shape.kind === 'switch') return ok({ kind: 'toggle', functionId: fn.id });
  const value = parseShown(device, fn, rest);
  return value.ok
    ? ok({ kind: 'set', functionId: fn.id, value: value.value })
    : fail({ received: typed, expected: `${fn.name} with ${value.error.expected}` });
}

/** What a pedal or knob is told in a cell. */
export type CellSweep =
  | { readonly functionId: string; readonly from: number; readonly to: number }
  | {
      readonly functionId: null;
      readonly deviceId: string;
      readonly channel: number | null;
      readonly controller: number;
    };

/** Reads what a cell of a pedal or knob says: `Volume`, `Volume 20-110`, `CC 11`, `ch 3 CC 11`. `null` for an empty cell. */
export function readSweepCell(text: string, context: CellContext): Read<CellSweep> {
  const typed = text.trim().replace(/\s+/g, ' ');
  if (typed === '') return ok(null);
  const refuse = (expected: string) => fail({ received: typed, expected });
  const plain = parseCellText(channelLast(typed), context.middleC, {
    ...context.fallback,
    send: 'controller',
  });
  if (plain.ok && plain.value?.send === 'controller') {
    const { deviceId } = context.fallback;
    if (deviceId === null) return refuse(NO_WAY);
    return ok({ functionId: null, deviceId, channel: plain.value.channel, controller: plain.value.number });
  }
  const found = functionIn(typed, context, (fn) => fn.shape.kind === 'range');
  if (!found) return refuse('a function that moves like Volume, Volume 20-110, or CC 11');
  const { device, fn, rest } = found;
  if (fn.shape.kind !== 'range') return refuse(`a function that moves; ${fn.name} has single values,`);
  if (rest === '') return ok({ functionId: fn.id, from: fn.shape.min, to: fn.shape.max });
  const ends = rangeTyped(rest);
  const [from, to] = ends.map((end) => parseShown(device, fn, end));
  if (ends.length !== 2 || !from?.ok || !to?.ok) return refuse(`${fn.name} with two ends like 20-110`);
  return ok({ functionId: fn.id, from: from.value, to: to.value });
}

/** Two ends as they are typed. Example: `20-110`, `-60 dB to 12 dB`. */
export const rangeTyped = (text: string): readonly string[] =>
  /\sto\s/i.test(text) ? text.split(/\s+to\s+/i) : text.split(/\s*(?:-|–|to)\s*(?=\S)/);

/** The same as they are shown: a stroke would be taken for a sign where there is one, and a unit stands behind each. */
export const rangeShown = (from: string, to: string): string =>
  /^\d+$/.test(from) && /^\d+$/.test(to) ? `${from}-${to}` : `${from} to ${to}`;

/** A channel that stands in front stands behind: `ch 3 CC 11` is `CC 11 channel 3`. */
const channelLast = (text: string): string =>
  text.replace(/^ch(?:annel)?\.? ?(\d{1,2})[ ,]+(.+)$/i, '$2 channel $1');

const SIGNS: Readonly<Record<string, 'next' | 'previous'>> = {
  '+': 'next',
  next: 'next',
  up: 'next',
  '-': 'previous',
  '−': 'previous',
  previous: 'previous',
  back: 'previous',
  down: 'previous',
};

/** Words for what is done without a value. */
const PLAIN: Readonly<Record<string, LooseAction>> = {
  tap: { kind: 'tap' },
  'song tempo': { kind: 'song-tempo' },
  panic: { kind: 'panic' },
  capture: { kind: 'capture' },
  'scene again': { kind: 'scene', to: { kind: 'again' } },
  'song again': { kind: 'song', to: 'again' },
  on: { kind: 'show', to: 'next' },
  encore: { kind: 'show', to: 'encore' },
  ...hereWords(),
};

/** Example: `click`, `hands off on`. */
function hereText(thing: HereThing, to: 'on' | 'off' | 'toggle'): string {
  return `${thing.replace('-', ' ')}${to === 'toggle' ? '' : ` ${to}`}`;
}

function hereWords(): Record<string, LooseAction> {
  const ways = ['toggle', 'on', 'off'] as const;
  return Object.fromEntries(
    HERE_THINGS.flatMap((thing) => ways.map((to) => [hereText(thing, to), { kind: 'here', thing, to }])),
  );
}

function readGoing(words: string, { banks }: CellContext): LooseAction | null {
  const plain = PLAIN[words];
  if (plain) return plain;
  const match =
    /^(scene|song|bank|cue) ?(.+)$/.exec(words) ?? /^(next|previous) (scene|song|bank|cue)$/.exec(words);
  if (!match) return null;
  const [what, where] =
    nth(match, 1) in SIGNS ? [nth(match, 2), nth(match, 1)] : [nth(match, 1), nth(match, 2)];
  const step = SIGNS[where];
  const number = /^\d{1,3}$/.test(where) ? Number(where) : null;
  if (step === undefined && number === null && what !== 'bank') return null;
  if (number !== null && (number < 1 || number > (what === 'cue' ? 500 : 200))) return null;
  if (what === 'bank') return readBank(where, step, number, banks);
  // A number that is none was refused above.
  const index = (number ?? 1) - 1;
  const to = step ? ({ kind: step } as const) : ({ kind: 'at', index } as const);
  switch (what) {
    case 'scene':
      return { kind: 'scene', to };
    case 'cue':
      return { kind: 'cue', to };
    case 'song':
      return { kind: 'song', to: step ?? { index } };
    default:
      return null;
  }
}

function readBank(
  where: string,
  step: 'next' | 'previous' | undefined,
  number: number | null,
  banks: CellContext['banks'],
): LooseAction | null {
  if (step) return { kind: 'bank', to: { kind: step === 'next' ? 'up' : 'down' } };
  const found = findName(
    banks.map((b) => b.name),
    where,
  );
  const bank = number !== null ? banks[number - 1] : typeof found === 'number' ? banks[found] : undefined;
  return bank ? { kind: 'bank', to: { kind: 'bank', bankId: bank.id } } : null;
}

type Found = { readonly device: Device; readonly fn: ChartFunction; readonly rest: string };

/** The function that a text begins with, by its name alone or behind that of its device, and what stands behind it. */
function functionIn(
  typed: string,
  { devices }: Pick<CellContext, 'devices'>,
  accepts: (fn: ChartFunction) => boolean = () => true,
): Found | null {
  const rows = devices.flatMap((device) =>
    device.chart.filter((fn) => isUsable(device, fn) && accepts(fn)).map((fn) => ({ device, fn })),
  );
  const texts = [rows.map(({ fn }) => fn.name), rows.map(({ device, fn }) => `${device.name} ${fn.name}`)];
  const words = typed.replace(/^([^:]+): /, '$1 ').split(' ');
  // The longest name counts: “Delay mix 3” is no Delay.
  for (let count = words.length; count > 0; count--) {
    const name = words.slice(0, count).join(' ').toLowerCase();
    const rest = words.slice(count).join(' ');
    for (const list of texts) {
      const places = list.flatMap((text, i) => (text.toLowerCase() === name ? i : []));
      if (places.length === 1) return { ...nth(rows, nth(places, 0)), rest };
    }
  }
  for (let count = words.length; count > 0; count--) {
    const place = findName(nth(texts, 1), words.slice(0, count).join(' '));
    if (typeof place === 'number') return { ...nth(rows, place), rest: words.slice(count).join(' ') };
  }
  return null;
}

/** What a list of actions is in a cell, as `readActionCell` reads it: its first; empty where that cannot be typed. */
export function actionCell(actions: readonly Action[], context: CellContext): string {
  const [first] = actions;
  return first ? actionText(first, context) : '';
}

function actionText(action: Action, context: CellContext): string {
  switch (action.kind) {
    case 'message':
      return messageText(action, context.middleC);
    case 'set':
    case 'toggle':
      return functionText(action, context);
    case 'scene':
      if (action.to.kind === 'again') return 'scene again';
      return action.to.kind === 'is' ? '' : `scene ${stepText(action.to)}`;
    case 'cue':
      return `cue ${stepText(action.to)}`;
    case 'song':
      if (typeof action.to !== 'string') return `song ${action.to.index + 1}`;
      return action.to === 'again' ? 'song again' : `song ${action.to === 'next' ? '+' : '-'}`;
    case 'bank':
      return bankText(action.to, context.banks);
    case 'show':
      return { next: 'on', encore: 'encore', begin: '', end: '', previous: '' }[action.to];
    case 'here':
      return hereText(action.thing, action.to);
    case 'tap':
    case 'panic':
    case 'capture':
      return action.kind;
    case 'song-tempo':
      return 'song tempo';
    default:
      return '';
  }
}

const stepText = (to: { kind: 'next' } | { kind: 'previous' } | { kind: 'at'; index: number }): string =>
  to.kind === 'at' ? String(to.index + 1) : to.kind === 'next' ? '+' : '-';

function bankText(to: BankTarget, banks: CellContext['banks']): string {
  if (to.kind !== 'bank') return `bank ${to.kind === 'up' ? '+' : '-'}`;
  const place = banks.findIndex((b) => b.id === to.bankId);
  return place < 0 ? '' : `bank ${place + 1}`;
}

function functionText(action: Action & { kind: 'set' | 'toggle' }, context: CellContext): string {
  const found = foundById(context.devices, action.functionId);
  if (!found) return '';
  const { device, fn } = found;
  const name = shortestName(device, fn, context);
  if (action.kind === 'toggle') return name;
  const { number, label } = shownValue(device, fn, action.value);
  return `${name} ${number || label}`;
}

/** What sweeps are in a cell, as `readSweepCell` reads it: the first; empty where that cannot be typed. */
export function sweepCell(sweeps: readonly Sweep[], context: CellContext): string {
  const [first] = sweeps;
  if (!first) return '';
  if (first.functionId === null)
    return `CC ${first.controller}${first.channel === null ? '' : ` channel ${first.channel + 1}`}`;
  const found = foundById(context.devices, movedBy(first));
  if (found?.fn.shape.kind !== 'range') return '';
  const { device, fn } = found;
  const name = shortestName(device, fn, context);
  if (first.from === found.fn.shape.min && first.to === found.fn.shape.max) return name;
  const [from, to] = [first.from, first.to].map((v) => shownValue(device, fn, v).number);
  return `${name} ${rangeShown(there(from), there(to))}`;
}

const foundById = (devices: readonly Device[], id: string) =>
  devices.flatMap((device) => device.chart.filter((fn) => fn.id === id).map((fn) => ({ device, fn })))[0];

/** The shortest name by which a function is found: its own where no other device has one like it. */
export function shortestName(
  device: Device,
  fn: ChartFunction,
  context: Pick<CellContext, 'devices'>,
): string {
  const found = functionIn(fn.name, context);
  return found?.fn.id === fn.id && found.rest === '' ? fn.name : `${device.name} ${fn.name}`;
}
