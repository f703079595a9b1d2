import Papa from 'papaparse';

/**
 * Cells as they are copied from a spreadsheet: lines of cells with tabs between, empty ones kept. A line end at the
 * close adds no line. `null` when a quotation mark is not closed.
 * Example: `a\tb\n\td\n` is `[['a', 'b'], ['', 'd']]`.
 */
export function pastedCells(text: string): string[][] | null {
  const { data, errors } = Papa.parse<string[]>(text.replace(/^\uFEFF/, '').replace(/\r?\n$/, ''), {
    delimiter: '\t',
  });
  return errors.some((e) => e.type === 'Quotes') ? null : data;
}
