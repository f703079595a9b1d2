import {
  channelPressure,
  controller,
  endsNote,
  noteOff,
  noteOn,
  pitchBend,
  polyPressure,
  type ChannelMessage,
  type Message,
} from '../midi';
import { letGo, modulationShare, type ModulationRun } from './modulation';
import {
  BEND_CENTRE,
  isAtRest,
  isHoldPedal,
  KIND_INDEX,
  numberOf,
  routeKind,
  takesValueOf,
  valueOf,
  type Route,
} from './route';
import type { ReadyRoute, RouteTable } from './routeTable';
import type { Held, HeldEnd, RouteMemory } from './routeMemory';

/** A message that leaves by a port; `routeId` is `null` where no route took it. */
export type RoutedSend = {
  readonly portId: string;
  readonly message: Message;
  readonly routeId: string | null;
};

/** What one route did with a message. */
export type Passage = {
  readonly routeId: string;
  readonly message: Message;
  readonly outcome:
    | 'passed'
    /** Its gate is closed, or it stops this kind. */
    | 'gate-closed'
    | 'kind-stopped'
    /** Nothing could be made of it: a note out of range, a kind that cannot become the other. */
    | 'lost'
    /** It started or went on with a modulation. */
    | 'modulated'
    /** It went round too often, or came too often, and was stopped. */
    | 'loop';
  /** What it sent on. */
  readonly sent: readonly { readonly portId: string; readonly message: Message }[];
};

/** What the rest of the rig says about routes. */
export type RouteConditions = {
  readonly isOn: (route: Route) => boolean;
  readonly isOpen: (route: Route) => boolean;
};

/** Lines that one message may go through before it is taken to go round for ever. Our own choice. */
export const LINES_AT_MOST = 16;
/** Copies that one message may become by lines that feed each other. Our own choice. */
export const COPIES_AT_MOST = 256;
/** The same message that often in a row, each soon after the one before, is an echo. Our own choice. */
export const REPEATS_AT_MOST = 64;
export const REPEAT_WITHIN_MS = 50;
/** For how long an echo has to be quiet before the message passes again. Our own choice. */
const ECHO_QUIET_MS = 1000;

/**
 * Sends one message through the routes of the port it comes by.
 *
 * What began ends where it began: a note-off goes where its note-on went, a pedal that goes up and a bend that
 * returns to its centre go also where they went before, whatever has changed since. Where several sources hold the
 * same thing, the last one ends it.
 * Pure: the memory that comes back is the one to use next; `sends` are in order.
 */
export function passRoutes(
  table: RouteTable,
  memory: RouteMemory,
  conditions: RouteConditions,
  portId: string,
  message: Message,
  nowMs: number,
): {
  readonly memory: RouteMemory;
  readonly sends: readonly RoutedSend[];
  readonly passages: readonly Passage[];
} {
  // The gates of the message itself are moved first: what opens a gate by its own message goes through it.
  const way = new Way(table, moveGates(table, memory, portId, message), conditions, nowMs);
  way.take(portId, message);
  return { memory: way.memory, sends: way.sends, passages: way.passages };
}

const find = (held: readonly Held[], portId: string, key: number): Held | undefined => {
  for (const h of held) if (h.key === key && h.portId === portId) return h;
  return undefined;
};

/** Whether what a message ends was taken in before, by whatever rules held then. */
export function isHeld(memory: RouteMemory, portId: string, message: Message): boolean {
  const { held } = memory;
  return held.length > 0 && find(held, portId, heldKey(message)) !== undefined;
}

/** The gates that a message moves, whether a route takes it in or not. The same memory where it moves none. */
export function moveGates(
  table: RouteTable,
  memory: RouteMemory,
  portId: string,
  message: Message,
): RouteMemory {
  if (message.kind !== 'controller' || table.controllerGates.size === 0) return memory;
  let { gates } = memory;
  for (const { routeId, by } of table.controllerGates.get(message.controller) ?? []) {
    if (by.portId !== null && by.portId !== portId) continue;
    if (by.channel !== null && by.channel !== message.channel) continue;
    const isOpen = message.value >= by.from && message.value <= by.to;
    if (gates[routeId] !== isOpen) gates = { ...gates, [routeId]: isOpen };
  }
  return gates === memory.gates ? memory : { ...memory, gates };
}

/** Ends some of what is held where it began: its port is gone, or everything has to be silent. */
export function endHeld(
  table: RouteTable,
  memory: RouteMemory,
  conditions: RouteConditions,
  cut: readonly Held[],
  nowMs: number,
): { readonly memory: RouteMemory; readonly sends: readonly RoutedSend[] } {
  const way = new Way(table, memory, conditions, nowMs);
  for (const held of cut) way.cut(held);
  return { memory: way.memory, sends: way.sends };
}

/** What ends a message, made only where it is needed; `null` for what needs no end. */
type End = (() => Message | null) | null;

function endThrough(
  end: () => Message | null,
  change: ReadyRoute['change'],
  channel: number | null,
): Message | null {
  const ended = end();
  const out = ended && change(ended);
  return out && onChannel(out, channel);
}

class Way {
  readonly sends: RoutedSend[] = [];
  readonly passages: Passage[] = [];
  /** Ends of what is sent, beside `sends`. */
  private readonly ends: HeldEnd[] = [];

  private held: RouteMemory['held'];
  private runs: RouteMemory['runs'];
  private repeats: RouteMemory['repeats'];

  constructor(
    private readonly table: RouteTable,
    private readonly before: RouteMemory,
    private readonly conditions: RouteConditions,
    private readonly nowMs: number,
  ) {
    this.held = before.held;
    this.runs = before.runs;
    this.repeats = before.repeats;
  }

  get memory(): RouteMemory {
    const { gates, switched } = this.before;
    return { held: this.held, gates, switched, runs: this.runs, repeats: this.repeats };
  }

  take(portId: string, message: Message): void {
    if (this.isEcho(portId, message)) return;
    const { kind } = message;
    if (kind === 'note-on' || kind === 'note-off') this.takeNote(portId, message);
    else if (kind === 'program' || !('channel' in message)) this.walk(portId, message, null, 0);
    else this.takeMove(portId, message);
  }

  /** A note ends where its start went, and nowhere else. */
  private takeNote(portId: string, message: Message): void {
    const held = find(this.held, portId, heldKey(message));
    if (!endsNote(message)) {
      this.walk(portId, message, () => endOf(message), 0, portId);
      this.remember(portId, message, held);
    } else if (held) this.end(held, message);
    else this.walk(portId, message, null, 0);
  }

  /** A pedal that goes up and a bend that comes back go by the rules of now, and everywhere that they went before. */
  private takeMove(portId: string, message: Message): void {
    if (!isAtRest(message)) {
      this.walk(portId, message, () => endOf(message), 0);
      if (this.ends.length > 0) this.remember(portId, message, find(this.held, portId, heldKey(message)));
      return;
    }
    const before = this.sends.length;
    this.walk(portId, message, null, 0);
    const held = find(this.held, portId, heldKey(message));
    if (held) {
      const told = this.sends.slice(before);
      this.forget(held);
      this.dropHeldByOthers(before);
      for (const { portId: to, end, target, routeId } of held.ends)
        if (
          !told.some((s) => s.portId === to && heldKey(s.message) === target) &&
          !this.isHeldElsewhere(to, target)
        )
          this.sends.push({ portId: to, message: end, routeId });
    }
  }

  /** Remembers where what has just begun has to end. */
  private remember(portId: string, message: Message, before: Held | undefined): void {
    const known = before?.ends ?? [];
    const added =
      known.length === 0
        ? this.ends
        : this.ends.filter((e) => !known.some((k) => k.portId === e.portId && k.target === e.target));
    if (before && added.length === 0) return;
    const { held } = this;
    const entry = { portId, key: heldKey(message), ends: known.length === 0 ? added : [...known, ...added] };
    this.held = before ? held.map((h) => (h === before ? entry : h)) : [...held, entry];
  }

  /** Ends a note where it sounds, in the form and with the velocity that its end came in. */
  private end(held: Held, message: Message): void {
    this.forget(held);
    for (const { portId, end, target, routeId } of held.ends) {
      if (this.isHeldElsewhere(portId, target)) continue;
      const sent = endingLike(end, message);
      this.sends.push({ portId, message: sent, routeId });
      if (routeId !== null)
        this.passages.push({ routeId, message, outcome: 'passed', sent: [{ portId, message: sent }] });
    }
    this.releaseRuns(held);
  }

  /** Ends what is held without its end having come. */
  cut(held: Held): void {
    this.forget(held);
    for (const { portId, end, target, routeId } of held.ends)
      if (!this.isHeldElsewhere(portId, target)) this.sends.push({ portId, message: end, routeId });
    this.releaseRuns(held);
  }

  /** Offers a message to the routes of a port or line in their order. `end` is what would end it, changed beside it. */
  private walk(portId: string, message: Message, end: End, depth: number, notePort?: string): void {
    const source = this.table.sources.get(portId);
    let isTaken = false;
    for (const ready of source?.takersOf(message) ?? []) {
      const { route } = ready;
      if (!this.conditions.isOn(route) || !takesValueOf(route.from, message)) continue;
      isTaken = true;
      this.offer(ready, message, end, depth, notePort);
      if (route.after === 'stop') return;
    }
    if (isTaken) return;
    if (this.table.inputs.has(portId))
      for (const to of this.table.othersTo) this.leave(to, message, end, null, notePort !== undefined);
    // What this application sends itself goes on by its own port, and what a line carries ends there.
    else if (!this.table.lines.has(portId)) this.leave(portId, message, end, null, notePort !== undefined);
  }

  private offer(
    { route, change }: ReadyRoute,
    message: Message,
    end: End,
    depth: number,
    notePort: string | undefined,
  ): void {
    const { gate } = route;
    if (gate) {
      const isHeldBack = gate.holds.length === 0 || gate.holds.includes(routeKind(message));
      if (!isHeldBack && gate.others === 'stop') return this.tell(route, message, 'kind-stopped');
      if (isHeldBack && !this.conditions.isOpen(route)) return this.tell(route, message, 'gate-closed');
    }
    if (route.modulation) return this.modulate(route, message, notePort);
    const out = change(message);
    if (out === null) return this.tell(route, message, 'lost');
    const sent: { portId: string; message: Message }[] = [];
    const passage: Passage = { routeId: route.id, message, outcome: 'passed', sent };
    this.passages.push(passage);
    for (const to of route.to) {
      const copy = onChannel(out, to.channel);
      const copyEnd = end && (() => endThrough(end, change, to.channel));
      sent.push({ portId: to.portId, message: copy });
      if (!this.table.lines.has(to.portId)) {
        this.leave(to.portId, copy, copyEnd, route.id, notePort !== undefined);
        // A program has no end, so a note that is made of one is struck and let go.
        if (message.kind === 'program' && copy.kind === 'note-on')
          this.leave(to.portId, endOf(copy)!, null, route.id);
      } else if (depth < LINES_AT_MOST && this.sends.length < COPIES_AT_MOST)
        this.walk(to.portId, copy, copyEnd, depth + 1, notePort);
      else this.tell(route, message, 'loop');
    }
  }

  /** Leaves by a port. The end of a note is kept for all that it makes, that of anything else for what holds. */
  private leave(portId: string, message: Message, end: End, routeId: string | null, isNote = false): void {
    this.sends.push({ portId, message, routeId });
    const ending = end && (isNote || holds(message)) ? end() : null;
    if (ending) this.ends.push({ portId, end: ending, target: heldKey(ending), routeId });
  }

  private tell(route: Route, message: Message, outcome: Passage['outcome']): void {
    this.passages.push({ routeId: route.id, message, outcome, sent: [] });
  }

  private modulate(route: Route, message: Message, notePort: string | undefined): void {
    if (message.kind !== 'note-on' || notePort === undefined) return;
    this.tell(route, message, 'modulated');
    const run = this.runs[route.id];
    const share = run ? modulationShare(route.modulation!, run, this.nowMs) : 0;
    const key = runKey(notePort, heldKey(message));
    const heldBy = [...(run?.heldBy ?? []).filter((k) => k !== key), key];
    const next: ModulationRun = {
      sinceMs: this.nowMs,
      fromShare: share,
      released: null,
      channel: message.channel,
      heldBy,
      sent: run?.sent ?? null,
      pointsDone: 0,
    };
    this.runs = { ...this.runs, [route.id]: next };
  }

  /** Modulations whose last note has ended go back to rest. */
  private releaseRuns(held: Held): void {
    const { runs } = this;
    const key = runKey(held.portId, held.key);
    for (const routeId in runs) {
      const run = runs[routeId]!;
      if (!run.heldBy.includes(key)) continue;
      const heldBy = run.heldBy.filter((k) => k !== key);
      const m = this.table.byId.get(routeId)?.modulation;
      const ended = heldBy.length > 0 || !m ? run : letGo(m, run, this.nowMs);
      this.runs = { ...this.runs, [routeId]: { ...ended, heldBy } };
    }
  }

  /** The same message that keeps coming comes from itself: it is stopped until it has been quiet. Ends always pass. */
  private isEcho(portId: string, message: Message): boolean {
    if (!('channel' in message) || letsGo(message)) return false;
    const key = repeatKey(message);
    const { repeats } = this;
    const place = repeats.findIndex((r) => r.portId === portId);
    const last = repeats[place];
    const waits = last && last.count > REPEATS_AT_MOST ? ECHO_QUIET_MS : REPEAT_WITHIN_MS;
    const isAgain = last !== undefined && last.key === key && this.nowMs - last.atMs <= waits;
    const count = isAgain ? last.count + 1 : 1;
    const next = { portId, key, count, atMs: this.nowMs };
    this.repeats = last ? (repeats.length === 1 ? [next] : repeats.with(place, next)) : [...repeats, next];
    if (count <= REPEATS_AT_MOST) return false;
    for (const { route } of this.table.sources.get(portId)?.takersOf(message) ?? [])
      if (count === REPEATS_AT_MOST + 1 && this.conditions.isOn(route)) this.tell(route, message, 'loop');
    return true;
  }

  private forget(held: Held): void {
    this.held = this.held.filter((h) => h !== held);
  }

  private isHeldElsewhere(portId: string, target: number): boolean {
    for (const { ends } of this.held)
      for (const e of ends) if (e.target === target && e.portId === portId) return true;
    return false;
  }

  /** What another pedal or bend still holds down is not let go by this one. */
  private dropHeldByOthers(since: number): void {
    const kept = this.sends
      .splice(since)
      .filter((s) => !letsGo(s.message) || !this.isHeldElsewhere(s.portId, heldKey(s.message)));
    this.sends.push(...kept);
  }
}

const runKey = (portId: string, key: number): string => `${portId} ${key}`;

/** What something is held by until it ends, in one number: a note, a controller, a bend, pressure; -1 for all else. */
function heldKey(message: Message): number {
  switch (message.kind) {
    case 'note-on':
    case 'note-off':
      return (message.channel << 7) | message.note;
    case 'controller':
      return (1 << 11) | (message.channel << 7) | message.controller;
    case 'poly-pressure':
      return (2 << 11) | (message.channel << 7) | message.note;
    case 'channel-pressure':
      return (3 << 11) | (message.channel << 7);
    case 'pitch-bend':
      return (4 << 11) | (message.channel << 7);
    default:
      return -1;
  }
}

/** Whether a message makes a receiver hold something: a note, a pedal that is down, a bend. */
const holds = (message: Message): boolean =>
  message.kind === 'note-on'
    ? message.velocity > 0
    : message.kind === 'controller'
      ? isHoldPedal(message.controller) && message.value >= 64
      : message.kind === 'pitch-bend' && message.value !== BEND_CENTRE;

/** Whether a message makes a receiver let go of what it holds. */
export const letsGo = (message: Message): boolean =>
  message.kind === 'controller'
    ? isHoldPedal(message.controller) && message.value < 64
    : message.kind === 'pitch-bend'
      ? message.value === BEND_CENTRE
      : endsNote(message);

/** What brings to rest what a message has begun. */
function endOf(message: Message): Message | null {
  switch (message.kind) {
    case 'note-on':
      return noteOff(message.channel, message.note);
    case 'controller':
      return controller(message.channel, message.controller, 0);
    case 'pitch-bend':
      return pitchBend(message.channel, BEND_CENTRE);
    case 'channel-pressure':
      return channelPressure(message.channel, 0);
    case 'poly-pressure':
      return polyPressure(message.channel, message.note, 0);
    default:
      return null;
  }
}

/** The end of a note with the velocity, and in the form, that the one who played it let it go with. */
function endingLike(end: Message, came: Message): Message {
  if (end.kind !== 'note-off') return end;
  if (came.kind === 'note-on') return noteOn(end.channel, end.note, 0);
  return came.kind === 'note-off' ? noteOff(end.channel, end.note, came.velocity) : end;
}

const onChannel = (message: Message, channel: number | null): Message =>
  channel === null || !('channel' in message) || message.channel === channel
    ? message
    : ({ ...message, channel } as Message);

/** Kind, channel, number and value in one number. */
const repeatKey = (message: ChannelMessage): number =>
  (KIND_INDEX[routeKind(message)] << 25) |
  (message.channel << 21) |
  ((numberOf(message) ?? 0) << 14) |
  (message.kind === 'pitch-bend' ? message.value : (valueOf(message) ?? 0));
