import type { World } from '@idle-step/core/engine';
import type { Device } from '@idle-step/core/gear';
import { msPerByte, parseTypedBytes, sysex, type Message } from '@idle-step/core/midi';
import {
  dumpOn,
  identityRequest,
  startAsking,
  startDump,
  startListening,
  sysexIn,
  type DumpEvent,
  type DumpJob,
} from '@idle-step/core/transfer';
import type { LinkTimer } from './BoardLink';

/** A transfer of system exclusive with a device. */
export type DumpNow = {
  /** A dump, or who a device is. */
  readonly purpose: 'dump' | 'identity';
  readonly deviceId: string;
  readonly job: DumpJob;
  /** Devices that are asked after this one. */
  readonly next: readonly string[];
  /** How those of the same round ended. */
  readonly ended: readonly DumpEnded[];
};

export type DumpEnded = {
  readonly deviceId: string;
  readonly end: NonNullable<DumpJob['end']>;
  /** Why it could not begin, or `null`. */
  readonly refusal: string | null;
};

export type DumpHost = {
  world(): World;
  send(portId: string, message: Message): void;
  /** Whether an open port or its own stand-in takes what is sent to a device. */
  reaches(deviceId: string, portId: string): boolean;
  refusal(): string | null;
};

type Round = Pick<DumpNow, 'purpose' | 'next' | 'ended'>;
const ALONE: Round = { purpose: 'dump', next: [], ended: [] };
const BUSY = 'A transfer is on its way; wait for it or cancel it.';

/** Dumps of any device: listened for, asked for one after the other, sent back. One at a time. */
export class DumpRun {
  /** Who is told once a transfer has ended. */
  onEnd: ((now: DumpNow) => void) | null = null;
  private current: DumpNow | null = null;
  private readonly listeners = new Set<() => void>();
  private readonly timer: LinkTimer;

  constructor(
    private readonly host: DumpHost,
    timerOf: (wake: () => void) => LinkTimer,
    private readonly now: () => number = () => performance.now(),
  ) {
    this.timer = timerOf(() => this.tell({ kind: 'tick', atMs: this.now() }));
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  readonly getSnapshot = (): DumpNow | null => this.current;

  private get isRunning(): boolean {
    return this.current !== null && this.current.job.end === null;
  }

  /** Listens to what comes from a device. @returns why it cannot, or `null`. */
  listen(deviceId: string): string | null {
    return this.begin(deviceId, ALONE, (device) => startListening(this.paceOf(device, 0)));
  }

  /** Asks devices for their dumps, one after the other; one that cannot be asked is passed over, and that is told. */
  ask(deviceIds: readonly string[]): string | null {
    return this.isRunning ? BUSY : this.askOn(deviceIds, []);
  }

  /** Asks a device who it is. */
  identify(deviceId: string): string | null {
    const round: Round = { ...ALONE, purpose: 'identity' };
    return this.begin(deviceId, round, (device) =>
      startAsking([identityRequest()], this.now(), this.paceOf(device, 0)),
    );
  }

  /** Sends a dump to a device. @param gapMs what it needs between two messages. */
  send(deviceId: string, bytes: ArrayLike<number>, gapMs: number): string | null {
    const { messages, error } = sysexIn(bytes);
    return (
      error ??
      this.begin(deviceId, ALONE, (device) => startDump(messages, this.now(), this.paceOf(device, gapMs)))
    );
  }

  stop(): void {
    this.tell({ kind: 'stop', atMs: this.now() });
  }

  cancel(): void {
    if (this.current) this.current = { ...this.current, next: [] };
    this.tell({ kind: 'cancel', atMs: this.now() });
  }

  setAside(): void {
    if (this.isRunning) return;
    this.current = null;
    this.changed();
  }

  /** System exclusive that arrived at a port. */
  heard(portId: string, data: ArrayLike<number>): void {
    if (!this.isRunning || !this.current) return;
    if (this.backOf(this.current.deviceId) === portId) this.tell({ kind: 'heard', atMs: this.now(), data });
  }

  /** A port went away: a dump that came by it stays a part. */
  portLost(portId: string): void {
    if (this.isRunning && this.current && this.backOf(this.current.deviceId) === portId)
      this.tell({ kind: 'port-gone', atMs: this.now() });
  }

  private backOf(deviceId: string): string | undefined {
    return this.host.world().backs.get(deviceId);
  }

  private askOn(deviceIds: readonly string[], ended: readonly DumpEnded[]): string | null {
    const [first, ...next] = deviceIds;
    if (first === undefined)
      return 'No device here has a dump request yet: write one down in its room Dumps.';
    const refusal = this.begin(first, { purpose: 'dump', next, ended }, (device) => {
      const bytes = parseTypedBytes(device.dumpRequest);
      const messages = typeof bytes === 'string' ? [] : sysexIn(bytes).messages;
      return startAsking(messages, this.now(), this.paceOf(device, 0));
    });
    if (refusal === null || next.length === 0) return refusal;
    return this.askOn(next, [...ended, { deviceId: first, end: 'no-answer', refusal }]);
  }

  private begin(deviceId: string, round: Round, make: (device: Device) => DumpJob): string | null {
    if (this.isRunning) return BUSY;
    const why = this.host.refusal();
    if (why !== null) return why;
    const way = this.host.world().ways.get(deviceId);
    if (!way) return 'This device is not in the rig that is played.';
    const { name } = way.device;
    const job = make(way.device);
    if (job.kind !== 'receive' && !way.path)
      return `No cable leads from the computer to ${name}: draw it in Rig.`;
    if (job.kind !== 'send' && this.backOf(deviceId) === undefined)
      return `No cable leads from ${name} to the computer, so nothing of it can be heard: draw it in Rig.`;
    this.current = { deviceId, job, ...round };
    this.tell({ kind: 'tick', atMs: this.now() });
    return null;
  }

  private paceOf({ id }: Device, gapMs: number) {
    return { msPerByte: msPerByte(this.host.world().ways.get(id)?.path?.link ?? 'usb'), gapMs };
  }

  private tell(event: DumpEvent): void {
    if (!this.current || this.current.job.end !== null) return;
    const job = this.sentOn(this.current, event);
    const { deviceId, next } = this.current;
    const ended =
      job.end === null
        ? this.current.ended
        : [...this.current.ended, { deviceId, end: job.end, refusal: null }];
    this.current = { ...this.current, job, ended };
    this.timer.set(job.dueMs === null ? null : Math.max(0, job.dueMs - this.now()));
    if (job.end !== null) {
      this.onEnd?.(this.current);
      const refusal = next.length > 0 ? this.askOn(next, ended) : null;
      const last = next.at(-1);
      if (refusal !== null && last !== undefined)
        this.current = {
          ...this.current,
          next: [],
          ended: [...ended, { deviceId: last, end: 'no-answer', refusal }],
        };
    }
    this.changed();
  }

  /** The job after an event; what it sends and nothing takes ends it. */
  private sentOn({ job, deviceId }: DumpNow, event: DumpEvent): DumpJob {
    const { state, send } = dumpOn(job, event);
    const portId = this.host.world().ways.get(deviceId)?.path?.portId;
    if (send.length === 0) return state;
    if (portId === undefined || this.host.refusal() !== null || !this.host.reaches(deviceId, portId))
      return dumpOn(job, { kind: 'port-gone', atMs: event.atMs }).state;
    for (const data of send) this.host.send(portId, sysex(data));
    return state;
  }

  private changed(): void {
    for (const listener of this.listeners) listener();
  }
}
