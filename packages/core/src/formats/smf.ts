import { encode, parseBytes, type Message } from '../midi';
import { fail, ok, type Result } from '../result';
import { lastOf, nth } from '../sure';

/**
 * Standard MIDI Files: reading, writing, and their tempo map.
 * Source: Standard MIDI Files 1.0, RP-001.
 */

/** How ticks are counted: in a quarter note, or in a frame of so many a second. */
export type SmfDivision =
  | { readonly kind: 'quarter'; readonly ticks: number }
  | { readonly kind: 'frames'; readonly perSecond: 24 | 25 | 29 | 30; readonly ticks: number };

/** `tick` counted from the start of the track, 0 and above. */
export type SmfEvent = { readonly tick: number } & (
  | { readonly kind: 'message'; readonly message: Message }
  /** 1–16777215 µs to a quarter note. */
  | { readonly kind: 'tempo'; readonly usPerQuarter: number }
  /** `denominator` 1, 2, 4, 8 … */
  | { readonly kind: 'meter'; readonly numerator: number; readonly denominator: number }
  /** Text, copyright, track name, instrument, lyric, marker, cue point: types 1 to 7, and 8 to 15. */
  | { readonly kind: 'text'; readonly type: number; readonly text: string }
  /** Every other meta event, as its bytes. */
  | { readonly kind: 'meta'; readonly type: number; readonly data: readonly number[] }
  /** Bytes that are sent as they are. */
  | { readonly kind: 'escape'; readonly data: readonly number[] }
);

export type SmfTrack = { readonly events: readonly SmfEvent[]; readonly endTick: number };

export type SmfFile = {
  readonly format: 0 | 1 | 2;
  readonly division: SmfDivision;
  readonly tracks: readonly SmfTrack[];
};

/** What is wrong with a file, and at which byte from 0. */
export type SmfFault = { readonly byte: number; readonly sentence: string };

export const SMF_TEXT = { text: 1, trackName: 3, lyric: 5, marker: 6, cuePoint: 7 } as const;
const META = { tempo: 0x51, meter: 0x58, endOfTrack: 0x2f } as const;
/** Tempo where a file names none: 120 bpm. */
const DEFAULT_US = 500_000;
/** Files longer than this are no songs, in bytes. */
export const SMF_BYTES = 4_000_000;

class Refusal extends Error {
  constructor(readonly fault: SmfFault) {
    super(fault.sentence);
  }
}

/** Bytes read in order; what is missing is refused with its place. */
class Reader {
  constructor(
    private readonly bytes: ArrayLike<number>,
    public at: number,
    private readonly end: number,
  ) {}
  get isAtEnd(): boolean {
    return this.at >= this.end;
  }
  refuse(sentence: string, byte = this.at): never {
    throw new Refusal({ byte, sentence: `${sentence} (byte ${byte}).` });
  }
  byte(what: string): number {
    if (this.isAtEnd) this.refuse(`The file ends where ${what} should stand`);
    return this.bytes[this.at++]!;
  }
  /** A data byte, 0–127. */
  data(what: string): number {
    const byte = this.byte(what);
    if (byte > 127) this.refuse(`${what} is ${byte}; 0 to 127 would be right`, this.at - 1);
    return byte;
  }
  number(bytes: number, what: string): number {
    let value = 0;
    for (let i = 0; i < bytes; i++) value = value * 256 + this.byte(what);
    return value;
  }
  /** A variable-length quantity, 0–0FFFFFFF. */
  quantity(what: string): number {
    let value = 0;
    for (let i = 0; i < 4; i++) {
      const byte = this.byte(what);
      value = value * 128 + (byte & 127);
      if (byte < 128) return value;
    }
    return this.refuse(`${what} is longer than four bytes`);
  }
  slice(length: number, what: string): number[] {
    if (this.at + length > this.end) this.refuse(`The file ends within ${what}`);
    const slice = Array.from({ length }, (_, i) => this.bytes[this.at + i]!);
    this.at += length;
    return slice;
  }
}

/** Reads a file whole. Refused: with the byte and the reason; nothing half-read comes back. */
export function readSmf(bytes: ArrayLike<number>): Result<SmfFile, SmfFault> {
  try {
    return ok(readFile(bytes));
  } catch (error) {
    if (error instanceof Refusal) return fail(error.fault);
    throw error;
  }
}

function readFile(bytes: ArrayLike<number>): SmfFile {
  const reader: Reader = new Reader(bytes, 0, bytes.length);
  if (bytes.length > SMF_BYTES) reader.refuse(`The file is longer than ${SMF_BYTES} bytes`);
  if (tag(reader) !== 'MThd') reader.refuse('This is no Standard MIDI File: it does not begin with MThd', 0);
  const headerLength = reader.number(4, 'the length of the header');
  if (headerLength < 6) reader.refuse(`The header has ${headerLength} bytes; 6 would be right`);
  const headerEnd = reader.at + headerLength;
  const format = reader.number(2, 'the format');
  if (format !== 0 && format !== 1 && format !== 2)
    reader.refuse(`Format ${format} is none; 0, 1 and 2 are`, 8);
  const trackCount = reader.number(2, 'the number of tracks');
  const division = readDivision(reader);
  if (headerEnd > bytes.length) reader.refuse('The file ends within the header');
  reader.at = headerEnd;
  const tracks: SmfTrack[] = [];
  while (!reader.isAtEnd) {
    if (tracks.length === trackCount && isNoTrack(bytes, reader.at)) break;
    const kind = tag(reader);
    const length = reader.number(4, 'the length of a chunk');
    const start = reader.at;
    if (start + length > bytes.length)
      reader.refuse(`A chunk of ${length} bytes goes beyond the end of the file`, start - 4);
    if (kind === 'MTrk' && tracks.length === trackCount)
      reader.refuse(`The file has more tracks than the ${trackCount} that it says`, start - 8);
    // Chunks of other kinds are skipped.
    if (kind === 'MTrk') tracks.push(readTrack(new Reader(bytes, start, start + length)));
    reader.at = start + length;
  }
  if (tracks.length < trackCount)
    reader.refuse(`The file has ${tracks.length} tracks and says that it has ${trackCount}`);
  if (format === 0 && tracks.length !== 1) reader.refuse(`Format 0 has one track, not ${tracks.length}`, 10);
  return { format, division, tracks };
}

/** Whether what follows the last track is no track: something of another kind, or what was hung on. */
const isNoTrack = (bytes: ArrayLike<number>, at: number): boolean =>
  String.fromCharCode(...Array.from({ length: 4 }, (_, i) => bytes[at + i] ?? 0)) !== 'MTrk';

const tag = (reader: Reader): string => String.fromCharCode(...reader.slice(4, 'the name of a chunk'));

function readDivision(reader: Reader): SmfDivision {
  const high = reader.byte('the division');
  const low = reader.byte('the division');
  if (high < 128) {
    const ticks = high * 256 + low;
    return ticks > 0
      ? { kind: 'quarter', ticks }
      : reader.refuse('A quarter note has no ticks', reader.at - 2);
  }
  const perSecond = 256 - high;
  if ((perSecond !== 24 && perSecond !== 25 && perSecond !== 29 && perSecond !== 30) || low === 0)
    return reader.refuse(`${perSecond} frames a second of ${low} ticks are no division`, reader.at - 2);
  return { kind: 'frames', perSecond, ticks: low };
}

function readTrack(reader: Reader): SmfTrack {
  const events: SmfEvent[] = [];
  let tick = 0;
  let running: number | null = null;
  /** A SysEx that was begun and goes on in the next packet. */
  let open: { readonly at: number; readonly data: number[] } | null = null;
  const unended = (begun: number): never =>
    reader.refuse('A SysEx event that begins here never ends: F7 is missing', begun);
  while (!reader.isAtEnd) {
    tick += reader.quantity('a delta time');
    const at = reader.at;
    const first = reader.byte('an event');
    if (first === 0xff) {
      running = null;
      const type = reader.data('The type of a meta event');
      const data = reader.slice(reader.quantity('the length of a meta event'), 'a meta event');
      if (type === META.endOfTrack) return open ? unended(open.at) : { events, endTick: tick };
      events.push(readMeta(reader, at, tick, type, data));
    } else if (first === 0xf0 || first === 0xf7) {
      running = null;
      const data = reader.slice(reader.quantity('the length of a SysEx event'), 'a SysEx event');
      if (first === 0xf7 && open === null) {
        events.push({ tick, kind: 'escape', data });
        continue;
      }
      if (first === 0xf0 && open) unended(open.at);
      const begun: number = open?.at ?? at;
      const whole: number[] = open ? [...open.data, ...data] : data;
      open = whole.at(-1) === 0xf7 ? null : { at: begun, data: whole };
      if (open) continue;
      const body = whole.slice(0, -1);
      if (body.some((b) => b > 127)) reader.refuse('A SysEx event has a byte above 127 in it', at);
      events.push({ tick, kind: 'message', message: { kind: 'sysex', data: Uint8Array.from(body) } });
    } else if (first >= 0xf8 || (first >= 0xf1 && first < 0xf7)) {
      reader.refuse(`${first.toString(16).toUpperCase()} has no place in a file`, at);
    } else {
      const status: number =
        first >= 0x80 ? first : (running ?? reader.refuse('An event has no status byte', at));
      if (first < 0x80) reader.at = at;
      running = status;
      const length = status >= 0xc0 && status < 0xe0 ? 1 : 2;
      const data = Array.from({ length }, () => reader.data('A data byte'));
      const [message] = parseBytes([status, ...data]).messages;
      if (message) events.push({ tick, kind: 'message', message });
    }
  }
  return reader.refuse('A track has no end');
}

function readMeta(reader: Reader, at: number, tick: number, type: number, data: number[]): SmfEvent {
  if (type >= 1 && type <= 15) return { tick, kind: 'text', type, text: decodeText(data) };
  if (type === META.tempo) {
    // One that is longer than is known is read as far as it is.
    const usPerQuarter = data.length >= 3 ? nth(data, 0) * 65_536 + nth(data, 1) * 256 + nth(data, 2) : 0;
    return usPerQuarter > 0
      ? { tick, kind: 'tempo', usPerQuarter }
      : reader.refuse('A tempo has at least three bytes and is not 0', at);
  }
  if (type === META.meter) {
    if (data.length < 4 || data[0] === 0 || nth(data, 1) > 7)
      return reader.refuse('A time signature has at least four bytes, and beats in it', at);
    return { tick, kind: 'meter', numerator: nth(data, 0), denominator: 2 ** nth(data, 1) };
  }
  return { tick, kind: 'meta', type, data };
}

/** UTF-8 where it is that, else one character a byte: the standard says ASCII and files have both. */
function decodeText(bytes: readonly number[]): string {
  const plain = String.fromCharCode(...bytes.slice(0, 20_000));
  try {
    return decodeURIComponent(
      plain.replace(/[^]/g, (c) => `%${c.charCodeAt(0).toString(16).padStart(2, '0')}`),
    );
  } catch {
    return plain;
  }
}

const encodeText = (text: string): number[] =>
  encodeURIComponent(text)
    .match(/%[0-9A-F]{2}|[^%]/g)
    ?.map((c) => (c.length === 3 ? parseInt(c.slice(1), 16) : c.charCodeAt(0))) ?? [];

/** A variable-length quantity as bytes. @param value 0–0FFFFFFF; beyond is a bug and throws `RangeError`. */
export function quantityBytes(value: number): number[] {
  if (!Number.isInteger(value) || value < 0 || value > 0x0fffffff)
    throw new RangeError(`${value} is no variable-length quantity`);
  const bytes = [value % 128];
  for (let rest = Math.floor(value / 128); rest > 0; rest = Math.floor(rest / 128))
    bytes.unshift((rest % 128) + 128);
  return bytes;
}

/**
 * A file as bytes. Every channel message has its own status byte, so that no reader can lose count.
 * @throws RangeError where something stands in it that the format has not: real-time messages, a bar of thirds, a tempo of
 * more than three bytes, tracks in format 0 beside one.
 */
export function writeSmf({ format, division, tracks }: SmfFile): Uint8Array<ArrayBuffer> {
  if (format === 0 ? tracks.length !== 1 : tracks.length > 0xffff)
    throw new RangeError(`Format ${format} does not hold ${tracks.length} tracks`);
  if (division.kind === 'quarter') within(division.ticks, 1, 0x7fff, 'ticks of a quarter note');
  else within(division.ticks, 1, 0xff, 'ticks of a frame');
  const word = (value: number, bytes: number) =>
    Array.from({ length: bytes }, (_, i) => Math.floor(value / 256 ** (bytes - 1 - i)) % 256);
  const name = (text: string) => [...text].map((c) => c.charCodeAt(0));
  const divided =
    division.kind === 'quarter' ? word(division.ticks, 2) : [256 - division.perSecond, division.ticks];
  const out: number[] = [
    ...name('MThd'),
    ...word(6, 4),
    ...word(format, 2),
    ...word(tracks.length, 2),
    ...divided,
  ];
  for (const track of tracks) {
    const body: number[] = [];
    let tick = 0;
    for (const event of track.events) {
      for (const b of quantityBytes(event.tick - tick)) body.push(b);
      tick = event.tick;
      for (const b of eventBytes(event)) body.push(b);
    }
    for (const b of [...quantityBytes(Math.max(0, track.endTick - tick)), 0xff, META.endOfTrack, 0])
      body.push(b);
    for (const b of [...name('MTrk'), ...word(body.length, 4)]) out.push(b);
    for (const b of body) out.push(b);
  }
  return Uint8Array.from(out);
}

function within(value: number, from: number, to: number, what: string): number {
  if (Number.isInteger(value) && value >= from && value <= to) return value;
  throw new RangeError(`${value} ${what}: a file holds ${from} to ${to}`);
}

/** Whether a message has a place in a file: channel messages and whole exclusive ones. */
export const isInSmf = (message: Message): boolean => 'channel' in message || message.kind === 'sysex';

function eventBytes(event: SmfEvent): number[] {
  const meta = (type: number, data: readonly number[]) => [
    0xff,
    type,
    ...quantityBytes(data.length),
    ...data,
  ];
  switch (event.kind) {
    case 'message': {
      if (!isInSmf(event.message)) throw new RangeError(`A file has no place for ${event.message.kind}`);
      const bytes = encode(event.message);
      return event.message.kind === 'sysex'
        ? [0xf0, ...quantityBytes(bytes.length - 1), ...bytes.slice(1)]
        : bytes;
    }
    case 'tempo':
      within(event.usPerQuarter, 1, 0xffffff, 'µs to a quarter note');
      return meta(META.tempo, [
        Math.floor(event.usPerQuarter / 65_536),
        Math.floor(event.usPerQuarter / 256) % 256,
        event.usPerQuarter % 256,
      ]);
    case 'meter':
      // A click is a beat, in MIDI clocks; 8 thirty-seconds are a quarter note.
      return meta(META.meter, [
        within(event.numerator, 1, 255, 'beats in a bar'),
        within(Math.log2(event.denominator), 0, 7, 'as the power of two that a beat is'),
        Math.min(255, Math.max(1, Math.round(96 / event.denominator))),
        8,
      ]);
    case 'text':
      return meta(within(event.type, 1, 15, 'as a kind of text'), encodeText(event.text));
    case 'meta':
      return meta(within(event.type, 0, 127, 'as a kind of meta event'), event.data);
    case 'escape':
      return [0xf7, ...quantityBytes(event.data.length), ...event.data];
  }
}

/** When a tick is played, in ms from the start, by the tempo events of all tracks. */
export function smfClock(file: SmfFile): (tick: number) => number {
  const { division } = file;
  if (division.kind === 'frames') {
    // 29 frames stand for 30 drop frame, 29.97 a second.
    const perSecond = division.perSecond === 29 ? 30_000 / 1001 : division.perSecond;
    return (tick) => (tick * 1000) / (perSecond * division.ticks);
  }
  const tempos = file.tracks
    .flatMap((t) => t.events)
    .flatMap((e) => (e.kind === 'tempo' ? [e] : []))
    .sort((a, b) => a.tick - b.tick);
  // Summed up as whole microseconds times ticks, so that no rounding adds up.
  const points: { tick: number; sum: number; us: number }[] = [{ tick: 0, sum: 0, us: DEFAULT_US }];
  for (const { tick, usPerQuarter } of tempos) {
    const last = lastOf(points);
    points.push({ tick, sum: last.sum + (tick - last.tick) * last.us, us: usPerQuarter });
  }
  return (tick) => {
    let low = 0;
    let high = points.length - 1;
    while (low < high) {
      const middle = Math.ceil((low + high) / 2);
      if (nth(points, middle).tick <= tick) low = middle;
      else high = middle - 1;
    }
    const from = nth(points, low);
    return (from.sum + (tick - from.tick) * from.us) / division.ticks / 1000;
  };
}
