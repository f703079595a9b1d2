import { messageKey, reportsOf, type World } from '@idle-step/core/engine';
import type { Heard } from '@idle-step/core/floor';
import { look, type ChartFunction, type Device, type Seen } from '@idle-step/core/gear';
import { StreamParser, type Message, type Sequence } from '@idle-step/core/midi';
import type { LiveClock } from '../clock';
import type { MonitorLog } from '../log/monitorLog';
import type { Outbox } from './outbox';
import { unboundName } from './unboundInput';
import type { PortTraffic } from './portTraffic';

const NOWHERE_ELSE: readonly string[] = [];

/** Messages that are kept while learning. */
const HEARD_AT_MOST = 2000;

/** A stamp this far ahead is no rounding but a clock that is wrong, in ms. */
const AHEAD_MS = 5;

/**
 * Takes in bytes from the ports: frames them, puts them on the clock, writes them into the log, and keeps what was
 * touched for those who look and what was heard for those who learn.
 */
export class Inbox {
  /** What was touched since looking began, the last first; `null` when nobody looks. */
  seen: readonly Seen[] | null = null;
  /** What was heard since learning began, in order; `null` when nobody learns. */
  heard: readonly Heard[] | null = null;
  /** Ports that spoke while learning and are not enabled for it. */
  readonly unheardPorts = new Set<string>();
  private readonly parsers = new Map<string, StreamParser>();
  /** Ports whose stamps are ahead of the clock: said once, and again when they were right in between. */
  private readonly ahead = new Set<string>();
  /** Of the bytes that are being framed. */
  private arrivedAtMs = 0;
  private isReal = false;
  private alsoAt: readonly string[] = NOWHERE_ELSE;

  constructor(
    private readonly clock: LiveClock,
    private readonly log: MonitorLog,
    private readonly traffic: PortTraffic,
    private readonly outbox: Outbox,
    private readonly to: {
      world(): World;
      message(portId: string, message: Message, atMs: number): void;
      changed(): void;
    },
  ) {}

  /**
   * @param portIds every port of the rig that hears what came: it is framed, written down and learned from once, and heard
   * at each.
   * @param stampMs when the port says that they came, on the clock of `LiveClock.now`.
   */
  receive(portIds: readonly string[], bytes: ArrayLike<number>, stampMs: number, isReal: boolean): void {
    const portId = portIds[0];
    if (portId === undefined) return;
    this.isReal = isReal;
    this.alsoAt = portIds.length > 1 ? portIds.slice(1) : NOWHERE_ELSE;
    this.arrivedAtMs = this.arrival(portId, stampMs);
    this.parserOf(portId).push(bytes);
  }

  /** Half a message from before a plug was pulled is not continued. */
  forgetHalf(portId: string): void {
    this.parsers.delete(portId);
  }

  /** A stamp from the future would hold back everything after it, so it counts as now. */
  private arrival(portId: string, stampMs: number): number {
    const now = this.clock.now();
    const aheadMs = stampMs - now;
    if (aheadMs <= AHEAD_MS) this.ahead.delete(portId);
    else if (!this.ahead.has(portId)) {
      this.ahead.add(portId);
      const { rig } = this.to.world().show;
      this.log.add({ kind: 'ahead', atMs: now, wallMs: this.clock.wallMs(), portId, rig, aheadMs });
      this.to.changed();
    }
    return Math.min(stampMs, now);
  }

  private parserOf(portId: string): StreamParser {
    let parser = this.parsers.get(portId);
    if (!parser) {
      parser = new StreamParser({
        message: (message) => this.take(portId, message),
        fault: (fault) => {
          if (unboundName(portId) !== null) return;
          const { rig } = this.to.world().show;
          const now = this.clock.now();
          this.log.add({ kind: 'fault', atMs: now, wallMs: this.clock.wallMs(), portId, rig, fault });
          this.to.changed();
        },
      });
      this.parsers.set(portId, parser);
    }
    return parser;
  }

  private take(portId: string, message: Message): void {
    const atMs = this.arrivedAtMs;
    const world = this.to.world();
    const now = this.clock.now();
    if (unboundName(portId) !== null) {
      this.note(portId, message, atMs);
      this.to.changed();
      return;
    }
    const sequence = this.traffic.take('in', portId, message, now);
    if (world.learningPorts.has(portId)) this.note(portId, message, atMs);
    else if (this.heard) this.unheardPorts.add(portId);
    const report = this.reportOf(world, portId, message, sequence);
    const control = report ? undefined : world.inputs.get(portId)?.get(messageKey(message));
    this.log.add({
      kind: 'in',
      atMs,
      wallMs: this.clock.wallMs(),
      portId,
      rig: world.show.rig,
      device: report?.device ?? (control ? world.boards[control.boardIndex]!.device : null),
      fn: report?.fn ?? null,
      controlName: control?.control.name ?? '',
      message,
      sequence,
      real: this.isReal,
      taken: true,
      expected: report?.expected ?? null,
      lateMs: null,
    });
    this.to.message(portId, message, atMs);
    for (const other of this.alsoAt) this.to.message(other, message, atMs);
  }

  /** Keeps a message for those who look or learn. */
  private note(portId: string, message: Message, atMs: number): void {
    if (this.seen) this.seen = look(this.seen, portId, message);
    if (this.heard) this.heard = [...this.heard, { atMs, portId, message }].slice(-HEARD_AT_MOST);
  }

  /** The function that reports with a message, and what it was told just before. */
  private reportOf(
    world: World,
    portId: string,
    message: Message,
    sequence: Sequence | null,
  ): { device: Device; fn: ChartFunction; expected: number | null } | null {
    const told = reportsOf(world, portId, message, sequence)[0]?.reached;
    return told ? { device: told.device, fn: told.fn, expected: this.outbox.toldJustNow(told.fn.id) } : null;
  }
}
