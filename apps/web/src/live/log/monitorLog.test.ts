import { controller, noteOn, realTime, sysex, type Message } from '@idle-step/core/midi';
import { demoRig } from '@idle-step/demo';
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { LOG_LIMIT, MonitorLog } from './monitorLog';

const note = (sentence: string) => ({ kind: 'note', code: 'panic', sentence, atMs: 0, wallMs: 0 }) as const;
const filled = (count: number): MonitorLog => {
  const log = new MonitorLog();
  for (let i = 1; i <= count; i++) log.add(note(`${i}`));
  return log;
};
const numbers = (log: MonitorLog, since: number) => log.since(since).map((l) => l.seq);

it.each([
  { count: 0, since: 0, first: undefined, last: undefined, length: 0 },
  { count: 3, since: 0, first: 1, last: 3, length: 3 },
  { count: 3, since: 2, first: 3, last: 3, length: 1 },
  { count: 3, since: 3, first: undefined, last: undefined, length: 0 },
  { count: LOG_LIMIT + 5, since: 0, first: 6, last: LOG_LIMIT + 5, length: LOG_LIMIT },
  {
    count: LOG_LIMIT * 1.2,
    since: LOG_LIMIT * 1.2 - 1,
    first: LOG_LIMIT * 1.2,
    last: LOG_LIMIT * 1.2,
    length: 1,
  },
])('of $count lines those after number $since', ({ count, since, first, last, length }) => {
  const got = numbers(filled(count), since);
  expect([got[0], got.at(-1), got.length]).toEqual([first, last, length]);
  expect(got).toEqual(got.map((_, i) => got[0]! + i));
});

it('numbers go on over clearing', () => {
  const log = filled(4);
  log.clear();
  expect([log.last('note'), log.total]).toEqual([undefined, 4]);
  log.add(note('again'));
  expect(numbers(log, 0)).toEqual([5]);
  expect(numbers(log, 4)).toEqual([5]);
  expect(log.last('note')).toMatchObject({ seq: 5, sentence: 'again' });
});

it('the last line of a kind is gone once so many others came after it', () => {
  const log = filled(1);
  const other = { kind: 'port', portId: 'p', rig: demoRig, name: 'Blue box 1', atMs: 0, wallMs: 0 } as const;
  for (let i = 1; i < LOG_LIMIT; i++) log.add(other);
  expect(log.last('note')).toMatchObject({ seq: 1 });
  log.add(other);
  expect([log.last('note'), log.last('port')?.seq]).toEqual([undefined, LOG_LIMIT + 1]);
});

const device = demoRig.devices.find((d) => d.chart.length > 0);
const time = fc.double({ min: 0, max: 1e12, noNaN: true });
const byte = fc.nat(127);
const anyLine = fc.oneof(
  fc.record({
    kind: fc.constantFrom('in' as const, 'out' as const),
    atMs: time,
    wallMs: time,
    portId: fc.constantFrom('a', 'b'),
    rig: fc.constant(demoRig),
    device: fc.constantFrom(device!, null),
    fn: fc.constantFrom(device!.chart[0]!, null),
    controlName: fc.constantFrom('', 'Left'),
    message: fc.oneof(
      fc.tuple(fc.nat(15), byte, byte).map((m): Message => controller(...m)),
      fc.tuple(fc.nat(15), byte, byte).map((m): Message => noteOn(...m)),
      fc.uint8Array({ max: 127, maxLength: 9 }).map((data): Message => sysex(data)),
      fc.constantFrom<Message>(realTime('clock'), realTime('stop')),
    ),
    sequence: fc.constantFrom(
      { kind: 'controller-14' as const, channel: 1, controller: 2, value: 300 },
      null,
    ),
    real: fc.boolean(),
    taken: fc.boolean(),
    expected: fc.option(byte),
    lateMs: fc.option(time),
  }),
  fc.constantFrom(note('told'), {
    kind: 'port' as const,
    atMs: 1,
    wallMs: 2,
    portId: 'a',
    rig: demoRig,
    name: 'Blue box 1',
  }),
);

it('gives back every line as it came, over its edge too', () => {
  fc.assert(
    fc.property(fc.array(anyLine, { maxLength: 40 }), fc.nat(30), (lines, before) => {
      const log = filled(LOG_LIMIT - before);
      for (const line of lines) log.add(line);
      const first = LOG_LIMIT - before + 1;
      const numbered = lines.map((line, i) => ({ ...line, seq: first + i }));
      expect(log.since(first - 1)).toEqual(numbered);
      for (const kind of ['in', 'out', 'port'] as const)
        expect(log.last(kind)).toEqual(numbered.findLast((l) => l.kind === kind));
      expect(log.since(0)).toHaveLength(Math.min(LOG_LIMIT, first - 1 + lines.length));
    }),
    { numRuns: 60 },
  );
});

it('who waits is told of the next line, once, and not when they have stopped waiting', () => {
  const log = new MonitorLog();
  const told: string[] = [];
  log.whenAdded(() => told.push('a'));
  const stop = log.whenAdded(() => told.push('b'));
  stop();
  // Whoever waits again from within is told of the one after.
  log.whenAdded(() => {
    told.push('c');
    log.whenAdded(() => told.push('d'));
  });
  log.add(note('1'));
  expect(told).toEqual(['a', 'c']);
  log.add(note('2'));
  log.add(note('3'));
  expect(told).toEqual(['a', 'c', 'd']);
});

it('the last line of a kind is the same one until another has come', () => {
  const log = new MonitorLog();
  const out = (value: number) => {
    const line = { atMs: 1, wallMs: 1, portId: 'a', rig: demoRig, device: null, fn: null, controlName: '' };
    const rest = { sequence: null, real: true, taken: true, expected: null, lateMs: 0 };
    log.add({ kind: 'out', message: controller(0, 1, value), ...line, ...rest });
  };
  out(1);
  const first = log.last('out');
  log.add(note('meanwhile'));
  expect(log.last('out')).toBe(first);
  out(2);
  expect(log.last('out')).toMatchObject({ seq: 3, message: { value: 2 } });
  // A clock that comes in between takes nothing away, as long as the line is kept.
  for (let i = 0; i < LOG_LIMIT - 1; i++) log.add(note('in between'));
  expect(log.last('out')).toMatchObject({ seq: 3 });
  log.add(note('one more'));
  expect(log.last('out')).toBeUndefined();
  out(3);
  log.clear();
  expect(log.last('out')).toBeUndefined();
  expect(log.last('note')).toBeUndefined();
});
