/** The cheapest assignment of rows to columns, each one to one, and what any other costs more at least. */
export type Assigned = {
  readonly cost: number;
  /** The column of each row. */
  readonly rows: readonly number[];
  /** What a row at a column adds to the cheapest at least; 0 and above. */
  readonly reduced: readonly (readonly number[])[];
};

/** Costs that mean “never”; below what sums of them would lose. */
const NEVER = 1e15;

/**
 * The linear assignment problem by shortest ways, row by row (the Hungarian method; Kuhn 1955, from memory).
 * @param costs square; `Infinity` where a row may not have a column.
 */
export function assignmentBound(costs: readonly (readonly number[])[]): Assigned {
  const n = costs.length;
  const at = (r: number, c: number): number => Math.min(costs[r]![c]!, NEVER);
  const u = new Float64Array(n + 1);
  const v = new Float64Array(n + 1);
  /** The row of each column, from 1; 0 for none. */
  const rowOf = new Int32Array(n + 1);
  const before = new Int32Array(n + 1);
  for (let row = 1; row <= n; row++) {
    rowOf[0] = row;
    let column = 0;
    const least = new Float64Array(n + 1).fill(Infinity);
    const isUsed = new Uint8Array(n + 1);
    do {
      isUsed[column] = 1;
      const r = rowOf[column]!;
      let step = Infinity;
      let next = 0;
      for (let c = 1; c <= n; c++) {
        if (isUsed[c]) continue;
        const left = at(r - 1, c - 1) - u[r]! - v[c]!;
        if (left < least[c]!) {
          least[c] = left;
          before[c] = column;
        }
        if (least[c]! < step) {
          step = least[c]!;
          next = c;
        }
      }
      for (let c = 0; c <= n; c++)
        if (isUsed[c]) {
          u[rowOf[c]!]! += step;
          v[c]! -= step;
        } else least[c]! -= step;
      column = next;
    } while (rowOf[column] !== 0);
    do {
      const back = before[column]!;
      rowOf[column] = rowOf[back]!;
      column = back;
    } while (column !== 0);
  }
  const rows: number[] = Array.from({ length: n }, () => 0);
  for (let c = 1; c <= n; c++) rows[rowOf[c]! - 1] = c - 1;
  return {
    cost: rows.reduce((sum, c, r) => sum + at(r, c), 0),
    rows,
    reduced: costs.map((row, r) => row.map((_, c) => Math.max(0, at(r, c) - u[r + 1]! - v[c + 1]!))),
  };
}
