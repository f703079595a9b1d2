import type { Show, World } from '../../engine';
import type { Preset } from '../../floor';
import { got, nth } from '../../sure';
import { drained } from '../feet/drained';
import { begunEvening, worldOfFeet } from '../feet/evening';
import { footGraph } from '../feet/graph';
import type { FeetModel } from '../plan/feetModel';
import { pressPlan, type PressPlan } from '../plan/pressPlan';
import {
  isEasier,
  layoutSearch,
  movablePlaces,
  withMoves,
  type EasiestFound,
  type FeetCost,
  type LayoutMove,
  type LayoutWish,
} from './layout';

/** What was found of a whole evening: presses too, where what switches do went to other banks. */
export type LayoutFound = EasiestFound & {
  readonly presses: { readonly before: number; readonly after: number; readonly bound: number };
  /** Parts that no press leads to. */
  readonly open: { readonly before: number; readonly after: number };
};

/** `exchanges` between banks that are tried at the most, each a whole plan; `all`: so few layouts are all tried. */
export type LayoutLimits = { readonly exchanges: number; readonly all: number };
const LIMITS: LayoutLimits = { exchanges: 400, all: 1000 };

/** A plan in as far as two are compared. */
type Planned = { readonly world: World; readonly plan: PressPlan };
type Slot = { readonly bankId: string; readonly controlId: string };

/**
 * Looks for an easier layout of an evening. Where it may, what switches do is exchanged between banks first, each exchange a
 * plan of its own, as long as presses can be saved; then the presses that are left are made easy.
 */
export function* wholeLayout(
  show: Show,
  wish: LayoutWish,
  model: FeetModel,
  limits: LayoutLimits = LIMITS,
): Generator<LayoutFound, LayoutFound> {
  const first = planned(show, model);
  const board = got(first.world.boardById, wish.boardId);
  const { preset } = board;
  const before = costOf(first.plan);
  const bound = leastPresses(first.world);
  let tried = 1;
  let moves: readonly LayoutMove[] = [];
  let best = first;
  const told = (found: Omit<EasiestFound, 'before'>): LayoutFound => ({
    ...found,
    before,
    tried: tried + found.tried,
    presses: { before: first.plan.presses, after: best.plan.presses, bound },
    open: { before: first.plan.open, after: best.plan.open },
  });
  const soFar = (): LayoutFound =>
    told({ moves, after: costOf(best.plan), boundS: 0, isProven: false, tried: 0 });
  let isAll = false;
  if (preset && wish.isAcrossBanks && !wish.isSameInEveryBank && preset.banks.length > 1) {
    const places = movablePlaces(first.world, board, wish);
    const slots = preset.banks.flatMap((b) => places.map((controlId): Slot => ({ bankId: b.id, controlId })));
    isAll = factorial(slots.length) <= limits.all;
    const choices = isAll ? everyOrder(slots) : exchangesFrom(slots, preset, () => moves);
    for (const choice of choices) {
      if (!isAll && (tried > limits.exchanges || isLeast(best.plan, bound))) break;
      if (wish.changesAtMost !== null && choice.length > wish.changesAtMost) continue;
      const next = planned(withPreset(show, withMoves(preset, choice)), model);
      tried++;
      if (isBetter(next.plan, best.plan)) [best, moves] = [next, choice];
      yield soFar();
    }
  }
  if (isAll) return { ...soFar(), isProven: true, boundS: best.plan.takesS };
  const left = wish.changesAtMost === null ? null : Math.max(0, wish.changesAtMost - moves.length);
  const inBanks = layoutSearch(
    best.world,
    best.plan,
    begunEvening(best.world),
    { ...wish, changesAtMost: left },
    model,
  );
  const base = moves;
  for (;;) {
    const next = inBanks.next();
    const found = told({ ...next.value, moves: oneAfterOther(base, next.value.moves) });
    if (next.done) return found;
    yield found;
  }
}

function planned(show: Show, model: FeetModel): Planned {
  const world = worldOfFeet(show);
  const graph = drained(footGraph(world, begunEvening(world)));
  return { world, plan: pressPlan(world, graph, model) };
}

const withPreset = (show: Show, preset: Preset): Show => ({
  ...show,
  presets: show.presets.map((p) => (p.id === preset.id ? preset : p)),
});

const costOf = ({ tight, takesS, parts }: PressPlan): FeetCost => ({
  tight,
  takesS,
  distanceMm: parts.reduce((sum, p) => sum + p.presses.reduce((s, x) => s + x.distanceMm, 0), 0),
});

/** Each part that is another scene than the one before needs a press. */
const leastPresses = ({ songs }: World): number => {
  const scenes = songs.flatMap(({ entryId, parts }) => parts.map((p) => `${entryId} ${p.sceneId}`));
  return scenes.filter((scene, i) => i > 0 && scene !== scenes[i - 1]).length;
};

const isLeast = ({ open, presses }: PressPlan, bound: number): boolean => open === 0 && presses <= bound;

function isBetter(a: PressPlan, b: PressPlan): boolean {
  if (a.open !== b.open) return a.open < b.open;
  if (a.presses !== b.presses) return a.presses < b.presses;
  return isEasier(costOf(a), costOf(b));
}

function factorial(n: number): number {
  let product = 1;
  for (let i = 2; i <= n; i++) product *= i;
  return product;
}

const moveOf = (from: Slot, to: Slot): LayoutMove => ({
  bankId: from.bankId,
  from: from.controlId,
  toBankId: to.bankId,
  to: to.controlId,
});

/** Every way to lay what is on some slots onto the same slots. */
function* everyOrder(slots: readonly Slot[]): Generator<readonly LayoutMove[]> {
  function* orders(taken: readonly number[]): Generator<readonly number[]> {
    if (taken.length === slots.length) yield taken;
    else for (let i = 0; i < slots.length; i++) if (!taken.includes(i)) yield* orders([...taken, i]);
  }
  for (const order of orders([]))
    yield order.flatMap((to, from) => (to === from ? [] : moveOf(nth(slots, from), nth(slots, to))));
}

/** Exchanges of two slots of different banks on top of what is best by now; those that lead somewhere first. */
function* exchangesFrom(
  slots: readonly Slot[],
  preset: Preset,
  best: () => readonly LayoutMove[],
): Generator<readonly LayoutMove[]> {
  for (let isChanged = true; isChanged;) {
    isChanged = false;
    const start = best();
    const now = withMoves(preset, start);
    const leads = ({ bankId, controlId }: Slot): number => {
      const work = now.banks.find((b) => b.id === bankId)?.assignments.find((a) => a.controlId === controlId);
      if (!work || work.press.length === 0) return 2;
      return work.press.some((a) => a.kind === 'scene' || a.kind === 'song' || a.kind === 'show') ? 0 : 1;
    };
    const pairs = slots.flatMap((a, i) =>
      slots.slice(i + 1).flatMap((b) => (a.bankId === b.bankId ? [] : ([[a, b]] as const))),
    );
    const worth = ([a, b]: readonly [Slot, Slot]): number => Math.min(leads(a), leads(b));
    for (const [a, b] of pairs.filter((p) => worth(p) === 0)) {
      yield oneAfterOther(start, [moveOf(a, b), moveOf(b, a)]);
      if (best() !== start) {
        isChanged = true;
        break;
      }
    }
  }
}

/** Two lists of moves, one done after the other, as one list from where everything lay at first. */
function oneAfterOther(first: readonly LayoutMove[], second: readonly LayoutMove[]): readonly LayoutMove[] {
  const key = (bankId: string, controlId: string) => `${bankId} ${controlId}`;
  const to = new Map(second.map((m) => [key(m.bankId, m.from), m]));
  const went = first.map((m) => {
    const on = to.get(key(m.toBankId, m.to));
    return on ? { ...m, toBankId: on.toBankId, to: on.to } : m;
  });
  const from = new Set(first.map((m) => key(m.toBankId, m.to)));
  const own = second.filter((m) => !from.has(key(m.bankId, m.from)));
  return [...went, ...own].filter((m) => m.bankId !== m.toBankId || m.from !== m.to);
}
