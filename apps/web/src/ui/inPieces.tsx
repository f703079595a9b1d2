import { lazy, Suspense, type ComponentType, type ReactNode } from 'react';

/** Pieces of the page that are fetched when they are first drawn, or when nothing else is to be done. */
const LATER: (() => Promise<unknown>)[] = [];

/**
 * A component whose code comes when it is first drawn.
 * Example: `inPieces(() => import('./RigPlace').then((m) => m.RigPlace), 'Fetching Rig …')`.
 * @param meanwhile what stands in its place until then.
 */
export function inPieces<P extends object>(
  load: () => Promise<ComponentType<P>>,
  meanwhile: ReactNode,
): ComponentType<P> {
  LATER.push(load);
  const Piece = lazy(async () => ({ default: await load() }));
  return function InPieces(props: P) {
    return (
      <Suspense fallback={meanwhile}>
        <Piece {...props} />
      </Suspense>
    );
  };
}

/** Between two pieces, in ms: somebody may be playing by now, and what a piece takes is not to add up. */
const APART_MS = 300;

/** Fetches every piece that was not needed yet, one after the other, so that the page goes on without its server. */
export async function fetchRest(): Promise<void> {
  for (const load of LATER) {
    await whenIdle();
    // A piece that does not come now is asked for again when it is drawn.
    await load().catch(() => undefined);
  }
}

/** After a while, when there is nothing else to do, or a second later. */
const whenIdle = (): Promise<unknown> =>
  new Promise((resolve) => {
    window.setTimeout(() => {
      if ('requestIdleCallback' in window) window.requestIdleCallback(resolve, { timeout: 1000 });
      else resolve(null);
    }, APART_MS);
  });
