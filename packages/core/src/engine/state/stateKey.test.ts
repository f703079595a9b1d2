import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { controller } from '../../midi';
import { assign, makeBoard, makeFunction } from '../../testing.test-support';
import { stateKey, type LiveEvent } from '../index';
import { Playing, showWithGear } from '../playing.test-support';
import { anyHistories, keysMatter } from '../time/timeRuns.test-support';

it('1,000 pairs of states with one key give the same bytes at the same times for the same 20 events', () => {
  let [pairs, runs] = [0, 0];
  fc.assert(
    fc.property(anyHistories, (histories) => {
      runs++;
      if (pairs >= 1000) return;
      const found = keysMatter(histories);
      pairs += found.pairs;
      expect(found.wrong).toBeNull();
    }),
    { seed: 10, numRuns: 100 },
  );
  expect(pairs).toBeGreaterThanOrEqual(10 * runs);
});

describe('a key', () => {
  const set = (value: number) => ({ kind: 'set' as const, functionId: 'level', value });
  const sweep = {
    id: 'x',
    functionId: 'level',
    from: 0,
    to: 127,
    invert: false,
    curve: 'linear',
    points: [],
  } as const;
  const b = makeBoard(2, 1, [
    [
      assign('s0', [set(1)], [], { hold: [set(2)], timing: { holdMs: 500 } }),
      assign('s1', [set(1)]),
      { ...assign('p0', []), sweeps: [sweep] },
    ],
  ]);
  const controls = b.board.controls.map((c) => ({
    ...c,
    ...(c.id === 'p0' ? { sends: { kind: 'controller-14' as const, number: 4 } } : {}),
    hardware: { ...c.hardware, debounceMs: c.id === 's1' ? 20 : 0 },
  }));
  const level = makeFunction({ id: 'level', drive: { kind: 'controller', controller: 21 } });
  const show = showWithGear({ chart: [level] }, { ...b, board: { ...b.board, controls } });

  const says = (atMs: number, number: number, value: number): LiveEvent => ({
    kind: 'message',
    atMs,
    portId: 'board-out',
    message: controller(15, number, value),
  });
  const tap = (atMs: number): LiveEvent => ({ kind: 'command', atMs, command: { kind: 'tap' } });
  const keyAfter = (events: readonly LiveEvent[], atMs: number): string => {
    const playing = new Playing(show);
    for (const event of events) playing.wait(event.atMs).run(event);
    const { world, state } = playing.wait(atMs).tick(atMs);
    return stateKey(world, state);
  };
  const [HOLD, PLAIN, COARSE] = [30, 31, 4];

  it.each<[string, LiveEvent[], LiveEvent[], number, boolean]>([
    ['tells when a hold will fire', [says(0, HOLD, 127)], [says(100, HOLD, 127)], 300, false],
    ['forgets when one that has fired began', [says(0, HOLD, 127)], [says(100, HOLD, 127)], 900, true],
    [
      'forgets when a switch without a hold went down',
      [says(0, PLAIN, 127)],
      [says(100, PLAIN, 127)],
      300,
      true,
    ],
    ['tells contacts that may bounce yet', [says(0, PLAIN, 127)], [says(10, PLAIN, 127)], 15, false],
    [
      'tells a coarse half that waits for its fine one',
      [says(0, COARSE, 64)],
      [says(5, COARSE, 64)],
      7,
      false,
    ],
    [
      'forgets how long ago it was once it has counted',
      [says(0, COARSE, 64)],
      [says(5, COARSE, 64)],
      50,
      true,
    ],
    ['tells a tap that another one may follow', [tap(0)], [], 1900, false],
    ['forgets a tap of long ago', [tap(0)], [], 2100, true],
  ])('%s', (_, one, other, atMs, isSame) =>
    expect(keyAfter(one, atMs) === keyAfter(other, atMs)).toBe(isSame),
  );
});
