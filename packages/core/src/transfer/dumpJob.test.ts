import fc from 'fast-check';
import JZZ from 'jzz';
import { describe, expect, it } from 'vitest';
import {
  dumpBytes,
  dumpDifferences,
  dumpOn,
  dumpShare,
  DUMP_LIMIT,
  startAsking,
  startDump,
  startListening,
  sysexIn,
  type DumpEvent,
  type DumpJob,
} from './index';

const PACE = { msPerByte: 0.32, gapMs: 20 };
const anyMessages = fc.array(fc.array(fc.nat(127), { maxLength: 40 }), { minLength: 1, maxLength: 8 });
const raw = (messages: readonly (readonly number[])[]) => messages.flatMap((m) => [0xf0, ...m, 0xf7]);

describe('raw system exclusive', () => {
  it('is read as it was written, as another reader reads it', () =>
    fc.assert(
      fc.property(anyMessages, (messages) => {
        expect(sysexIn(raw(messages))).toEqual({ messages, error: null });
        // A registry's reader takes each of them for one whole message.
        for (const m of messages) expect([...new JZZ.MIDI([0xf0, ...m, 0xf7])]).toEqual([0xf0, ...m, 0xf7]);
      }),
    ));
  it.each([
    [[], 'There is no system exclusive'],
    [[0xf0, 1, 2], 'Byte 3: the last message is cut off'],
    [[0xf0, 1, 0xf0, 2, 0xf7], 'Byte 3: a new F0'],
    [[0xf7], 'Byte 1: F7 ends nothing'],
    [[0x90, 60, 100], 'Byte 1: 90 cannot stand'],
    [[5, 0xf0, 1, 0xf7], 'Byte 1: it stands outside'],
    [[0xf0, 1, 0xb0, 0xf7], 'Byte 3: B0 cannot stand'],
  ])('%j is refused with its place', (bytes, words) => {
    const { messages, error } = sysexIn(bytes);
    expect([messages, error?.includes(words)]).toEqual([[], true]);
  });
});

/** Plays ticks as they fall due, and what is heard in between. */
function run(
  job: DumpJob,
  events: readonly DumpEvent[] = [],
): { job: DumpJob; sent: { atMs: number; data: readonly number[] }[] } {
  let state = job;
  const sent: { atMs: number; data: readonly number[] }[] = [];
  const left = [...events];
  for (let i = 0; i < 1000 && state.end === null; i++) {
    const due = state.dueMs ?? Infinity;
    const next = left[0];
    if (due === Infinity && !next) break;
    const event: DumpEvent = next && next.atMs <= due ? left.shift()! : { kind: 'tick', atMs: due };
    const done = dumpOn(state, event);
    state = done.state;
    for (const data of done.send) sent.push({ atMs: event.atMs, data });
  }
  return { job: state, sent };
}

describe('a dump', () => {
  it('is sent message by message, each in its time and with its pause', () => {
    const messages = [[1, 2, 3], [4], [5, 6]];
    const { job, sent } = run(startDump(messages, 100, PACE));
    expect(sent.map((s) => s.data)).toEqual(messages);
    expect(sent.map((s) => s.atMs)).toEqual([100, 100 + 5 * 0.32 + 20, 100 + 5 * 0.32 + 20 + 3 * 0.32 + 20]);
    expect([job.end, dumpShare(job)]).toEqual(['done', 1]);
  });
  it('that was asked for is over once nothing comes for a second', () => {
    const heard = (atMs: number, data: number[]): DumpEvent => ({ kind: 'heard', atMs, data });
    const { job, sent } = run(startAsking([[0x7e]], 0, PACE), [heard(50, [1, 2]), heard(900, [3])]);
    expect(sent).toHaveLength(1);
    expect([job.end, job.came.length, [...dumpBytes(job)]]).toEqual(['done', 2, raw([[1, 2], [3]])]);
  });
  it('of a device that says nothing is none', () => {
    const { job } = run(startAsking([[0x7e]], 0, PACE));
    expect([job.end, dumpBytes(job)]).toEqual(['no-answer', new Uint8Array()]);
  });
  it('that is listened for is kept when one says so, and never by itself', () => {
    const listening = startListening(PACE);
    const heard = dumpOn(listening, { kind: 'heard', atMs: 10, data: [7] }).state;
    expect([heard.end, heard.dueMs]).toEqual([null, null]);
    expect(dumpOn(heard, { kind: 'stop', atMs: 20 }).state).toMatchObject({
      end: 'done',
      came: [[7]],
      size: 3,
    });
    expect(dumpOn(listening, { kind: 'stop', atMs: 20 }).state.end).toBe('no-answer');
    expect(dumpOn(heard, { kind: 'cancel', atMs: 20 }).state.end).toBe('cancelled');
  });
  it('that is too large ends', () => {
    const data = new Uint8Array(DUMP_LIMIT);
    expect(dumpOn(startListening(PACE), { kind: 'heard', atMs: 0, data }).state.end).toBe('too-large');
  });
  it('of which the port goes away in the middle is not taken for whole', () => {
    const asking = dumpOn(startAsking([[0x7e]], 0, PACE), { kind: 'tick', atMs: 0 }).state;
    const half = dumpOn(asking, { kind: 'heard', atMs: 50, data: [1, 2] }).state;
    expect(dumpOn(half, { kind: 'port-gone', atMs: 60 }).state).toMatchObject({
      end: 'port-gone',
      dueMs: null,
    });
    const sending = dumpOn(startDump([[1], [2]], 0, PACE), { kind: 'tick', atMs: 0 }).state;
    expect(dumpOn(sending, { kind: 'port-gone', atMs: 5 }).state.end).toBe('port-gone');
    // Whoever listens says when it is over, and keeps what came.
    const heard = dumpOn(startListening(PACE), { kind: 'heard', atMs: 10, data: [7] }).state;
    expect(dumpOn(heard, { kind: 'port-gone', atMs: 60 }).state).toBe(heard);
  });
  it('is not heard while another is sent', () => {
    const sending = startDump([[1]], 0, PACE);
    expect(dumpOn(sending, { kind: 'heard', atMs: 0, data: [1] }).state).toBe(sending);
  });
});

describe('two dumps side by side', () => {
  it('say each byte that differs, by its place', () =>
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 90 }), fc.uint8Array({ maxLength: 90 }), (a, b) => {
        const { lines, count } = dumpDifferences(a, b);
        const places = lines.flatMap((l) => l.differing.map((i) => l.at + i));
        const wanted = Array.from({ length: Math.max(a.length, b.length) }, (_, i) => i).filter(
          (i) => a[i] !== b[i],
        );
        expect(places).toEqual(wanted);
        expect(count).toBe(wanted.length);
        for (const l of lines) expect([...l.first]).toEqual([...a.slice(l.at, l.at + 16)]);
      }),
    ));
});
