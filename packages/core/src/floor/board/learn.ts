import {
  NO_SEQUENCES,
  parameterNow,
  readSequence,
  type ChannelMessage,
  type Message,
  type Sequence,
  type SequenceMemory,
} from '../../midi';
import {
  isPressed,
  PLAIN_HARDWARE,
  type Control,
  type ControlKind,
  type ControlMessage,
  type Hardware,
} from './board';
import type { RelativeEncoding } from '../travel/encoder';
import { calibrate } from '../travel/travel';
import { lastOf, nth } from '../../sure';

/** A message as it arrived while learning. */
type HeardMessage = { readonly atMs: number; readonly portId: string; readonly message: Message };

/** What was heard while learning: a message, or a key of the computer by its usage number. */
export type Heard = HeardMessage | { readonly atMs: number; readonly key: number; readonly isDown: boolean };

/** Something that was touched, and what it seems to be. */
export type Candidate = {
  /** Empty for a key of the computer. */
  readonly portId: string;
  /** 0–15. */
  readonly channel: number;
  readonly sends: ControlMessage;
  readonly hardware: Hardware;
  /** What was seen, in words: `momentary switch`, `encoder, offset 64`. */
  readonly looksLike: string;
  /** What has to be done to be sure, or `null` when it is. */
  readonly wants: 'press-again' | 'turn-back' | 'full-travel' | null;
  readonly count: number;
  /** How well it fits the control that is learned; candidates come best first. */
  readonly score: number;
  /** When it was heard first and last, on the clock of `heard`. */
  readonly firstMs: number;
  readonly lastMs: number;
  /** How long it has to rest before it can be told what it is, in ms; 0 where that does not matter. */
  readonly restMs: number;
};

/** Messages that come by themselves and are never what was touched. */
const UNTOUCHED: ReadonlySet<Message['kind']> = new Set([
  'clock',
  'start',
  'continue',
  'stop',
  'active-sensing',
  'quarter-frame',
  'song-position',
  'reset',
  'sysex',
]);

/** Contacts that change sooner than this are bouncing, in ms. Common practice, no source. */
const BOUNCE_MS = 10;
/** A fine half follows its coarse half within this time, in ms. */
const PAIR_MS = 20;

type Point = { readonly atMs: number; readonly value: number };
type Group = {
  readonly portId: string;
  readonly channel: number;
  readonly sends: ControlMessage;
  readonly points: readonly Point[];
};

/**
 * What was touched, best first, from all that was heard since learning began. Clock, active sensing and a trembling
 * pedal do not count as touched.
 * @param wanted what kind of control is learned.
 * @param nowMs on the clock of `heard`: how long it has rested tells switches apart.
 * Positions of 14-bit controls are given as 0–127 with fractions.
 */
export function learn(
  heard: readonly Heard[],
  wanted: ControlKind,
  nowMs: number = heard.at(-1)?.atMs ?? 0,
): readonly Candidate[] {
  return groupsOf(heard)
    .flatMap((group) => {
      const found = isPressed(wanted) ? asSwitch(group, wanted, nowMs) : asMoved(group, wanted);
      const [first, last] = [nth(group.points, 0).atMs, lastOf(group.points).atMs];
      return found ? { restMs: 0, ...found, firstMs: first, lastMs: last } : [];
    })
    .sort((a, b) => b.score - a.score || b.count - a.count);
}

/** The other controls of a board, or of others at the same port, that send the same already. */
export const boundAlready = (
  controls: readonly Control[],
  ownChannel: number,
  { channel, sends }: Pick<Candidate, 'channel' | 'sends'>,
  exceptId: string,
): Control | null =>
  controls.find(
    (c) =>
      c.id !== exceptId &&
      (sends.kind === 'key' || (c.channel ?? ownChannel) === channel) &&
      c.sends.kind === sends.kind &&
      c.sends.number === sends.number,
  ) ?? null;

/** Messages sorted by what sent them; pairs and parameter sequences count as one. */
function groupsOf(heard: readonly Heard[]): Group[] {
  const groups = new Map<string, { group: Omit<Group, 'points'>; points: Point[] }>();
  const memories = new Map<string, SequenceMemory>();
  const add = (portId: string, atMs: number, channel: number, { number, kind, value }: Said) => {
    const key = `${portId}/${channel}/${kind}/${number}`;
    const found = groups.get(key) ?? { group: { portId, channel, sends: { kind, number } }, points: [] };
    groups.set(key, found);
    found.points.push({ atMs, value });
  };
  const messages = heard.filter((h) => 'message' in h);
  const pairs = pairedControllers(messages);
  for (const h of heard)
    if ('key' in h) add('', h.atMs, 0, { kind: 'key', number: h.key, value: h.isDown ? 127 : 0 });
  for (const { portId, atMs, message } of messages) {
    if (UNTOUCHED.has(message.kind) || !('channel' in message)) continue;
    const { memory, sequence } = readSequence(memories.get(portId) ?? NO_SEQUENCES, message);
    memories.set(portId, memory);
    const said = saidBy(message, sequence, (coarse) => pairs.has(`${portId}/${message.channel}/${coarse}`));
    if (said) add(portId, atMs, message.channel, said);
  }
  return [...groups.values()].map(({ group, points }) => ({ ...group, points }));
}

/** What a message says of the control that sent it, 0–127. */
type Said = ControlMessage & { readonly value: number };

/**
 * What one message says; `null` for a part of a sequence that says nothing by itself.
 * @param isPaired whether a controller comes in a coarse half and a fine one.
 */
function saidBy(
  message: ChannelMessage,
  sequence: Sequence | null,
  isPaired: (coarse: number) => boolean,
): Said | null {
  switch (message.kind) {
    case 'note-on':
      return { kind: 'note', number: message.note, value: message.velocity };
    case 'note-off':
      return { kind: 'note', number: message.note, value: 0 };
    case 'program':
      return { kind: 'program', number: message.program, value: 127 };
    case 'pitch-bend':
      return { kind: 'pitch-bend', number: 0, value: (message.value * 127) / 16383 };
    case 'channel-pressure':
      return { kind: 'channel-pressure', number: 0, value: message.pressure };
    case 'controller': {
      const { controller: number, value } = message;
      if (sequence?.kind === 'nrpn' || sequence?.kind === 'rpn') {
        const place = (parameterNow(sequence, 14) * 127) / 16383;
        return { kind: sequence.kind, number: sequence.parameter, value: place };
      }
      if (number >= 98 && number <= 101) return null;
      const coarse = number < 32 ? number : number - 32;
      if (number >= 64 || !isPaired(coarse)) return { kind: 'controller', number, value };
      return sequence?.kind === 'controller-14'
        ? { kind: 'controller-14', number: coarse, value: (sequence.value * 127) / 16383 }
        : null;
    }
    default:
      return null;
  }
}

/** Controllers below 32 whose number plus 32 nearly always follows them at once: pairs of 14 bits. */
function pairedControllers(heard: readonly HeardMessage[]): ReadonlySet<string> {
  const coarse = new Map<string, { count: number; followed: number; lastMs: number; isOpen: boolean }>();
  for (const { atMs, portId, message } of heard) {
    if (message.kind !== 'controller' || message.controller > 63) continue;
    const key = `${portId}/${message.channel}/${message.controller % 32}`;
    const seen = coarse.get(key) ?? { count: 0, followed: 0, lastMs: 0, isOpen: false };
    coarse.set(key, seen);
    if (message.controller < 32) {
      seen.count++;
      seen.lastMs = atMs;
      seen.isOpen = true;
    } else if (seen.isOpen && atMs - seen.lastMs <= PAIR_MS) {
      seen.followed++;
      seen.isOpen = false;
    }
  }
  return new Set(
    [...coarse].flatMap(([key, s]) => (s.followed > 0 && s.followed >= 0.8 * s.count ? key : [])),
  );
}

/** Down and up within this time are one press: no foot presses a latching switch twice so fast, in ms. */
const TAP_MS = 200;
/** A switch that latches moves once each time it is pressed; so often it has to, before that is believed. */
const LATCHED_TIMES = 3;
/** At least so long a switch has to rest before its moves are counted, in ms. */
const REST_MS = 500;

/** What was found of a group; when it was heard is added for all alike. */
type Found = Omit<Candidate, 'firstMs' | 'lastMs' | 'restMs'> & Partial<Pick<Candidate, 'restMs'>>;

function asSwitch(group: Group, wanted: ControlKind, nowMs: number): Found | null {
  const { points, bounceMs } = settled(group.points);
  const values = points.map((p) => p.value);
  const distinct = new Set(values);
  const isNote = group.sends.kind === 'note';
  const strikes = new Set(values.filter((v) => v > 0));
  const high = Math.max(...values);
  const low = Math.min(...values);
  // A switch says two values far apart, or always the same; whatever goes through values in between is moved.
  if (!isNote && distinct.size > 2) return null;
  if (!isNote && distinct.size === 2 && high - low < 32) return null;
  if (['pitch-bend', 'channel-pressure'].includes(group.sends.kind)) return null;
  const hardware = { ...PLAIN_HARDWARE, debounceMs: bounceMs };
  const base = {
    portId: group.portId,
    channel: group.channel,
    sends: group.sends,
    count: group.points.length,
  };
  const fits = isNote && (wanted === 'pad' || wanted === 'key') ? 1 : 0;
  const known = (looksLike: string, part: Partial<Hardware>, wants: Candidate['wants'], score: number) => ({
    ...base,
    looksLike,
    wants,
    score: score + fits,
    hardware: { ...hardware, ...part },
  });
  if (group.sends.kind === 'key') return known('key of the computer', {}, null, 5);
  if (group.sends.kind === 'program') return known('switch that sends a program', { edge: 'down' }, null, 3);
  if (distinct.size === 1)
    return points.length < 2
      ? known('switch, one movement heard', {}, 'press-again', 2)
      : known('switch that always sends the same', { edge: 'down' }, null, 3);
  if (isNote && strikes.size > 1) return known('pad that is struck', {}, null, 4);
  const isStruck = isNote && (wanted === 'pad' || wanted === 'key');
  if (isMomentary(points, isStruck)) return known('momentary switch', {}, null, 4);
  // Each of its presses moves it once: three moves are three presses, once it is plain that none is held.
  const restMs = Math.max(REST_MS, 1.2 * longestGap(points));
  const rests = nowMs - lastOf(points).atMs >= restMs;
  return points.length >= LATCHED_TIMES && points.length % 2 === 1 && rests
    ? known('latching switch', { switching: 'latching', edge: 'down' }, null, 3)
    : { ...known('switch, one movement at a time', {}, 'press-again', 2), restMs };
}

/**
 * Whether a switch that says two values goes down and up with each press. One quick press tells; slower ones are told by
 * their pace, since times down and times up differ, or by three whole presses that do not all take equally long.
 */
function isMomentary(points: readonly Point[], isStruck: boolean): boolean {
  const gaps = points.slice(1).map((p, i) => p.atMs - nth(points, i).atMs);
  const isTap = gaps.some((ms, i) => ms <= TAP_MS && nth(points, i).value > nth(points, i + 1).value);
  if (isTap || (isStruck && points.length >= 2)) return true;
  if (points.length < 4 || points.length % 2 === 1) return false;
  const down = gaps.filter((_, i) => i % 2 === 0);
  const up = gaps.filter((_, i) => i % 2 === 1);
  if (Math.max(...down) < 0.6 * Math.min(...up) || Math.max(...up) < 0.6 * Math.min(...down)) return true;
  return points.length >= 2 * LATCHED_TIMES && Math.max(...gaps) > 1.5 * Math.min(...gaps);
}

const longestGap = (points: readonly Point[]): number =>
  points.reduce((most, p, i) => (i === 0 ? 0 : Math.max(most, p.atMs - nth(points, i - 1).atMs)), 0);

/**
 * Points without the bouncing of contacts: three or more close together are one movement, to where they end. Two are a
 * short tap: some switches say down and up at once.
 */
function settled(points: readonly Point[]): { points: readonly Point[]; bounceMs: number } {
  const bursts: Point[][] = [];
  for (const point of points) {
    const burst = bursts.at(-1);
    if (burst && point.atMs - lastOf(burst).atMs < BOUNCE_MS) burst.push(point);
    else bursts.push([point]);
  }
  const kept: Point[] = [];
  let bounceMs = 0;
  for (const burst of bursts) {
    const last = lastOf(burst);
    if (burst.length < 3) kept.push(...burst);
    else {
      bounceMs = Math.max(bounceMs, last.atMs - nth(burst, 0).atMs);
      const endsAsBefore = kept.at(-1)?.value === last.value;
      kept.push(...(endsAsBefore ? [nth(burst, 0), last] : [last]));
    }
  }
  return {
    points: kept,
    bounceMs: bounceMs === 0 ? 0 : Math.min(50, Math.max(10, Math.ceil(bounceMs) + 2)),
  };
}

function asMoved(group: Group, wanted: ControlKind): Found | null {
  const values = group.points.map((p) => p.value);
  const base = {
    portId: group.portId,
    channel: group.channel,
    sends: group.sends,
    count: group.points.length,
  };
  if (['note', 'program', 'key'].includes(group.sends.kind)) return null;
  const turned = wanted === 'encoder' || wanted === 'knob' ? relativeOf(group, values) : null;
  if (turned)
    return {
      ...base,
      hardware: { ...PLAIN_HARDWARE, encoding: turned.encoding },
      looksLike: `encoder, ${ENCODING_WORDS[turned.encoding]}`,
      wants: turned.isSure ? null : 'turn-back',
      score: wanted === 'encoder' ? 4 : 3,
    };
  const range = Math.max(...values) - Math.min(...values);
  // A pedal that lies still trembles by a step or two.
  if (range < 5) return null;
  const distinct = new Set(values).size;
  // A switch jumps from one end to the other.
  if (distinct <= 2) return null;
  const ends = calibrate(values);
  return {
    ...base,
    hardware: { ...PLAIN_HARDWARE, ...(ends ?? {}) },
    looksLike: `${MOVED_WORDS[group.sends.kind] ?? 'moved'}, ${Math.round(Math.min(...values))} to ${Math.round(Math.max(...values))}`,
    wants: range >= 64 ? null : 'full-travel',
    score: 2 + range / 127,
  };
}

const ENCODING_WORDS: Record<RelativeEncoding, string> = {
  'twos-complement': 'two’s complement',
  'offset-64': 'offset 64',
  'sign-bit': 'sign bit',
  'sign-bit-inverted': 'sign bit, the other way round',
};

const MOVED_WORDS: Partial<Record<ControlMessage['kind'], string>> = {
  controller: 'moved in 7 bits',
  'controller-14': 'moved in 14 bits',
  nrpn: 'moved as a parameter',
  rpn: 'moved as a parameter',
};

/**
 * The encoding of small steps, or `null` when the values are places. One value alone never decides: 41 is a step right
 * in one encoding and left in another. The knob is taken to be turned to the right first.
 */
function relativeOf(
  group: Group,
  values: readonly number[],
): { encoding: RelativeEncoding; isSure: boolean } | null {
  if (group.sends.kind !== 'controller') return null;
  const isLow = (v: number) => v >= 1 && v <= 15;
  const isBelow = (v: number) => v >= 49 && v <= 63;
  const isAbove = (v: number) => v >= 65 && v <= 79;
  const isHigh = (v: number) => v >= 113;
  const some = (is: (v: number) => boolean) => values.some(is);
  // Encoders never send 64, which means no step; a pedal that trembles around its middle does.
  if (!values.every((v) => isLow(v) || isBelow(v) || isAbove(v) || isHigh(v))) return null;
  // A place never comes twice in a row; an encoder repeats its step, or jumps across the middle.
  const repeats = values.some((v, i) => i > 0 && v === values[i - 1]);
  const leaps = values.some((v, i) => i > 0 && Math.abs(v - nth(values, i - 1)) > 34);
  const around = some(isBelow) && some(isAbove) && new Set(values).size <= 8;
  if (!repeats && !leaps && !around && values.length > 1) return null;
  const first = nth(values, 0);
  if (some(isLow) && some(isHigh)) return { encoding: 'twos-complement', isSure: true };
  if (some(isBelow) && some(isAbove)) return { encoding: 'offset-64', isSure: true };
  if (some(isLow) && some(isAbove))
    return { encoding: isLow(first) ? 'sign-bit' : 'sign-bit-inverted', isSure: true };
  if (some(isHigh)) return { encoding: 'twos-complement', isSure: false };
  if (some(isBelow) || some(isAbove)) return { encoding: 'offset-64', isSure: false };
  return { encoding: 'twos-complement', isSure: false };
}
