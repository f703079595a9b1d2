import { openChannel } from '../storage/channel';
import { ofWindow } from '../storage/keptTexts';

/** The window that has it plays; asked for by all, and taken by the one where somebody says so. */
const PLAYS = 'idle-step.evening';
/** Held by the window that writes the evening down, until its last line is written. */
const WRITES = 'idle-step.evening-written';
/** Another window that does not let go of what it writes is not waited for longer than this, in ms. */
const PATIENCE_MS = 1000;
/** A page that is reloaded gives its locks back a moment after the new one asks for them, in ms. */
const RELOAD_MS = 300;
const CHANNEL = 'idle-step.evening';
const PANIC = 'panic';
const PLAYED = 'idle-step.played';

/** What follows in this window. */
export type WindowDuties = {
  /** It plays from now on, later than at once: the one that did was closed, or somebody said so here. */
  takeOver(): void;
  /** Another one plays from now on. Resolves when everything is written down. */
  giveUp(): Promise<void>;
  /** In another window, which does not play, somebody wants silence. */
  panic(): void;
};

const never = () => new Promise<never>(() => undefined);

/**
 * Of several windows of one browser one plays: it alone hears and uses the ports, and writes the evening down. Otherwise
 * every message would leave as often as there are windows. Source: Web Locks API, W3C draft.
 */
export class OneWindow {
  private plays = false;
  private isTaking = false;
  private readonly channel = openChannel(CHANNEL);

  constructor(private readonly duties: WindowDuties) {
    this.channel?.addEventListener('message', ({ data }) => {
      if (this.plays && data === PANIC) duties.panic();
    });
    window.addEventListener('pagehide', () => this.plays && rememberPlayed());
  }

  /**
   * Asks to be the window that plays; where another one is, this one is next.
   * @returns whether it plays at once. Browsers without locks let every window play.
   */
  ask(): Promise<boolean> {
    if (!('locks' in navigator)) {
      this.plays = true;
      return Promise.resolve(true);
    }
    return new Promise((resolve) => {
      let isInTime = true;
      const late = () => {
        isInTime = false;
        resolve(false);
      };
      const timer = window.setTimeout(late, RELOAD_MS);
      void this.hold({ steal: playedBefore() }, () => {
        window.clearTimeout(timer);
        if (isInTime) resolve(true);
        else this.duties.takeOver();
      });
    });
  }

  get isPlaying(): boolean {
    return this.plays;
  }

  /** This window plays, and the one that did no more. */
  takeHere(): void {
    // Asked for twice it would be taken from this very window.
    if (this.plays || this.isTaking) return;
    this.isTaking = true;
    void this.hold({ steal: true }, () => this.duties.takeOver());
  }

  /** Silence, in whichever window plays. */
  panicThere(): void {
    this.channel?.postMessage(PANIC);
  }

  /** Holds both locks until the window goes or another takes them; asks again then. */
  private async hold(options: LockOptions, have: () => void): Promise<void> {
    let isOver = false;
    let letGo = (): void => undefined;
    try {
      await navigator.locks.request(PLAYS, options, async () => {
        this.plays = true;
        this.isTaking = false;
        letGo = await whenWritten();
        if (isOver) letGo();
        else have();
        await never();
      });
    } catch (error) {
      // The browser refuses locks: then every window plays, as where there are none.
      if (!isTaken(error)) {
        this.plays = true;
        have();
        return;
      }
      isOver = true;
      this.plays = false;
      this.isTaking = false;
      await this.duties.giveUp();
      letGo();
      await this.hold({}, () => this.duties.takeOver());
    }
  }
}

/** Whether a lock went to another window. Source: Web Locks API: a lock that is stolen ends in an AbortError. */
const isTaken = (error: unknown): boolean => error instanceof DOMException && error.name === 'AbortError';

/** Whether this very window played before it was reloaded: then it does again, though another one may be next. */
function playedBefore(): boolean {
  try {
    const played = ofWindow.store.getItem(PLAYED) !== null;
    // Not copied into a window that is made from this one.
    ofWindow.store.removeItem(PLAYED);
    return played;
  } catch {
    return false;
  }
}

function rememberPlayed(): void {
  try {
    ofWindow.store.setItem(PLAYED, 'yes');
  } catch {
    // Then the next one plays.
  }
}

/** Waits until the window that wrote has written its last. @returns lets the next one write. */
function whenWritten(): Promise<() => void> {
  return new Promise((resolve) => {
    const hold = () =>
      new Promise<void>((release) => {
        window.clearTimeout(timer);
        resolve(release);
      });
    const waiting = new AbortController();
    const timer = window.setTimeout(() => {
      waiting.abort();
      void navigator.locks.request(WRITES, { steal: true }, hold).catch(() => undefined);
    }, PATIENCE_MS);
    void navigator.locks.request(WRITES, { signal: waiting.signal }, hold).catch(() => undefined);
  });
}
