import { compileWorld, type Show } from '@idle-step/core/engine';
import {
  findingsOf,
  notStoredIn,
  type BoardTold,
  type GearKnown,
  type ProofFinding,
} from '@idle-step/core/proof';
import type { FullRig } from '@idle-step/core/routing';
import type { Setlist } from '@idle-step/core/show';

export type FindingsWish = {
  readonly show: Show & { readonly rig: FullRig };
  readonly set: Setlist | null;
  readonly boards: readonly BoardTold[];
  readonly known: Omit<GearKnown, 'notStored'>;
};
export type FindingsFound = {
  readonly findings: readonly ProofFinding[];
  /** How long it took, in ms. */
  readonly tookMs: number;
};

/** The whole evening is looked through beside the page, which plays meanwhile. */
self.onmessage = ({ data: { show, set, boards, known } }: MessageEvent<FindingsWish>) => {
  const began = performance.now();
  const notStored = notStoredIn(show.rig, show.presets, boards);
  const findings = findingsOf({ world: compileWorld(show), show, set, known: { ...known, notStored } });
  self.postMessage({ findings, tookMs: performance.now() - began } satisfies FindingsFound);
};
