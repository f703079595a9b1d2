import type { CueRange } from '@idle-step/core/sheet';

/** A place of the cue sheet: a line by its key, a scene by its place from 0. */
export type CellAt = { readonly sceneIndex: number; readonly rowKey: string };

/** What is in hand: a cell of the grid, or a scene by its head. */
export type InHand =
  ({ readonly kind: 'cell' } & CellAt) | { readonly kind: 'scene'; readonly sceneIndex: number } | null;

export const isWithin = (range: CueRange, row: number, sceneIndex: number): boolean =>
  row >= range.top && row <= range.bottom && sceneIndex >= range.left && sceneIndex <= range.right;
