import type { LiveNote } from '@idle-step/core/engine';
import type { Message, StreamFault } from '@idle-step/core/midi';

/** One line of the monitor. `wallMs` is the time of day, for people; `atMs` the live clock. */
export type LogLine = { readonly seq: number; readonly atMs: number; readonly wallMs: number } & (
  | {
      readonly kind: 'in' | 'out';
      readonly portId: string;
      readonly message: Message;
      readonly functionId: string | null;
    }
  | { readonly kind: 'fault'; readonly portId: string; readonly fault: StreamFault }
  | { readonly kind: 'note'; readonly note: LiveNote }
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

  /** The last `count` lines that `keep` lets through, the newest first. */
  newest(count: number, keep: (line: LogLine) => boolean): LogLine[] {
    const out: LogLine[] = [];
    for (let i = this.lines.length - 1; i >= 0 && out.length < count; i--)
      if (keep(this.lines[i]!)) out.push(this.lines[i]!);
    return out;
  }

  clear(): void {
    this.lines = [];
  }
}
