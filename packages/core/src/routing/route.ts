import type { PlainCurve, RigWithBoards } from '../floor';
import { endsNote, type Message } from '../midi';
import { tableOf } from '../sure';

/** What a route tells apart: a note is its start and its end together. */
export const ROUTE_KINDS = [
  'note',
  'poly-pressure',
  'controller',
  'program',
  'channel-pressure',
  'pitch-bend',
  'sysex',
  'time',
  'system',
] as const;
export type RouteKind = (typeof ROUTE_KINDS)[number];

export const KIND_INDEX: Readonly<Record<RouteKind, number>> = tableOf(ROUTE_KINDS, (_, i) => i);

/** Kinds that have a number of their own: a note, a controller, a program. */
export const NUMBERED_KINDS = ['controller', 'note', 'poly-pressure', 'program'] as const;
export type NumberedKind = (typeof NUMBERED_KINDS)[number];

/** Both ends belong to it. */
export type Span = { readonly from: number; readonly to: number };

/** What a route takes in. Every empty list means any. */
export type RouteFrom = {
  /**
   * Ports at the computer, and lines. By an input comes what arrives there; by an output what this application is
   * about to send there itself. Empty: every input.
   */
  readonly portIds: readonly string[];
  /** 0–15. What has no channel is taken only where this is empty. */
  readonly channels: readonly number[];
  readonly kinds: readonly RouteKind[];
  /** Of notes, controllers and programs, 0–127. */
  readonly numbers: readonly Span[];
  /** Velocity, value or pressure, 0–127; of pitch bend its coarse half. `null` takes all. */
  readonly values: Span | null;
};

/** One line of a table of numbers, 0–127; `kind` is `null` where it means any kind that has a number. */
export type NumberChange = { readonly kind: NumberedKind | null; readonly from: number; readonly to: number };

export const CHANGED_KINDS = ['note', 'controller', 'program', 'channel-pressure', 'pitch-bend'] as const;
export type ChangedKind = (typeof CHANGED_KINDS)[number];

/** What becomes of a message. */
export type RouteChange = {
  readonly numbers: readonly NumberChange[];
  /** Semitones, −127 to 127. A note that leaves 0–127 by it is lost. */
  readonly transpose: number;
  /** Added to the number of a program, −127 to 127; one that leaves 0–127 is lost. */
  readonly programShift: number;
  readonly channel:
    | { readonly kind: 'keep' }
    /** 0–15. */
    | { readonly kind: 'force'; readonly channel: number }
    /** −15 to 15; from 16 it goes on at 1. */
    | { readonly kind: 'shift'; readonly by: number };
  /** Another kind of message; `number` 0–127 is `null` where the number stays. */
  readonly as: { readonly kind: ChangedKind; readonly number: number | null } | null;
  readonly value: {
    readonly curve: PlainCurve;
    /** 0–127 at the lowest and at the highest value taken in; turned round it is inverted. */
    readonly from: number;
    readonly to: number;
    /** Always this value, 0–127; notes still end. */
    readonly fixed: number | null;
  };
};

/** Opens and closes a route. */
export type Gate = {
  readonly by:
    /** Open while the last value of a controller, 0–127, was within; `portId` and `channel` `null` mean any. */
    | ({
        readonly kind: 'controller';
        readonly portId: string | null;
        readonly channel: number | null;
        readonly controller: number;
      } & Span)
    /** Open while a function is within. */
    | ({ readonly kind: 'function'; readonly functionId: string } & Span)
    /** Open in these scenes. */
    | { readonly kind: 'scenes'; readonly sceneIds: readonly string[] }
    /** Opened and closed by a switch that has an action for it. */
    | { readonly kind: 'switch' };
  /** What it is before anything was received. */
  readonly startsOpen: boolean;
  /** The kinds that it holds back while it is closed; empty means all. */
  readonly holds: readonly RouteKind[];
  /** What becomes of all other kinds, open or closed. */
  readonly others: 'pass' | 'stop';
};

/** A controller that moves by itself as long as a note is held. Times in ms. */
export type Modulation = {
  readonly delayMs: number;
  readonly attackMs: number;
  readonly decayMs: number;
  /** Share of the way between rest and peak that it stays at, 0–1. */
  readonly sustain: number;
  readonly releaseMs: number;
  readonly curve: PlainCurve;
  /** 0–127: where it comes from, and how far it goes. */
  readonly rest: number;
  readonly peak: number;
  readonly controller: number;
  /** It is sent at most this often, 5–1000. */
  readonly everyMs: number;
};

/** A port or a line; `channel` 0–15, `null` where it stays. */
export type RouteTo = { readonly portId: string; readonly channel: number | null };

/** A rule for messages on their way. */
export type Route = {
  readonly id: string;
  readonly name: string;
  readonly isOn: boolean;
  /** Whether it is an instrument that keys or pads play: scenes that do not switch it leave it as it is written. */
  readonly isLayer: boolean;
  readonly from: RouteFrom;
  readonly change: RouteChange;
  readonly gate: Gate | null;
  /** Instead of the message itself, its notes start this. */
  readonly modulation: Modulation | null;
  /** Every destination gets a copy. */
  readonly to: readonly RouteTo[];
  /** Whether the message as it came is also offered to the routes below. */
  readonly after: 'stop' | 'pass';
};

/** A port of its own between routes: what one sends there, others take in. */
export type VirtualPort = { readonly id: string; readonly name: string };

/** The routes of a rig, in their order. */
export type Routing = {
  readonly lines: readonly VirtualPort[];
  readonly routes: readonly Route[];
  /** Outputs that get what no route takes in; empty: it ends there. */
  readonly othersTo: readonly string[];
};

/** A rig with all that is kept with it. `stepGuardMs`: a step that comes sooner after the same one does not count, in ms. */
export type FullRig = RigWithBoards & { readonly routing: Routing; readonly stepGuardMs: number };

export const NO_ROUTING: Routing = { lines: [], routes: [], othersTo: [] };

/** Takes in everything. */
export const PLAIN_FROM: RouteFrom = { portIds: [], channels: [], kinds: [], numbers: [], values: null };

/** Changes nothing. */
export const PLAIN_CHANGE: RouteChange = {
  numbers: [],
  transpose: 0,
  programShift: 0,
  channel: { kind: 'keep' },
  as: null,
  value: { curve: 'linear', from: 0, to: 127, fixed: null },
};

/** What a new modulation is like. */
export const PLAIN_MODULATION: Modulation = {
  delayMs: 0,
  attackMs: 300,
  decayMs: 200,
  sustain: 0.7,
  releaseMs: 500,
  curve: 'linear',
  rest: 0,
  peak: 127,
  controller: 1,
  everyMs: 10,
};

export const PLAIN_ROUTE: Omit<Route, 'id' | 'name'> = {
  isOn: true,
  isLayer: false,
  from: PLAIN_FROM,
  change: PLAIN_CHANGE,
  gate: null,
  modulation: null,
  to: [],
  after: 'stop',
};

export function routeKind({ kind }: Message): RouteKind {
  switch (kind) {
    case 'note-on':
    case 'note-off':
      return 'note';
    case 'poly-pressure':
    case 'controller':
    case 'program':
    case 'channel-pressure':
    case 'pitch-bend':
    case 'sysex':
      return kind;
    case 'clock':
    case 'start':
    case 'continue':
    case 'stop':
    case 'song-position':
    case 'quarter-frame':
      return 'time';
    default:
      return 'system';
  }
}

/** The number of a note, controller or program, 0–127; `null` for every other message. */
export function numberOf(message: Message): number | null {
  switch (message.kind) {
    case 'note-on':
    case 'note-off':
    case 'poly-pressure':
      return message.note;
    case 'controller':
      return message.controller;
    case 'program':
      return message.program;
    default:
      return null;
  }
}

/** Velocity, value, pressure or the coarse half of a bend, 0–127; `null` for every other message. */
export function valueOf(message: Message): number | null {
  switch (message.kind) {
    case 'note-on':
    case 'note-off':
      return message.velocity;
    case 'poly-pressure':
    case 'channel-pressure':
      return message.pressure;
    case 'controller':
      return message.value;
    case 'pitch-bend':
      return message.value >> 7;
    default:
      return null;
  }
}

/**
 * Whether a route may take in a message of this kind, channel and number, whatever its value. A layer is played: notes,
 * pressure, bend and controllers come to it, programs where they are named, and never what runs in time (clock, start, song
 * position). Its numbers are keys: pedals and bends come to it whatever their number.
 */
export function mayTake({ from, isLayer }: Pick<Route, 'from' | 'isLayer'>, message: Message): boolean {
  if (isLayer && !('channel' in message)) return false;
  if (isLayer && message.kind === 'program' && !from.kinds.includes('program')) return false;
  if (from.kinds.length > 0 && !from.kinds.includes(routeKind(message))) return false;
  if (from.channels.length > 0 && !('channel' in message && from.channels.includes(message.channel)))
    return false;
  if (from.numbers.length === 0) return true;
  if (isLayer && routeKind(message) !== 'note' && message.kind !== 'poly-pressure') return true;
  const number = numberOf(message);
  return number === null || from.numbers.some((s) => number >= s.from && number <= s.to);
}

/** Whether its value is one that the route takes in. The end of a note is as its start was, so it is always taken. */
export function takesValueOf(from: RouteFrom, message: Message): boolean {
  if (from.values === null || message.kind === 'note-off') return true;
  const value = valueOf(message);
  if (value === null || (message.kind === 'note-on' && value === 0)) return true;
  return value >= from.values.from && value <= from.values.to;
}

/** Pedals that are on from 64. Source: MIDI 1.0 Detailed Specification, controllers 64, 66 and 69. */
export const isHoldPedal = (number: number): boolean => number === 64 || number === 66 || number === 69;

/** The centre of pitch bend. Source: MIDI 1.0 Detailed Specification, "Pitch Bend Change". */
export const BEND_CENTRE = 8192;

/** Whether what moves is where it holds nothing: a pedal below 64, a bend at its centre, all else at 0. */
export function isAtRest(message: Message): boolean {
  switch (message.kind) {
    case 'controller':
      return message.value < (isHoldPedal(message.controller) ? 64 : 1);
    case 'pitch-bend':
      return message.value === BEND_CENTRE;
    case 'channel-pressure':
    case 'poly-pressure':
      return message.pressure === 0;
    default:
      return endsNote(message);
  }
}
