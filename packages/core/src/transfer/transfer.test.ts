import fc from 'fast-check';
import JZZ from 'jzz';
import { crc32 as zlibCrc32 } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import { seeded } from '../seeded.test-support';
import {
  crc32,
  dumpFrame,
  handshake,
  identityReply,
  identityRequest,
  packed,
  packedLength,
  PLAIN_PACE,
  progressOf,
  readDumpFrame,
  readHandshake,
  readIdentityReply,
  readIdentityRequest,
  received,
  receiveOn,
  sendOn,
  startReceiving,
  startSending,
  unpacked,
  xorOf,
  type DumpFrame,
  type Pace,
  type Receiving,
  type Sending,
} from './index';

const hex = (data: readonly number[]) => data.map((b) => b.toString(16).padStart(2, '0')).join(' ');
const bytesOf = (max: number) => fc.uint8Array({ minLength: 0, maxLength: max });

describe('bytes as data bytes', () => {
  // Source: MIDI 1.0, "File Dump", data packing (from memory): 0ABCDEFG 0aaaaaaa 0bbbbbbb …
  it.each([
    [[], ''],
    [[0x80], '40 00'],
    [[0x80, 0x01], '40 00 01'],
    [[0xff, 0xff, 0xff, 0xff, 0xff, 0xff, 0xff], '7f 7f 7f 7f 7f 7f 7f 7f'],
    [[1, 2, 3, 4, 5, 6, 0x87, 0x88], '01 01 02 03 04 05 06 07 40 08'],
  ])('%j', (bytes, data) => expect(hex(packed(bytes))).toBe(data));
  it('come back as they were, all below 80', () =>
    fc.assert(
      fc.property(bytesOf(300), (bytes) => {
        const data = packed(bytes);
        expect(data.every((d) => d < 0x80)).toBe(true);
        expect(data).toHaveLength(packedLength(bytes.length));
        expect(unpacked(data)).toEqual({ ok: true, value: bytes });
      }),
    ));
  it.each([
    [[0x40], 'high bits of nothing'],
    [[0, 1, 2, 3, 4, 5, 6, 7, 0], 'The byte at place 9'],
    [[0x20, 1], 'that are not there'],
  ])('%j is refused', (data, why) => {
    const read = unpacked(data);
    expect(read.ok ? '' : read.error).toContain(why);
  });
});

describe('universal messages', () => {
  // Source: MIDI 1.0 Detailed Specification, "Universal System Exclusive".
  it('who are you', () => {
    expect(hex(identityRequest())).toBe('7e 7f 06 01');
    expect([0xf0, ...identityRequest(), 0xf7]).toEqual([...JZZ.MIDI.sxIdRequest()]);
    expect(readIdentityRequest(identityRequest(5))).toBe(5);
    expect(readIdentityRequest([0x7e, 5, 6, 2])).toBeNull();
  });
  it.each([
    [[0x7d], '7e 10 06 02 7d 01 00 02 01 00 00 01 05'],
    [[0, 0x20, 0x33], '7e 10 06 02 00 20 33 01 00 02 01 00 00 01 05'],
  ])('a reply of maker %j', (manufacturer, data) => {
    const identity = { device: 16, manufacturer, family: 1, member: 130, version: [0, 0, 1, 5] };
    expect(hex(identityReply(identity))).toBe(data);
    expect(readIdentityReply(identityReply(identity))).toEqual(identity);
    expect(readIdentityReply(identityReply(identity).slice(0, -1))).toBeNull();
  });
  it.each([
    ['end-of-file', '7b'],
    ['wait', '7c'],
    ['cancel', '7d'],
    ['not-acknowledged', '7e'],
    ['acknowledged', '7f'],
  ] as const)('%s', (kind, code) => {
    expect(hex(handshake(kind, 3, 0x85))).toBe(`7e 03 ${code} 05`);
    expect(readHandshake(handshake(kind, 3, 5))).toEqual({ kind, device: 3, packet: 5 });
  });
  it.each([[[0x7e, 3, 0x7a, 0]], [[0x7e, 3, 0x7f]], [[0x7f, 3, 0x7f, 0]]])('%j is no handshake', (data) =>
    expect(readHandshake(data)).toBeNull(),
  );
});

describe('frames of a dump', () => {
  it('CRC-32 as published and as zlib has it', () => {
    // Source: the check value of CRC-32 for “123456789”.
    expect(crc32([...'123456789'].map((c) => c.charCodeAt(0)))).toBe(0xcbf43926);
    fc.assert(
      fc.property(bytesOf(200), (bytes) => {
        expect(crc32(bytes)).toBe(zlibCrc32(bytes));
      }),
    );
  });
  const frames: fc.Arbitrary<DumpFrame> = fc.oneof(
    fc.record({
      kind: fc.constantFrom('request' as const, 'store' as const, 'ask-state' as const),
      device: fc.nat(127),
    }),
    fc.record({
      kind: fc.constant('state' as const),
      device: fc.nat(127),
      working: fc.option(fc.nat(2 ** 32 - 1)),
      stored: fc.option(fc.nat(2 ** 32 - 1)),
    }),
    fc.record({
      kind: fc.constant('head' as const),
      device: fc.nat(127),
      length: fc.nat(2 ** 28 - 1),
      crc: fc.nat(2 ** 32 - 1),
    }),
    fc.record({
      kind: fc.constant('packet' as const),
      device: fc.nat(127),
      number: fc.nat(127),
      bytes: bytesOf(112),
    }),
  );
  it('are read as they were written, in bytes below 80', () =>
    fc.assert(
      fc.property(frames, (frame) => {
        const data = dumpFrame(frame);
        expect(data.every((d) => d < 0x80)).toBe(true);
        expect(hex(data.slice(0, 3))).toBe('7d 49 53');
        expect(xorOf(data.slice(3))).toBe(0);
        expect(readDumpFrame(data)).toEqual({ ok: true, value: frame });
      }),
    ));
  it('with one byte damaged are never taken', () =>
    fc.assert(
      fc.property(frames, fc.nat(), fc.integer({ min: 1, max: 127 }), (frame, at, by) => {
        const data = dumpFrame(frame);
        const place = 3 + (at % (data.length - 3));
        const read = readDumpFrame(data.map((d, i) => (i === place ? d ^ by : d)));
        expect(read?.ok).toBe(false);
      }),
    ));
  it('of somebody else are none', () => expect(readDumpFrame([0x7d, 1, 2, 3])).toBeNull());
});

/** What a link does to messages: each in its time, some lost, some with a byte damaged. */
type Faults = { readonly lost: number; readonly damaged: number; readonly random: () => number };

/** Both ends of a cable until nothing more happens. */
function transferred(
  bytes: Uint8Array,
  { lost, damaged, random }: Faults,
  {
    pace = PLAIN_PACE,
    cancelAtMs = Infinity,
    isDeaf = false,
  }: { pace?: Pace; cancelAtMs?: number; isDeaf?: boolean } = {},
) {
  let sending: Sending = startSending(7, bytes, 0, pace);
  let receiving: Receiving = startReceiving(7);
  const queue: { atMs: number; to: 'sender' | 'receiver'; data: readonly number[] }[] = [];
  const freeAt = { sender: 0, receiver: 0 };
  let sentBytes = 0;
  let nowMs = 0;
  let isCancelled = false;
  const put = (to: 'sender' | 'receiver', messages: readonly (readonly number[])[]) => {
    for (const data of messages) {
      const from = Math.max(nowMs, freeAt[to]);
      freeAt[to] = from + (data.length + 2) * pace.msPerByte;
      if (to === 'receiver') sentBytes += data.length + 2;
      if (random() < lost) continue;
      const isDamaged = random() < damaged;
      const place = Math.floor(random() * data.length);
      queue.push({
        atMs: freeAt[to],
        to,
        data: isDamaged ? data.map((d, i) => (i === place ? d ^ (1 + Math.floor(random() * 127)) : d)) : data,
      });
    }
  };
  for (let steps = 0; steps < 20_000; steps++) {
    queue.sort((a, b) => a.atMs - b.atMs);
    const next = queue[0];
    const dues = [
      sending.dueMs ?? Infinity,
      receiving.dueMs ?? Infinity,
      isCancelled ? Infinity : cancelAtMs,
    ];
    const dueMs = Math.min(...dues);
    if (!next && dueMs === Infinity) break;
    if (next && next.atMs <= dueMs) {
      queue.shift();
      nowMs = next.atMs;
      const event = { kind: 'heard', atMs: nowMs, data: next.data } as const;
      if (next.to === 'receiver') {
        if (isDeaf) continue;
        const { state, send } = receiveOn(receiving, event);
        receiving = state;
        put('sender', send);
      } else {
        const { state, send } = sendOn(sending, event);
        sending = state;
        put('receiver', send);
      }
      continue;
    }
    nowMs = dueMs;
    if (dueMs === cancelAtMs && !isCancelled) {
      isCancelled = true;
      const { state, send } = sendOn(sending, { kind: 'cancel', atMs: nowMs });
      sending = state;
      put('receiver', send);
      continue;
    }
    const tick = { kind: 'tick', atMs: nowMs } as const;
    const outgoing = sendOn(sending, tick);
    sending = outgoing.state;
    put('receiver', outgoing.send);
    const incoming = receiveOn(receiving, tick);
    receiving = incoming.state;
    put('sender', incoming.send);
  }
  return { sending, receiving, sentBytes, tookMs: nowMs };
}

const someBytes = (count: number, random: () => number) =>
  Uint8Array.from({ length: count }, () => Math.floor(random() * 256));

describe('a dump over a link', () => {
  it('without faults takes the time of its bytes and of the answers', () => {
    const random = seeded(1);
    const bytes = someBytes(5000, random);
    const { sending, receiving, tookMs, sentBytes } = transferred(bytes, { lost: 0, damaged: 0, random });
    expect(sending.end).toBe('done');
    expect(received(receiving)).toEqual(bytes);
    expect(sentBytes).toBeLessThan(packedLength(5000) + (Math.ceil(5000 / 112) + 2) * 20);
    expect(tookMs).toBeLessThan(1.1 * sentBytes * 0.32);
    expect(progressOf(sending, tookMs)).toEqual({ share: 1, leftMs: 0 });
  });

  it.each([1, 2, 3, 4, 5])('with 5 % damaged and 2 % lost arrives whole, in 1.3 of its time, %d', (seed) => {
    const random = seeded(seed);
    const bytes = someBytes(20_000, random);
    const plain = transferred(bytes, { lost: 0, damaged: 0, random: () => 1 });
    const { sending, receiving, tookMs } = transferred(bytes, { lost: 0.02, damaged: 0.05, random });
    expect(sending.end).toBe('done');
    expect(received(receiving)).toEqual(bytes);
    expect(tookMs / (plain.sentBytes * 0.32)).toBeLessThan(1.3);
  });

  it('whatever is lost and damaged, one side is never content with what the other has not', () => {
    let whole = 0;
    for (let seed = 0; seed < 500; seed++) {
      const random = seeded(seed);
      const bytes = someBytes(Math.floor(random() * 600), random);
      const faults = { lost: random() * 0.3, damaged: random() * 0.4, random };
      const cancelAtMs = random() < 0.3 ? random() * 300 : Infinity;
      const { sending, receiving } = transferred(bytes, faults, { cancelAtMs });
      expect(sending.end).not.toBeNull();
      const there = received(receiving);
      if (there) expect(there).toEqual(bytes);
      if (sending.end === 'done') {
        whole++;
        expect(there).toEqual(bytes);
      }
    }
    expect(whole).toBeGreaterThan(200);
  });

  it('that is cancelled in the middle leaves nothing', () => {
    const random = seeded(9);
    const { sending, receiving, tookMs } = transferred(
      someBytes(5000, random),
      { lost: 0, damaged: 0, random },
      { cancelAtMs: 700 },
    );
    expect(sending.end).toBe('cancelled');
    expect([received(receiving), receiving.end, receiving.bytes]).toEqual([null, 'refused', []]);
    expect(tookMs).toBeLessThan(800);
  });

  it('to a receiver that is deaf ends after its tries, and says so', () => {
    const { sending, sentBytes } = transferred(
      new Uint8Array(500),
      { lost: 0, damaged: 0, random: () => 1 },
      { isDeaf: true },
    );
    expect(sending.end).toBe('no-answer');
    expect(sentBytes).toBe(
      PLAIN_PACE.tries * (dumpFrame({ kind: 'head', device: 7, length: 0, crc: 0 }).length + 2),
    );
  });

  it('waits while the receiver asks for it, and not for ever', () => {
    const head = sendOn(startSending(7, new Uint8Array(10), 0), { kind: 'tick', atMs: 0 });
    const wait = (atMs: number) => ({ kind: 'heard', atMs, data: handshake('wait', 7, 0) }) as const;
    const first = sendOn(head.state, wait(5));
    expect(sendOn(first.state, { kind: 'tick', atMs: 500 }).send).toEqual([]);
    // Said once it may be damage: the same is sent again, and who means it says it again.
    const again = sendOn(first.state, { kind: 'tick', atMs: 5 + PLAIN_PACE.doubtMs });
    expect([again.send, again.state.end]).toEqual([head.send, null]);
    const held = sendOn(again.state, wait(1100));
    expect(held.state.dueMs).toBe(1100 + PLAIN_PACE.waitMs);
    expect(sendOn(held.state, { kind: 'tick', atMs: 5000 }).send).toEqual([]);
    const on = sendOn(held.state, { kind: 'heard', atMs: 6000, data: handshake('acknowledged', 7, 0) });
    expect(readDumpFrame(on.send[0]!)).toMatchObject({ ok: true, value: { kind: 'packet', number: 1 } });
    const never = sendOn(held.state, { kind: 'tick', atMs: 1100 + PLAIN_PACE.waitMs });
    expect(never.state.end).toBe('no-answer');
  });

  it('gives a slow receiver its pause between two packets', () => {
    const random = () => 1;
    const bytes = new Uint8Array(1120);
    const gapMs = 40;
    const slow = transferred(bytes, { lost: 0, damaged: 0, random }, { pace: { ...PLAIN_PACE, gapMs } });
    const fast = transferred(bytes, { lost: 0, damaged: 0, random });
    expect(slow.sending.end).toBe('done');
    expect(slow.tookMs - fast.tookMs).toBeCloseTo(11 * gapMs, 6);
  });

  it('is not ended by one cancel that may be damage, and is by the second', () => {
    const head = sendOn(startSending(7, new Uint8Array(10), 0), { kind: 'tick', atMs: 0 });
    const cancel = (atMs: number) => ({ kind: 'heard', atMs, data: handshake('cancel', 7, 0) }) as const;
    const doubted = sendOn(head.state, cancel(5));
    expect(doubted.send).toHaveLength(1);
    expect(sendOn(doubted.state, cancel(9)).state.end).toBe('refused');
  });

  const heardBy = (state: Sending, data: number[]) => sendOn(state, { kind: 'heard', atMs: 9, data });
  /** A sender that has sent its second packet. */
  const atSecond = () => {
    const head = sendOn(startSending(7, new Uint8Array(300), 0), { kind: 'tick', atMs: 0 });
    const first = heardBy(head.state, handshake('acknowledged', 7, 0));
    return heardBy(first.state, handshake('acknowledged', 7, 1)).state;
  };

  // MIDI 1.0 Detailed Specification, "Generic Handshaking": NAK names the packet that is to be sent again.
  it.each([
    [2, { kind: 'packet', number: 2 }],
    [1, { kind: 'packet', number: 1 }],
    [0, { kind: 'head' }],
    [3, null],
    [9, null],
  ])('asked for packet %d again after the second, sends that at once', (number, again) => {
    const { send, state } = heardBy(atSecond(), handshake('not-acknowledged', 7, number));
    const sent = send.map((data) => readDumpFrame(data));
    expect(sent).toMatchObject(again ? [{ ok: true, value: again }] : []);
    expect(state.end).toBeNull();
  });

  it.each([
    ['the next packet', 2, 'acknowledged', 2, 30],
    ['the one before once more, whose answer was lost', 1, 'acknowledged', 1, 20],
    ['one too far on', 3, 'not-acknowledged', 2, 20],
    ['one with a number of before', 0, 'not-acknowledged', 2, 20],
  ] as const)('a receiver of one packet that gets %s answers so', (_what, number, kind, packet, held) => {
    const on = (state: Receiving, frame: DumpFrame) =>
      receiveOn(state, { kind: 'heard', atMs: 1, data: dumpFrame(frame) });
    const bytes = new Uint8Array(10);
    const head = on(startReceiving(7), { kind: 'head', device: 7, length: 40, crc: 0 });
    // Before the first packet no number is one of before.
    const early = on(head.state, { kind: 'packet', device: 7, number: 0, bytes });
    expect(early.send.map(readHandshake)).toEqual([{ kind: 'not-acknowledged', device: 7, packet: 1 }]);
    const first = on(early.state, { kind: 'packet', device: 7, number: 1, bytes: new Uint8Array(20) });
    const { state, send } = on(first.state, { kind: 'packet', device: 7, number, bytes });
    expect(send.map(readHandshake)).toEqual([{ kind, device: 7, packet }]);
    expect(state.bytes).toHaveLength(held);
  });
});
