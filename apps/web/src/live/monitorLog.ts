import type { LiveNote, Show } from '@idle-step/core/engine';
import type { ChartFunction, Device } from '@idle-step/core/gear';
import type { Message, Sequence, StreamFault } from '@idle-step/core/midi';

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

type NewLine = LogLine extends infer L ? (L extends LogLine ? Omit<L, 'seq'> : never) : never;

/** Lines kept. */
export const LOG_LIMIT = 10_000;

/** The last lines, oldest first. Adding is cheap: the list is cut only now and then. */
export class MonitorLog {
  private lines: LogLine[] = [];
  private seq = 0;

  add(line: NewLine): void {
    this.lines.push({ ...line, seq: ++this.seq } as LogLine);
    if (this.lines.length > LOG_LIMIT * 1.1) this.lines = this.lines.slice(-LOG_LIMIT);
  }

  /** The last line of a kind among the newest few hundred. */
  last<K extends LogLine['kind']>(kind: K): (LogLine & { readonly kind: K }) | undefined {
    for (let i = this.lines.length - 1; i >= Math.max(0, this.lines.length - 300); i--)
      if (this.lines[i]!.kind === kind) return this.lines[i] as LogLine & { readonly kind: K };
    return undefined;
  }

  /** The last line of any kind. */
  get newest(): LogLine | undefined {
    return this.lines.at(-1);
  }

  /** Lines added since the page was opened, cleared ones included. */
  get total(): number {
    return this.seq;
  }

  /** The lines kept that are younger than a number, oldest first. */
  since(seq: number): readonly LogLine[] {
    // Numbers follow each other without a gap, so those wanted are counted from the end: nothing else is copied.
    const count = Math.min(this.seq - seq, LOG_LIMIT, this.lines.length);
    return count > 0 ? this.lines.slice(-count) : [];
  }

  clear(): void {
    this.lines = [];
  }
}
