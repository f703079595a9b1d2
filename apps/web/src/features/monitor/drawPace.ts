import { AWAITS_PRESS_MS } from '../../live/use/afterPress';

/** From so many new lines a second on, nobody can read a list that moves with each. */
const BUSY_PER_SECOND = 150;
/** Between two drawings once much comes, in ms; each time twice as long, up to `LONGEST_MS`. */
const FIRST_MS = 60;
const LONGEST_MS = 1500;
/** So far apart it is a flood, and no burst, in ms. */
const FLOOD_MS = 480;
const FRAME_MS = 1000 / 60;

/**
 * When a list of lines is drawn: with every frame while little comes; in a flood more and more seldom. A burst is in
 * sight at once, and a flood does not draw frame after frame until it is known for one. That of a flood comes right after a
 * press where one is made, so that no press meets it.
 */
export class DrawPace {
  private everyMs = 0;
  private drawnAtMs = -Infinity;
  private drawnTotal = 0;
  private perSecond = 0;

  /** Whether lines come faster than they are drawn. */
  get isThinned(): boolean {
    return this.everyMs > 0;
  }

  /** New lines a second in a flood, within half a second of its beginning, else `null`. */
  get floodPerSecond(): number | null {
    return this.everyMs >= FLOOD_MS ? this.perSecond : null;
  }

  /** Whether there is something new. @param total lines so far. */
  hasMore(total: number): boolean {
    return total !== this.drawnTotal;
  }

  /** How long the next drawing has to wait, in ms, 0 or more. */
  leftMs(nowMs: number): number {
    return Math.max(0, this.drawnAtMs + this.everyMs - nowMs);
  }

  /** How long the next drawing may wait for a press to be over, in ms, 0 or more; only that of a flood does. */
  mayWaitMs(nowMs: number): number {
    return this.floodPerSecond === null ? 0 : this.leftMs(nowMs - AWAITS_PRESS_MS);
  }

  /** The list was drawn. @param total lines so far. */
  drawn(nowMs: number, total: number): void {
    const sinceMs = Math.max(FRAME_MS, nowMs - this.drawnAtMs);
    this.perSecond = Math.round(((total - this.drawnTotal) * 1000) / sinceMs);
    this.everyMs =
      this.perSecond > BUSY_PER_SECOND ? Math.min(LONGEST_MS, Math.max(FIRST_MS, this.everyMs * 2)) : 0;
    this.drawnAtMs = nowMs;
    this.drawnTotal = total;
  }
}
