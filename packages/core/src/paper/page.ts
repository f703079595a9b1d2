/** What is drawn on paper: places and sizes in mm from the upper left, letters in points. */

export const FONTS = ['body', 'bold', 'cond', 'mono'] as const;
export type Font = (typeof FONTS)[number];

/** Colours as `#rrggbb`. */
export type Stroke = { readonly widthPt: number; readonly colour: string; readonly isDashed: boolean };

export type PaperItem =
  | {
      readonly kind: 'text';
      /** Where it begins, is in the middle, or ends. */
      readonly xMm: number;
      /** The line that letters stand on. */
      readonly yMm: number;
      readonly text: string;
      readonly sizePt: number;
      readonly font: Font;
      readonly colour: string;
      readonly align: 'left' | 'middle' | 'right';
    }
  | {
      readonly kind: 'box';
      readonly xMm: number;
      readonly yMm: number;
      readonly widthMm: number;
      readonly heightMm: number;
      readonly fill: string | null;
      readonly stroke: Stroke | null;
    }
  | {
      readonly kind: 'line';
      readonly fromMm: readonly [number, number];
      readonly toMm: readonly [number, number];
      readonly stroke: Stroke;
    };

export type PaperPage = {
  readonly widthMm: number;
  readonly heightMm: number;
  readonly items: readonly PaperItem[];
};

/** How wide a text is, in mm. */
export type Measure = (text: string, font: Font, sizePt: number) => number;

/** Source: ISO 216 for A4; ANSI/ASME Y14.1 for Letter. */
export const PAPERS = {
  a4: { widthMm: 210, heightMm: 297 },
  letter: { widthMm: 215.9, heightMm: 279.4 },
} as const;
export type PaperName = keyof typeof PAPERS;
export type PaperSize = { readonly widthMm: number; readonly heightMm: number };

export const paperSize = (name: PaperName, isLandscape: boolean): PaperSize => {
  const { widthMm, heightMm } = PAPERS[name];
  return isLandscape ? { widthMm: heightMm, heightMm: widthMm } : { widthMm, heightMm };
};

/** Printers leave about this much at each edge, in mm. Common practice, no source. */
export const MARGIN_MM = 12;

/** Source: the point of desktop publishing, 1/72 of an inch of 25.4 mm. */
export const MM_PER_PT = 25.4 / 72;

export const INK = '#1f1d1a';
export const GREY = '#6b655b';
export const HAIR: Stroke = { widthPt: 0.25, colour: '#8c8578', isDashed: false };
export const CUT: Stroke = { widthPt: 0.4, colour: '#1f1d1a', isDashed: true };

type Letters = {
  readonly sizePt?: number;
  readonly font?: Font;
  readonly colour?: string;
  readonly align?: 'left' | 'middle' | 'right';
};

export const textAt = (
  xMm: number,
  yMm: number,
  text: string,
  { sizePt = 10, font = 'body', colour = INK, align = 'left' }: Letters = {},
): PaperItem => ({ kind: 'text', xMm, yMm, text, sizePt, font, colour, align });

/** Words on as many lines as they need; a word that is wider than a line is cut in pieces. */
export function wrapped(
  text: string,
  widthMm: number,
  font: Font,
  sizePt: number,
  measure: Measure,
): string[] {
  const fits = (line: string) => measure(line, font, sizePt) <= widthMm;
  const lines: string[] = [];
  for (const paragraph of text.split('\n')) {
    let line = '';
    for (const word of paragraph.split(' ')) {
      const longer = line === '' ? word : `${line} ${word}`;
      if (fits(longer)) {
        line = longer;
        continue;
      }
      if (line !== '') lines.push(line);
      line = word;
      while (!fits(line) && line.length > 1) {
        let count = line.length - 1;
        while (count > 1 && !fits(line.slice(0, count))) count--;
        lines.push(line.slice(0, count));
        line = line.slice(count);
      }
    }
    lines.push(line);
  }
  return lines;
}

/** The largest size between two at which a text fits a width, in steps of a quarter of a point; the smallest where none does. */
export function sizeToFit(
  text: string,
  widthMm: number,
  font: Font,
  mostPt: number,
  leastPt: number,
  measure: Measure,
): number {
  const at = measure(text, font, mostPt);
  if (at <= widthMm) return mostPt;
  return Math.max(leastPt, Math.floor((mostPt * widthMm * 4) / at) / 4);
}
