/** A row of numbers; `NaN` outside of it. */
export class Row {
  private readonly cells: Float64Array;

  constructor(
    readonly size: number,
    value: (index: number) => number = () => 0,
  ) {
    this.cells = new Float64Array(size);
    for (let i = 0; i < size; i++) this.cells[i] = value(i);
  }

  static of(numbers: readonly number[]): Row {
    return new Row(numbers.length, (i) => numbers[i] ?? Number.NaN);
  }

  at(index: number): number {
    return this.cells[index] ?? Number.NaN;
  }

  put(index: number, value: number): void {
    this.cells[index] = value;
  }

  add(index: number, by: number): void {
    this.put(index, this.at(index) + by);
  }

  values(): number[] {
    return [...this.cells];
  }
}

const NONE = new Row(0);

/** A square table of numbers. */
export class Square {
  private readonly rows: Row[] = [];

  constructor(
    readonly size: number,
    value: (row: number, column: number) => number = () => 0,
  ) {
    for (let r = 0; r < size; r++) this.rows.push(new Row(size, (c) => value(r, c)));
  }

  static of(rows: readonly (readonly number[])[]): Square {
    return new Square(rows.length, (r, c) => rows[r]?.[c] ?? Number.NaN);
  }

  row(row: number): Row {
    return this.rows[row] ?? NONE;
  }

  at(row: number, column: number): number {
    return this.row(row).at(column);
  }

  every(is: (value: number, row: number, column: number) => boolean): boolean {
    return this.rows.every((row, r) => row.values().every((value, c) => is(value, r, c)));
  }
}
