import { LINES_AT_MOST, type EveningReport } from '@idle-step/contract';
import {
  BOOKMARKED,
  bookmarkOf,
  type LiveNote,
  type LiveState,
  type Show,
  type World,
} from '@idle-step/core/engine';
import type { Message } from '@idle-step/core/midi';
import type { LiveHost } from '../live/LiveHost';
import type { HostWitness, SentLine } from '../live/witness';
import { Diary } from './diary';
import type { EveningStore } from './eveningStore';
import type { KeptPlace } from './keptPlace';
import { isGone } from './isGone';
import { keysOf } from '@idle-step/core/sure';

/** How long what changed waits to be written, in ms: what a browser that is killed may lose. */
const WRITE_AFTER_MS = 120;
/** The same for another scene, song or break. */
const MOVE_AFTER_MS = 15;
/** The same for an edit of what is in play. */
const EDIT_AFTER_MS = 400;
/** How long until it is tried again to write, where the browser did not take it, in ms. */
const AGAIN_AFTER_MS = 5000;
/** How often the server is told, in ms. */
const TELL_EVERY_MS = 4000;

/** What comes all the time, and is not written down for itself. */
const PASSING: ReadonlySet<Message['kind']> = new Set(['clock', 'active-sensing']);

export type EveningStatus = {
  /** The show in play lies in this browser as it is. */
  readonly isShowKept: boolean;
  /** Lines of the log that the server has not confirmed. */
  readonly unsent: number;
  /** Why the browser does not keep anything, or `null`. */
  readonly trouble: string | null;
};

/** Writes down in this browser what is in play, where it stands and what happens, and tells the server later, once. */
export class EveningKeeper implements HostWitness {
  private readonly diary: Diary;
  /** What was kept is still being read. */
  private isWaiting = false;
  private seen: LiveState | null = null;
  private seenWorld: World | null = null;
  private timer = 0;
  private teller = 0;
  private dueMs = Infinity;
  private writing: Promise<void> = Promise.resolve();
  private isTelling = false;
  private keptShow: Show | null = null;
  private showTimer = 0;
  private again = 0;
  private status: EveningStatus = { isShowKept: false, unsent: 0, trouble: null };
  private readonly listeners = new Set<() => void>();

  constructor(
    private readonly host: LiveHost,
    private readonly store: EveningStore,
  ) {
    this.diary = new Diary(
      () => ({ ...host.now(), atMs: host.clock() }),
      () => Date.now(),
    );
    store.onCleared = this.keepAnew;
  }

  /** Notes what happens from now on; nothing is written over what was kept before a set is begun here or `start`. */
  wait(): void {
    this.isWaiting = true;
    this.diary.leave();
    this.attach();
  }

  /** Begins to write down. @param place where it stood when the page went away, or another window took it up. */
  start(place: KeptPlace | null): void {
    const { state } = this.host.now();
    if (place?.evening && state.run) this.diary.continue(place.evening.head, place.evening.next);
    else if (!this.isWaiting) this.diary.leave();
    this.isWaiting = false;
    [this.seen, this.seenWorld] = [null, null];
    this.attach();
    this.changed();
  }

  private attach(): void {
    if (this.host.witness === this) return;
    this.host.witness = this;
    this.teller = window.setInterval(() => void this.tell(), TELL_EVERY_MS);
    window.addEventListener('pagehide', this.onLeaving);
    document.addEventListener('visibilitychange', this.onVisibility);
    void this.tell();
  }

  /** Writes down no more, since another window does. Resolves when the last is written. */
  async stop(): Promise<void> {
    if (this.host.witness !== this) return;
    this.host.witness = null;
    window.clearInterval(this.teller);
    window.removeEventListener('pagehide', this.onLeaving);
    document.removeEventListener('visibilitychange', this.onVisibility);
    window.clearTimeout(this.showTimer);
    window.clearTimeout(this.again);
    this.write();
    this.isWaiting = false;
    await this.writing;
    this.diary.leave();
    // Whatever the other one writes over it is news to this one.
    [this.seen, this.seenWorld, this.keptShow] = [null, null, null];
    this.tellStatus({ isShowKept: false });
  }

  /** What lay in this browser is gone, in the middle of a set maybe: all of it is written down once more. */
  private readonly keepAnew = (): void => {
    this.tellStatus({ isShowKept: false });
    if (this.host.witness !== this) return;
    [this.keptShow, this.seenWorld] = [null, null];
    this.changed();
    this.writeAfter(MOVE_AFTER_MS);
  };

  private readonly writeNow = (): void => {
    if (this.showTimer !== 0 && this.keptShow) this.putShow(this.keptShow);
    this.write();
  };

  private readonly onLeaving = (): void => {
    this.writeNow();
    this.store.leave();
  };

  private readonly onVisibility = (): void => {
    if (document.hidden) this.writeNow();
  };

  /** It would be written over what is not read yet, and no set was begun here. */
  private get mayNotWrite(): boolean {
    return this.isWaiting && this.diary.head === null;
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  readonly getStatus = (): EveningStatus => this.status;

  came(portId: string, message: Message): void {
    this.diary.came(portId, message);
  }

  sent(line: SentLine): void {
    this.diary.sent(line);
    // What it does to a stand-in is kept, whether anything is known of it or not.
    if (line.isTaken && !PASSING.has(line.message.kind)) this.writeAfter(WRITE_AFTER_MS);
  }

  noted(note: LiveNote, world: World): void {
    this.diary.noted(note, world);
  }

  changed(): void {
    if (this.mayNotWrite) return;
    const { world, state } = this.host.now();
    const before = this.seen;
    if (world !== this.seenWorld) {
      this.seenWorld = world;
      this.keepShow(world.show);
    }
    if (before === state) return;
    this.seen = state;
    const isMoved = !before || before.position !== state.position || before.run !== state.run;
    const isChanged = isMoved || BOOKMARKED.some((part) => before[part] !== state[part]);
    if (isMoved) this.writeAfter(MOVE_AFTER_MS);
    else if (isChanged || this.diary.hasLines) this.writeAfter(WRITE_AFTER_MS);
  }

  private keepShow(show: Show): void {
    const before = this.keptShow;
    if (show.rig.id === '' || show === before) return;
    this.keptShow = show;
    this.tellStatus({ isShowKept: false });
    window.clearTimeout(this.showTimer);
    // Another set or rig is kept at once; an edit when typing has paused, not with every letter.
    const isOther = before?.rig.id !== show.rig.id || before.setId !== show.setId;
    if (isOther) this.putShow(show);
    else this.showTimer = window.setTimeout(() => this.putShow(show), EDIT_AFTER_MS);
  }

  private putShow(show: Show): void {
    this.showTimer = 0;
    this.store.keepShow(show).then(
      () => this.keptShow === show && this.tellStatus({ isShowKept: true, trouble: null }),
      (error: unknown) => this.wentWrong(error),
    );
  }

  /** It can be written again: the show in play is brought too where it is not there. */
  private wentWell(): void {
    if (this.status.trouble === null) return;
    if (this.keptShow && !this.status.isShowKept) this.putShow(this.keptShow);
    else this.tellStatus({ trouble: null });
  }

  /** A browser that keeps nothing now may do so later, so it is tried again, and with the next thing that happens. */
  private wentWrong(error: unknown): void {
    this.tellStatus({ trouble: troubleOf(error) });
    window.clearTimeout(this.again);
    this.again = window.setTimeout(() => {
      if (this.host.witness === this) this.write();
    }, AGAIN_AFTER_MS);
  }

  private writeAfter(ms: number): void {
    const atMs = performance.now() + ms;
    if (this.dueMs <= atMs) return;
    this.dueMs = atMs;
    window.clearTimeout(this.timer);
    this.timer = window.setTimeout(() => this.write(), ms);
  }

  private write(): void {
    window.clearTimeout(this.timer);
    this.dueMs = Infinity;
    if (this.mayNotWrite) return;
    const { world, state } = this.host.now();
    if (world.show.rig.id === '') return;
    const { head, next } = this.diary;
    const entries = this.diary.take();
    const place: KeptPlace = {
      bookmark: bookmarkOf(world, state, this.host.clock()),
      wallMs: Date.now(),
      standIns: this.host.keptStandIns(),
      evening: head && head.endedAt === null ? { head, next } : null,
    };
    const written = this.store.keep(place, head, entries);
    this.writing = written.then(
      () => this.wentWell(),
      (error: unknown) => this.wentWrong(error),
    );
  }

  /** Tells the server what it has not confirmed yet. Without an answer it is told again. */
  private async tell(): Promise<void> {
    if (this.isTelling || !navigator.onLine) return;
    this.isTelling = true;
    try {
      for (;;) {
        await this.writing;
        const unsent = await this.store.unsent(LINES_AT_MOST);
        if (!unsent) break;
        const isOver = () => unsent.evening.endedAt !== null || unsent.evening.id !== this.diary.head?.id;
        if (unsent.entries.length === 0 && !isOver()) break;
        const body: EveningReport = { evening: unsent.evening, entries: [...unsent.entries] };
        const answer = await fetch('/api/evenings', {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify(body),
          signal: AbortSignal.timeout(10_000),
        });
        // A rig that is gone has no evenings; everything else may be told again.
        if (!answer.ok && !(await isGone(answer))) break;
        await this.store.wasSent(unsent, isOver);
      }
    } catch {
      // The server is away: next time.
    }
    this.isTelling = false;
    const unsent = await this.store.unsentCount().catch(() => this.status.unsent);
    this.tellStatus({ unsent });
  }

  private tellStatus(part: Partial<EveningStatus>): void {
    const next = { ...this.status, ...part };
    const isSame = keysOf(next).every((k) => next[k] === this.status[k]);
    if (isSame) return;
    this.status = next;
    for (const listener of this.listeners) listener();
  }
}

const troubleOf = (error: unknown): string =>
  error instanceof DOMException && error.name === 'QuotaExceededError'
    ? 'The disk space that this browser may use is full: where an evening stands, and what of its log the server has not got yet, are lost when the page is closed or loaded anew.'
    : 'This browser keeps nothing: where an evening stands, and what of its log the server has not got yet, are lost when the page is closed or loaded anew.';
