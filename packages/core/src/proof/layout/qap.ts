import { nth } from '../../sure';
import { assignmentBound } from './assignment';

/**
 * A quadratic assignment problem: each item gets one place, so that the sum over all pairs of flow × distance, and of
 * what each item costs at its place, is least. Square, as many places as items.
 */
export type Qap = {
  readonly flow: readonly (readonly number[])[];
  readonly distance: readonly (readonly number[])[];
  /** What an item costs at a place by itself; without it nothing. `Infinity` where it may not stand. */
  readonly own?: readonly (readonly number[])[] | undefined;
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
    sum += own ? nth(nth(own, i), p) : 0;
    const [flows, distances] = [nth(flow, i), nth(distance, p)];
    for (const [j, q] of placing.entries()) sum += nth(flows, j) * nth(distances, q);
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

/**
 * Looks for the cheapest placing, better and better, then proves it.
 * First robust tabu search (Taillard 1991, from memory), then branch and bound with the bound of Gilmore and Lawler
 * (1962, 1963, from memory). It may be broken off at any step: what is found until then holds.
 */
export function* solveQap(problem: Qap, limits: QapLimits): Generator<QapNow, QapNow> {
  const size = problem.flow.length;
  const first = Array.from({ length: size }, (_, i) => i);
  const state = { best: firstPlacing(problem, first), cost: 0, bound: 0, steps: 0 };
  state.cost = qapCost(problem, state.best);
  const told = (isProven: boolean): QapNow => ({ ...state, isProven });
  if (size < 2) {
    state.bound = state.cost;
    return told(true);
  }
  const search = new Tabu(problem, state.best, limits.seed);
  for (let round = 0; round < limits.rounds; round++) {
    search.step();
    state.steps++;
    if (search.cost < state.cost - NEAR) {
      state.best = [...search.placing];
      state.cost = search.cost;
    }
    if (round % TOLD_EVERY === 0) yield told(false);
  }
  // Sums of moves drift by rounding; the cost is reckoned anew.
  state.cost = qapCost(problem, state.best);
  /** Nothing that is not better by so much is looked at. */
  const margin = leastStep(problem);
  const root = boundOf(problem, [], []);
  state.bound = Math.min(root.bound, state.cost);
  const stack: { items: number[]; places: number[]; bound: number }[] = [
    { items: [], places: [], bound: root.bound },
  ];
  let nodes = 0;
  while (stack.length > 0) {
    const node = stack.pop()!;
    if (node.bound > state.cost - margin) continue;
    if (++nodes > limits.nodes) return told(false);
    state.steps++;
    if (nodes % TOLD_EVERY === 0) yield told(false);
    const { bound, reduced, items, places } = boundOf(problem, node.items, node.places);
    if (bound > state.cost - margin) continue;
    if (items.length === 0) {
      state.best = placingOf(node.items, node.places);
      state.cost = qapCost(problem, state.best);
      continue;
    }
    const row = hardestRow(reduced);
    const children = places
      .map((place, at) => ({ place, bound: bound + nth(nth(reduced, row), at) }))
      .filter((c) => c.bound <= state.cost - margin)
      .sort((a, b) => b.bound - a.bound);
    for (const child of children)
      stack.push({
        items: [...node.items, nth(items, row)],
        places: [...node.places, child.place],
        bound: child.bound,
      });
  }
  state.bound = state.cost;
  return told(true);
}

/** The first placing that is allowed. */
function firstPlacing(problem: Qap, plain: Placing): Placing {
  if (!problem.own) return plain;
  const { rows } = assignmentBound(problem.own);
  return rows;
}

/** By how much two placings that cost not the same differ at least: by two where each pair counts twice. */
function leastStep(problem: Qap): number {
  if (!isWholeNumbers(problem)) return 1e-9;
  const isTwice = !problem.own && isSymmetric(problem.flow) && isSymmetric(problem.distance);
  return (isTwice ? 2 : 1) - 1e-6;
}

/** The same both ways, and nothing from one to itself. */
const isSymmetric = (rows: readonly (readonly number[])[]): boolean =>
  rows.every((row, i) => row.every((n, j) => (i === j ? n === 0 : n === rows[j]?.[i])));

const isWholeNumbers = ({ flow, distance, own }: Qap): boolean =>
  [...flow, ...distance, ...(own ?? [])].every((row) =>
    row.every((n) => Number.isInteger(n) || n === Infinity),
  );

function placingOf(items: readonly number[], places: readonly number[]): Placing {
  const placing: number[] = Array.from({ length: items.length }, () => 0);
  for (const [k, item] of items.entries()) placing[item] = nth(places, k);
  return placing;
}

/** The item that would cost the most if it stood anywhere but where it is cheapest: it decides soonest. */
function hardestRow(reduced: readonly (readonly number[])[]): number {
  let hardest = 0;
  let most = -Infinity;
  for (const [i, row] of reduced.entries()) {
    const sum = row.reduce((s, c) => s + Math.min(c, 1e12), 0);
    if (sum > most) [most, hardest] = [sum, i];
  }
  return hardest;
}

type Bound = {
  readonly bound: number;
  /** What placing a free item at a free place adds to the bound at least. */
  readonly reduced: readonly (readonly number[])[];
  readonly items: readonly number[];
  readonly places: readonly number[];
};

/** The bound of Gilmore and Lawler for what is left once some items have places. */
function boundOf({ flow, distance, own }: Qap, done: readonly number[], taken: readonly number[]): Bound {
  const size = flow.length;
  const isDone = new Set(done);
  const isTaken = new Set(taken);
  const items: number[] = [];
  const places: number[] = [];
  for (let i = 0; i < size; i++) {
    if (!isDone.has(i)) items.push(i);
    if (!isTaken.has(i)) places.push(i);
  }
  let fixed = 0;
  for (const [a, i] of done.entries()) {
    const p = taken[a]!;
    fixed += own ? own[i]![p]! : 0;
    for (const [b, j] of done.entries()) fixed += flow[i]![j]! * distance[p]![taken[b]!]!;
  }
  const flows = items.map((i) => sortedOthers(flow[i]!, items, i, false));
  const ways = places.map((p) => sortedOthers(distance[p]!, places, p, true));
  const costs = items.map((i, r) =>
    places.map((p, c) => {
      let cost = (own ? own[i]![p]! : 0) + flow[i]![i]! * distance[p]![p]!;
      for (let a = 0; a < done.length; a++) {
        const j = done[a]!;
        const q = taken[a]!;
        cost += flow[i]![j]! * distance[p]![q]! + flow[j]![i]! * distance[q]![p]!;
      }
      const f = flows[r]!;
      const d = ways[c]!;
      for (let k = 0; k < f.length; k++) cost += f[k]! * d[k]!;
      return cost;
    }),
  );
  if (items.length === 0) return { bound: fixed, reduced: [], items, places };
  const { cost, reduced } = assignmentBound(costs);
  return { bound: fixed + cost, reduced, items, places };
}

function sortedOthers(
  row: readonly number[],
  all: readonly number[],
  self: number,
  isRising: boolean,
): number[] {
  const others: number[] = [];
  for (const at of all) if (at !== self) others.push(row[at]!);
  return others.sort(isRising ? (a, b) => a - b : (a, b) => b - a);
}

/** Robust tabu search: the best exchange of two items that is not forbidden, or one that beats all before. */
class Tabu {
  placing: number[];
  cost: number;
  private best: number;
  private now = 0;
  private readonly until: number[][];
  private readonly random: () => number;

  constructor(
    private readonly problem: Qap,
    start: Placing,
    seed: number,
  ) {
    this.placing = [...start];
    this.cost = qapCost(problem, start);
    this.best = this.cost;
    const size = start.length;
    this.until = Array.from({ length: size }, () => Array.from({ length: size }, () => 0));
    this.random = randomOf(seed);
  }

  step(): void {
    this.now++;
    const size = this.placing.length;
    let chosen: { i: number; j: number; change: number } | null = null;
    for (let i = 0; i < size; i++)
      for (let j = i + 1; j < size; j++) {
        const change = this.change(i, j);
        if (change === Infinity || Number.isNaN(change)) continue;
        const isForbidden =
          this.until[i]![this.placing[j]!]! > this.now && this.until[j]![this.placing[i]!]! > this.now;
        if (isForbidden && this.cost + change >= this.best - NEAR) continue;
        if (!chosen || change < chosen.change) chosen = { i, j, change };
      }
    if (!chosen) return;
    const { i, j, change } = chosen;
    const [p, q] = [this.placing[i]!, this.placing[j]!];
    const forbidden = () => this.now + Math.round(size * (0.9 + 0.2 * this.random())) + 1;
    this.until[i]![p] = forbidden();
    this.until[j]![q] = forbidden();
    [this.placing[i], this.placing[j]] = [q, p];
    this.cost += change;
    if (this.cost < this.best) this.best = this.cost;
  }

  /** By how much the cost changes if two items exchange their places. */
  private change(i: number, j: number): number {
    const { flow, distance, own } = this.problem;
    const [p, q] = [this.placing[i]!, this.placing[j]!];
    let sum = own ? own[i]![q]! + own[j]![p]! - own[i]![p]! - own[j]![q]! : 0;
    const [fi, fj, dp, dq] = [flow[i]!, flow[j]!, distance[p]!, distance[q]!];
    sum +=
      fi[i]! * (dq[q]! - dp[p]!) +
      fj[j]! * (dp[p]! - dq[q]!) +
      fi[j]! * (dq[p]! - dp[q]!) +
      fj[i]! * (dp[q]! - dq[p]!);
    for (let k = 0; k < this.placing.length; k++) {
      if (k === i || k === j) continue;
      const r = this.placing[k]!;
      const fk = flow[k]!;
      const dr = distance[r]!;
      sum += (fi[k]! - fj[k]!) * (dq[r]! - dp[r]!) + (fk[i]! - fk[j]!) * (dr[q]! - dr[p]!);
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
