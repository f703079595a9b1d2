import type { Evening } from '@idle-step/contract';
import type { Bookmark } from '@idle-step/core/engine';
import type { StandInState } from '@idle-step/core/standins';

/** Where playing stands, with the time of day at which it was written, in ms. */
export type KeptPlace = {
  readonly bookmark: Bookmark;
  readonly wallMs: number;
  /** The stand-ins by device, on a clock that shows 0 at that time: gear goes on while the page is away. */
  readonly standIns?: Readonly<Record<string, StandInState>>;
  /** The evening that is being written down, and the number of its next line. */
  readonly evening: { readonly head: Evening; readonly next: number } | null;
};
