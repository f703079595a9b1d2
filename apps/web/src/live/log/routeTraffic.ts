import type { Effect } from '@idle-step/core/engine';
import type { Message } from '@idle-step/core/midi';

/** What one route took in, sent on and held back since the page was opened. */
export type RouteCounts = {
  readonly came: number;
  readonly went: number;
  readonly heldBack: number;
  /** When a message passed last, on the live clock; `null` when none has. */
  readonly lastMs: number | null;
};

type Routed = Effect & { readonly kind: 'routed' };

/** A message that routes took in, with all that was sent on. */
export type RoutedPair = {
  readonly seq: number;
  readonly portId: string;
  readonly message: Message;
  readonly passages: readonly { readonly routeId: string; readonly outcome: Routed['outcome'] }[];
  readonly sent: readonly { readonly portId: string; readonly message: Message }[];
};

export const NO_COUNTS: RouteCounts = { came: 0, went: 0, heldBack: 0, lastMs: null };

/** Pairs that are kept for the bench. */
const PAIRS = 200;

/**
 * Counts what passes routes, and keeps the last messages before and after. What is read of it is copied when it is
 * read, once a picture, and not with each message.
 */
export class RouteTraffic {
  private readonly counts = new Map<string, RouteCounts>();
  private pairs: RoutedPair[] = [];
  private seq = 0;
  private shownCounts: ReadonlyMap<string, RouteCounts> = new Map();
  private shownPairs: readonly RoutedPair[] = [];
  private shownSeq = 0;

  /** Takes in what one step did. */
  take(effects: readonly Effect[], atMs: number): void {
    const routed = effects.filter((e): e is Routed => e.kind === 'routed');
    const first = routed[0];
    if (!first) return;
    for (const { routeId, sent, outcome } of routed) {
      const before = this.counts.get(routeId) ?? NO_COUNTS;
      const isThrough = outcome === 'passed' || outcome === 'modulated';
      this.counts.set(routeId, {
        came: before.came + 1,
        went: before.went + sent.length,
        heldBack: before.heldBack + (isThrough ? 0 : 1),
        lastMs: isThrough ? atMs : before.lastMs,
      });
    }
    this.pairs.push({
      seq: ++this.seq,
      portId: first.portId,
      message: first.message,
      passages: routed.map(({ routeId, outcome }) => ({ routeId, outcome })),
      sent: effects.flatMap((e) =>
        e.kind === 'send' && e.routeId !== null ? { portId: e.portId, message: e.message } : [],
      ),
    });
    if (this.pairs.length > 2 * PAIRS) this.pairs = this.pairs.slice(-PAIRS);
  }

  /** By route; the same map until another message has passed. */
  get all(): ReadonlyMap<string, RouteCounts> {
    this.show();
    return this.shownCounts;
  }

  /** The last ones, oldest first; the same list until another message has passed. */
  get last(): readonly RoutedPair[] {
    this.show();
    return this.shownPairs;
  }

  private show(): void {
    if (this.shownSeq === this.seq) return;
    this.shownSeq = this.seq;
    this.shownCounts = new Map(this.counts);
    this.shownPairs = this.pairs.slice(-PAIRS);
  }
}
