import {
  GREY,
  HAIR,
  INK,
  MARGIN_MM,
  MM_PER_PT,
  textAt,
  wrapped,
  type Font,
  type Measure,
  type PaperItem,
  type PaperPage,
  type PaperSize,
} from './page';

export type PaperColumn = {
  readonly head: string;
  /** Its part of the width, beside those of the others. */
  readonly share: number;
  readonly font?: Font;
  readonly align?: 'left' | 'right';
};

/** A line of cells, or the head of a section. */
export type PaperRow =
  | { readonly kind: 'cells'; readonly cells: readonly string[]; readonly isBold?: boolean }
  | { readonly kind: 'section'; readonly text: string };

export type PaperTable = {
  readonly title: string;
  /** What stands under the title on the first page. */
  readonly about: string;
  readonly columns: readonly PaperColumn[];
  readonly rows: readonly PaperRow[];
  readonly sizePt: number;
};

const PAD_MM = 1.2;

/** Tables one after the other, on as many pages as they need: the head of a table comes again on each. */
export function tablePages(
  tables: readonly PaperTable[],
  size: PaperSize,
  measure: Measure,
): readonly PaperPage[] {
  const sheet = new Sheet(size);
  for (const table of tables) putTable(sheet, table, measure);
  return sheet.pages();
}

class Sheet {
  private readonly done: PaperItem[][] = [[]];
  yMm = MARGIN_MM;

  constructor(readonly size: PaperSize) {}

  get widthMm(): number {
    return this.size.widthMm - 2 * MARGIN_MM;
  }

  add(...items: readonly PaperItem[]): void {
    this.done.at(-1)?.push(...items);
  }

  /** Whether so much more has room on this page. */
  hasRoom(heightMm: number): boolean {
    return this.yMm + heightMm <= this.size.heightMm - MARGIN_MM - FOOT_MM;
  }

  turn(): void {
    this.done.push([]);
    this.yMm = MARGIN_MM;
  }

  pages(): readonly PaperPage[] {
    const count = this.done.length;
    return this.done.map((items, i) => ({
      ...this.size,
      items: [
        ...items,
        ...(count > 1
          ? [
              textAt(this.size.widthMm - MARGIN_MM, this.size.heightMm - MARGIN_MM, `${i + 1} of ${count}`, {
                sizePt: 8,
                colour: GREY,
                align: 'right',
              }),
            ]
          : []),
      ],
    }));
  }
}

const FOOT_MM = 5;

function putTable(sheet: Sheet, table: PaperTable, measure: Measure): void {
  const { sizePt, columns } = table;
  const lineMm = sizePt * MM_PER_PT * 1.3;
  const shares = columns.reduce((sum, c) => sum + c.share, 0);
  const widths = columns.map((c) => (c.share / shares) * sheet.widthMm);
  const cellLines = (cells: readonly string[], isBold: boolean): string[][] =>
    columns.map((c, i) =>
      wrapped(
        cells[i] ?? '',
        (widths[i] ?? 0) - 2 * PAD_MM,
        isBold ? 'bold' : (c.font ?? 'body'),
        sizePt,
        measure,
      ),
    );
  const putHead = () => {
    const heads = columns.map((c) => [c.head]);
    putCells(sheet, columns, widths, heads, sizePt * 0.85, lineMm, 'bold', GREY);
    rule(sheet, INK);
  };
  /** A new page where so much has no room on this one; the head comes again. */
  const makeRoom = (heightMm: number) => {
    if (sheet.hasRoom(heightMm)) return;
    sheet.turn();
    putHead();
  };
  putTitle(sheet, table, measure);
  if (columns.some((c) => c.head !== '')) putHead();
  for (const row of table.rows) {
    if (row.kind === 'section') {
      makeRoom(lineMm * 4);
      sheet.yMm += lineMm * 1.4;
      sheet.add(textAt(MARGIN_MM, sheet.yMm, row.text, { sizePt: sizePt * 1.15, font: 'cond' }));
      sheet.yMm += 1.2;
      rule(sheet, INK);
      continue;
    }
    const lines = cellLines(row.cells, row.isBold ?? false);
    makeRoom(Math.max(1, ...lines.map((l) => l.length)) * lineMm + 2 * PAD_MM);
    putCells(sheet, columns, widths, lines, sizePt, lineMm, row.isBold ? 'bold' : null, INK);
    rule(sheet, HAIR.colour);
  }
  sheet.yMm += 6;
}

/** What a table is called, and what stands under it; on a new page where there is no room for a beginning. */
function putTitle(sheet: Sheet, { title, about, sizePt }: PaperTable, measure: Measure): void {
  if (!sheet.hasRoom(26)) sheet.turn();
  if (title !== '') {
    const titlePt = Math.max(14, sizePt * 1.6);
    sheet.yMm += titlePt * MM_PER_PT;
    sheet.add(textAt(MARGIN_MM, sheet.yMm, title, { sizePt: titlePt, font: 'cond' }));
    sheet.yMm += 2;
  }
  for (const line of about === '' ? [] : wrapped(about, sheet.widthMm, 'body', 9, measure)) {
    sheet.yMm += 4;
    sheet.add(textAt(MARGIN_MM, sheet.yMm, line, { sizePt: 9, colour: GREY }));
  }
  sheet.yMm += 3;
}

function putCells(
  sheet: Sheet,
  columns: readonly PaperColumn[],
  widths: readonly number[],
  lines: readonly (readonly string[])[],
  sizePt: number,
  lineMm: number,
  font: Font | null,
  colour: string,
): void {
  const top = sheet.yMm + PAD_MM;
  let xMm = MARGIN_MM;
  columns.forEach((column, i) => {
    const widthMm = widths[i] ?? 0;
    const isRight = column.align === 'right';
    (lines[i] ?? []).forEach((text, at) => {
      if (text === '') return;
      sheet.add(
        textAt(isRight ? xMm + widthMm - PAD_MM : xMm + PAD_MM, top + lineMm * (at + 0.78), text, {
          sizePt,
          font: font ?? column.font ?? 'body',
          colour,
          align: isRight ? 'right' : 'left',
        }),
      );
    });
    xMm += widthMm;
  });
  sheet.yMm = top + Math.max(1, ...lines.map((l) => l.length)) * lineMm + PAD_MM;
}

function rule(sheet: Sheet, colour: string): void {
  sheet.add({
    kind: 'line',
    fromMm: [MARGIN_MM, sheet.yMm],
    toMm: [sheet.size.widthMm - MARGIN_MM, sheet.yMm],
    stroke: { ...HAIR, colour },
  });
}
