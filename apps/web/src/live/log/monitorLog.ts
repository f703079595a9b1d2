import { LineRows } from '../use/lineRows';
import type { LogLine, NewLine } from './logLine';

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
    // The number was noted for a line of this kind.
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
