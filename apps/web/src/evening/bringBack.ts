import type { Show } from '@idle-step/core/engine';
import type { LiveHost } from '../live/LiveHost';
import type { EveningKeeper } from './EveningKeeper';
import type { EveningStore, KeptPlace } from './eveningStore';

/** An evening that was left longer ago than this is over, in ms. Our own choice. */
const OVER_AFTER_MS = 12 * 3_600_000;
/** What was kept is not waited for longer than this, in ms. */
const PATIENCE_MS = 1500;
const LOCK = 'idle-step.evening';

/**
 * Brings this window back to where playing stood when the page went away, and has it written down from then on. Only one
 * window at a time writes; when it is closed the next one takes over, and what it played. Source: Web Locks API, W3C
 * draft (from memory).
 */
export async function bringBack(host: LiveHost, store: EveningStore, keeper: EveningKeeper): Promise<void> {
  host.hold();
  const isFirst = await takeLock(() => void takeOver(host, store, keeper));
  if (!isFirst) {
    host.release(() => undefined);
    return;
  }
  const { show, place } = await kept(store);
  host.release(() => {
    if (show) host.setShow(show);
    goOn(host, keeper, place);
  });
}

/** The window that kept the evening was closed: it goes on in this one, unless this one plays a set of its own. */
async function takeOver(host: LiveHost, store: EveningStore, keeper: EveningKeeper): Promise<void> {
  const { show, place } = await kept(store);
  const { world, state } = host.now();
  // A page whose lock came late has nothing in play yet.
  if (show && world.show.rig.id === '') host.setShow(show);
  const { run, position } = state;
  const isIdle = run === null && (position.sceneId === null || Boolean(place?.evening));
  goOn(host, keeper, isIdle ? place : null);
}

function goOn(host: LiveHost, keeper: EveningKeeper, place: KeptPlace | null): void {
  if (place) host.resume(place.bookmark, Math.max(0, Date.now() - place.wallMs));
  keeper.start(place);
}

/** What was kept and is not over yet. */
async function kept(store: EveningStore): Promise<{ show: Show | null; place: KeptPlace | null }> {
  const found = await Promise.race([
    read(store),
    new Promise<null>((r) => setTimeout(() => r(null), PATIENCE_MS)),
  ]);
  const place = found?.place ?? null;
  const isOver = place !== null && Date.now() - place.wallMs >= OVER_AFTER_MS;
  return { show: found?.show ?? null, place: isOver ? null : place };
}

/** @param later called when the window that has it was closed. @returns whether it was free. */
function takeLock(later: () => void): Promise<boolean> {
  if (!('locks' in navigator)) return Promise.resolve(true);
  return new Promise((resolve) => {
    // A page that is reloaded gives its lock back a moment after the new one asks for it.
    const patience = window.setTimeout(() => resolve(false), 300);
    let isInTime = true;
    window.setTimeout(() => (isInTime = false), 300);
    void navigator.locks.request(LOCK, () => {
      window.clearTimeout(patience);
      if (isInTime) resolve(true);
      else later();
      return new Promise(() => undefined);
    });
  });
}

/** What was kept, as this version of the application reads it; what it cannot read is left alone. */
async function read(store: EveningStore): Promise<{ show: Show | null; place: KeptPlace | null } | null> {
  try {
    const [kept, { ShowSchema, BookmarkSchema }] = await Promise.all([
      store.load(),
      import('@idle-step/contract'),
    ]);
    const show = ShowSchema.safeParse(kept.show);
    const bookmark = BookmarkSchema.safeParse(kept.place?.bookmark);
    return {
      show: show.success ? (show.data as Show) : null,
      place: kept.place && bookmark.success ? { ...kept.place, bookmark: bookmark.data } : null,
    };
  } catch {
    return null;
  }
}
