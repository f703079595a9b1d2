import { bankIndex, type LiveState, type World, type WorldBoard } from '../../engine';
import { isPressed, type Preset } from '../../floor';
import { got, nth, tableOf } from '../../sure';
import { pressed } from '../feet/press';
import { FEET, floorOf, staysS, type FeetModel, type Floor, type Foot } from '../plan/feetModel';
import { fittsS } from '../plan/fitts';
import type { PressPlan } from '../plan/pressPlan';
import { randomOf, solveQap, type Placing, type Qap } from './qap';
import { Row, Square } from './square';

/** What may be moved on one board, and what one asks of the layout. */
export type LayoutWish = {
  readonly boardId: string;
  /** Controls that stay as they are. */
  readonly fixed: readonly string[];
  /** What moves moves in every bank alike. */
  readonly isSameInEveryBank: boolean;
  /** The one foot that plays, where it is one. */
  readonly foot: Foot | null;
  /** How many switches may change what they do; `null` for any number. */
  readonly changesAtMost: number | null;
  /** Whether what a switch does may also go to another bank, where that saves presses. */
  readonly isAcrossBanks: boolean;
};

/** Moves what a switch does in one bank to another switch, of that bank or of another one. */
export type LayoutMove = {
  readonly bankId: string;
  readonly from: string;
  readonly toBankId: string;
  readonly to: string;
};

/** What the presses of the evening cost the feet. */
export type FeetCost = { readonly tight: number; readonly takesS: number; readonly distanceMm: number };

/** What was found for the presses of one plan. */
export type EasiestFound = {
  readonly moves: readonly LayoutMove[];
  readonly before: FeetCost;
  readonly after: FeetCost;
  /** A lower bound of the time that feet need for these presses in any layout, in s. */
  readonly boundS: number;
  /** Whether no layout that is allowed is easier for these presses. */
  readonly isProven: boolean;
  /** Layouts that were tried. */
  readonly tried: number;
};

/** One press of the plan: its control, and where it is of the board that is laid out, the bank in force. */
type Step = {
  readonly controlId: string;
  readonly bank: number | null;
  readonly staysS: number;
  /** The first of the presses that bring a part about, and how long the music leaves for them, in s. */
  readonly begins: boolean;
  readonly leavesS: number | null;
};

/** Layouts are tried one by one up to so many; where there are more it is looked for what is better. */
const ALL_AT_MOST = 50_000;
const ROUNDS = 60_000;
const TOLD_EVERY = 500;

/**
 * Looks for what on which switch of which bank makes the presses of a plan easiest for the feet. Few layouts are all tried;
 * with one foot it is a quadratic assignment problem and solved as one; else exchanges are tried, better and better.
 */
export function* layoutSearch(
  world: World,
  plan: PressPlan,
  start: LiveState,
  wish: LayoutWish,
  model: FeetModel,
): Generator<EasiestFound, EasiestFound> {
  const board = got(world.boardById, wish.boardId);
  const places = movablePlaces(world, board, wish);
  const steps = stepsOf(world, plan, start, board, model);
  const ground = new Ground(world, steps, places, wish, model);
  const boundS = steps.reduce((sum, s) => sum + s.staysS + model.aS, 0);
  const best = new Best(ground, board, boundS);
  if (places.length < 2 || ground.rows === 0) return best.found(true);
  if (ground.count() <= ALL_AT_MOST) {
    yield* best.takeAll(ground.everyLayout());
    return best.found(true);
  }
  if (wish.foot === null || wish.changesAtMost !== null || ground.rows !== 1) {
    yield* best.takeAll(
      ground.exchanges(
        () => best.layout,
        () => best.cost,
      ),
    );
    return best.found(false);
  }
  const solving = solveQap(ground.qap(), { rounds: 2000, nodes: 300_000, seed: 1 });
  for (;;) {
    const next = solving.next();
    const { best: placing, isProven, bound } = next.value;
    best.take([placing]);
    if (next.done) return best.found(isProven, Math.max(boundS, bound));
    yield best.found(false, Math.max(boundS, bound));
  }
}

/** The easiest layout that was found by now. */
class Best {
  layout: Layout;
  cost: FeetCost;
  private readonly before: FeetCost;
  private tried = 1;

  constructor(
    private readonly ground: Ground,
    private readonly board: WorldBoard,
    private readonly boundS: number,
  ) {
    this.layout = ground.layout();
    this.cost = this.before = ground.costOf(this.layout);
  }

  take(layout: Layout): void {
    this.tried++;
    const cost = this.ground.costOf(layout);
    if (!isEasier(cost, this.cost)) return;
    this.layout = layout.map((row) => [...row]);
    this.cost = cost;
  }

  *takeAll(layouts: Iterable<Layout>): Generator<EasiestFound> {
    for (const layout of layouts) {
      this.take(layout);
      if (this.tried % TOLD_EVERY === 0) yield this.found(false);
    }
  }

  found(isProven: boolean, boundS = this.boundS): EasiestFound {
    const { ground, layout, cost, before, tried } = this;
    return {
      moves: ground.movesOf(ground.simplified(layout, cost), this.board),
      before,
      after: cost,
      boundS: isProven ? cost.takesS : Math.min(boundS, cost.takesS),
      isProven,
      tried,
    };
  }
}

/** Fewer tight places, then less time, then shorter ways. */
export const isEasier = (a: FeetCost, b: FeetCost): boolean =>
  a.tight < b.tight ||
  (a.tight === b.tight &&
    (a.takesS < b.takesS - 1e-9 || (a.takesS < b.takesS + 1e-9 && a.distanceMm < b.distanceMm - 1e-6)));

/** Switches whose work may be moved: those of a group, and those that a scene has something to do, stay. */
export function movablePlaces(
  { songs }: World,
  { board, groupOf }: WorldBoard,
  { fixed }: LayoutWish,
): string[] {
  const isOfScene = (id: string) => songs.some((s) => s.controls.some((works) => works.has(id)));
  return board.controls.flatMap(({ id, kind }) =>
    isPressed(kind) && !groupOf.has(id) && !fixed.includes(id) && !isOfScene(id) ? id : [],
  );
}

/** The presses of a plan in order, played on the rig to know which bank is in force at each. */
function stepsOf(
  world: World,
  plan: PressPlan,
  start: LiveState,
  board: WorldBoard,
  model: FeetModel,
): Step[] {
  const own = new Set(board.board.controls.map((c) => c.id));
  let state = start;
  return plan.parts.flatMap((part) =>
    part.presses.map((press, i): Step => {
      const bank = own.has(press.controlId) ? bankIndex(board, state) : null;
      state = pressed(world, state, press).state;
      const { controlId } = press;
      return {
        controlId,
        bank,
        staysS: staysS(model, world, press),
        begins: i === 0,
        leavesS: part.leavesS,
      };
    }),
  );
}

/** For each row of switches that moves by itself, which place the work of each place comes to. */
type Layout = readonly (readonly number[])[];

/** What the search stands on: places, presses, times between places. */
class Ground {
  /** Rows that move by themselves: one for each bank that is pressed in, or one for all. */
  readonly rows: number;
  private readonly banks: readonly number[];
  private readonly floor: Floor;
  /** All controls that are pressed, the movable places first. */
  private readonly controls: readonly string[];
  private readonly moves: Square;
  private readonly far: Square;
  private readonly fromRest: Readonly<Record<Foot, Row>>;
  private readonly restFar: Readonly<Record<Foot, Row>>;
  private readonly x: Row;
  private readonly feet: readonly Foot[];

  constructor(
    world: World,
    private readonly steps: readonly Step[],
    private readonly places: readonly string[],
    private readonly wish: LayoutWish,
    private readonly model: FeetModel,
  ) {
    this.floor = floorOf(world);
    this.feet = wish.foot === null ? FEET : [wish.foot];
    this.controls = [...new Set([...places, ...steps.map((s) => s.controlId)])];
    const pressedIn = steps.flatMap((s) => (s.bank !== null && places.includes(s.controlId) ? s.bank : []));
    this.banks = [...new Set(pressedIn)].sort((a, b) => a - b);
    this.rows = this.banks.length === 0 ? 0 : wish.isSameInEveryBank ? 1 : this.banks.length;
    const at = this.controls.map((id) => got(this.floor.controls, id));
    this.x = Row.of(at.map((c) => c.xMm));
    const distance = (a: { xMm: number; yMm: number }, b: { xMm: number; yMm: number }) =>
      Math.hypot(a.xMm - b.xMm, a.yMm - b.yMm);
    this.far = new Square(at.length, (from, to) => distance(nth(at, from), nth(at, to)));
    const takes = (mm: number, to: number) => fittsS(model.aS, model.bS, mm, nth(at, to).widthMm);
    this.moves = new Square(at.length, (from, to) => takes(this.far.at(from, to), to));
    this.restFar = tableOf(FEET, (foot) => Row.of(at.map((b) => distance(this.floor.rest[foot], b))));
    this.fromRest = tableOf(FEET, (foot) => new Row(at.length, (to) => takes(this.restFar[foot].at(to), to)));
  }

  /** Everything where it is. */
  layout(): Layout {
    return Array.from({ length: this.rows }, () => this.places.map((_, i) => i));
  }

  /** How many layouts there are. */
  count(): number {
    let one = 1;
    for (let i = 2; i <= this.places.length; i++) one *= i;
    return one ** this.rows;
  }

  private targetOf(layout: Layout, step: Step): number {
    const at = this.controls.indexOf(step.controlId);
    if (step.bank === null || at >= this.places.length) return at;
    const row = this.wish.isSameInEveryBank ? 0 : this.banks.indexOf(step.bank);
    return layout[row]?.[at] ?? at;
  }

  /** The easiest choice of feet for the presses, by where the feet stand after each. */
  costOf(layout: Layout): FeetCost {
    type Stand = FeetCost & { readonly left: number; readonly right: number; readonly inPartS: number };
    let stands: Stand[] = [{ left: -1, right: -1, tight: 0, takesS: 0, distanceMm: 0, inPartS: 0 }];
    for (const step of this.steps) {
      const to = this.targetOf(layout, step);
      const next = new Map<number, Stand>();
      for (const stand of stands)
        for (const foot of this.feet) {
          const from = stand[foot];
          const left = foot === 'left' ? to : stand.left;
          const right = foot === 'right' ? to : stand.right;
          const crossed = this.xOf('left', left) > this.xOf('right', right) ? this.model.crossedS : 0;
          const s = (from < 0 ? this.fromRest[foot].at(to) : this.moves.at(from, to)) + crossed + step.staysS;
          const sinceS = (step.begins ? 0 : stand.inPartS) + s;
          const wasTight = !step.begins && step.leavesS !== null && stand.inPartS > step.leavesS;
          const isTight = step.leavesS !== null && sinceS > step.leavesS && !wasTight;
          const made: Stand = {
            left,
            right,
            tight: stand.tight + (isTight ? 1 : 0),
            takesS: stand.takesS + s,
            distanceMm: stand.distanceMm + (from < 0 ? this.restFar[foot].at(to) : this.far.at(from, to)),
            inPartS: sinceS,
          };
          const key = (left + 1) * 1000 + right + 1;
          const known = next.get(key);
          if (!known || isEasier(made, known)) next.set(key, made);
        }
      stands = [...next.values()];
    }
    return stands.reduce((best, s) => (isEasier(s, best) ? s : best));
  }

  /** An equally easy layout with as few moves as possible: what can stay in its place stays. */
  simplified(layout: Layout, cost: FeetCost): Layout {
    const now = layout.map((row) => [...row]);
    for (let isChanged = true; isChanged;) {
      isChanged = false;
      for (const row of now)
        for (let i = 0; i < row.length; i++) {
          if (row[i] === i) continue;
          const j = row.indexOf(i);
          const to = nth(row, i);
          [row[i], row[j]] = [i, to];
          if (isEasier(cost, this.costOf(now))) [row[i], row[j]] = [to, i];
          else isChanged = true;
        }
    }
    return now;
  }

  private xOf(foot: Foot, at: number): number {
    return at < 0 ? this.floor.rest[foot].xMm : this.x.at(at);
  }

  private isAllowed(layout: Layout): boolean {
    const { changesAtMost } = this.wish;
    if (changesAtMost === null) return true;
    let changed = 0;
    for (const row of layout) for (const [from, to] of row.entries()) if (from !== to) changed++;
    return changed <= changesAtMost;
  }

  /** Every layout that is allowed. */
  everyLayout(): Generator<Layout> {
    return this.rowsFrom([]);
  }

  private *rowsFrom(done: Layout): Generator<Layout> {
    if (done.length === this.rows) {
      if (this.isAllowed(done)) yield done;
      return;
    }
    for (const row of orders(this.places.length)) yield* this.rowsFrom([...done, row]);
  }

  /**
   * Exchanges two switches again and again. A worse layout is gone on from the more seldom, the longer the search runs.
   */
  *exchanges(best: () => Layout, cost: () => FeetCost): Generator<Layout> {
    const random = randomOf(7);
    const upTo = (n: number) => Math.floor(random() * n);
    let now: readonly number[][] = best().map((row) => [...row]);
    let nowS = cost().takesS + cost().tight * 10;
    for (let round = 0; round < ROUNDS; round++) {
      // Now and then it goes on from the best again.
      if (round % 5000 === 4999) {
        now = best().map((row) => [...row]);
        nowS = cost().takesS + cost().tight * 10;
      }
      const next = now.map((row) => [...row]);
      const row = nth(next, upTo(this.rows));
      const [i, j] = [upTo(row.length), upTo(row.length)];
      [row[i], row[j]] = [nth(row, j), nth(row, i)];
      if (i === j || !this.isAllowed(next)) continue;
      const { takesS, tight } = this.costOf(next);
      const s = takesS + tight * 10;
      const warm = 0.5 * (1 - (round % 5000) / 5000) + 1e-6;
      if (s > nowS && random() >= Math.exp((nowS - s) / warm)) continue;
      now = next;
      nowS = s;
      yield next;
    }
  }

  /**
   * The search for one foot as a quadratic assignment: how often one place follows another, and the costs of each way.
   */
  qap(): Qap {
    const size = this.places.length;
    const [flow, own] = [new Square(size), new Square(size)];
    let from = -1;
    const foot = this.wish.foot ?? 'left';
    for (const step of this.steps) {
      const to = this.controls.indexOf(step.controlId);
      for (let p = 0; p < size; p++) {
        if (to < size) own.row(to).add(p, step.staysS);
        if (to < size && from < 0) own.row(to).add(p, this.fromRest[foot].at(p));
        if (to < size && from >= size) own.row(to).add(p, this.moves.at(from, p));
        if (to >= size && from >= 0 && from < size) own.row(from).add(p, this.moves.at(p, to));
      }
      if (to < size && from >= 0 && from < size) flow.row(from).add(to, 1);
      from = to;
    }
    const distance = new Square(size, (p, q) => this.moves.at(p, q));
    return { flow, distance, own };
  }

  /** What comes to lie where, for each bank that changes. */
  movesOf(layout: Layout, { banks }: WorldBoard): LayoutMove[] {
    return banks.flatMap(({ bank }, i) => {
      const row = this.wish.isSameInEveryBank ? layout[0] : layout[this.banks.indexOf(i)];
      return (row ?? []).flatMap((to, from) =>
        to === from
          ? []
          : { bankId: bank.id, from: nth(this.places, from), toBankId: bank.id, to: nth(this.places, to) },
      );
    });
  }
}

function* orders(size: number, taken: Placing = []): Generator<Placing> {
  if (taken.length === size) yield taken;
  else for (let p = 0; p < size; p++) if (!taken.includes(p)) yield* orders(size, [...taken, p]);
}

/** A preset with what its switches do moved. */
export function withMoves(preset: Preset, moves: readonly LayoutMove[]): Preset {
  const slot = (bankId: string, controlId: string) => `${bankId} ${controlId}`;
  const touched = new Set(moves.flatMap((m) => [slot(m.bankId, m.from), slot(m.toBankId, m.to)]));
  const assigned = new Map(
    preset.banks.flatMap((b) => b.assignments.map((a) => [slot(b.id, a.controlId), a] as const)),
  );
  return {
    ...preset,
    banks: preset.banks.map((bank) => {
      const come = moves.flatMap((m) => {
        const work = m.toBankId === bank.id ? assigned.get(slot(m.bankId, m.from)) : undefined;
        return work ? { ...work, controlId: m.to } : [];
      });
      const stay = bank.assignments.filter((a) => !touched.has(slot(bank.id, a.controlId)));
      return come.length === 0 && stay.length === bank.assignments.length
        ? bank
        : { ...bank, assignments: [...stay, ...come] };
    }),
  };
}
