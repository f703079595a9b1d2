import { describeDifferences, type Difference } from './differences';

export type DifferencesWish = {
  readonly wish: number;
  readonly of: Parameters<typeof describeDifferences>;
};
export type DifferencesFound = { readonly wish: number; readonly differences: readonly Difference[] };

/** Large documents take long to compare: done beside the page, which plays meanwhile. */
self.onmessage = ({ data: { wish, of } }: MessageEvent<DifferencesWish>) =>
  self.postMessage({ wish, differences: describeDifferences(...of) } satisfies DifferencesFound);
