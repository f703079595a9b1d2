import type { Message } from '../../midi';
import type { ModulationRun } from './modulation';

/** What routes have to remember. Plain data. */
export type RouteMemory = {
  /** What is held by a note, a pedal or a bend that began, in the order in which it began: where it has to end. */
  readonly begun: readonly Begun[];
  /** Gates that were opened or closed since, by route. */
  readonly gates: Readonly<Record<string, boolean>>;
  /** Routes that were switched since, by route. */
  readonly switched: Readonly<Record<string, boolean>>;
  /** Modulations that move or are held, by route. */
  readonly runs: Readonly<Record<string, ModulationRun>>;
  /** The last messages of each port, how often each came in a row, and what is held back of it. */
  readonly repeats: readonly Repeats[];
};

/** A note, controller or bend (`key`, see `begunKey`) that came in by a port and has not ended. */
export type Begun = { readonly portId: string; readonly key: number; readonly ends: readonly BegunEnd[] };

/** `end` is the message to send by `portId` when it ends; `routeId` is `null` where no route took it in. */
export type BegunEnd = {
  readonly portId: string;
  readonly end: Message;
  /** What it ends there, as a key. */
  readonly target: number;
  readonly routeId: string | null;
};

export type Repeats = {
  readonly portId: string;
  readonly key: number;
  readonly count: number;
  readonly atMs: number;
  /** Held back until it is told whether they go round, with ends that came behind them. */
  readonly held: readonly Message[];
  readonly phase:
    | { readonly kind: 'counting' }
    /** Held back since `sinceMs`. `cameAfterMs`: how long it took to come back after it left the last time. */
    | { readonly kind: 'held'; readonly sinceMs: number; readonly cameAfterMs: number | null }
    | { readonly kind: 'left'; readonly atMs: number; readonly cameAfterMs: number | null }
    /** It goes round and is stopped until it has been quiet. `ended`: the key of what its end would end. */
    | { readonly kind: 'stopped'; readonly ended: number };
  /** When it was last found to be played. */
  readonly playsMs: number | null;
};

export const NO_ROUTE_MEMORY: RouteMemory = { begun: [], gates: {}, switched: {}, runs: {}, repeats: [] };
