import { nth } from '../../sure';
import { assignmentBound } from './assignment';
import { Row, Square } from './square';

/**
 * A quadratic assignment problem: each item gets one place, so that the sum over all pairs of flow × distance, and of
 * what each item costs at its place, is least. Square, as many places as items.
 */
export type Qap = {
  readonly flow: Square;
  readonly distance: Square;
  /** What an item costs at a place by itself; `Infinity` where it may not stand. */
  readonly own: Square;
};

/** The place of each item. */
export type Placing = readonly number[];

export type QapNow = {
  readonly best: Placing;
  readonly cost: number;
  /** No placing costs less than this. */
  readonly bound: number;
  /** Steps of the search so far. */
  readonly steps: number;
  /** The best one is proven to be an optimum. */
  readonly isProven: boolean;
};

/** What a placing costs. */
export function qapCost({ flow, distance, own }: Qap, placing: Placing): number {
  let sum = 0;
  for (const [i, p] of placing.entries()) {
    sum += own.at(i, p);
    for (const [j, q] of placing.entries()) sum += flow.at(i, j) * distance.at(p, q);
  }
  return sum;
}

export type QapLimits = {
  /** Rounds of looking for something better before it is proven. */
  readonly rounds: number;
  /** Nodes of the proof at the most. */
  readonly nodes: number;
  readonly seed: number;
};

const TOLD_EVERY = 500;
const NEAR = 1e-9;

/** By how much two placings that cost not the same differ at least: by two where each pair counts twice. */
function leastStep({ flow, distance, own }: Qap): number {
  const isWhole = (n: number) => Number.isInteger(n) || n === Infinity;
  if (![flow, distance, own].every((table) => table.every(isWhole))) return 1e-9;
  const isTwice = own.every((n) => n === 0) && isSymmetric(flow) && isSymmetric(distance);
  return (isTwice ? 2 : 1) - 1e-6;
}

/** The same both ways, and nothing from one to itself. */
const isSymmetric = (table: Square): boolean =>
  table.every((n, i, j) => (i === j ? n === 0 : n === table.at(j, i)));

/** The best placing by now. */
type Best = { best: Placing; cost: number; bound: number; steps: number };

/**
 * Looks for the cheapest placing, better and better, then proves it.
 * First robust tabu search (Taillard 1991, from memory), then branch and bound with the bound of Gilmore and Lawler
 * (1962, 1963, from memory). It may be broken off at any step: what is found until then holds.
 */
export function* solveQap(problem: Qap, limits: QapLimits): Generator<QapNow, QapNow> {
  const first = assignmentBound(problem.own).rows;
  const state: Best = { best: first, cost: qapCost(problem, first), bound: 0, steps: 0 };
  if (first.length < 2) return { ...state, bound: state.cost, isProven: true };
  const search = new Tabu(problem, first, state.cost, limits.seed);
  for (let round = 0; round < limits.rounds; round++) {
    search.step();
    state.steps++;
    if (search.cost < state.cost - NEAR) {
      state.best = search.placing.values();
      state.cost = search.cost;
    }
    if (round % TOLD_EVERY === 0) yield { ...state, isProven: false };
  }
  // Sums of moves drift by rounding; the cost is reckoned anew.
  state.cost = qapCost(problem, state.best);
  return yield* prove(problem, state, limits.nodes);
}

/** An item at its place. */
type Placed = { readonly item: number; readonly place: number };

/** Branch and bound, the cheapest first, until nothing that is left can be cheaper. */
function* prove(problem: Qap, state: Best, nodesAtMost: number): Generator<QapNow, QapNow> {
  /** A placing has to be cheaper by this much to be looked for. */
  const margin = leastStep(problem);
  const root = boundOf(problem, []);
  state.bound = Math.min(root.bound, state.cost);
  const stack: { placed: readonly Placed[]; bound: number }[] = [{ placed: [], bound: root.bound }];
  let nodes = 0;
  for (let node = stack.pop(); node; node = stack.pop()) {
    if (node.bound > state.cost - margin) continue;
    if (++nodes > nodesAtMost) return { ...state, isProven: false };
    state.steps++;
    if (nodes % TOLD_EVERY === 0) yield { ...state, isProven: false };
    const { placed } = node;
    const { bound, reduced, items, places } = boundOf(problem, placed);
    if (bound > state.cost - margin) continue;
    if (items.length === 0) {
      state.best = placed.toSorted((a, b) => a.item - b.item).map((p) => p.place);
      state.cost = qapCost(problem, state.best);
      continue;
    }
    const row = hardestRow(reduced);
    const children = places
      .map((place, at) => ({
        placed: [...placed, { item: nth(items, row), place }],
        bound: bound + reduced.at(row, at),
      }))
      .filter((c) => c.bound <= state.cost - margin)
      .sort((a, b) => b.bound - a.bound);
    stack.push(...children);
  }
  return { ...state, bound: state.cost, isProven: true };
}

/** The item that would cost the most if it stood anywhere but where it is cheapest: it decides soonest. */
function hardestRow(reduced: Square): number {
  let hardest = 0;
  let most = -Infinity;
  for (let row = 0; row < reduced.size; row++) {
    let sum = 0;
    for (let column = 0; column < reduced.size; column++) sum += Math.min(reduced.at(row, column), 1e12);
    if (sum > most) [most, hardest] = [sum, row];
  }
  return hardest;
}

type Bound = {
  readonly bound: number;
  /** What placing a free item at a free place adds to the bound at least. */
  readonly reduced: Square;
  readonly items: readonly number[];
  readonly places: readonly number[];
};

/** The bound of Gilmore and Lawler for what is left once some items have places. */
function boundOf({ flow, distance, own }: Qap, placed: readonly Placed[]): Bound {
  const without = (taken: readonly number[]) =>
    Array.from({ length: flow.size }, (_, i) => i).filter((i) => !taken.includes(i));
  const items = without(placed.map((p) => p.item));
  const places = without(placed.map((p) => p.place));
  let fixed = 0;
  for (const { item: i, place: p } of placed) {
    fixed += own.at(i, p);
    for (const { item: j, place: q } of placed) fixed += flow.at(i, j) * distance.at(p, q);
  }
  const flows = items.map((i) => others(flow, i, items, (a, b) => b - a));
  const ways = places.map((p) => others(distance, p, places, (a, b) => a - b));
  const costs = new Square(items.length, (r, c) => {
    const [i, p] = [nth(items, r), nth(places, c)];
    let cost = own.at(i, p) + flow.at(i, i) * distance.at(p, p);
    for (const { item, place } of placed)
      cost += flow.at(i, item) * distance.at(p, place) + flow.at(item, i) * distance.at(place, p);
    const [f, d] = [nth(flows, r), nth(ways, c)];
    for (let k = 0; k < f.size; k++) cost += f.at(k) * d.at(k);
    return cost;
  });
  const { cost, reduced } = assignmentBound(costs);
  return { bound: fixed + cost, reduced, items, places };
}

/** The numbers of a row for all but itself, in order. */
const others = (
  table: Square,
  self: number,
  all: readonly number[],
  order: (a: number, b: number) => number,
) =>
  Row.of(
    all
      .filter((at) => at !== self)
      .map((at) => table.at(self, at))
      .sort(order),
  );

/** Robust tabu search: the best exchange of two items that is not forbidden, or one that beats all before. */
class Tabu {
  readonly placing: Row;
  private best: number;
  private now = 0;
  /** Until which step an item does not come back to a place. */
  private readonly until: Square;
  private readonly random: () => number;

  constructor(
    private readonly problem: Qap,
    start: Placing,
    public cost: number,
    seed: number,
  ) {
    this.placing = Row.of(start);
    this.best = cost;
    this.until = new Square(start.length);
    this.random = randomOf(seed);
  }

  step(): void {
    this.now++;
    const size = this.placing.size;
    let chosen: { i: number; j: number; change: number } | null = null;
    for (let i = 0; i < size; i++)
      for (let j = i + 1; j < size; j++) {
        const change = this.change(i, j);
        if (change === Infinity || Number.isNaN(change)) continue;
        if (this.isForbidden(i, j) && this.cost + change >= this.best - NEAR) continue;
        if (!chosen || change < chosen.change) chosen = { i, j, change };
      }
    if (!chosen) return;
    const { i, j, change } = chosen;
    const [p, q] = [this.placing.at(i), this.placing.at(j)];
    const forbidden = () => this.now + Math.round(size * (0.9 + 0.2 * this.random())) + 1;
    this.until.row(i).put(p, forbidden());
    this.until.row(j).put(q, forbidden());
    this.placing.put(i, q);
    this.placing.put(j, p);
    this.cost += change;
    if (this.cost < this.best) this.best = this.cost;
  }

  private isForbidden(i: number, j: number): boolean {
    const { placing, until, now } = this;
    return until.at(i, placing.at(j)) > now && until.at(j, placing.at(i)) > now;
  }

  /** By how much the cost changes if two items exchange their places. */
  private change(i: number, j: number): number {
    const { placing } = this;
    const { flow, distance, own } = this.problem;
    const [p, q] = [placing.at(i), placing.at(j)];
    const [fi, fj, dp, dq] = [flow.row(i), flow.row(j), distance.row(p), distance.row(q)];
    let sum =
      own.at(i, q) +
      own.at(j, p) -
      own.at(i, p) -
      own.at(j, q) +
      fi.at(i) * (dq.at(q) - dp.at(p)) +
      fj.at(j) * (dp.at(p) - dq.at(q)) +
      fi.at(j) * (dq.at(p) - dp.at(q)) +
      fj.at(i) * (dp.at(q) - dq.at(p));
    for (let k = 0; k < placing.size; k++) {
      if (k === i || k === j) continue;
      const r = placing.at(k);
      const [fk, dr] = [flow.row(k), distance.row(r)];
      sum += (fi.at(k) - fj.at(k)) * (dq.at(r) - dp.at(r)) + (fk.at(i) - fk.at(j)) * (dr.at(q) - dr.at(p));
    }
    return sum;
  }
}

/** Random numbers from 0 to below 1. Source: mulberry32 (from memory). */
export function randomOf(seed: number): () => number {
  let a = seed | 0;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
