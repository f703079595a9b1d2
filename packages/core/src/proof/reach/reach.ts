import type { World } from '../../engine';
import { isBare } from '../../floor';
import { nth } from '../../sure';
import { pressesTo, type FootGraph, type Node } from '../feet/graph';
import { pressed, pressesAt, type FootPress } from '../feet/press';
import { standsOtherwise } from '../feet/stands';

/** How feet get to one scene of the evening. */
export type SceneReach = {
  readonly songIndex: number;
  readonly sceneIndex: number;
  readonly entryId: string;
  readonly sceneId: string;
  /** The fewest presses from the beginning of the set; `null` where none lead there. */
  readonly presses: readonly FootPress[] | null;
  /** The fewest and the most presses from the scene before it in the running order; `null` where some have no way. */
  readonly fromBefore: { readonly fewest: number; readonly most: number } | null;
  /** The most presses from anywhere; `null` where it cannot be got to from everywhere. */
  readonly fromAnywhere: number | null;
  /** Presses after which the rig stands otherwise than the scene says, and what does; `null` where none were found. */
  readonly differs: {
    readonly presses: readonly FootPress[];
    readonly functionIds: readonly string[];
  } | null;
};

/** A press by mistake, after which there is no way back in three presses. */
export type Trap = FootPress & {
  readonly entryId: string;
  readonly sceneId: string;
  /** Where it leads, or `null` out of every scene. */
  readonly leadsTo: { readonly entryId: string; readonly sceneId: string } | null;
  /** Presses back, `null` where there is no way. */
  readonly back: number | null;
  readonly presses: readonly FootPress[];
};

export type Reach = {
  readonly scenes: readonly SceneReach[];
  readonly traps: readonly Trap[];
  /** Banks, by their ids, that no press leads to. */
  readonly unseenBanks: readonly string[];
  /** Controls that do nothing in any bank. */
  readonly idleControls: readonly string[];
  /** Scenes of songs that stand in no part. */
  readonly unplayedScenes: readonly { readonly songId: string; readonly sceneId: string }[];
  readonly states: number;
  readonly tried: number;
  readonly isExact: boolean;
  readonly isWhole: boolean;
};

/** So many presses back are a way back. */
export const BACK_WITHIN = 3;

/** What feet can bring about, of all that was seen. */
export function reachOf(world: World, graph: FootGraph): Reach {
  const backwards = waysBack(graph);
  const wrong = wrongStandings(world, graph);
  const scenes = scenesOf(world);
  return {
    scenes: scenes.map((scene, i) => sceneReach(graph, backwards, wrong, scene, scenes[i - 1])),
    traps: trapsOf(graph, backwards),
    unseenBanks: unseenBanks(world, graph),
    idleControls: idleControls(world),
    unplayedScenes: unplayedScenes(world),
    states: graph.nodes.length,
    tried: graph.tried,
    isExact: graph.isExact,
    isWhole: graph.isWhole,
  };
}

type SceneAt = Pick<SceneReach, 'songIndex' | 'sceneIndex' | 'entryId' | 'sceneId'>;

/** Every scene that is played, in the order in which it comes first. */
function scenesOf({ songs }: World): SceneAt[] {
  return songs.flatMap(({ entryId, song, parts }, songIndex) => {
    const order = [...new Set(parts.map((p) => p.sceneId))];
    return order.flatMap((sceneId) => {
      const sceneIndex = song.scenes.findIndex((s) => s.id === sceneId);
      return sceneIndex < 0 ? [] : [{ songIndex, sceneIndex, entryId, sceneId }];
    });
  });
}

const sceneKey = ({ entryId, sceneId }: { readonly entryId: string; readonly sceneId: string }): string =>
  `${entryId} ${sceneId}`;

const isAt = ({ scene }: Node, { entryId, sceneId }: { entryId: string; sceneId: string }): boolean =>
  scene?.entryId === entryId && scene.sceneId === sceneId;

/** For each node those from which one press leads to it. */
function waysBack({ nodes }: FootGraph): readonly (readonly number[])[] {
  const back: number[][] = nodes.map(() => []);
  for (const [i, { ways }] of nodes.entries()) for (const { to } of ways) nth(back, to).push(i);
  return back;
}

/** How many presses lead from each node to one of some nodes; −1 where none do. */
function distancesTo(back: readonly (readonly number[])[], goals: readonly number[]): Int32Array {
  const distance = new Int32Array(back.length).fill(-1);
  let wave = goals;
  for (const goal of goals) distance[goal] = 0;
  for (let presses = 1; wave.length > 0; presses++) {
    const next: number[] = [];
    for (const node of wave)
      for (const before of nth(back, node))
        if (distance[before] === -1) {
          distance[before] = presses;
          next.push(before);
        }
    wave = next;
  }
  return distance;
}

const indexesWhere = (nodes: readonly Node[], is: (node: Node) => boolean): number[] =>
  nodes.flatMap((n, i) => (is(n) ? i : []));

function sceneReach(
  graph: FootGraph,
  back: readonly (readonly number[])[],
  wrong: ReadonlyMap<string, NonNullable<SceneReach['differs']>>,
  scene: SceneAt,
  before: SceneAt | undefined,
): SceneReach {
  const { nodes } = graph;
  const goals = indexesWhere(nodes, (n) => isAt(n, scene));
  const nearest = goals[0];
  const distance = distancesTo(back, goals);
  const from = before ? indexesWhere(nodes, (n) => isAt(n, before)) : [];
  const steps = from.map((i) => distance[i] ?? -1);
  return {
    ...scene,
    // Nodes are found with the fewest presses first.
    presses: nearest === undefined ? null : pressesTo(graph, nearest),
    fromBefore:
      steps.length === 0 || steps.includes(-1)
        ? null
        : { fewest: Math.min(...steps), most: Math.max(...steps) },
    fromAnywhere: distance.includes(-1) ? null : distance.reduce((most, d) => Math.max(most, d), 0),
    differs: wrong.get(sceneKey(scene)) ?? null,
  };
}

/**
 * For each scene presses after which the rig does not stand as the scene says. Where states of the gear count as one,
 * each press is tried from the state found first, and once more after all other presses within reach.
 */
function wrongStandings(
  world: World,
  graph: FootGraph,
): ReadonlyMap<string, NonNullable<SceneReach['differs']>> {
  const wrong = new Map<string, NonNullable<SceneReach['differs']>>();
  const keep = (at: Node['scene'], presses: () => readonly FootPress[], functionIds: readonly string[]) => {
    if (!at || functionIds.length === 0 || wrong.has(sceneKey(at))) return;
    const list = presses();
    // States that count as one may differ in the gear, so the presses are played once more.
    const otherwise = graph.isExact ? functionIds : playedTo(world, nth(graph.nodes, 0), list, at);
    if (otherwise.length > 0) wrong.set(sceneKey(at), { presses: list, functionIds: otherwise });
  };
  const mixedIn = new Set<string>();
  for (const [i, node] of graph.nodes.entries()) {
    const landing = node.ways.filter((w) => w.recalls);
    for (const { to, otherwise, controlId, gesture } of landing)
      keep(nth(graph.nodes, to).scene, () => [...pressesTo(graph, i), { controlId, gesture }], otherwise);
    if (graph.isExact || landing.length === 0 || !node.scene || mixedIn.has(sceneKey(node.scene))) continue;
    mixedIn.add(sceneKey(node.scene));
    const beside = pressesAt(world, node.state).flatMap(({ leads, ...p }) => (leads ? [] : p));
    const mixed = beside.reduce((state, p) => pressed(world, state, p).state, node.state);
    for (const { controlId, gesture } of landing) {
      const press = { controlId, gesture };
      const { state: after, recalls } = pressed(world, mixed, press);
      if (!recalls) continue;
      const { entryId, sceneId } = after.position;
      keep(
        entryId !== null && sceneId !== null ? { entryId, sceneId } : null,
        () => [...pressesTo(graph, i), ...beside, press],
        standsOtherwise(world, after),
      );
    }
  }
  return wrong;
}

/** What stands otherwise after presses from the beginning that lead to a scene; nothing where they lead elsewhere. */
function playedTo(
  world: World,
  start: Node,
  presses: readonly FootPress[],
  at: NonNullable<Node['scene']>,
): readonly string[] {
  const state = presses.reduce((now, press) => pressed(world, now, press).state, start.state);
  const { entryId, sceneId } = state.position;
  return entryId === at.entryId && sceneId === at.sceneId ? standsOtherwise(world, state) : [];
}

/** Presses in a scene of the set that lead to another one, from which more than three lead back. */
function trapsOf(graph: FootGraph, back: readonly (readonly number[])[]): Trap[] {
  const { nodes } = graph;
  const found = new Map<string, Trap>();
  const distanceTo = new Map<string, Int32Array>();
  for (const [i, node] of nodes.entries()) {
    const { scene } = node;
    if (!scene) continue;
    for (const { to, controlId, gesture } of node.ways) {
      const press = { controlId, gesture };
      const next = nth(nodes, to);
      if (next.scene && isAt(next, scene)) continue;
      const key = sceneKey(scene);
      let distance = distanceTo.get(key);
      if (!distance) {
        distance = distancesTo(
          back,
          indexesWhere(nodes, (n) => isAt(n, scene)),
        );
        distanceTo.set(key, distance);
      }
      const presses = distance[to] ?? -1;
      if (presses >= 0 && presses <= BACK_WITHIN) continue;
      const trapKey = `${key} ${press.controlId} ${press.gesture}`;
      if (!found.has(trapKey))
        found.set(trapKey, {
          ...press,
          ...scene,
          leadsTo: next.scene,
          back: presses < 0 ? null : presses,
          presses: [...pressesTo(graph, i), press],
        });
    }
  }
  return [...found.values()];
}

function unseenBanks({ boards }: World, { nodes }: FootGraph): string[] {
  const seen = new Set<string>();
  for (const { state } of nodes)
    for (const { board, banks } of boards) {
      const id = state.banks[board.id] ?? banks[0]?.bank.id;
      if (id !== undefined) seen.add(id);
    }
  return boards.flatMap(({ banks }) => banks.flatMap(({ bank }) => (seen.has(bank.id) ? [] : bank.id)));
}

const idleControls = ({ boards, songs }: World): string[] =>
  boards.flatMap(({ board, preset, banks, groups }) =>
    preset === null
      ? []
      : board.controls.flatMap(({ id }) => {
          const pages = [...banks, ...groups.flatMap((g) => g.pages)];
          const assigned = pages.flatMap((p) => p.assignments.get(id) ?? []);
          const isUsed =
            assigned.some((a) => !isBare(a)) || songs.some((s) => s.controls.some((works) => works.has(id)));
          return isUsed ? [] : id;
        }),
  );

function unplayedScenes({ songs }: World): Reach['unplayedScenes'] {
  const played = new Set(songs.flatMap(({ parts }) => parts.map((p) => p.sceneId)));
  const each = new Map(songs.map(({ song }) => [song.id, song]));
  return [...each.values()].flatMap((song) =>
    song.scenes.flatMap((s) => (played.has(s.id) ? [] : { songId: song.id, sceneId: s.id })),
  );
}
