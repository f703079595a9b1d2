import type { Show } from '@idle-step/core/engine';
import {
  begunEvening,
  breaksOf,
  footGraph,
  GRAPH_LIMITS,
  pressPlan,
  reachOf,
  wholeLayout,
  worldOfFeet,
  type Break,
  type FeetModel,
  type LayoutFound,
  type LayoutWish,
  type PressPlan,
  type Reach,
} from '@idle-step/core/proof';
import type { FullRig } from '@idle-step/core/routing';

type FullShow = Show & { readonly rig: FullRig };
export type SearchWish =
  | { readonly kind: 'feet'; readonly show: FullShow; readonly model: FeetModel }
  | { readonly kind: 'breaks'; readonly show: FullShow }
  | {
      readonly kind: 'layout';
      readonly show: FullShow;
      readonly model: FeetModel;
      readonly wish: LayoutWish;
    };

/** How far a search has come: its share, 0–1, where that can be told, and in words. */
export type SearchNow = { readonly share: number | null; readonly text: string };
export type FeetFound = { readonly reach: Reach; readonly plan: PressPlan };
export type SearchTold =
  | { readonly kind: 'now'; readonly now: SearchNow }
  | { readonly kind: 'feet'; readonly found: FeetFound }
  | { readonly kind: 'breaks'; readonly found: readonly Break[] }
  /** The best layout so far, or the last one. */
  | { readonly kind: 'layout'; readonly found: LayoutFound; readonly isOver: boolean };

const tell = (told: SearchTold): void => self.postMessage(told);
/** How often it is told how far a search has come, in ms. */
const TOLD_MS = 100;

/** Runs a search to its end, and tells on the way how far it has come. */
function run<P, T>(search: Generator<P, T>, now: (progress: P) => SearchNow): T {
  let toldMs = -Infinity;
  for (;;) {
    const next = search.next();
    if (next.done) return next.value;
    const atMs = performance.now();
    if (atMs - toldMs < TOLD_MS) continue;
    toldMs = atMs;
    tell({ kind: 'now', now: now(next.value) });
  }
}

self.onmessage = ({ data: wish }: MessageEvent<SearchWish>) => {
  if (wish.kind === 'breaks') {
    const found = run(breaksOf(wish.show, GRAPH_LIMITS), ({ done, of }) => ({
      share: of === 0 ? null : done / of,
      text: `${done} of ${of} things taken away`,
    }));
    tell({ kind: 'breaks', found });
    return;
  }
  if (wish.kind === 'layout') {
    let toldMs = performance.now();
    const search = wholeLayout(wish.show, wish.wish, wish.model);
    for (;;) {
      const next = search.next();
      if (next.done) {
        tell({ kind: 'layout', found: next.value, isOver: true });
        return;
      }
      if (performance.now() - toldMs < TOLD_MS) continue;
      toldMs = performance.now();
      tell({ kind: 'layout', found: next.value, isOver: false });
    }
  }
  const world = worldOfFeet(wish.show);
  const graph = run(footGraph(world, begunEvening(world)), ({ tried, waiting }) => ({
    share: null,
    text: `${tried} presses tried, ${waiting} places to go`,
  }));
  const plan = pressPlan(world, graph, wish.model);
  tell({ kind: 'feet', found: { reach: reachOf(world, graph), plan } });
};
