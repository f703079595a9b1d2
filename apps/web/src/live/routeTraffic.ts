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

/** Counts what passes routes, and keeps the last messages before and after. */
export class RouteTraffic {
  private counts: ReadonlyMap<string, RouteCounts> = new Map();
  private pairs: readonly RoutedPair[] = [];
  private seq = 0;

  /** Takes in what one step did. */
  take(effects: readonly Effect[], atMs: number): void {
    const routed = effects.filter((e): e is Routed => e.kind === 'routed');
    if (routed.length === 0) return;
    const counts = new Map(this.counts);
    for (const { routeId, sent, outcome } of routed) {
      const before = counts.get(routeId) ?? NO_COUNTS;
      const isThrough = outcome === 'passed' || outcome === 'modulated';
      counts.set(routeId, {
        came: before.came + 1,
        went: before.went + sent.length,
        heldBack: before.heldBack + (isThrough ? 0 : 1),
        lastMs: isThrough ? atMs : before.lastMs,
      });
    }
    this.counts = counts;
    const first = routed[0]!;
    const sent = effects.flatMap((e) =>
      e.kind === 'send' && e.routeId !== null ? { portId: e.portId, message: e.message } : [],
    );
    const pair = {
      seq: ++this.seq,
      portId: first.portId,
      message: first.message,
      passages: routed.map(({ routeId, outcome }) => ({ routeId, outcome })),
      sent,
    };
    this.pairs = [...this.pairs.slice(1 - PAIRS), pair];
  }

  /** By route. */
  get all(): ReadonlyMap<string, RouteCounts> {
    return this.counts;
  }

  /** The last ones, oldest first. */
  get last(): readonly RoutedPair[] {
    return this.pairs;
  }
}
