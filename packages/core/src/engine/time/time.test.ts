import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { PLAIN_HARDWARE, type Assignment } from '../../floor';
import { controller } from '../../midi';
import { modulationSteps, PLAIN_MODULATION } from '../../routing';
import { assign, makeBoard, makeFunction, valuesOf } from '../../testing.test-support';
import { compileWorld, EndlessMoment, initialState, step, type LiveEvent, type World } from '../index';
import { play, Playing, showWithGear } from '../playing.test-support';
import { anyTimeRun, ticksMatter } from './timeRuns.test-support';

const gear = { chart: [makeFunction({ id: 'level', drive: { kind: 'controller', controller: 21 } })] };

function makeWorld(assignment: Assignment, debounceMs = 0): World {
  const { device, board, preset } = makeBoard(1, 0, [[assignment]]);
  const controls = board.controls.map((c) => ({ ...c, hardware: { ...PLAIN_HARDWARE, debounceMs } }));
  return compileWorld(showWithGear(gear, { device, board: { ...board, controls }, preset }));
}

const down = (atMs: number): LiveEvent => ({
  kind: 'message',
  atMs,
  portId: 'board-out',
  message: controller(15, 30, 127),
});
const up = (atMs: number): LiveEvent => ({ ...down(atMs), message: controller(15, 30, 0) }) as LiveEvent;
const tick = (atMs: number): LiveEvent => ({ kind: 'tick', atMs });
const late = (atMs: number): LiveEvent => ({ kind: 'tick', atMs, leavesMs: atMs });

const set = (value: number, delayMs = 0) =>
  ({ kind: 'set', functionId: 'level', value, delay: { amount: delayMs, unit: 'ms' } }) as never;
const ramp = (s: number) =>
  ({
    kind: 'ramp',
    functionId: 'level',
    from: 0,
    to: 100,
    time: { amount: s, unit: 's' },
    curve: 'linear',
  }) as never;

describe('what is due is done in the order in which it was due, however late time is told', () => {
  it('a delay of 100 ms and a hold of 200 ms, in three ticks and in one', () => {
    const world = makeWorld(assign('s0', [set(1, 100)], [], { hold: [set(2)], timing: { holdMs: 200 } }));
    const inThree = play(world, [down(0), tick(100), tick(200), tick(300)]);
    const inOne = play(world, [down(0), tick(300)]);
    expect(inOne.sent).toEqual(['100 B0 15 01', '200 B0 15 02']);
    expect(inThree.sent).toEqual(inOne.sent);
    expect(valuesOf(world, inOne.state)).toEqual({ level: 2 });
  });

  it('a hold that was due comes before the release that is heard after it', () => {
    const world = makeWorld(assign('s0', [], [set(3)], { hold: [set(2)], timing: { holdMs: 200 } }));
    expect(play(world, [down(0), up(300)]).sent).toEqual(['200 B0 15 02', '300 B0 15 03']);
  });

  it('what a late timer missed of a glide is skipped, and its end is exact', () => {
    const world = makeWorld(assign('s0', [ramp(0.1)]));
    expect(play(world, [down(0), late(55), late(400)]).sent).toEqual([
      '0 B0 15 00',
      '55 B0 15 32',
      '400 B0 15 64',
    ]);
  });

  it('a clock that overslept goes on from now, and one that is a little late catches up', () => {
    const world = makeWorld(assign('s0', [{ kind: 'clock', portId: 'out', to: 'start' } as never]));
    // 24 clocks to a quarter at 120 bpm: 20.833 ms (MIDI 1.0 Detailed Specification, from memory).
    expect(play(world, [down(0), late(1 + 2.5 * 20.8333)]).sent).toHaveLength(1 + 3);
    const slept = play(world, [down(0), late(60_000)]);
    expect(slept.sent).toHaveLength(1 + 1);
    expect(slept.wakeMs).toBeCloseTo(60_000 + 500 / 24, 6);
    expect(play(world, [down(0), tick(1000)]).sent).toHaveLength(1 + 48);
  });

  it('a hold that silences everything at the moment at which another one is due', () => {
    const holds = ['s0', 's1'].map((id) =>
      assign(id, [], [], { hold: [{ kind: 'panic' } as never, set(1)], timing: { holdMs: 200 } }),
    );
    const world = compileWorld(showWithGear(gear, makeBoard(2, 0, [holds])));
    const other: LiveEvent = {
      kind: 'message',
      atMs: 0,
      portId: 'board-out',
      message: controller(15, 31, 127),
    };
    const { sent, state } = play(world, [down(0), other, tick(500)]);
    expect(sent.filter((s) => s.endsWith('B0 15 01'))).toEqual(['200 B0 15 01']);
    expect(Object.keys(state.held)).toEqual(['s0', 's1']);
  });

  it('an event from a time that is over happens now', () => {
    const world = makeWorld(assign('s0', [set(1, 100)]));
    const { sent, state } = play(world, [down(50), up(20), tick(400)]);
    expect(sent).toEqual(['150 B0 15 01']);
    expect(state.atMs).toBe(400);
  });

  it('splitting time into more ticks changes nothing, in 1,500 random worlds', () => {
    fc.assert(
      fc.property(anyTimeRun, (run) => {
        expect(ticksMatter(run)).toBeNull();
      }),
      { seed: 101, numRuns: 1500 },
    );
  }, 300_000);
});

describe('a wake is later than now', () => {
  it('for glides that begin at any fraction of a millisecond', () => {
    const world = makeWorld(assign('s0', [ramp(0.5)]));
    const wrong: number[] = [];
    for (let i = 0; i < 2000; i++) {
      const startMs = 1000 + i * 0.377;
      const playing = new Playing(world).run(down(startMs));
      const isWoken = () => playing.wakeMs < Infinity && playing.wakeMs > playing.state.atMs;
      for (let rounds = 0; isWoken() && rounds < 60; rounds++) playing.tick(playing.wakeMs);
      if (playing.wakeMs < Infinity || valuesOf(world, playing.state)['level'] !== 100) wrong.push(startMs);
    }
    expect(wrong).toEqual([]);
  });

  it('and what would never let time go on ends in an error that names the cycle', () => {
    const world = makeWorld(assign('s0', []));
    // A tempo without end: only a bug could make one.
    const state = { ...initialState(world, 0), clocks: { out: { sinceMs: 0, bpm: Infinity, sent: 0 } } };
    expect(() => step(world, state, tick(10))).toThrow(EndlessMoment);
    expect(() => step(world, state, tick(10))).toThrow(/At 0 ms .* clock of out/);
  });
});

describe('the steps of a modulation are counted', () => {
  it.each([
    ['every 10.1 ms', { everyMs: 10.1 }],
    ['an attack of 300.1 ms in steps of 10', { attackMs: 300.1, everyMs: 10 }],
    ['thirds', { attackMs: 100 / 3, decayMs: 100 / 7, releaseMs: 0.1, everyMs: 5.000001 }],
  ])('and come to an end: %s', (_, part) => {
    const m = { ...PLAIN_MODULATION, ...part };
    const steps = modulationSteps(m, 700);
    const times = steps.map((s) => s.atMs);
    expect(times).toEqual([...new Set(times)].sort((a, b) => a - b));
    expect(steps.at(-1)!.value).toBe(m.rest);
    expect(times.at(-1)).toBeLessThanOrEqual(700 + m.releaseMs);
  });

  it('for any times that the fields take', () => {
    const ms = fc.double({ min: 0, max: 3000, noNaN: true });
    fc.assert(
      fc.property(ms, ms, ms, ms, fc.double({ min: 5, max: 1000, noNaN: true }), ms, (...times) => {
        const [delayMs, attackMs, decayMs, releaseMs, everyMs, heldMs] = times;
        const m = { ...PLAIN_MODULATION, delayMs, attackMs, decayMs, releaseMs, everyMs };
        const steps = modulationSteps(m, heldMs);
        const most = (delayMs + attackMs + decayMs + releaseMs) / everyMs + 6;
        expect(steps.length).toBeLessThanOrEqual(most);
      }),
      { seed: 102, numRuns: 500 },
    );
  });
});
