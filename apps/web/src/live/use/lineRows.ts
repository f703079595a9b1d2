import { packMessage, unpackMessage, type Message } from '@idle-step/core/midi';
import type { LogLine, NewLine } from '../log/logLine';

/** A line of a message, as it is laid down: held by nobody afterwards. */
type MessageLine = Extract<NewLine, { readonly kind: 'in' | 'out' }>;

/** What a place holds, with the two marks of a message. */
const OTHER = 0;
const IN = 1;
const OUT = 2;
const REAL = 4;
const TAKEN = 8;

/**
 * The last lines of a list. Messages lie in fixed rows of numbers and of what lives longer than they do, and become lines
 * when somebody reads them: a flood of them leaves the page's memory nothing to sweep up.
 */
export class LineRows {
  /** What is no message, by its number. */
  private readonly others = new Map<number, LogLine>();
  private readonly seqs: Uint32Array;
  private readonly marks: Uint8Array;
  private readonly atMs: Float64Array;
  private readonly wallMs: Float64Array;
  /** As `packMessage` has them; 0 where the message is in `sysex`. */
  private readonly bytes: Uint32Array;
  /** Not a number where nothing was expected, or nothing left. */
  private readonly expected: Float64Array;
  private readonly lateMs: Float64Array;
  private readonly portIds: (string | null)[];
  private readonly rigs: (MessageLine['rig'] | null)[];
  private readonly devices: MessageLine['device'][];
  private readonly fns: MessageLine['fn'][];
  private readonly controlNames: (string | null)[];
  private readonly sequences: MessageLine['sequence'][];
  private readonly sysex: (Message | null)[];

  /** @param size how many lines are kept. */
  constructor(private readonly size: number) {
    this.seqs = new Uint32Array(size);
    this.marks = new Uint8Array(size);
    this.atMs = new Float64Array(size);
    this.wallMs = new Float64Array(size);
    this.bytes = new Uint32Array(size);
    this.expected = new Float64Array(size);
    this.lateMs = new Float64Array(size);
    const room = <T>() => new Array<T | null>(size).fill(null);
    this.portIds = room();
    this.rigs = room();
    this.devices = room();
    this.fns = room();
    this.controlNames = room();
    this.sequences = room();
    this.sysex = room();
  }

  /**
   * Lays a line down in the place of the one that came `size` before it.
   * @param number its place in the list, one more than that of the line before.
   * @param seq its number in the log.
   */
  put(number: number, line: NewLine, seq: number): void {
    const place = number % this.size;
    this.others.delete(number - this.size);
    this.seqs[place] = seq;
    if (line.kind === 'in' || line.kind === 'out') this.lay(line, place);
    else {
      this.marks[place] = OTHER;
      this.others.set(number, { ...line, seq });
    }
  }

  /** The line with a number that is kept, each time a new object. */
  at(number: number): LogLine {
    return this.others.get(number) ?? this.messageAt(number % this.size);
  }

  /** Lets go of what is no message, which is not read any more. */
  clear(): void {
    this.others.clear();
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

  private messageAt(place: number): LogLine {
    const marks = this.marks[place]!;
    return {
      seq: this.seqs[place]!,
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
