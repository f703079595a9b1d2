import { followedOf, type Followed, type Show } from '@idle-step/core/engine';
import type { LiveHost } from '../live/LiveHost';
import { openChannel } from '../storage/channel';

const CHANNEL = 'idle-step.follow';
/** A window that follows asks this often, in ms; one that plays tells as long as somebody asks. */
const ASKS_MS = 1000;
const HEARD_MS = 3500;
/** Between two tellings, in ms: what moves is followed smoothly, and playing goes first. */
const APART_MS = 50;
/** Windows of two versions of the page do not follow each other: what they tell may differ. */
const VERSION = import.meta.url;

type Telling = {
  readonly kind: 'state';
  readonly version: string;
  readonly followed: Followed;
  /** This moment on the clock of the window that plays, and as a time of day, in ms. */
  readonly liveMs: number;
  readonly wallMs: number;
  /** Which show is played: it is told once to whoever asks for it. */
  readonly showNumber: number;
};
type Message =
  | Telling
  | { readonly kind: 'ask'; readonly version: string; readonly wantsShow: boolean }
  | { readonly kind: 'show'; readonly version: string; readonly showNumber: number; readonly show: Show };

/** How one window shows what another one plays. Source: HTML, broadcasting to other browsing contexts. */
export class FollowWindow {
  private readonly channel = openChannel(CHANNEL);
  private askedMs = -Infinity;
  private toldMs = -Infinity;
  private tellTimer = 0;
  private askTimer = 0;
  private showNumber = 0;
  private show: Show | null = null;
  private known: { readonly number: number; readonly show: Show; isNew: boolean } | null = null;
  private heardMs = -Infinity;

  /** @param plays whether this window is the one that plays. */
  constructor(
    private readonly host: LiveHost,
    private readonly plays: () => boolean,
  ) {
    this.channel?.addEventListener('message', ({ data }: MessageEvent<Message>) => {
      if (data.version === VERSION) this.take(data);
    });
    host.subscribe(() => this.tellSoon());
  }

  /** Shows what the other window plays, from its next word on. @returns ends it. */
  follow(): () => void {
    const ask = () => {
      // A window that does not answer any more is not shown as if it did.
      if (performance.now() - this.heardMs > HEARD_MS && this.host.unfollow()) this.known = null;
      this.post({ kind: 'ask', version: VERSION, wantsShow: this.known === null });
    };
    this.heardMs = -Infinity;
    this.askTimer = window.setInterval(ask, ASKS_MS);
    ask();
    return () => {
      window.clearInterval(this.askTimer);
      this.askTimer = 0;
      this.known = null;
      this.host.unfollow();
    };
  }

  private take(message: Message): void {
    if (message.kind === 'ask') {
      if (!this.plays()) return;
      this.askedMs = performance.now();
      if (message.wantsShow) this.tellShow();
      this.tellSoon();
    } else if (this.askTimer === 0 || this.plays()) {
      // A word of the other window that comes after this one was told to play is of the past.
    } else if (message.kind === 'show')
      this.known = { number: message.showNumber, show: message.show, isNew: true };
    else this.takeState(message);
  }

  private takeState({ followed, liveMs, wallMs, showNumber }: Telling): void {
    if (this.known?.number !== showNumber) {
      this.post({ kind: 'ask', version: VERSION, wantsShow: true });
      return;
    }
    this.heardMs = performance.now();
    const byMs = this.host.clock() - (liveMs + Math.max(0, Date.now() - wallMs));
    this.host.follow(this.known.isNew ? this.known.show : null, followed, byMs);
    this.known.isNew = false;
  }

  private tellSoon(): void {
    if (this.tellTimer !== 0 || !this.plays() || performance.now() - this.askedMs > HEARD_MS) return;
    const afterMs = Math.max(0, this.toldMs + APART_MS - performance.now());
    this.tellTimer = window.setTimeout(() => {
      this.tellTimer = 0;
      this.tell();
    }, afterMs);
  }

  private tell(): void {
    this.toldMs = performance.now();
    const { world, state } = this.host.now();
    this.post({
      kind: 'state',
      version: VERSION,
      followed: followedOf(state),
      liveMs: this.host.clock(),
      wallMs: Date.now(),
      showNumber: this.numberOf(world.show),
    });
  }

  private tellShow(): void {
    const { show } = this.host.now().world;
    this.post({ kind: 'show', version: VERSION, showNumber: this.numberOf(show), show });
  }

  /** Counts shows: another one than before has another number. */
  private numberOf(show: Show): number {
    if (show !== this.show) this.showNumber++;
    this.show = show;
    return this.showNumber;
  }

  private post(message: Message): void {
    this.channel?.postMessage(message);
  }
}
