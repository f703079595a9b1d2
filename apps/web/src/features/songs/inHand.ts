/** A cell of the cue sheet. `sceneIndex` from 0. */
export type CellAt = { readonly sceneIndex: number; readonly functionId: string };

/** What is in hand: a cell of the grid, or a scene by its head. */
export type InHand =
  ({ readonly kind: 'cell' } & CellAt) | { readonly kind: 'scene'; readonly sceneIndex: number } | null;
