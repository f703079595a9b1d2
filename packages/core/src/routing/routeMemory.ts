import type { Message } from '../midi';
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

/** What came by a port and has not ended; `key` stands for the note, controller or bend that it is. */
export type Begun = { readonly portId: string; readonly key: number; readonly ends: readonly BegunEnd[] };

/** `end` is the message that ends at `portId` what began there; `routeId` is `null` where no route took it. */
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
    /** Since when; `cameAfterMs` how long after it left the time before the first of them came back. */
    | { readonly kind: 'held'; readonly sinceMs: number; readonly cameAfterMs: number | null }
    | { readonly kind: 'left'; readonly atMs: number; readonly cameAfterMs: number | null }
    /** It goes round, and ends here until it has been quiet; `ended` is what its end ends, as a key. */
    | { readonly kind: 'stopped'; readonly ended: number };
  /** When it was last found to be played. */
  readonly playsMs: number | null;
};

export const NO_ROUTE_MEMORY: RouteMemory = { begun: [], gates: {}, switched: {}, runs: {}, repeats: [] };
