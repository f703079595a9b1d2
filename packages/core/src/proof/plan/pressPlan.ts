import { isPressed } from '../../floor';
import type { LiveState, World } from '../../engine';
import { nth } from '../../sure';
import type { FootGraph, Way } from '../feet/graph';
import { pressed, type FootPress } from '../feet/press';
import { standsOtherwise } from '../feet/stands';
import {
  AT_REST,
  distanceMm,
  FEET,
  FEET_MODEL,
  floorOf,
  movesS,
  staysS,
  type FeetModel,
  type FeetPlaces,
  type Floor,
  type Foot,
} from './feetModel';

/** One press of the plan. */
export type PlannedPress = FootPress & {
  readonly foot: Foot;
  /** Where that foot stood before; `null` at rest. */
  readonly from: string | null;
  readonly distanceMm: number;
  /** How long the way there takes, and the press, in s. */
  readonly takesS: number;
};

/** One part of the evening and what feet do to bring it about, while the part before it is played. */
export type PlannedPart = {
  readonly songIndex: number;
  readonly partIndex: number;
  readonly entryId: string;
  readonly sceneId: string;
  readonly presses: readonly PlannedPress[];
  readonly takesS: number;
  /** How long the part before lasts, in s; `null` where that is not known or another song begins. */
  readonly leavesS: number | null;
  readonly isTight: boolean;
  /** No press leads there from what is played before: it has to be brought about some other way. */
  readonly isOpen: boolean;
  /** Functions that then stand otherwise than the scene says. */
  readonly otherwise: readonly string[];
  /** Feet that stay on a pedal while it is played. */
  readonly onPedal: readonly { readonly foot: Foot; readonly controlId: string }[];
};

export type PressPlan = {
  readonly parts: readonly PlannedPart[];
  /** Presses of the whole evening. */
  readonly presses: number;
  /** What feet need for all of it, in s. */
  readonly takesS: number;
  readonly tight: number;
  readonly open: number;
  /** No other way plays the set in order with fewer presses. */
  readonly isProven: boolean;
};

type Goal = Pick<PlannedPart, 'songIndex' | 'partIndex' | 'entryId' | 'sceneId' | 'leavesS'> & {
  readonly pedals: readonly string[];
};

/** Every part of the set in order, with how long the one before it lasts. */
function goalsOf({ songs, controls }: World): Goal[] {
  return songs.flatMap(({ entryId, song, parts, line, controls: scenes }, songIndex) =>
    parts.map((part, partIndex): Goal => {
      const before = line.parts[partIndex - 1];
      const sceneIndex = song.scenes.findIndex((s) => s.id === part.sceneId);
      const works = [...(scenes[sceneIndex] ?? [])];
      return {
        songIndex,
        partIndex,
        entryId,
        sceneId: part.sceneId,
        leavesS: partIndex === 0 ? null : (before?.lengthS ?? null),
        pedals: works.flatMap(([id, { assignment }]) => {
          const kind = controls.get(id)?.control.kind;
          return kind && !isPressed(kind) && assignment.sweeps.length > 0 ? id : [];
        }),
      };
    }),
  );
}

/** A part to which no press leads counts as so many presses: it is left open only where there is no other way. */
const OPEN = 1_000_000;

/**
 * The fewest presses that play a set in order, and among those the fewest tight places and the least time for the feet. On the
 * way to a part no other scene may be heard. Exact over all ways of a graph, by dynamic programming from the end:
 * first over presses, then over where both feet stand.
 */
export function pressPlan(world: World, graph: FootGraph, model: FeetModel = FEET_MODEL): PressPlan {
  const goals = goalsOf(world);
  const seen = goals.filter((g) => nodesAt(graph, g).length > 0);
  const walked = walk({ world, graph, model, floor: floorOf(world) }, seen, costsOf(graph, seen));
  return checked(world, graph, goals, walked);
}

type At = { readonly entryId: string; readonly sceneId: string };
const isSame = (a: At | null, b: At): boolean => a?.entryId === b.entryId && a.sceneId === b.sceneId;

const nodesAt = ({ nodes }: FootGraph, at: At): number[] =>
  nodes.flatMap((n, i) => (isSame(n.scene, at) ? i : []));

/** Whether a way brings a scene about. Where the gear counts, only one after which it stands as the scene says. */
const lands = ({ nodes, isExact }: FootGraph, way: Way, goal: At): boolean =>
  isSame(nth(nodes, way.to).scene, goal) && way.recalls && (!isExact || way.otherwise.length === 0);

/** Whether a way leaves the scene in play as it is. */
const stays = ({ nodes }: FootGraph, way: Way, now: At): boolean =>
  !way.recalls && isSame(nth(nodes, way.to).scene, now);

/** For each goal and each node that plays it the fewest presses from there to the end of the set. */
type Costs = readonly ReadonlyMap<number, number>[];

function costsOf(graph: FootGraph, goals: readonly Goal[]): Costs {
  const costs: Map<number, number>[] = [];
  let after: Map<number, number> | null = null;
  for (let i = goals.length - 1; i >= 0; i--) {
    const own = nodesAt(graph, nth(goals, i));
    const cost: Map<number, number> = after
      ? layerCost(graph, nth(goals, i), nth(goals, i + 1), own, after)
      : new Map(own.map((n) => [n, 0]));
    costs.unshift(cost);
    after = cost;
  }
  return costs;
}

/** The fewest presses from each node that plays one part to the end, by way of the next part. */
function layerCost(
  graph: FootGraph,
  now: Goal,
  next: Goal,
  own: readonly number[],
  after: ReadonlyMap<number, number>,
): Map<number, number> {
  const best = Math.min(...after.values());
  const cost = new Map<number, number>();
  const isOneScene = isSame(now, next);
  for (const node of own) {
    let least = OPEN + best;
    if (isOneScene) least = Math.min(least, after.get(node) ?? Infinity);
    for (const way of nth(graph.nodes, node).ways)
      if (lands(graph, way, next)) least = Math.min(least, 1 + (after.get(way.to) ?? Infinity));
    cost.set(node, least);
  }
  // Presses that keep the scene: until none of them makes anything nearer.
  for (let isChanged = true; isChanged;) {
    isChanged = false;
    for (const node of own)
      for (const way of nth(graph.nodes, node).ways) {
        if (!stays(graph, way, now)) continue;
        const through = 1 + (cost.get(way.to) ?? Infinity);
        if (through < (cost.get(node) ?? Infinity)) {
          cost.set(node, through);
          isChanged = true;
        }
      }
  }
  return cost;
}

/** Where a walk stands, how it came there, and what it has cost the feet. */
type Walk = {
  readonly node: number;
  readonly feet: FeetPlaces;
  readonly tight: number;
  readonly takesS: number;
  readonly before: Walk | null;
  readonly part: Omit<PlannedPart, 'otherwise'>;
};

const better = (a: Pick<Walk, 'tight' | 'takesS'>, b: Pick<Walk, 'tight' | 'takesS'>): boolean =>
  a.tight < b.tight || (a.tight === b.tight && a.takesS < b.takesS - 1e-12);

/** What a walk stands on. */
type Ground = {
  readonly world: World;
  readonly graph: FootGraph;
  readonly floor: Floor;
  readonly model: FeetModel;
};

/** The easiest for the feet of all ways with the fewest presses; its parts in order. */
function walk(
  ground: Ground,
  goals: readonly Goal[],
  costs: Costs,
): readonly Omit<PlannedPart, 'otherwise'>[] {
  const first = goals[0];
  if (!first) return [];
  let walks = begin(ground.graph, first, nth(costs, 0));
  for (const [i, goal] of goals.entries()) {
    if (i > 0) {
      const leg: Leg = { now: nth(goals, i - 1), goal, cost: nth(costs, i - 1), after: nth(costs, i) };
      walks = bestOf(walks.flatMap((from) => stepsOn(ground, from, leg)));
    }
    if (goal.pedals.length > 0)
      walks = bestOf(walks.flatMap((from) => ontoPedals(ground, from, goal.pedals)));
  }
  const last = walks.reduce<Walk | null>((best, w) => (best === null || better(w, best) ? w : best), null);
  const parts: Omit<PlannedPart, 'otherwise'>[] = [];
  for (let at = last; at; at = at.before) parts.push(at.part);
  return parts.reverse();
}

/** Of walks that end with the same feet at the same node only the best can lead to the best. */
function bestOf(walks: readonly Walk[]): Walk[] {
  const best = new Map<string, Walk>();
  for (const to of walks) {
    const key = `${to.node} ${to.feet.left} ${to.feet.right}`;
    const known = best.get(key);
    if (!known || better(to, known)) best.set(key, to);
  }
  return [...best.values()];
}

const partOf = (
  goal: Goal,
  presses: readonly PlannedPress[],
  isOpen: boolean,
): Omit<PlannedPart, 'otherwise'> => {
  const takesS = presses.reduce((sum, p) => sum + p.takesS, 0);
  const { songIndex, partIndex, entryId, sceneId, leavesS } = goal;
  const isTight = leavesS !== null && presses.length > 0 && takesS > leavesS;
  return { songIndex, partIndex, entryId, sceneId, presses, takesS, leavesS, isTight, isOpen, onPedal: [] };
};

/** The set begins in its first scene; where it does not, that one is open. */
function begin(graph: FootGraph, first: Goal, cost: ReadonlyMap<number, number>): Walk[] {
  const least = Math.min(...cost.values());
  const starts = cost.has(0) ? [0] : [...cost].flatMap(([n, c]) => (c === least ? n : []));
  return starts.map((node) => ({
    node,
    feet: AT_REST,
    tight: 0,
    takesS: 0,
    before: null,
    part: partOf(first, [], !isSame(graph.nodes[0]?.scene ?? null, first)),
  }));
}

type Reaching = {
  readonly node: number;
  readonly feet: FeetPlaces;
  readonly presses: readonly PlannedPress[];
  readonly takesS: number;
};

/** From one part to the next, with the fewest presses from each node of either to the end of the set. */
type Leg = {
  readonly now: Goal;
  readonly goal: Goal;
  readonly cost: ReadonlyMap<number, number>;
  readonly after: ReadonlyMap<number, number>;
};

/** All ways with the fewest presses from one part to the next, with each choice of feet that may be the easiest. */
function stepsOn(ground: Ground, from: Walk, { now, goal, cost, after }: Leg): Walk[] {
  const { graph } = ground;
  const arrived = (at: Reaching, node: number, isOpen: boolean): Walk => {
    const part = partOf(goal, at.presses, isOpen);
    const tight = from.tight + (part.isTight ? 1 : 0);
    return { node, feet: at.feet, tight, takesS: from.takesS + at.takesS, before: from, part };
  };
  const found: Walk[] = [];
  let wave: Reaching[] = [{ node: from.node, feet: from.feet, presses: [], takesS: 0 }];
  while (wave.length > 0) {
    const next = new Map<string, Reaching>();
    for (const at of wave) {
      const left = cost.get(at.node) ?? Infinity;
      if (isSame(now, goal) && after.get(at.node) === left) found.push(arrived(at, at.node, false));
      if (left >= OPEN)
        for (const [node, c] of after) if (OPEN + c === left) found.push(arrived(at, node, true));
      for (const way of nth(graph.nodes, at.node).ways) {
        const isLanding = lands(graph, way, goal) && 1 + (after.get(way.to) ?? Infinity) === left;
        const isOnTheWay = stays(graph, way, now) && 1 + (cost.get(way.to) ?? Infinity) === left;
        if (!isLanding && !isOnTheWay) continue;
        for (const foot of FEET) {
          const to = withPress(ground, at, way, foot);
          if (isLanding) found.push(arrived(to, way.to, false));
          if (!isOnTheWay) continue;
          const key = `${way.to} ${to.feet.left} ${to.feet.right}`;
          const known = next.get(key);
          if (!known || to.takesS < known.takesS) next.set(key, to);
        }
      }
    }
    wave = [...next.values()];
  }
  return found;
}

function withPress(
  { world, floor, model }: Ground,
  at: Reaching,
  { controlId, gesture, to }: Way,
  foot: Foot,
): Reaching {
  const from = at.feet[foot];
  const takesS =
    movesS(model, floor, at.feet, foot, controlId) + staysS(model, world, { controlId, gesture });
  const press = {
    controlId,
    gesture,
    foot,
    from,
    distanceMm: distanceMm(floor, foot, from, controlId),
    takesS,
  };
  return {
    node: to,
    feet: { ...at.feet, [foot]: controlId },
    presses: [...at.presses, press],
    takesS: at.takesS + takesS,
  };
}

/** Feet that go onto the pedals which a scene has given something to do, each pedal one foot. */
function ontoPedals({ floor, model }: Ground, from: Walk, pedals: readonly string[]): Walk[] {
  const [one, other] = pedals;
  if (one === undefined) return [from];
  const [left, right]: [Foot, Foot] = ['left', 'right'];
  const choices: readonly (readonly (readonly [Foot, string])[])[] =
    other === undefined
      ? [[[left, one]], [[right, one]]]
      : [
          [
            [left, one],
            [right, other],
          ],
          [
            [left, other],
            [right, one],
          ],
        ];
  return choices.map((choice) => {
    let { feet, takesS } = from;
    for (const [foot, controlId] of choice) {
      takesS += movesS(model, floor, feet, foot, controlId);
      feet = { ...feet, [foot]: controlId };
    }
    const onPedal = choice.map(([foot, controlId]) => ({ foot, controlId }));
    return { ...from, feet, takesS, part: { ...from.part, onPedal } };
  });
}

/** The plan played on the rig, press by press: what stands otherwise is told, and what was not got to stands open. */
function checked(
  world: World,
  graph: FootGraph,
  goals: readonly Goal[],
  walked: readonly Omit<PlannedPart, 'otherwise'>[],
): PressPlan {
  let state: LiveState | null = graph.nodes[0]?.state ?? null;
  const done = new Map<string, PlannedPart>();
  for (const part of walked) {
    if (part.isOpen) state = null;
    for (const press of part.presses) state = state && pressed(world, state, press).state;
    const isThere = state !== null && isSame(asAt(state), part);
    const otherwise = state && isThere && part.presses.length > 0 ? standsOtherwise(world, state) : [];
    done.set(`${part.songIndex} ${part.partIndex}`, { ...part, otherwise });
    if (part.isOpen) state = graph.nodes.find((n) => isSame(n.scene, part))?.state ?? null;
  }
  const parts = goals.map(
    (goal) => done.get(`${goal.songIndex} ${goal.partIndex}`) ?? { ...partOf(goal, [], true), otherwise: [] },
  );
  const open = parts.filter((p) => p.isOpen).length;
  return {
    parts,
    presses: parts.reduce((n, p) => n + p.presses.length, 0),
    takesS: parts.reduce((s, p) => s + p.takesS, 0),
    tight: parts.filter((p) => p.isTight).length,
    open,
    isProven: graph.isWhole && open === 0 && parts.every((p) => p.otherwise.length === 0),
  };
}

const asAt = ({ position: { entryId, sceneId } }: LiveState): At | null =>
  entryId !== null && sceneId !== null ? { entryId, sceneId } : null;
