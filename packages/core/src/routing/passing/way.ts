import { endsNote, type Message } from '../../midi';
import { letGo, modulationShare, type ModulationRun } from './modulation';
import { isAtRest, routeKind, takesValueOf, type Route } from '../route';
import type { Leg, ReadyRoute, RouteTable } from './routeTable';
import type { Begun, BegunEnd, RouteMemory } from './routeMemory';
import { endingLike, endOf, find, begunKey, holds, letsGo, onChannel } from './begun';
import { hearAgain, releaseHeld } from './echoes';
import type { Passage, RouteConditions, RoutedSend } from './passage';
import { nth } from '../../sure';

/** Lines that one message may go through before it is taken to go round for ever. */
export const LINES_AT_MOST = 16;
/** Copies that one message may become by lines that feed each other. */
export const COPIES_AT_MOST = 256;
const NOBODY: readonly ReadyRoute[] = [];
/** The way of what no route takes in. */
const STRAIGHT: Leg = { change: (message) => message, channel: null };

const through = (message: Message | null, { change, channel }: Leg): Message | null => {
  const out = message && change(message);
  return out && onChannel(out, channel);
};

/** One message on its way through the routes, with all that it becomes. */
export class Way {
  readonly sends: RoutedSend[] = [];
  readonly passages: Passage[] = [];
  /** Ends of what is sent, beside `sends`. */
  private ends: BegunEnd[] = [];
  /** The message that came in, if it holds something (a note, a pedal, a bend); `null` if nothing has to end later. */
  private came: Message | null = null;
  /** The port that a note came by. */
  private notePort: string | null = null;
  /** The changes that led to the line on which the message is now. */
  private readonly legs: Leg[] = [];

  private begun: RouteMemory['begun'];
  private runs: RouteMemory['runs'];
  private repeats: RouteMemory['repeats'];

  constructor(
    private readonly table: RouteTable,
    private readonly before: RouteMemory,
    private readonly conditions: RouteConditions,
    private readonly nowMs: number,
  ) {
    this.begun = before.begun;
    this.runs = before.runs;
    this.repeats = before.repeats;
  }

  get memory(): RouteMemory {
    const { gates, switched } = this.before;
    return { begun: this.begun, gates, switched, runs: this.runs, repeats: this.repeats };
  }

  /** Sends a message that came by a port through its routes, or holds it back while it may be an echo. */
  take(portId: string, message: Message): void {
    const isEnd = letsGo(message) && find(this.begun, portId, begunKey(message)) !== undefined;
    const { repeats, pass, isStopped } = hearAgain(this.repeats, portId, message, isEnd, this.nowMs);
    this.repeats = repeats;
    if (isStopped) this.tellEcho(portId, message);
    for (const one of pass) this.pass(portId, one);
  }

  /** What was held back long enough goes on. */
  release(leavesMs: number): void {
    const { repeats, released } = releaseHeld(this.repeats, this.nowMs, leavesMs);
    this.repeats = repeats;
    for (const { portId, message } of released) this.pass(portId, message);
  }

  private pass(portId: string, message: Message): void {
    this.came = null;
    this.notePort = null;
    this.ends = [];
    const { kind } = message;
    if (kind === 'note-on' || kind === 'note-off') this.takeNote(portId, message);
    else if (kind === 'program' || !('channel' in message)) this.walk(portId, message);
    else this.takeMove(portId, message);
  }

  /** A note ends where its start went, and nowhere else. */
  private takeNote(portId: string, message: Message): void {
    const begun = find(this.begun, portId, begunKey(message));
    if (!endsNote(message)) {
      this.came = message;
      this.notePort = portId;
      this.walk(portId, message);
      this.remember(portId, message, begun);
    } else if (begun) this.end(begun, message);
    else this.walk(portId, message);
  }

  /**
   * A pedal that goes up, or a bend that returns to its centre, goes through the routes as they are now, and also to
   * every port at which it went down.
   */
  private takeMove(portId: string, message: Message): void {
    if (!isAtRest(message)) {
      this.came = message;
      this.walk(portId, message);
      if (this.ends.length > 0) this.remember(portId, message, find(this.begun, portId, begunKey(message)));
      return;
    }
    const before = this.sends.length;
    this.walk(portId, message);
    const begun = find(this.begun, portId, begunKey(message));
    if (begun) this.endMove(begun, before);
  }

  /** @param since index in `sends` of the first one that the routes have just made. */
  private endMove(begun: Begun, since: number): void {
    this.forget(begun);
    const told = this.sends.length;
    for (const { portId, end, target, routeId } of begun.ends)
      if (!this.isTold(portId, target, since, told) && !this.hasBegunElsewhere(portId, target))
        this.sends.push({ portId, message: end, routeId });
    this.keepWhatOthersHold(since);
  }

  private isTold(portId: string, target: number, from: number, to: number): boolean {
    for (let i = from; i < to; i++) {
      const sent = nth(this.sends, i);
      if (sent.portId === portId && begunKey(sent.message) === target) return true;
    }
    return false;
  }

  /** Remembers where what has just begun has to end. */
  private remember(portId: string, message: Message, before: Begun | undefined): void {
    const key = begunKey(message);
    if (!before) {
      this.begun = [...this.begun, { portId, key, ends: this.ends }];
      return;
    }
    const added = newEnds(this.ends, before.ends);
    if (added.length === 0) return;
    const entry = { portId, key, ends: [...before.ends, ...added] };
    this.begun = this.begun.map((h) => (h === before ? entry : h));
  }

  /** Ends a note where it sounds, in the form and with the velocity that its end came in. */
  private end(begun: Begun, message: Message): void {
    this.forget(begun);
    for (const { portId, end, target, routeId } of begun.ends) {
      if (this.hasBegunElsewhere(portId, target)) continue;
      const sent = endingLike(end, message);
      this.sends.push({ portId, message: sent, routeId });
      if (routeId !== null)
        this.passages.push({ routeId, message, outcome: 'passed', sent: [{ portId, message: sent }] });
    }
    this.releaseRuns(begun);
  }

  /** Ends what is held without its end having come. */
  cut(begun: Begun): void {
    this.forget(begun);
    for (const { portId, end, target, routeId } of begun.ends)
      if (!this.hasBegunElsewhere(portId, target)) this.sends.push({ portId, message: end, routeId });
    this.releaseRuns(begun);
  }

  /** Offers a message to the routes of a port or line in their order. */
  private walk(portId: string, message: Message): void {
    const takers = this.table.sources.get(portId)?.takersOf(message) ?? NOBODY;
    let isTaken = false;
    for (const ready of takers) {
      const { route } = ready;
      if (!this.conditions.isOn(route) || !takesValueOf(route.from, message)) continue;
      isTaken = true;
      this.offer(ready, message);
      if (route.after === 'stop') return;
    }
    if (isTaken) return;
    if (this.table.inputs.has(portId))
      for (const to of this.table.othersTo) this.leave(to, message, null, STRAIGHT);
    // What this application sends itself goes on by its own port, and what a line carries ends there.
    else if (!this.table.lines.has(portId)) this.leave(portId, message, null, STRAIGHT);
  }

  private offer({ route, change, legs }: ReadyRoute, message: Message): void {
    const { gate } = route;
    if (gate) {
      const isHeldBack = gate.holds.length === 0 || gate.holds.includes(routeKind(message));
      if (!isHeldBack && gate.others === 'stop') return this.tell(route, message, 'kind-stopped');
      if (isHeldBack && !this.conditions.isOpen(route)) return this.tell(route, message, 'gate-closed');
    }
    if (route.modulation) return this.modulate(route, message);
    const out = change(message);
    if (out === null) return this.tell(route, message, 'lost');
    const sent: { portId: string; message: Message }[] = [];
    this.passages.push({ routeId: route.id, message, outcome: 'passed', sent });
    for (const leg of legs) {
      const { portId } = leg;
      const copy = onChannel(out, leg.channel);
      sent.push({ portId, message: copy });
      if (!this.table.lines.has(portId)) {
        this.leave(portId, copy, route.id, leg);
        // A program has no end, so a note that is made of one is struck and let go.
        if (message.kind === 'program' && copy.kind === 'note-on')
          this.sends.push({ portId, message: endOf(copy)!, routeId: route.id });
      } else if (this.legs.length < LINES_AT_MOST && this.sends.length < COPIES_AT_MOST) {
        this.legs.push(leg);
        this.walk(portId, copy);
        this.legs.pop();
      } else this.tell(route, message, 'loop');
    }
  }

  /**
   * Sends by a port. Remembers how it ends there: for a note always, for a controller or bend only where the result
   * holds something.
   */
  private leave(portId: string, message: Message, routeId: string | null, leg: Leg): void {
    this.sends.push({ portId, message, routeId });
    if (this.came === null || (this.notePort === null && !holds(message))) return;
    const end = through(this.legs.reduce(through, endOf(this.came)), leg);
    if (end) this.ends.push({ portId, end, target: begunKey(end), routeId });
  }

  private tell(route: Route, message: Message, outcome: Passage['outcome']): void {
    this.passages.push({ routeId: route.id, message, outcome, sent: [] });
  }

  private modulate(route: Route, message: Message): void {
    const { notePort } = this;
    if (message.kind !== 'note-on' || notePort === null) return;
    this.tell(route, message, 'modulated');
    const run = this.runs[route.id];
    const share = run ? modulationShare(route.modulation!, run, this.nowMs) : 0;
    const key = runKey(notePort, begunKey(message));
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
  private releaseRuns(begun: Begun): void {
    const { runs } = this;
    const key = runKey(begun.portId, begun.key);
    for (const routeId in runs) {
      const run = runs[routeId]!;
      if (!run.heldBy.includes(key)) continue;
      const heldBy = run.heldBy.filter((k) => k !== key);
      const m = this.table.byId.get(routeId)?.modulation;
      const ended = heldBy.length > 0 || !m ? run : letGo(m, run, this.nowMs);
      this.runs = { ...this.runs, [routeId]: { ...ended, heldBy } };
    }
  }

  private tellEcho(portId: string, message: Message): void {
    for (const { route } of this.table.sources.get(portId)?.takersOf(message) ?? [])
      if (this.conditions.isOn(route)) this.tell(route, message, 'loop');
  }

  private forget(begun: Begun): void {
    const at = this.begun.indexOf(begun);
    this.begun = this.begun.toSpliced(at, at < 0 ? 0 : 1);
  }

  private hasBegunElsewhere(portId: string, target: number): boolean {
    for (const { ends } of this.begun)
      for (const e of ends) if (e.target === target && e.portId === portId) return true;
    return false;
  }

  /** What another pedal or bend still holds down is not let go by this one. */
  private keepWhatOthersHold(since: number): void {
    for (let i = this.sends.length - 1; i >= since; i--) {
      const { message, portId } = nth(this.sends, i);
      if (letsGo(message) && this.hasBegunElsewhere(portId, begunKey(message))) this.sends.splice(i, 1);
    }
  }
}

const newEnds = (ends: readonly BegunEnd[], known: readonly BegunEnd[]): readonly BegunEnd[] =>
  ends.filter((e) => !known.some((k) => k.portId === e.portId && k.target === e.target));

const runKey = (portId: string, key: number): string => `${portId} ${key}`;
