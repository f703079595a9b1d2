import { describe, expect, it } from 'vitest';
import { compileWorld, type Show, type World } from '../../engine';
import { there } from '../../sure';
import { seeded } from '../../seeded.test-support';
import { assign, makeBoard, makeRig, makeSong } from '../../testing.test-support';
import { drained } from '../feet/drained';
import { begunEvening } from '../feet/evening';
import { pressed } from '../feet/press';
import { randomEvening } from '../feet/footRuns.test-support';
import { footGraph } from '../feet/graph';
import { easiest, type Change } from '../plan/easiest.test-support';
import { FEET_MODEL } from '../plan/feetModel';
import { pressPlan } from '../plan/pressPlan';
import { wholeLayout } from './acrossBanks';
import { layoutSearch, withMoves, type EasiestFound, type LayoutWish } from './layout';

const WISH: LayoutWish = {
  boardId: 'board',
  fixed: [],
  isSameInEveryBank: false,
  foot: null,
  changesAtMost: null,
  isAcrossBanks: false,
};
const IDS = ['s0', 's1', 's2'];
const ORDERS = [
  [0, 1, 2],
  [0, 2, 1],
  [1, 0, 2],
  [1, 2, 0],
  [2, 0, 1],
  [2, 1, 0],
];

const planOf = (world: World) =>
  pressPlan(world, drained(footGraph(world, begunEvening(world), { exactPresses: 20_000, presses: 20_000 })));

/** Evenings that feet play in a few presses. */
function* evenings(count: number) {
  let found = 0;
  for (let seed = 1; found < count; seed++) {
    const { show, world } = randomEvening(seeded(5000 + seed));
    const plan = planOf(world);
    if (plan.open > 0 || plan.presses < 2 || plan.presses > 7) continue;
    found++;
    yield {
      seed,
      show,
      world,
      plan,
      search: (part: Partial<LayoutWish> = {}) => searched(world, plan, part),
    };
  }
}

const searched = (world: World, plan: ReturnType<typeof planOf>, part: Partial<LayoutWish>): EasiestFound =>
  drained(layoutSearch(world, plan, begunEvening(world), { ...WISH, ...part }, FEET_MODEL));

/** The presses of a plan with the bank that is in force at each, as places of the three switches. */
function stepsOf(world: World, changes: readonly Change[]) {
  let state = begunEvening(world);
  return changes.map((change) =>
    change.map((press) => {
      const bankId = state.banks['board'] ?? 'bank-0';
      state = pressed(world, state, press).state;
      return { press, bankId };
    }),
  );
}

/** The least of all layouts, reckoned by trying every order of every bank and every choice of feet. */
function leastOf(
  world: World,
  changes: readonly Change[],
  {
    same = false,
    feet = [0, 1],
    fixed = [] as string[],
    most = Infinity,
  }: { same?: boolean; feet?: readonly (0 | 1)[]; fixed?: string[]; most?: number } = {},
): readonly [number, number] {
  const steps = stepsOf(world, changes);
  const banks = [...new Set(steps.flat().map((s) => s.bankId))];
  let least: readonly [number, number] = [Infinity, Infinity];
  const choices = same ? ORDERS.map((o) => banks.map(() => o)) : product(banks.map(() => ORDERS));
  for (const choice of choices) {
    const moved = (bankId: string, id: string) => IDS[choice[banks.indexOf(bankId)]![IDS.indexOf(id)]!]!;
    if (fixed.some((id) => banks.some((b) => moved(b, id) !== id))) continue;
    const rows = same ? choice.slice(0, 1) : choice;
    if (rows.flatMap((o) => o.filter((to, i) => to !== i)).length > most) continue;
    const cost = easiest(
      world,
      steps.map((change) =>
        change.map(({ press, bankId }) => ({ ...press, controlId: moved(bankId, press.controlId) })),
      ),
      feet,
    );
    if (cost[0] < least[0] || (cost[0] === least[0] && cost[1] < least[1])) least = cost;
  }
  return least;
}

const product = <T>(lists: readonly (readonly T[])[]): T[][] =>
  lists.reduce<T[][]>((all, list) => all.flatMap((done) => list.map((x) => [...done, x])), [[]]);

const costOf = ({ after }: EasiestFound) => [after.tight, after.takesS];

/** Ten switches anywhere, each of which recalls a scene of its own, and a song that plays them in an order. */
function tenSwitches(seed: number, order: readonly number[]): World {
  const random = seeded(seed);
  const upTo = (n: number) => Math.floor(random() * n);
  const { device, board, preset } = makeBoard(10, 0, [
    Array.from({ length: 10 }, (_, i) => assign(`s${i}`, [{ kind: 'scene', to: { kind: 'at', index: i } }])),
  ]);
  const song = makeSong(
    'Song',
    Array.from({ length: 10 }, (_, i) => [`${i + 1}`, {}]),
  );
  const parts = order.map((at, i) => ({
    id: `part-${i}`,
    sceneId: song.scenes[at]!.id,
    name: '',
    remark: '',
    length: null,
  }));
  const controls = board.controls.map((c) => ({
    ...c,
    xMm: upTo(360),
    yMm: upTo(160),
    widthMm: 20 + upTo(30),
    heightMm: 20 + upTo(30),
  }));
  const rig = makeRig([device], [], [{ ...board, widthMm: 400, heightMm: 200, controls }]);
  return compileWorld({ rig, presets: [preset], setName: 'Set', songs: [{ ...song, parts }] });
}

describe('an easier layout', () => {
  it('is the easiest of all that there are, for the presses of the plan (40 evenings)', () => {
    let better = 0;
    for (const { seed, world, plan, search } of evenings(40)) {
      const found = search();
      expect([seed, found.isProven, found.before.tight]).toEqual([seed, true, plan.tight]);
      expect(found.before.takesS).toBeCloseTo(plan.takesS, 9);
      const [tight, takesS] = leastOf(
        world,
        plan.parts.map((p) => p.presses),
      );
      expect([seed, found.after.tight]).toEqual([seed, tight]);
      expect(found.after.takesS).toBeCloseTo(takesS, 9);
      if (found.moves.length > 0) better++;
    }
    expect(better).toBeGreaterThan(10);
  });

  it.each([3, 4])(
    'for one foot, beside a switch that stays, is proven for more switches than can be tried one by one (%d)',
    (seed) => {
      const world = tenSwitches(seed, [0, 9, 3, 9, 5, 1, 9, 7, 2, 8, 4, 9, 6, 0, 9]);
      const plan = planOf(world);
      const { moves, after, before, isProven } = searched(world, plan, { foot: 'left', fixed: ['s9'] });
      expect([isProven, plan.presses, moves.length > 0]).toEqual([true, 14, true]);
      expect(moves.flatMap((m) => [m.from, m.to])).not.toContain('s9');
      const to = new Map(moves.map((m) => [m.from, m.to]));
      const placed = (id: string): string => to.get(id) ?? id;
      /** Its time where two of the switches stand in each other's place. */
      const takesS = (a: string, b: string) => {
        const swapped = (id: string) => (id === a ? b : id === b ? a : id);
        const changes = plan.parts.map((p) =>
          p.presses.map((press) => ({ ...press, controlId: swapped(placed(press.controlId)) })),
        );
        return easiest(world, changes, [0])[1];
      };
      expect(takesS('s9', 's9')).toBeCloseTo(after.takesS, 9);
      expect(after.takesS).toBeLessThan(before.takesS);
      const movable = Array.from({ length: 9 }, (_, i) => `s${i}`);
      for (const a of movable)
        for (const b of movable) expect(takesS(a, b)).toBeGreaterThanOrEqual(after.takesS - 1e-9);
    },
  );

  it('is played with no more than it says once it is taken (40 evenings)', () => {
    for (const { seed, show, plan, search } of evenings(40)) {
      const { moves, after } = search();
      const taken: Show = { ...show, presets: show.presets.map((p) => withMoves(p, moves)) };
      const again = planOf(compileWorld(taken));
      expect([seed, again.open, again.presses]).toEqual([seed, 0, plan.presses]);
      expect(again.tight < after.tight || again.takesS <= after.takesS + 1e-9).toBe(true);
    }
  });

  it('keeps to what one asks of it (30 evenings)', () => {
    for (const { seed, world, plan, search } of evenings(30)) {
      const changes = plan.parts.map((p) => p.presses);
      const check = (found: EasiestFound, least: readonly [number, number]) => {
        expect([seed, found.isProven, found.after.tight]).toEqual([seed, true, least[0]]);
        expect(costOf(found)[1]).toBeCloseTo(least[1], 9);
      };
      check(search({ isSameInEveryBank: true }), leastOf(world, changes, { same: true }));
      check(search({ fixed: ['s1'] }), leastOf(world, changes, { fixed: ['s1'] }));
      check(search({ changesAtMost: 2 }), leastOf(world, changes, { most: 2 }));
      check(search({ foot: 'left' }), leastOf(world, changes, { feet: [0] }));
      expect(search({ fixed: IDS }).moves).toEqual([]);
      expect(search({ changesAtMost: 0 }).moves).toEqual([]);
    }
  });

  it('for one foot on a large board is proven as a quadratic assignment', () => {
    const { world, plan } = there([...evenings(1)][0]);
    const board = there(world.boardById.get('board'));
    // Nine more switches that nothing is on: too many layouts to try them all.
    const controls = [
      ...board.board.controls,
      ...Array.from({ length: 6 }, (_, i) => ({
        ...there(board.board.controls[0]),
        id: `more-${i}`,
        xMm: i * 50,
        yMm: 150,
      })),
    ];
    const rig = { ...world.show.rig, boards: world.show.rig.boards.map((b) => ({ ...b, controls })) };
    const large = compileWorld({ ...world.show, rig });
    const found = searched(large, plan, { foot: 'right', isSameInEveryBank: true });
    const few = searched(world, plan, { foot: 'right', isSameInEveryBank: true });
    expect(found.isProven).toBe(true);
    expect(found.after.takesS).toBeLessThanOrEqual(few.after.takesS + 1e-9);
    // Both feet: too many to be sure, and what is left is told.
    const both = searched(large, plan, {});
    expect(both.isProven).toBe(false);
    expect(both.boundS).toBeLessThanOrEqual(both.after.takesS);
    expect(both.after.takesS).toBeLessThanOrEqual(both.before.takesS);
  });
});

describe('an easier layout over several banks', () => {
  const searchOf = (show: Show, all: number) =>
    drained(wholeLayout(show, { ...WISH, isAcrossBanks: true }, FEET_MODEL, { all, exchanges: 40 }));

  it('saves presses where it can, and is played as it says (20 evenings)', () => {
    let saved = 0;
    for (const { seed, show, plan } of evenings(20)) {
      const found = searchOf(show, 0);
      const { presses, open } = found;
      expect([seed, presses.before, open.before]).toEqual([seed, plan.presses, plan.open]);
      expect([seed, presses.bound <= presses.after, presses.after <= presses.before]).toEqual([
        seed,
        true,
        true,
      ]);
      const again = planOf(
        compileWorld({ ...show, presets: show.presets.map((p) => withMoves(p, found.moves)) }),
      );
      expect([seed, again.open, again.presses]).toEqual([seed, open.after, presses.after]);
      expect(again.takesS <= found.after.takesS + 1e-9 || again.tight < found.after.tight).toBe(true);
      if (presses.after < presses.before) saved++;
    }
    expect(saved).toBeGreaterThan(2);
  });
  it('is proven where all layouts are few', () => {
    for (const { seed, show } of evenings(2)) {
      const [all, some] = [searchOf(show, 1000), searchOf(show, 0)];
      expect([seed, all.isProven, all.presses.after <= some.presses.after]).toEqual([seed, true, true]);
    }
  });
  it('exchanges nothing between banks unless it is asked to', () => {
    for (const { show } of evenings(10)) {
      const { moves } = drained(wholeLayout(show, WISH, FEET_MODEL));
      expect(moves.every((m) => m.bankId === m.toBankId)).toBe(true);
    }
  });
});
