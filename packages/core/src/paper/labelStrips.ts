import { labelOf, type World, type WorldBank, type WorldBoard } from '../engine';
import type { Control } from '../floor';
import type { TapeMark } from '../gear';
import { lastOf, nth } from '../sure';
import {
  CUT,
  GREY,
  INK,
  MARGIN_MM,
  MM_PER_PT,
  sizeToFit,
  textAt,
  wrapped,
  type Measure,
  type PaperItem,
  type PaperPage,
  type PaperSize,
} from './page';

/** One label of a strip, in mm from the left of its strip. */
export type StripCell = {
  readonly controlId: string;
  readonly xMm: number;
  readonly widthMm: number;
  readonly text: string;
  readonly colour: TapeMark['colour'] | null;
};

/** What is laid above or below a row of switches: as long as the row, a label as wide as the switches are apart. */
export type LabelStrip = {
  readonly name: string;
  readonly widthMm: number;
  readonly cells: readonly StripCell[];
};

export type StripLook = {
  readonly heightMm: number;
  /** The colours of the cloth, or plain black on white. */
  readonly isColoured: boolean;
  /** Source: `look.md`, tape colours in daylight. */
  readonly colours: Readonly<Record<TapeMark['colour'], string>>;
};

/** Controls whose middles lie closer than this are in one row, in mm. */
const ROW_MM = 12;
/** A label beside which there is no other is as wide as this, in mm. */
const ALONE_MM = 40;

const middleOf = (c: Control): number => c.xMm + c.widthMm / 2;

/** The rows of a board from far to near, each from left to right. */
export function rowsOf(controls: readonly Control[]): Control[][] {
  const rows: Control[][] = [];
  for (const c of [...controls].sort((a, b) => a.yMm + a.heightMm / 2 - (b.yMm + b.heightMm / 2))) {
    const row = rows.at(-1);
    const first = row?.[0];
    const isNear = first && Math.abs(first.yMm + first.heightMm / 2 - (c.yMm + c.heightMm / 2)) < ROW_MM;
    if (row && isNear) row.push(c);
    else rows.push([c]);
  }
  return rows.map((row) => row.sort((a, b) => middleOf(a) - middleOf(b)));
}

/** Where labels meet: half-way between their switches; at its ends a strip goes on as far as half the way inwards. */
function edgesOf(row: readonly Control[]): number[] {
  const middles = row.map(middleOf);
  if (middles.length === 1) return [nth(middles, 0) - ALONE_MM / 2, nth(middles, 0) + ALONE_MM / 2];
  const between = middles.slice(1).map((m, i) => (m + nth(middles, i)) / 2);
  const first = nth(middles, 0) - (nth(between, 0) - nth(middles, 0));
  const last = lastOf(middles) + (lastOf(middles) - lastOf(between));
  return [first, ...between, last];
}

/** The strips of some banks of a board, row by row. */
export function labelStrips(world: World, board: WorldBoard, banks: readonly WorldBank[]): LabelStrip[] {
  const rows = rowsOf(board.board.controls);
  return banks.flatMap(({ bank, assignments }) =>
    rows.map((row, i): LabelStrip => {
      const edges = edgesOf(row);
      const left = nth(edges, 0);
      return {
        name: rows.length > 1 ? `${bank.name}, row ${i + 1}` : bank.name,
        widthMm: lastOf(edges) - left,
        cells: row.map((c, at) => ({
          controlId: c.id,
          xMm: nth(edges, at) - left,
          widthMm: nth(edges, at + 1) - nth(edges, at),
          text: labelOf(world, inForce(board, assignments.get(c.id), c.id), 0),
          colour: inForce(board, assignments.get(c.id), c.id)?.colour ?? null,
        })),
      };
    }),
  );
}

/** A control that has pages of its own does what the first of them says, whatever the bank. */
function inForce(board: WorldBoard, own: ReturnType<WorldBank['assignments']['get']>, controlId: string) {
  const at = board.groupOf.get(controlId);
  return at === undefined ? own : board.groups[at]?.pages[0]?.assignments.get(controlId);
}

/** A strip that is longer than a page in pieces, cut between two labels. */
function inPieces(strip: LabelStrip, mostMm: number): LabelStrip[] {
  if (strip.widthMm <= mostMm) return [strip];
  const pieces: StripCell[][] = [[]];
  for (const cell of strip.cells) {
    const piece = lastOf(pieces);
    const first = piece[0];
    if (first && cell.xMm + cell.widthMm - first.xMm > mostMm) pieces.push([cell]);
    else piece.push(cell);
  }
  return pieces.map((cells, i) => {
    const left = nth(cells, 0).xMm;
    const last = lastOf(cells);
    return {
      name: `${strip.name}, piece ${i + 1} of ${pieces.length}`,
      widthMm: last.xMm + last.widthMm - left,
      cells: cells.map((c) => ({ ...c, xMm: c.xMm - left })),
    };
  });
}

const GAP_MM = 7;
const RULER_MM = 100;

/** Strips on pages, with what they are called beside them, lines to cut along, and 100 mm to hold a ruler to. */
export function stripPages(
  title: string,
  strips: readonly LabelStrip[],
  look: StripLook,
  size: PaperSize,
  measure: Measure,
): PaperPage[] {
  const pieces = strips.flatMap((s) => inPieces(s, size.widthMm - 2 * MARGIN_MM));
  const topMm = MARGIN_MM + 12;
  const stepMm = look.heightMm + GAP_MM;
  const onPage = Math.max(1, Math.floor((size.heightMm - MARGIN_MM - topMm - 12) / stepMm));
  const count = Math.max(1, Math.ceil(pieces.length / onPage));
  return Array.from({ length: count }, (_, p) => {
    const own = pieces.slice(p * onPage, (p + 1) * onPage);
    const items: PaperItem[] = [
      textAt(MARGIN_MM, MARGIN_MM + 5, count > 1 ? `${title}, ${p + 1} of ${count}` : title, {
        sizePt: 14,
        font: 'cond',
      }),
    ];
    own.forEach((strip, i) => items.push(...stripItems(strip, MARGIN_MM, topMm + i * stepMm, look, measure)));
    items.push(...ruler(size));
    return { ...size, items };
  });
}

/** The measure of the page: printed at 100 % it is just so long. */
function ruler({ heightMm }: PaperSize): PaperItem[] {
  const y = heightMm - MARGIN_MM;
  const stroke = { widthPt: 0.5, colour: INK, isDashed: false };
  const tick = (x: number): PaperItem => ({ kind: 'line', fromMm: [x, y - 2], toMm: [x, y + 2], stroke });
  return [
    { kind: 'line', fromMm: [MARGIN_MM, y], toMm: [MARGIN_MM + RULER_MM, y], stroke },
    tick(MARGIN_MM),
    tick(MARGIN_MM + RULER_MM),
    textAt(MARGIN_MM + RULER_MM + 4, y + 1, 'This line is 100 mm long where the page was printed at 100 %.', {
      sizePt: 8,
      colour: GREY,
    }),
  ];
}

function stripItems(
  strip: LabelStrip,
  xMm: number,
  yMm: number,
  look: StripLook,
  measure: Measure,
): PaperItem[] {
  const { heightMm } = look;
  const items: PaperItem[] = [textAt(xMm, yMm - 1, strip.name, { sizePt: 7, colour: GREY })];
  for (const cell of strip.cells) {
    const colour = cell.colour && look.isColoured ? look.colours[cell.colour] : null;
    items.push({
      kind: 'box',
      xMm: xMm + cell.xMm,
      yMm,
      widthMm: cell.widthMm,
      heightMm,
      fill: colour,
      stroke: null,
    });
    items.push(
      ...labelItems(
        cell,
        xMm + cell.xMm + cell.widthMm / 2,
        yMm,
        heightMm,
        colour ? '#ffffff' : INK,
        measure,
      ),
    );
  }
  for (const cell of strip.cells.slice(1))
    items.push({
      kind: 'line',
      fromMm: [xMm + cell.xMm, yMm],
      toMm: [xMm + cell.xMm, yMm + heightMm],
      stroke: { ...CUT, widthPt: 0.25, isDashed: false, colour: GREY },
    });
  items.push({ kind: 'box', xMm, yMm, widthMm: strip.widthMm, heightMm, fill: null, stroke: CUT });
  return items;
}

/** A label as large as its place lets it be, on one line or, where it has two words or more, on two. */
function labelItems(
  { text, widthMm }: StripCell,
  middleMm: number,
  yMm: number,
  heightMm: number,
  colour: string,
  measure: Measure,
): PaperItem[] {
  if (text === '') return [];
  const roomMm = widthMm - 3;
  const mostPt = (heightMm * 0.62) / MM_PER_PT;
  const onePt = sizeToFit(text, roomMm, 'cond', mostPt, 5, measure);
  const twoPt = Math.min(mostPt / 2, onePt * 1.9);
  const lines = onePt < mostPt / 2 ? wrapped(text, roomMm, 'cond', twoPt, measure) : [text];
  // Joined again they are the label: no word was cut.
  const isTwo = lines.length === 2 && twoPt > onePt && lines.join(' ') === text;
  const shown = isTwo ? lines : [text];
  const sizePt = isTwo ? twoPt : onePt;
  const lineMm = sizePt * MM_PER_PT;
  const firstMm = yMm + heightMm / 2 + lineMm * (0.36 - (shown.length - 1) * 0.55);
  return shown.map((line, i) =>
    textAt(middleMm, firstMm + i * lineMm * 1.1, line, { sizePt, font: 'cond', colour, align: 'middle' }),
  );
}
