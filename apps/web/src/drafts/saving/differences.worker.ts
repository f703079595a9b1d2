import { describeDifferences, type Difference } from './differences';

export type DifferencesWish = Parameters<typeof describeDifferences>;
export type DifferencesFound = readonly Difference[];

/** Large documents take long to compare: done beside the page, which plays meanwhile. */
self.onmessage = ({ data }: MessageEvent<DifferencesWish>) =>
  self.postMessage(describeDifferences(...data) satisfies DifferencesFound);
