import { MM_PER_PT, type Font, type PaperItem, type PaperPage, type Stroke } from './page';

const FAMILIES: Record<Font, string> = {
  body: 'font-family="Barlow, sans-serif"',
  bold: 'font-family="Barlow, sans-serif" font-weight="600"',
  cond: 'font-family="\'Barlow Condensed\', sans-serif" font-weight="600"',
  mono: 'font-family="\'IBM Plex Mono\', monospace"',
};
const ANCHORS = { left: 'start', middle: 'middle', right: 'end' } as const;

const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c] ?? c);
const mm = (value: number): string => String(Math.round(value * 1000) / 1000);
const strokeOf = ({ widthPt, colour, isDashed }: Stroke): string =>
  `stroke="${colour}" stroke-width="${mm(widthPt * MM_PER_PT)}"${isDashed ? ' stroke-dasharray="1.5 1"' : ''}`;

function itemSvg(item: PaperItem): string {
  switch (item.kind) {
    case 'text':
      return `<text x="${mm(item.xMm)}" y="${mm(item.yMm)}" font-size="${mm(item.sizePt * MM_PER_PT)}" ${FAMILIES[item.font]} fill="${item.colour}" text-anchor="${ANCHORS[item.align]}">${escaped(item.text)}</text>`;
    case 'box':
      return `<rect x="${mm(item.xMm)}" y="${mm(item.yMm)}" width="${mm(item.widthMm)}" height="${mm(item.heightMm)}" fill="${item.fill ?? 'none'}" ${item.stroke ? strokeOf(item.stroke) : ''}/>`;
    case 'line':
      return `<line x1="${mm(item.fromMm[0])}" y1="${mm(item.fromMm[1])}" x2="${mm(item.toMm[0])}" y2="${mm(item.toMm[1])}" ${strokeOf(item.stroke)}/>`;
  }
}

/** A page as a drawing of its own. Source: SVG 1.1; lengths in mm, so that it prints to scale. */
export const pageSvg = ({ widthMm, heightMm, items }: PaperPage): string =>
  [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${mm(widthMm)}mm" height="${mm(heightMm)}mm" viewBox="0 0 ${mm(widthMm)} ${mm(heightMm)}">`,
    `<rect width="${mm(widthMm)}" height="${mm(heightMm)}" fill="#ffffff"/>`,
    ...items.map(itemSvg),
    '</svg>',
  ].join('\n');
