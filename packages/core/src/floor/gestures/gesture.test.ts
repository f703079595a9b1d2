import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  gestureDueMs,
  moveSwitch,
  passTime,
  pressWaitMs,
  PLAIN_TIMING,
  type GestureState,
  type GestureWants,
} from './gesture';

const none: GestureWants = {
  holdMs: 600,
  doubleMs: 300,
  holdCancelsPress: false,
  hold: false,
  doublePress: false,
};
const hold = { ...none, hold: true };
const double = { ...none, doublePress: true };
const both = { ...none, hold: true, doublePress: true };
const instead = { ...hold, holdCancelsPress: true };
const all = { ...both, holdCancelsPress: true };

/** Feet as `[ms, 'down' | 'up']`, then time until `untilMs`; what fired, as `gesture@ms`. */
function play(
  wants: GestureWants,
  feet: readonly (readonly [number, 'down' | 'up'])[],
  untilMs = 5000,
): string[] {
  let state: GestureState | null = null;
  const out: string[] = [];
  const take = (outcome: ReturnType<typeof passTime>) => {
    state = outcome.state;
    for (const f of outcome.fired) out.push(`${f.gesture}@${f.atMs}`);
  };
  for (const [atMs, edge] of feet) {
    if (state) take(passTime(state, atMs, wants));
    take(moveSwitch(state, edge === 'down', atMs, wants));
  }
  if (state) take(passTime(state, untilMs, wants));
  return out;
}
const tap = (atMs: number, forMs = 80) => [[atMs, 'down'] as const, [atMs + forMs, 'up'] as const];

describe('gestures against tables of times', () => {
  it.each<[string, GestureWants, readonly (readonly [number, 'down' | 'up'])[], string[]]>([
    ['a tap', none, tap(0), ['press@0', 'release@80']],
    ['a tap held long, with nothing on hold', none, tap(0, 2000), ['press@0', 'release@2000']],
    ['a tap where a hold is assigned', hold, tap(0, 599), ['press@0', 'release@599']],
    ['a hold, at its time and not at release', hold, tap(0, 601), ['press@0', 'hold@600', 'release@601']],
    ['let go just as the hold is due', hold, tap(0, 600), ['press@0', 'hold@600', 'release@600']],
    ['a tap where a hold takes its place', instead, tap(0, 599), ['press@599', 'release@599']],
    ['a hold that takes the place of the press', instead, tap(0, 700), ['hold@600', 'release@700']],
    ['a tap where a double press is assigned', double, tap(0), ['press@300', 'release@300']],
    ['a tap longer than the window', double, tap(0, 400), ['press@300', 'release@400']],
    [
      'a double press just inside the window',
      double,
      [...tap(0), ...tap(299)],
      ['doublePress@299', 'release@379'],
    ],
    [
      'a second press as the window ends',
      double,
      [...tap(0), ...tap(300)],
      ['press@300', 'release@300', 'press@600', 'release@600'],
    ],
    [
      'a second press after the window',
      double,
      [...tap(0), ...tap(301)],
      ['press@300', 'release@300', 'press@601', 'release@601'],
    ],
    [
      'three presses',
      double,
      [...tap(0), ...tap(200), ...tap(400)],
      ['doublePress@200', 'release@280', 'press@700', 'release@700'],
    ],
    ['held where both are assigned', both, tap(0, 900), ['press@300', 'hold@600', 'release@900']],
    [
      'a double press whose second is held on',
      both,
      [...tap(0), ...tap(200, 2000)],
      ['doublePress@200', 'release@2200'],
    ],
    ['a tap with everything assigned', all, tap(0, 80), ['press@300', 'release@300']],
    ['a slow tap with everything assigned', all, tap(0, 500), ['press@500', 'release@500']],
    ['a hold with everything assigned', all, tap(0, 900), ['hold@600', 'release@900']],
    [
      'a double press with everything assigned',
      all,
      [...tap(0), ...tap(150)],
      ['doublePress@150', 'release@230'],
    ],
    [
      'a hold shorter than the window',
      { ...both, holdMs: 100 },
      tap(0, 200),
      ['press@100', 'hold@100', 'release@200'],
    ],
    [
      'hardware that never sends an up',
      none,
      [
        [0, 'down'],
        [500, 'down'],
      ],
      ['press@0', 'press@500'],
    ],
    [
      'hardware that never sends an up, pressed twice in the window',
      double,
      [
        [0, 'down'],
        [200, 'down'],
      ],
      ['doublePress@200'],
    ],
    ['an up that no down was before', none, [[0, 'up']], []],
  ])('%s', (_name, wants, feet, fired) => expect(play(wants, feet)).toEqual(fired));

  it('say how long a press waits', () => {
    expect([none, hold, double, both, instead, all].map(pressWaitMs)).toEqual([0, 0, 300, 300, null, null]);
    expect(PLAIN_TIMING).toEqual({ holdMs: 600, doubleMs: 300, holdCancelsPress: false });
  });
});

describe('whatever the feet do', () => {
  const anyWants = fc.record({
    holdMs: fc.integer({ min: 50, max: 1000 }),
    doubleMs: fc.integer({ min: 50, max: 1000 }),
    holdCancelsPress: fc.boolean(),
    hold: fc.boolean(),
    doublePress: fc.boolean(),
  });
  const anyFeet = fc
    .array(fc.tuple(fc.integer({ min: 1, max: 700 }), fc.integer({ min: 1, max: 1200 })), { maxLength: 12 })
    .map((taps) => {
      let atMs = 0;
      return taps.flatMap(([rest, down]) => {
        const downAt = (atMs += rest);
        atMs += down;
        return [[downAt, 'down'] as const, [atMs, 'up'] as const];
      });
    });

  it('every press, hold or double press is let go again, in order of time, and nothing stays waiting', () =>
    fc.assert(
      fc.property(anyWants, anyFeet, (wants, feet) => {
        const fired = play(wants, feet, 1e6).map((f) => f.split('@') as [string, string]);
        const times = fired.map(([, ms]) => Number(ms));
        expect([...times].sort((a, b) => a - b)).toEqual(times);
        const taps = feet.length / 2;
        const count = (g: string) => fired.filter(([gesture]) => gesture === g).length;
        // Each tap is one press, half of a double press, or a hold in its place.
        const instead = wants.hold && wants.holdCancelsPress ? count('hold') : 0;
        expect(count('press') + 2 * count('doublePress') + instead).toBe(taps);
        expect(count('release')).toBe(count('press') + count('doublePress') + instead);
      }),
      { seed: 44, numRuns: 500 },
    ));

  it('splitting time into more ticks changes nothing', () =>
    fc.assert(
      fc.property(anyWants, anyFeet, fc.integer({ min: 1, max: 50 }), (wants, feet, stepMs) => {
        let state: GestureState | null = null;
        const out: string[] = [];
        let next = 0;
        const end = (feet.at(-1)?.[0] ?? 0) + 3000;
        for (let atMs = 0; atMs <= end; atMs++) {
          if (atMs % stepMs === 0 || feet[next]?.[0] === atMs) {
            if (state) {
              const o = passTime(state, atMs, wants);
              state = o.state;
              out.push(...o.fired.map((f) => `${f.gesture}@${f.atMs}`));
            }
          }
          for (; feet[next]?.[0] === atMs; next++) {
            const o = moveSwitch(state, feet[next]![1] === 'down', atMs, wants);
            state = o.state;
            out.push(...o.fired.map((f) => `${f.gesture}@${f.atMs}`));
          }
        }
        expect(out).toEqual(play(wants, feet, end));
        if (state) expect(gestureDueMs(state, wants)).toBeNull();
      }),
      { seed: 45, numRuns: 100 },
    ));
});
