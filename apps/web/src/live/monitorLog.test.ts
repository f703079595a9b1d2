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

it('numbers go on over clearing, and the newest is the last that came', () => {
  const log = filled(4);
  expect(log.newest?.seq).toBe(4);
  log.clear();
  expect([log.newest, log.total]).toEqual([undefined, 4]);
  log.add(note('again'));
  expect(numbers(log, 0)).toEqual([5]);
  expect(numbers(log, 4)).toEqual([5]);
  expect(log.newest).toMatchObject({ seq: 5, sentence: 'again' });
});
