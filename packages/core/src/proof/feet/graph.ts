import { stateKey, type LiveState, type World } from '../../engine';
import { nth } from '../../sure';
import { pressed, pressesAt, type FootPress, type Pressed } from './press';
import { placeKey, standsOtherwise } from './stands';

/** One way that a foot can take. */
export type Way = FootPress & {
  /** Where it leads, as a place in the graph. */
  readonly to: number;
  /** Whether it recalls a scene, also the one in play. */
  readonly recalls: boolean;
  /** Functions that do not stand then as the scene says; none where none is recalled. */
  readonly otherwise: readonly string[];
};

/** A state of the rig that presses lead to. */
export type Node = {
  readonly state: LiveState;
  /** What is played: the place in the running order and its scene; `null` where no scene is. */
  readonly scene: SceneRef | null;
  readonly partId: string | null;
  /** How it was found: from which one, by what; `null` for the first. */
  readonly from: { readonly node: number; readonly press: FootPress } | null;
  readonly ways: readonly Way[];
};

export type SceneRef = { readonly entryId: string; readonly sceneId: string };

export type FootGraph = {
  readonly nodes: readonly Node[];
  /** Whether states that differ in the gear alone are kept apart; else they count as one. */
  readonly isExact: boolean;
  /** Everything that presses can lead to was seen. */
  readonly isWhole: boolean;
  /** Presses that were tried. */
  readonly tried: number;
};

export type GraphLimits = {
  /** After so many presses states of the gear are no longer kept apart. */
  readonly exactPresses: number;
  /** The most presses that are tried at all. */
  readonly presses: number;
};

export const GRAPH_LIMITS: GraphLimits = { exactPresses: 200, presses: 200_000 };

/** How far a long search has come. */
export type SearchProgress = { readonly tried: number; readonly waiting: number };

/**
 * Everything that presses lead to from a state, the nearest first. Where there are too many states of the gear, those
 * with the same place and banks count as one, and only presses that change these are followed.
 */
export function* footGraph(
  world: World,
  start: LiveState,
  limits: GraphLimits = GRAPH_LIMITS,
): Generator<SearchProgress, FootGraph> {
  const exact = yield* explore(world, start, true, limits.exactPresses);
  return exact.isWhole ? exact : yield* explore(world, start, false, limits.presses);
}

/** How often progress is told, in presses. */
const TOLD_EVERY = 64;

function* explore(
  world: World,
  start: LiveState,
  isExact: boolean,
  pressesAtMost: number,
): Generator<SearchProgress, FootGraph> {
  const keyOf = isExact ? stateKey : placeKey;
  const press = isExact ? pressed : remembered();
  const nodes: Node[] = [];
  const at = new Map<string, number>();
  const take = (state: LiveState, from: Node['from']): number => {
    const key = keyOf(world, state);
    const known = at.get(key);
    if (known !== undefined) return known;
    at.set(key, nodes.length);
    nodes.push(nodeOf(state, from));
    return nodes.length - 1;
  };
  take(start, null);
  let tried = 0;
  for (let i = 0; i < nodes.length; i++) {
    const node = nth(nodes, i);
    const ways: Way[] = [];
    for (const { leads, ...wanted } of pressesAt(world, node.state)) {
      if (!isExact && !leads) continue;
      if (tried >= pressesAtMost) return { nodes, isExact, isWhole: false, tried };
      const { state, recalls } = press(world, node.state, wanted);
      const to = take(state, { node: i, press: wanted });
      ways.push({ ...wanted, to, recalls, otherwise: recalls ? standsOtherwise(world, state) : [] });
      if (++tried % TOLD_EVERY === 0) yield { tried, waiting: nodes.length - i };
    }
    nodes[i] = { ...node, ways };
  }
  return { nodes, isExact, isWhole: true, tried };
}

/**
 * Remembers what a press leads to for each bank of its own board. Banks of other boards do not matter to it; they stay
 * as they are unless the press changes them.
 */
function remembered(): typeof pressed {
  const known = new Map<string, { readonly from: LiveState; readonly to: Pressed }>();
  return (world, state, press) => {
    const boardIndex = world.controls.get(press.controlId)?.boardIndex ?? 0;
    const own = world.boards[boardIndex]?.board.id ?? '';
    const key = `${press.controlId} ${press.gesture} ${placeKey(world, state, own)}`;
    const before = known.get(key);
    if (!before) {
      const to = pressed(world, state, press);
      known.set(key, { from: state, to });
      return to;
    }
    const { from, to } = before;
    /** A board that the press leaves alone stays in its bank. */
    const isLeft = (id: string) => id !== own && to.state.banks[id] === from.banks[id];
    const banks = Object.fromEntries([
      ...Object.entries(to.state.banks).filter(([id]) => !isLeft(id)),
      ...Object.entries(state.banks).filter(([id]) => isLeft(id)),
    ]);
    return { recalls: to.recalls, state: { ...to.state, banks } };
  };
}

function nodeOf(state: LiveState, from: Node['from']): Node {
  const { entryId, sceneId, partId } = state.position;
  return {
    state,
    scene: entryId !== null && sceneId !== null ? { entryId, sceneId } : null,
    partId,
    from,
    ways: [],
  };
}

/** The presses by which a node was found, from the first state on. */
export function pressesTo({ nodes }: Pick<FootGraph, 'nodes'>, node: number): readonly FootPress[] {
  const presses: FootPress[] = [];
  for (let from = nodes[node]?.from; from; from = nodes[from.node]?.from) presses.push(from.press);
  return presses.reverse();
}
