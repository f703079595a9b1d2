import fc from 'fast-check';
import JZZ from 'jzz';
import jzzSmf from 'jzz-midi-smf';
import { parseMidi } from 'midi-file';
import { describe, expect, it } from 'vitest';
import {
  channelPressure,
  controller,
  encode,
  endsNote,
  noteOff,
  noteOn,
  pitchBend,
  program,
  realTime,
  type Message,
} from '../midi';
import { quantityBytes, readSmf, SMF_TEXT, smfClock, writeSmf, type SmfEvent, type SmfFile } from './index';

jzzSmf(JZZ);

const hexBytes = (text: string) => [...text.matchAll(/[0-9A-F]{2}/g)].map((m) => parseInt(m[0], 16));
const read = (bytes: ArrayLike<number>): SmfFile => {
  const result = readSmf(bytes);
  if (!result.ok) throw new Error(result.error.sentence);
  return result.value;
};

// Source: Standard MIDI Files 1.0 (RP-001), variable-length quantities and the two example files.
describe('as the standard prints it', () => {
  it.each([
    [0, '00'],
    [0x40, '40'],
    [0x7f, '7F'],
    [0x80, '81 00'],
    [0x2000, 'C0 00'],
    [0x3fff, 'FF 7F'],
    [0x4000, '81 80 00'],
    [0x100000, 'C0 80 00'],
    [0x1fffff, 'FF FF 7F'],
    [0x200000, '81 80 80 00'],
    [0x8000000, 'C0 80 80 00'],
    [0xfffffff, 'FF FF FF 7F'],
  ])('%i as a quantity', (value, bytes) => expect(quantityBytes(value)).toEqual(hexBytes(bytes)));

  const SINGLE = hexBytes(`4D546864 00000006 0000 0001 0060 4D54726B 0000003B
    00FF580404021808 00FF510307A120 00C005 00C12E 00C246 00923060 003C60
    60914340 60904C20 8140823040 003C40 00814340 00804C40 00FF2F00`);
  const SEVERAL = hexBytes(`4D546864 00000006 0001 0004 0060
    4D54726B 00000014 00FF580404021808 00FF510307A120 8300FF2F00
    4D54726B 00000010 00C005 8140904C20 81404C00 00FF2F00
    4D54726B 0000000F 00C12E 60914340 82204300 00FF2F00
    4D54726B 00000015 00C246 00923060 003C60 83003000 003C00 00FF2F00`);

  it('the example in one track', () => {
    const file = read(SINGLE);
    expect(file).toMatchObject({ format: 0, division: { kind: 'quarter', ticks: 96 } });
    expect(file.tracks[0]!.endTick).toBe(384);
    expect(
      file.tracks[0]!.events.map((e) => [e.tick, e.kind === 'message' ? encode(e.message) : e.kind]),
    ).toEqual([
      [0, 'meter'],
      [0, 'tempo'],
      [0, [0xc0, 5]],
      [0, [0xc1, 0x2e]],
      [0, [0xc2, 0x46]],
      [0, [0x92, 0x30, 0x60]],
      [0, [0x92, 0x3c, 0x60]],
      [96, [0x91, 0x43, 0x40]],
      [192, [0x90, 0x4c, 0x20]],
      [384, [0x82, 0x30, 0x40]],
      [384, [0x82, 0x3c, 0x40]],
      [384, [0x81, 0x43, 0x40]],
      [384, [0x80, 0x4c, 0x40]],
    ]);
    // 96 ticks to a quarter note of half a second: four quarters take 2 s.
    expect(smfClock(file)(384)).toBe(2000);
  });

  it('the same in four tracks', () => {
    const file = read(SEVERAL);
    expect(file.format).toBe(1);
    expect(file.tracks.map((t) => t.endTick)).toEqual([384, 384, 384, 384]);
    // A note-on with velocity 0 is a note-off.
    expect(file.tracks[1]!.events.map((e) => e.kind === 'message' && endsNote(e.message))).toEqual([
      false,
      false,
      true,
    ]);
  });

  it('running status does not cross a meta event, unknown chunks are skipped, a SysEx comes in packets', () => {
    const track = (body: string) => {
      const bytes = hexBytes(body);
      return [...hexBytes('4D546864 00000006 0000 0001 0060 4D54726B 000000'), bytes.length, ...bytes];
    };
    const broken = readSmf(track('00903C40 00FF0100 003C00 00FF2F00'));
    expect(broken).toMatchObject({ ok: false, error: { byte: 31 } });
    const whole = read(track('00F003430001 10F70200F7 00FF2F00'));
    expect(whole.tracks[0]!.events).toEqual([
      { tick: 16, kind: 'message', message: { kind: 'sysex', data: Uint8Array.from([0x43, 0, 1, 0]) } },
    ]);
    const foreign = [...SINGLE.slice(0, 14), ...hexBytes('58595A5A 00000003 010203'), ...SINGLE.slice(14)];
    expect(read(foreign)).toEqual(read(SINGLE));
  });
});

const seven = fc.nat(127);
const channel = fc.nat(15);
const anyMessage: fc.Arbitrary<Message> = fc.oneof(
  fc.tuple(channel, seven, fc.integer({ min: 1, max: 127 })).map(([c, n, v]) => noteOn(c, n, v)),
  fc.tuple(channel, seven).map(([c, n]) => noteOff(c, n)),
  fc.tuple(channel, seven, seven).map(([c, n, v]) => controller(c, n, v)),
  fc.tuple(channel, seven).map(([c, p]) => program(c, p)),
  fc.tuple(channel, seven).map(([c, p]) => channelPressure(c, p)),
  fc.tuple(channel, fc.nat(16_383)).map(([c, v]) => pitchBend(c, v)),
  fc
    .array(seven, { minLength: 1, maxLength: 300 })
    .map((data) => ({ kind: 'sysex' as const, data: Uint8Array.from(data) })),
);
type Body = SmfEvent extends infer E ? (E extends SmfEvent ? Omit<E, 'tick'> : never) : never;
const anyBody: fc.Arbitrary<Body> = fc.oneof(
  { weight: 6, arbitrary: anyMessage.map((message) => ({ kind: 'message' as const, message })) },
  fc.integer({ min: 1, max: 0xffffff }).map((usPerQuarter) => ({ kind: 'tempo' as const, usPerQuarter })),
  fc
    .tuple(fc.integer({ min: 1, max: 16 }), fc.constantFrom(2, 4, 8))
    .map(([numerator, denominator]) => ({ kind: 'meter' as const, numerator, denominator })),
  fc
    .tuple(
      fc.constantFrom(SMF_TEXT.marker, SMF_TEXT.trackName),
      fc.string({ unit: 'grapheme', maxLength: 30 }),
    )
    .map(([type, text]) => ({ kind: 'text' as const, type, text })),
);
const anyTrack = fc.array(fc.tuple(fc.nat(2000), anyBody), { maxLength: 40 }).chain((steps) =>
  fc.nat(500).map((rest) => {
    let tick = 0;
    const events = steps.map(([delta, body]) => ({ tick: (tick += delta), ...body }) as SmfEvent);
    return { events, endTick: tick + rest };
  }),
);
const anyFile: fc.Arbitrary<SmfFile> = fc
  .tuple(fc.array(anyTrack, { minLength: 1, maxLength: 4 }), fc.integer({ min: 24, max: 960 }))
  .map(([tracks, ticks]) => ({ format: 1 as const, division: { kind: 'quarter' as const, ticks }, tracks }));

/** What both can tell: ticks with channel messages. */
const channelEvents = (file: SmfFile) =>
  file.tracks.map((t) =>
    t.events.flatMap((e) =>
      e.kind === 'message' && e.message.kind !== 'sysex' ? [`${e.tick} ${encode(e.message).join(' ')}`] : [],
    ),
  );

describe('a file written here', () => {
  it('reads back equal here', () =>
    fc.assert(
      fc.property(anyFile, (file) => {
        expect(read(writeSmf(file))).toEqual(file);
      }),
      { seed: 61, numRuns: 300 },
    ));

  it('reads equal with midi-file', () =>
    fc.assert(
      fc.property(anyFile, (file) => {
        const other = parseMidi(writeSmf(file));
        const theirs = other.tracks.map((track) => {
          let tick = 0;
          return track.flatMap((e) => {
            tick += e.deltaTime;
            switch (e.type) {
              case 'noteOn':
                return [`${tick} ${0x90 | e.channel} ${e.noteNumber} ${e.velocity}`];
              case 'noteOff':
                return [`${tick} ${0x80 | e.channel} ${e.noteNumber} ${e.velocity}`];
              case 'controller':
                return [`${tick} ${0xb0 | e.channel} ${e.controllerType} ${e.value}`];
              case 'programChange':
                return [`${tick} ${0xc0 | e.channel} ${e.programNumber}`];
              case 'channelAftertouch':
                return [`${tick} ${0xd0 | e.channel} ${e.amount}`];
              case 'pitchBend':
                return [`${tick} ${0xe0 | e.channel} ${(e.value + 8192) & 127} ${(e.value + 8192) >> 7}`];
              default:
                return [];
            }
          });
        });
        expect(theirs).toEqual(channelEvents(file));
      }),
      { seed: 62, numRuns: 200 },
    ));

  it('reads equal with jzz-midi-smf', () =>
    fc.assert(
      fc.property(anyFile, (file) => {
        const { MIDI } = JZZ as unknown as {
          MIDI: { SMF: new (data: Uint8Array) => ({ tt: number; ff?: number } & number[])[][] };
        };
        const other = new MIDI.SMF(writeSmf(file));
        const theirs = Array.from(other, (track) =>
          Array.from(track).flatMap((e) =>
            e.ff === undefined && e[0]! < 0xf0 ? [`${e.tt} ${Array.from(e).join(' ')}`] : [],
          ),
        );
        expect(theirs).toEqual(channelEvents(file));
      }),
      { seed: 63, numRuns: 100 },
    ));
});

describe('the tempo map', () => {
  it('keeps times within 1 ms over an hour of changing tempo', () => {
    // Ramping up and down in whole bpm each bar of four, 480 ticks to a quarter; reckoned in exact fractions of a second.
    const events: SmfEvent[] = [];
    let tick = 0;
    let exactUs = 0n;
    const checks: [number, bigint][] = [];
    for (let bar = 0; exactUs < 3_600_000_000n; bar++) {
      const usPerQuarter = Math.round(60_000_000 / (60 + (bar % 90)));
      events.push({ tick, kind: 'tempo', usPerQuarter });
      tick += 4 * 480;
      exactUs += 4n * BigInt(usPerQuarter);
      checks.push([tick, exactUs]);
    }
    const clock = smfClock(
      read(
        writeSmf({
          format: 1,
          division: { kind: 'quarter', ticks: 480 },
          tracks: [{ events, endTick: tick }],
        }),
      ),
    );
    const worst = Math.max(...checks.map(([at, us]) => Math.abs(clock(at) - Number(us) / 1000)));
    expect(worst).toBeLessThan(1);
  });

  // 25 frames of 40 ticks: a tick is a millisecond. 29 stands for 30 drop frame, 30000/1001 frames a second.
  it.each([
    [25, 40, 1000, 1000],
    [30, 80, 2400, 1000],
    [29, 100, 3000, 1001],
  ] as const)('in frames: %i a second of %i ticks, %i are %d ms', (perSecond, ticks, at, ms) =>
    expect(
      smfClock({ format: 0, division: { kind: 'frames', perSecond, ticks }, tracks: [] })(at),
    ).toBeCloseTo(ms, 9),
  );
});

const HEAD = '4D546864 00000006 0001 0001 0060';
const EMPTY_TRACK = '4D54726B 00000004 00 FF 2F 00';

describe('what the format leaves open', () => {
  const eventsIn = (track: string) => {
    const read = readSmf(hexBytes(`${HEAD} ${track}`));
    return read.ok ? read.value.tracks[0]!.events : read.error.sentence;
  };
  // Source: Standard MIDI Files 1.0: "more bytes may be added to known meta events in the future" (from memory).
  it('meta events that are longer than is known are read as far as they are', () =>
    expect(
      eventsIn('4D54726B 00000016 00 FF 51 04 07 A1 20 55 00 FF 58 06 06 03 0C 08 01 02 00 FF 2F 00'),
    ).toEqual([
      { tick: 0, kind: 'tempo', usPerQuarter: 500_000 },
      { tick: 0, kind: 'meter', numerator: 6, denominator: 8 },
    ]));
  it('chunks of other kinds, and what hangs on behind the last track, are skipped', () =>
    expect(eventsIn(`58585858 00000002 0102 ${EMPTY_TRACK} 59595959 00000001 00`)).toEqual([]));
});

describe('what the format has not', () => {
  const written = (event: SmfEvent, part: Partial<SmfFile> = {}) =>
    writeSmf({
      format: 1,
      division: { kind: 'quarter', ticks: 96 },
      tracks: [{ events: [event], endTick: 0 }],
      ...part,
    });
  const nothing: SmfEvent = { tick: 0, kind: 'text', type: 1, text: '' };
  it.each([
    ['a clock', { tick: 0, kind: 'message', message: realTime('clock') }],
    ['a start', { tick: 0, kind: 'message', message: realTime('start') }],
    ['a bar of thirds', { tick: 0, kind: 'meter', numerator: 4, denominator: 3 }],
    ['no beats', { tick: 0, kind: 'meter', numerator: 0, denominator: 4 }],
    ['a tempo of four bytes', { tick: 0, kind: 'tempo', usPerQuarter: 20_000_000 }],
    ['a tempo of a fraction', { tick: 0, kind: 'tempo', usPerQuarter: 500_000.5 }],
    ['a text of no kind', { tick: 0, kind: 'text', type: 16, text: '' }],
    ['a time before the beginning', { tick: -1, kind: 'text', type: 1, text: '' }],
  ] as const)('%s is refused by the writer', (_what, event) =>
    expect(() => written(event as SmfEvent)).toThrow(RangeError),
  );
  it('tracks beside the one of format 0, and a quarter note without ticks', () => {
    const track = { events: [], endTick: 0 };
    expect(() => written(nothing, { format: 0, tracks: [track, track] })).toThrow(RangeError);
    expect(() => written(nothing, { division: { kind: 'quarter', ticks: 0 } })).toThrow(RangeError);
  });
});

describe('damaged files', () => {
  const good = [...writeSmf(fc.sample(anyFile, { seed: 7, numRuns: 1 })[0]!)];
  it('500 of them crash nothing, and are refused whole with byte and reason or are files all the same', () => {
    let [refused, all] = [0, 0];
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(good.length - 1), fc.nat(255)), { minLength: 1, maxLength: 4 }),
        fc.option(fc.nat(good.length)),
        (changes, cut) => {
          const bytes = [...good];
          for (const [at, byte] of changes) bytes[at] = byte;
          all++;
          const result = readSmf(cut === null ? bytes : bytes.slice(0, cut));
          if (result.ok) return;
          refused++;
          expect(result.error.sentence).toMatch(/\(byte \d+\)\.$/);
          expect(result.error.byte).toBeLessThanOrEqual(bytes.length);
        },
      ),
      { seed: 500, numRuns: 500 },
    );
    expect(refused / all).toBeGreaterThan(0.4);
  });

  it.each([
    ['nothing', '', 0],
    ['another file', '52494646 00000000', 0],
    ['a header that ends', '4D546864 00000006 0000', 10],
    ['no ticks', '4D546864 00000006 0000 0001 0000', 12],
    ['a SysEx that never ends', `${HEAD} 4D54726B 0000000A 00 F0 03 7D 01 02 00 FF 2F 00`, 23],
    ['a SysEx within another', `${HEAD} 4D54726B 0000000E 00 F0 02 7D 01 00 F0 02 7D F7 00 FF 2F 00`, 23],
    ['more tracks than it says', `${HEAD} ${EMPTY_TRACK} ${EMPTY_TRACK}`, 26],
    ['a clock in a track', `${HEAD} 4D54726B 00000006 00 F8 00 FF 2F 00`, 23],
    ['a track that is not there', '4D546864 00000006 0000 0001 0060', 14],
    ['a track beyond the end', '4D546864 00000006 0000 0001 0060 4D54726B 000000FF 00', 18],
  ])('%s', (_what, bytes, at) => {
    const result = readSmf(hexBytes(bytes));
    expect(result).toMatchObject({ ok: false, error: { byte: at } });
  });
});
