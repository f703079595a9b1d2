import { Row, Square } from './square';

/** The cheapest assignment of rows to columns, each one to one, and what any other costs more at least. */
export type Assigned = {
  readonly cost: number;
  /** The column of each row. */
  readonly rows: readonly number[];
  /**
   * For each row and column how much more than the cheapest an assignment with this pair costs at least; 0 and above.
   */
  readonly reduced: Square;
};

/** Costs that mean “never”; below what sums of them would lose. */
const NEVER = 1e15;

/**
 * The linear assignment problem by shortest ways, row by row (the Hungarian method; Kuhn 1955, from memory).
 * @param costs `Infinity` where a row may not have a column.
 */
export function assignmentBound(costs: Square): Assigned {
  const n = costs.size;
  const at = (r: number, c: number): number => Math.min(costs.at(r, c), NEVER);
  const search = new Ways(n, at);
  for (let row = 1; row <= n; row++) search.add(row);
  const rows = search.columns();
  return {
    cost: rows.reduce((sum, c, r) => sum + at(r, c), 0),
    rows,
    reduced: new Square(n, (r, c) => Math.max(0, search.left(r + 1, c + 1))),
  };
}

/** Rows and columns count from 1; 0 stands for none. */
class Ways {
  /** What each row and each column costs by itself. */
  private readonly u: Row;
  private readonly v: Row;
  private readonly rowOf: Row;
  /** The column before each on its way. */
  private readonly before: Row;

  constructor(
    private readonly n: number,
    private readonly cost: (row: number, column: number) => number,
  ) {
    this.u = new Row(n + 1);
    this.v = new Row(n + 1);
    this.rowOf = new Row(n + 1);
    this.before = new Row(n + 1);
  }

  /** What is left of a cost once its row and its column are paid for. */
  left(row: number, column: number): number {
    return this.cost(row - 1, column - 1) - this.u.at(row) - this.v.at(column);
  }

  columns(): number[] {
    const columns = Array.from({ length: this.n }, () => 0);
    for (let c = 1; c <= this.n; c++) columns[this.rowOf.at(c) - 1] = c - 1;
    return columns;
  }

  /** Gives a row a column, and others their next best where that is cheaper. */
  add(row: number): void {
    const { rowOf, before } = this;
    rowOf.put(0, row);
    let column = this.freeColumn();
    while (column !== 0) {
      const back = before.at(column);
      rowOf.put(column, rowOf.at(back));
      column = back;
    }
  }

  /** The free column at the end of the shortest way from the row of column 0. */
  private freeColumn(): number {
    const { n, u, v, rowOf, before } = this;
    const least = new Row(n + 1, () => Infinity);
    const isUsed = new Set<number>();
    let column = 0;
    do {
      isUsed.add(column);
      const row = rowOf.at(column);
      let step = Infinity;
      let next = 0;
      for (let c = 1; c <= n; c++) {
        if (isUsed.has(c)) continue;
        const left = this.left(row, c);
        if (left < least.at(c)) {
          least.put(c, left);
          before.put(c, column);
        }
        if (least.at(c) < step) {
          step = least.at(c);
          next = c;
        }
      }
      for (let c = 0; c <= n; c++)
        if (isUsed.has(c)) {
          const paid = rowOf.at(c);
          u.add(paid, step);
          v.add(c, -step);
        } else least.add(c, -step);
      column = next;
    } while (rowOf.at(column) !== 0);
    return column;
  }
}
