import type { LogLine } from '../../live/log/logLine';
import type { MonitorLog } from '../../live/log/monitorLog';

/** What opened by itself folds after nothing came for so long, in ms. */
export const QUIET_MS = 20_000;
/** Nothing folds under a hand: it has to rest for so long, in ms. */
export const REST_MS = 1000;
/** Lines are looked through this often while they come and nothing has opened yet, in ms. */
const LOOK_EVERY_MS = 200;
/** Of a flood only the youngest lines are looked at. */
const LOOKED_AT = 100;

/** The mouse, the finger or the keyboard, in ms of the page's clock. */
export type Hand = {
  /** A button or a finger is down: something may be being dragged. */
  readonly isDown: boolean;
  /** When it last moved or typed. */
  readonly movedMs: number;
  /** It is over what would fold, or types in it. */
  readonly isInside: boolean;
};

/** How long what opened by itself stays open yet, in ms; 0 where it folds now. */
export function staysForMs(nowMs: number, cameMs: number, hand: Hand): number {
  if (hand.isDown || hand.isInside) return REST_MS;
  return Math.max(0, cameMs + QUIET_MS - nowMs, hand.movedMs + REST_MS - nowMs);
}

/**
 * Tells when something has come that is worth opening for, and when it has been quiet for long enough to fold again. While
 * a button or a finger is down nothing is told, as the page would move under it.
 *
 * @param matters whether a line of the log is worth it.
 * @returns what ends it.
 */
export function watchComing(
  log: Pick<MonitorLog, 'total' | 'since' | 'whenAdded'>,
  matters: (line: LogLine) => boolean,
  hand: () => Hand,
  tell: (isOpen: boolean) => void,
): () => void {
  let seen = log.total;
  let cameMs = 0;
  let isOpen = false;
  let folding: ReturnType<typeof setTimeout> | undefined;
  let looking: ReturnType<typeof setTimeout> | undefined;
  let stopWaiting = (): void => undefined;
  const foldLater = () => {
    const ms = staysForMs(performance.now(), cameMs, hand());
    if (ms > 0) {
      folding = setTimeout(foldLater, ms);
      return;
    }
    isOpen = false;
    tell(false);
  };
  const look = () => {
    if (!isOpen && hand().isDown) {
      looking = setTimeout(look, LOOK_EVERY_MS);
      return;
    }
    const fresh = log.since(Math.max(seen, log.total - LOOKED_AT));
    seen = log.total;
    if (fresh.some(matters)) {
      cameMs = performance.now();
      if (!isOpen) {
        isOpen = true;
        tell(true);
        foldLater();
      }
    }
    looking = setTimeout(wait, isOpen ? REST_MS : LOOK_EVERY_MS);
  };
  const wait = () => {
    if (log.total > seen) look();
    // The bytes go first, then the picture of the press, then this.
    else stopWaiting = log.whenAdded(() => (looking = setTimeout(look, 0)));
  };
  wait();
  return () => {
    clearTimeout(folding);
    clearTimeout(looking);
    stopWaiting();
  };
}
