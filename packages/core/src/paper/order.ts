import {
  GREY,
  INK,
  MARGIN_MM,
  MM_PER_PT,
  sizeToFit,
  textAt,
  type Measure,
  type PaperItem,
  type PaperPage,
  type PaperSize,
} from './page';

/** A line of a running order on paper. */
export type OrderLine = {
  /** Empty for a break. */
  readonly number: string;
  readonly name: string;
  /** What stands at its end: tempo and key. */
  readonly more: string;
  readonly isPause: boolean;
};

/** Letters are at least this high on one page, in points: to be read from the floor. */
const LEAST_PT = 14;
const MOST_PT = 40;

/** A running order on one page, as large as it fits; more than one page only where letters would be too small to read. */
export function orderPages(
  title: string,
  about: string,
  lines: readonly OrderLine[],
  size: PaperSize,
  measure: Measure,
): PaperPage[] {
  const topMm = MARGIN_MM + 22;
  const roomMm = size.heightMm - topMm - MARGIN_MM;
  const widthMm = size.widthMm - 2 * MARGIN_MM;
  const wanted = roomMm / Math.max(1, lines.length) / MM_PER_PT / 1.25;
  const sizePt = Math.min(MOST_PT, Math.max(LEAST_PT, wanted));
  const stepMm = sizePt * MM_PER_PT * 1.25;
  const onPage = Math.max(1, Math.floor(roomMm / stepMm + 1e-6));
  const count = Math.max(1, Math.ceil(lines.length / onPage));
  const numberMm = measure('00', 'mono', sizePt * 0.8) + 6;
  return Array.from({ length: count }, (_, p) => {
    const items: PaperItem[] = [
      textAt(MARGIN_MM, MARGIN_MM + 8, title, {
        sizePt: sizeToFit(title, widthMm, 'cond', 26, 12, measure),
        font: 'cond',
      }),
      textAt(MARGIN_MM, MARGIN_MM + 14, count > 1 ? `${about}, page ${p + 1} of ${count}` : about, {
        sizePt: 10,
        colour: GREY,
      }),
    ];
    lines.slice(p * onPage, (p + 1) * onPage).forEach((line, i) => {
      const yMm = topMm + (i + 0.8) * stepMm;
      const moreMm = line.more === '' ? 0 : measure(line.more, 'body', sizePt * 0.5) + 4;
      const nameMm = widthMm - numberMm - moreMm;
      items.push(
        textAt(MARGIN_MM, yMm, line.number, { sizePt: sizePt * 0.8, font: 'mono', colour: GREY }),
        textAt(MARGIN_MM + numberMm, yMm, line.name, {
          sizePt: sizeToFit(line.name, nameMm, 'cond', line.isPause ? sizePt * 0.7 : sizePt, 8, measure),
          font: 'cond',
          colour: line.isPause ? GREY : INK,
        }),
        textAt(size.widthMm - MARGIN_MM, yMm, line.more, {
          sizePt: sizePt * 0.5,
          colour: GREY,
          align: 'right',
        }),
      );
    });
    return { ...size, items };
  });
}
