import type { LiveNote, Show } from '@idle-step/core/engine';
import type { ChartFunction, Device } from '@idle-step/core/gear';
import type { Message, Sequence, StreamFault } from '@idle-step/core/midi';
import { packMessage, unpackMessage } from './packedMessage';

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
type NewLine = LogLine extends infer L ? (L extends LogLine ? Omit<L, 'seq'> : never) : never;

/** Lines kept. */
export const LOG_LIMIT = 10_000;

/** A line of a message, as it is laid down: held by nobody afterwards. */
type MessageLine = Extract<NewLine, { readonly kind: 'in' | 'out' }>;

/** What a place of the log holds, with the two marks of a message. */
const OTHER = 0;
const IN = 1;
const OUT = 2;
const REAL = 4;
const TAKEN = 8;

/**
 * The last lines, oldest first. Messages lie in fixed rows of numbers and of what lives longer than they do, and become
 * lines when somebody reads them: a flood of them leaves the page's memory nothing to sweep up.
 */
export class MonitorLog {
  private seq = 0;
  /** Number of the last line that was cleared away. */
  private cleared = 0;
  /** What is no message, by its number. */
  private readonly others = new Map<number, LogLine>();
  private readonly marks = new Uint8Array(LOG_LIMIT);
  private readonly atMs = new Float64Array(LOG_LIMIT);
  private readonly wallMs = new Float64Array(LOG_LIMIT);
  /** As `packMessage` has them; 0 where the message is in `sysex`. */
  private readonly bytes = new Uint32Array(LOG_LIMIT);
  /** Not a number where nothing was expected, or nothing left. */
  private readonly expected = new Float64Array(LOG_LIMIT);
  private readonly lateMs = new Float64Array(LOG_LIMIT);
  private readonly portIds = room<string>();
  private readonly rigs = room<MessageLine['rig']>();
  private readonly devices = room<MessageLine['device']>();
  private readonly fns = room<MessageLine['fn']>();
  private readonly controlNames = room<string>();
  private readonly sequences = room<MessageLine['sequence']>();
  private readonly sysex = room<Message>();
  /** Number of the last line of each kind. */
  private readonly newest: Partial<Record<LogLine['kind'], number>> = {};
  /** What was read last as the newest of a kind: the same line until another one has come. */
  private readonly read = new Map<LogLine['kind'], LogLine>();
  /** Who is told of the next line, once. */
  private readonly waiting = new Set<() => void>();

  add(line: NewLine): void {
    const seq = ++this.seq;
    const place = seq % LOG_LIMIT;
    this.newest[line.kind] = seq;
    this.others.delete(seq - LOG_LIMIT);
    if (line.kind === 'in' || line.kind === 'out') this.lay(line, place);
    else {
      this.marks[place] = OTHER;
      this.others.set(seq, { ...line, seq });
    }
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
    return Array.from({ length: Math.max(0, this.seq - from) }, (_, i) => this.at(from + i + 1));
  }

  clear(): void {
    this.cleared = this.seq;
    this.others.clear();
  }

  /** Number of the youngest line that is not kept any more. */
  private get gone(): number {
    return Math.max(this.cleared, this.seq - LOG_LIMIT);
  }

  private lay(line: MessageLine, place: number): void {
    this.marks[place] = (line.kind === 'in' ? IN : OUT) | (line.real ? REAL : 0) | (line.taken ? TAKEN : 0);
    this.atMs[place] = line.atMs;
    this.wallMs[place] = line.wallMs;
    this.bytes[place] = packMessage(line.message);
    this.expected[place] = line.expected ?? NaN;
    this.lateMs[place] = line.lateMs ?? NaN;
    this.portIds[place] = line.portId;
    this.rigs[place] = line.rig;
    this.devices[place] = line.device;
    this.fns[place] = line.fn;
    this.controlNames[place] = line.controlName;
    this.sequences[place] = line.sequence;
    this.sysex[place] = line.message.kind === 'sysex' ? line.message : null;
  }

  private readAs(kind: LogLine['kind'], seq: number): LogLine {
    const known = this.read.get(kind);
    if (known?.seq === seq) return known;
    const line = this.at(seq);
    this.read.set(kind, line);
    return line;
  }

  /** The line with a number that is kept. */
  private at(seq: number): LogLine {
    return this.others.get(seq) ?? this.messageAt(seq);
  }

  private messageAt(seq: number): LogLine {
    const place = seq % LOG_LIMIT;
    const marks = this.marks[place]!;
    return {
      seq,
      kind: (marks & IN) !== 0 ? 'in' : 'out',
      atMs: this.atMs[place]!,
      wallMs: this.wallMs[place]!,
      portId: this.portIds[place]!,
      rig: this.rigs[place]!,
      device: this.devices[place]!,
      fn: this.fns[place]!,
      controlName: this.controlNames[place]!,
      message: this.sysex[place] ?? unpackMessage(this.bytes[place]!)!,
      sequence: this.sequences[place]!,
      real: (marks & REAL) !== 0,
      taken: (marks & TAKEN) !== 0,
      expected: orNull(this.expected[place]!),
      lateMs: orNull(this.lateMs[place]!),
    };
  }
}

const orNull = (number: number): number | null => (Number.isNaN(number) ? null : number);

/** A row with a place for each line, empty. */
const room = <T>(): (T | null)[] => new Array<T | null>(LOG_LIMIT).fill(null);
