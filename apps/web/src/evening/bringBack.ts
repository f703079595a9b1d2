import type { LiveHost } from '../live/LiveHost';
import type { EveningKeeper } from './EveningKeeper';
import type { EveningStore, Kept } from './eveningStore';
import { FollowWindow } from './followWindow';
import { OneWindow } from './oneWindow';

/** An evening that was left longer ago than this is over, in ms. */
const OVER_AFTER_MS = 12 * 3_600_000;
/** Playing does not wait longer than this for what was kept, in ms. */
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
  const isMine = () => mine === turn;
  await takeOver(host, store, keeper, { isPast, isMine });
  // Ports open once it is known what was held down at them when the page went away, unless that takes too long.
  if (isMine()) await host.ports.resume();
  else host.release(() => undefined);
}

/**
 * This window goes on with what was kept, unless it plays a set of its own. It does not where another one came back while
 * that was read, as after a reload: both would play. A disk that takes too long is not waited for: the window plays what
 * it has, writes nothing over what was kept, and goes on with that once it is read, unless somebody began to play here.
 */
async function takeOver(
  host: LiveHost,
  store: EveningStore,
  keeper: EveningKeeper,
  { isPast, isMine }: { readonly isPast: boolean; isMine(): boolean },
): Promise<void> {
  const reading = kept(store);
  const patience = new Promise<'late'>((resolve) => setTimeout(() => resolve('late'), PATIENCE_MS));
  const found = await Promise.race([reading, patience]);
  if (!isMine()) return;
  if (found !== 'late') {
    host.release(() => goOn(host, keeper, found, isPast));
    return;
  }
  keeper.wait();
  host.release(() => undefined);
  const before = host.now().state;
  void reading.then((late) => {
    if (!isMine()) return;
    const { run, position } = host.now().state;
    const isPlayed = run !== before.run || position.sceneId !== before.position.sceneId;
    if (isPlayed) keeper.start(null);
    else goOn(host, keeper, late, isPast);
    // Notes that were left sounding end at ports that are there already.
    host.ports.tellAnew();
  });
}

/** @param isPast where this window stands is of the past. */
function goOn(host: LiveHost, keeper: EveningKeeper, found: Kept | null, isPast: boolean): void {
  const { world, state } = host.now();
  // A page that was just opened has nothing in play yet.
  if (found?.show && world.show.rig.id === '') host.setShow(found.show);
  const { run, position } = state;
  const isIdle = run === null && (position.sceneId === null || Boolean(found?.place?.evening));
  const place = isPast || isIdle ? (found?.place ?? null) : null;
  if (place) host.resume(place.bookmark, Math.max(0, Date.now() - place.wallMs), place.standIns ?? {});
  keeper.start(place);
}

/** What was kept and is not over yet. */
async function kept(store: EveningStore): Promise<Kept | null> {
  const found = await read(store);
  const isOver = found?.place && Date.now() - found.place.wallMs >= OVER_AFTER_MS;
  return found && isOver ? { ...found, place: null } : found;
}

/** What was kept, as this version of the application reads it; what it cannot read is left alone. */
async function read(store: EveningStore): Promise<Kept | null> {
  try {
    const [found, { ShowSchema, BookmarkSchema }] = await Promise.all([
      store.load(),
      import('@idle-step/contract'),
    ]);
    const show = ShowSchema.safeParse(found.show);
    const bookmark = BookmarkSchema.safeParse(found.place?.bookmark);
    return {
      show: show.success ? show.data : null,
      place: found.place && bookmark.success ? { ...found.place, bookmark: bookmark.data } : null,
    };
  } catch {
    return null;
  }
}
