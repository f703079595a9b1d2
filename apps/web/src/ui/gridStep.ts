/** How far a key goes in a table of cells, as lines and columns; `undefined` when it does not move. */
export function gridStep(key: string, columnCount: number): readonly [number, number] | undefined {
  const steps: Record<string, readonly [number, number]> = {
    ArrowUp: [-1, 0],
    ArrowDown: [1, 0],
    ArrowLeft: [0, -1],
    ArrowRight: [0, 1],
    Home: [0, -columnCount],
    End: [0, columnCount],
    PageUp: [-10, 0],
    PageDown: [10, 0],
  };
  return steps[key];
}
