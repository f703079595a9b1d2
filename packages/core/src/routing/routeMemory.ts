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
  /** The last message of each port, and how often it came in a row. */
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
};

export const NO_ROUTE_MEMORY: RouteMemory = { begun: [], gates: {}, switched: {}, runs: {}, repeats: [] };
