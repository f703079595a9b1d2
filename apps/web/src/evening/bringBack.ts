import type { Show } from '@idle-step/core/engine';
import type { LiveHost } from '../live/LiveHost';
import type { EveningKeeper } from './EveningKeeper';
import type { EveningStore, KeptPlace } from './eveningStore';
import { FollowWindow } from './followWindow';
import { OneWindow } from './oneWindow';

/** An evening that was left longer ago than this is over, in ms. */
const OVER_AFTER_MS = 12 * 3_600_000;
/** What was kept is not waited for longer than this, in ms. */
const PATIENCE_MS = 1500;

/**
 * Brings this window back to where playing stood when the page went away, and has it written down from then on. Only one
 * window at a time plays and writes; when it is closed, or another one is told to play, that goes on with what it played.
 */
export async function bringBack(host: LiveHost, store: EveningStore, keeper: EveningKeeper): Promise<void> {
  host.hold();
  /** Whether another window went on with what this one played: where it stands here is of the past. */
  let isPast = false;
  /** How often this window began to play or gave it up: what was begun before the last time goes no further. */
  let turn = 0;
  const windows = new OneWindow({
    takeOver() {
      // What this one showed last is what the other one played.
      if (host.unfollow()) isPast = true;
      const mine = ++turn;
      const isMine = () => mine === turn;
      void takeOver(host, store, keeper, { isPast, isMine }).finally(() => {
        if (!isMine()) return;
        isPast = false;
        void host.ports.resume();
      });
    },
    giveUp: () => {
      turn++;
      isPast = true;
      host.ports.leaveToOther();
      return keeper.stop();
    },
    panic: () => host.command({ kind: 'panic' }),
  });
  const following = new FollowWindow(host, () => windows.isPlaying);
  host.otherWindow = {
    playHere: () => windows.takeHere(),
    panic: () => windows.panicThere(),
    follow: () => following.follow(),
  };
  const isFirst = await windows.ask();
  if (!isFirst) {
    host.ports.leaveToOther();
    host.release(() => undefined);
    return;
  }
  const mine = ++turn;
  const { show, place } = await kept(store);
  if (mine !== turn) {
    host.release(() => undefined);
    return;
  }
  host.release(() => {
    if (show) host.setShow(show);
    goOn(host, keeper, place);
  });
  // Ports open once it is known what was held down at them when the page went away.
  await host.ports.resume();
}

/**
 * This window goes on with what another one played, unless it plays a set of its own. It does not where that came back while
 * what was kept was read, as after a reload: both would play.
 */
async function takeOver(
  host: LiveHost,
  store: EveningStore,
  keeper: EveningKeeper,
  { isPast, isMine }: { isPast: boolean; isMine(): boolean },
): Promise<void> {
  const { show, place } = await kept(store);
  if (!isMine()) return;
  const { world, state } = host.now();
  // A page whose lock came late has nothing in play yet.
  if (show && world.show.rig.id === '') host.setShow(show);
  const { run, position } = state;
  const isIdle = run === null && (position.sceneId === null || Boolean(place?.evening));
  goOn(host, keeper, isPast || isIdle ? place : null);
}

function goOn(host: LiveHost, keeper: EveningKeeper, place: KeptPlace | null): void {
  if (place) host.resume(place.bookmark, Math.max(0, Date.now() - place.wallMs), place.standIns ?? {});
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
      show: show.success ? show.data : null,
      place: kept.place && bookmark.success ? { ...kept.place, bookmark: bookmark.data } : null,
    };
  } catch {
    return null;
  }
}
