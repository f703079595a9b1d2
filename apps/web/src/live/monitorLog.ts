import type { LiveNote, Show } from '@idle-step/core/engine';
import type { ChartFunction, Device } from '@idle-step/core/gear';
import type { Message, Sequence, StreamFault } from '@idle-step/core/midi';
import { LineRows } from './lineRows';

/**
 * One line of the monitor. `wallMs` is the time of day, for people; `atMs` the live clock. What has a name is held as it
 * was when the line came, so that an edit never rewrites what was.
 */
export type LogLine = { readonly seq: number; readonly atMs: number; readonly wallMs: number } & (
  | {
      readonly kind: 'in' | 'out';
      readonly portId: string;
      readonly rig: Show['rig'];
      /** Whose function it is, the device behind the port it leaves by, or the board it comes from. */
      readonly device: Device | null;
      /** The function that it drives, or that reports with it. */
      readonly fn: ChartFunction | null;
      /** The control that sends it. */
      readonly controlName: string;
      readonly message: Message;
      /** What it completes together with those before it, where the standard spreads a thing over several. */
      readonly sequence: Sequence | null;
      /** Whether a real port brought or took it; otherwise it stayed inside, between stand-ins. */
      readonly real: boolean;
      /** Whether anybody took it: a real port or a stand-in. */
      readonly taken: boolean;
      /** For a report of a value that was told just before: what was told. */
      readonly expected: number | null;
      /** How much later than it was due it left, in ms; `null` for what came in. */
      readonly lateMs: number | null;
    }
  /** A port stamps its messages with a time that is still to come: they count as now. */
  | { readonly kind: 'ahead'; readonly portId: string; readonly rig: Show['rig']; readonly aheadMs: number }
  | {
      readonly kind: 'fault';
      readonly portId: string;
      readonly rig: Show['rig'];
      readonly fault: StreamFault;
    }
  /** A bound port was plugged in again. */
  | { readonly kind: 'port'; readonly portId: string; readonly rig: Show['rig']; readonly name: string }
  /** What the engine says, as a sentence. */
  | { readonly kind: 'note'; readonly code: LiveNote['code'] | 'endless'; readonly sentence: string }
);

/** A line before it has its number. */
export type NewLine = LogLine extends infer L ? (L extends LogLine ? Omit<L, 'seq'> : never) : never;

/** Lines kept. */
export const LOG_LIMIT = 10_000;

/** The last lines, oldest first. */
export class MonitorLog {
  private seq = 0;
  /** Number of the last line that was cleared away. */
  private cleared = 0;
  private readonly rows = new LineRows(LOG_LIMIT);
  /** Number of the last line of each kind. */
  private readonly newest: Partial<Record<LogLine['kind'], number>> = {};
  /** What was read last as the newest of a kind: the same line until another one has come. */
  private readonly read = new Map<LogLine['kind'], LogLine>();
  /** Who is told of the next line, once. */
  private readonly waiting = new Set<() => void>();

  add(line: NewLine): void {
    const seq = ++this.seq;
    this.newest[line.kind] = seq;
    this.rows.put(seq, line, seq);
    if (this.waiting.size === 0) return;
    const told = [...this.waiting];
    this.waiting.clear();
    for (const tell of told) tell();
  }

  /** Tells of the next line that comes, once; what it returns ends the waiting. */
  whenAdded(tell: () => void): () => void {
    this.waiting.add(tell);
    return () => void this.waiting.delete(tell);
  }

  /** The last line of a kind, while it is kept. */
  last<K extends LogLine['kind']>(kind: K): (LogLine & { readonly kind: K }) | undefined {
    const seq = this.newest[kind];
    if (seq === undefined || seq <= this.gone) return undefined;
    return this.readAs(kind, seq) as LogLine & { readonly kind: K };
  }

  /** Lines added since the page was opened, cleared ones included. */
  get total(): number {
    return this.seq;
  }

  /** The lines kept that are younger than a number, oldest first. */
  since(seq: number): readonly LogLine[] {
    const from = Math.max(seq, this.gone);
    return Array.from({ length: Math.max(0, this.seq - from) }, (_, i) => this.rows.at(from + i + 1));
  }

  clear(): void {
    this.cleared = this.seq;
    this.rows.clear();
  }

  /** Number of the youngest line that is not kept any more. */
  private get gone(): number {
    return Math.max(this.cleared, this.seq - LOG_LIMIT);
  }

  private readAs(kind: LogLine['kind'], seq: number): LogLine {
    const known = this.read.get(kind);
    if (known?.seq === seq) return known;
    const line = this.rows.at(seq);
    this.read.set(kind, line);
    return line;
  }
}
