import type { Message } from '../midi';
import type { ModulationRun } from './modulation';

/** What routes have to remember. Plain data. */
export type RouteMemory = {
  /** What is held by a note, a pedal or a bend that began, by `heldKey`: where it has to end. */
  readonly held: Readonly<Record<string, readonly HeldEnd[]>>;
  /** Gates that were opened or closed since, by route. */
  readonly gates: Readonly<Record<string, boolean>>;
  /** Routes that were switched since, by route. */
  readonly switched: Readonly<Record<string, boolean>>;
  /** Modulations that move or are held, by route. */
  readonly runs: Readonly<Record<string, ModulationRun>>;
  /** The same message again and again at a port, by port. */
  readonly repeats: Readonly<Record<string, Repeats>>;
};

/** `end` is the message that ends at `portId` what began there; `routeId` is `null` where no route took it. */
export type HeldEnd = { readonly portId: string; readonly end: Message; readonly routeId: string | null };

export type Repeats = { readonly key: number; readonly count: number; readonly atMs: number };

export const NO_ROUTE_MEMORY: RouteMemory = { held: {}, gates: {}, switched: {}, runs: {}, repeats: {} };
