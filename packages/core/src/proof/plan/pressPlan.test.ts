import { describe, expect, it } from 'vitest';
import { stateKey, type LiveState, type World } from '../../engine';
import { nth } from '../../sure';
import { seeded } from '../../seeded.test-support';
import { drained } from '../feet/drained';
import { begunEvening } from '../feet/evening';
import { randomEvening, replayed, sceneKeyOf } from '../feet/footRuns.test-support';
import { footGraph } from '../feet/graph';
import { pressed, pressesAt, type FootPress } from '../feet/press';
import { standsOtherwise } from '../feet/stands';
import { fittsBits, fittsS } from './fitts';
import { easiest, goalsOf, type Change } from './easiest.test-support';
import { pressesWords, pressWords } from '../feet/pressWords';
import { pressPlan } from './pressPlan';

describe('the time that a movement takes', () => {
  // MacKenzie 1992, Shannon form (from memory): D/W of 1, 3, 7, 15 give 1, 2, 3, 4 bits.
  it.each([
    [1, 1],
    [3, 2],
    [7, 3],
    [15, 4],
  ])('D/W %d is %d bits', (ratio, bits) => {
    expect(fittsBits(ratio * 30, 30)).toBeCloseTo(bits, 9);
    expect(fittsS(0.2, 0.15, ratio * 30, 30)).toBeCloseTo(0.2 + 0.15 * bits, 9);
  });
  it('of no distance is the first part alone', () => expect(fittsS(0.2, 0.15, 0, 30)).toBe(0.2));
});

/**
 * All ways to play the set in order with the fewest presses, change by change; none where more than so many would be
 * needed. Tries every press in every state.
 */
function everyPlan(world: World, most: number): Change[][] {
  const goals = goalsOf(world);
  const start = begunEvening(world);
  if (goals.length === 0 || sceneKeyOf(start) !== goals[0]!.key) return [];
  for (let count = 0; count <= most; count++) {
    const found: Change[][] = [];
    const dead = new Set<string>();
    const visit = (state: LiveState, at: number, left: number, done: Change[], now: FootPress[]): boolean => {
      if (at === goals.length) {
        if (left === 0) found.push(done);
        return left === 0;
      }
      const key = `${stateKey(world, state)} ${at} ${left}`;
      if (dead.has(key)) return false;
      let isAlive = false;
      if (sceneKeyOf(state) === nth(goals, at).key && nth(goals, at - 1).key === nth(goals, at).key)
        isAlive = visit(state, at + 1, left, [...done, now], []) || isAlive;
      if (left > 0)
        for (const { controlId, gesture } of pressesAt(world, state)) {
          const press = { controlId, gesture };
          const after = pressed(world, state, press);
          const scene = sceneKeyOf(after.state);
          if (after.recalls) {
            if (scene !== nth(goals, at).key || standsOtherwise(world, after.state).length > 0) continue;
            isAlive = visit(after.state, at + 1, left - 1, [...done, [...now, press]], []) || isAlive;
          } else if (scene === sceneKeyOf(state))
            isAlive = visit(after.state, at, left - 1, done, [...now, press]) || isAlive;
        }
      if (!isAlive) dead.add(key);
      return isAlive;
    };
    visit(start, 1, count, [[]], []);
    if (found.length > 0) return found;
  }
  return [];
}

const SETS = 300;
const MOST = 6;

describe('the press plan', () => {
  it(`is the one that trying everything finds (${SETS} small sets)`, () => {
    let planned = 0;
    let tight = 0;
    for (let seed = 1; seed <= SETS; seed++) {
      const { world } = randomEvening(seeded(1000 + seed));
      const graph = drained(footGraph(world, begunEvening(world), { exactPresses: 20_000, presses: 20_000 }));
      const plan = pressPlan(world, graph);
      const all = everyPlan(world, MOST);
      if (all.length === 0) {
        expect([seed, plan.open > 0 || plan.presses > MOST]).toEqual([seed, true]);
        continue;
      }
      planned++;
      expect([seed, plan.open, plan.presses, plan.isProven]).toEqual([
        seed,
        0,
        nth(all, 0).flat().length,
        true,
      ]);
      const [tightest, seconds] = all
        .map((p) => easiest(world, p))
        .reduce((a, b) => (b[0] < a[0] || (b[0] === a[0] && b[1] < a[1]) ? b : a));
      expect([seed, plan.tight]).toEqual([seed, tightest]);
      expect(plan.takesS).toBeCloseTo(seconds, 9);
      tight += tightest;
      // It can be played as it is written.
      expect(
        sceneKeyOf(
          replayed(
            world,
            plan.parts.flatMap((p) => p.presses),
          ),
        ),
      ).toBe(goalsOf(world).at(-1)?.key);
    }
    // The sets are worth trying: many of them can be played, and some are tight.
    expect([planned > SETS / 4, tight > 10]).toEqual([true, true]);
  });

  it('names presses as musicians do', () => {
    const { world } = randomEvening(seeded(3));
    expect(pressWords(world, { controlId: 's0', gesture: 'press' })).toBe('switch 1');
    expect(pressWords(world, { controlId: 's1', gesture: 'hold' })).toBe('hold switch 2');
    const s0 = { controlId: 's0', gesture: 'press' } as const;
    expect(pressesWords(world, [s0, s0, { ...s0, gesture: 'doublePress' }])).toBe(
      'switch 1 × 2, twice switch 1',
    );
  });
});
