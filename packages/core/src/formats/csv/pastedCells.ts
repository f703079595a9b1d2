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
  if (errors.some((e) => e.type === 'Quotes')) return null;
  // One empty cell.
  return data.length === 0 ? [['']] : data;
}

/**
 * Cells as a spreadsheet takes them, with tabs between; those with tabs, line breaks or quotation marks in them stand in
 * quotation marks, so that `pastedCells` gives back what was copied.
 */
export function copiedText(cells: readonly (readonly string[])[]): string {
  const text = Papa.unparse(
    cells.map((row) => [...row]),
    { delimiter: '\t', newline: '\n' },
  );
  // The last line is empty: without an end of its own it would be none.
  return text === '' || text.endsWith('\n') ? `${text}\n` : text;
}
