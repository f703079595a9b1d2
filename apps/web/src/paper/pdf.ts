import { FONTS, MM_PER_PT, type Font, type PaperItem, type PaperPage } from '@idle-step/core/paper';
import fontkit from '@pdf-lib/fontkit';
import { PDFDocument, rgb, type PDFFont, type PDFPage } from 'pdf-lib';
import { runsOf, type PaperFonts } from './fonts';

type Embedded = Readonly<Record<Font, readonly [PDFFont, PDFFont]>>;

const pt = (mm: number): number => mm / MM_PER_PT;

function colourOf(hex: string) {
  const value = Number.parseInt(hex.slice(1), 16);
  return rgb(((value >> 16) & 255) / 255, ((value >> 8) & 255) / 255, (value & 255) / 255);
}

/** Pages as a PDF, to scale, with the letters that they use in it. */
export async function pdfOf(
  title: string,
  pages: readonly PaperPage[],
  fonts: PaperFonts,
): Promise<Uint8Array> {
  const doc = await PDFDocument.create();
  doc.registerFontkit(fontkit);
  doc.setTitle(title, { showInWindowTitleBar: true });
  doc.setCreator('Idle Step');
  doc.setProducer('Idle Step');
  const embedded = await embed(doc, pages, fonts);
  for (const page of pages) {
    const sheet = doc.addPage([pt(page.widthMm), pt(page.heightMm)]);
    for (const item of page.items) draw(sheet, page.heightMm, item, embedded, fonts);
  }
  return doc.save();
}

/** Only fonts that a page uses come into the file, and of them only the letters that are used. */
async function embed(doc: PDFDocument, pages: readonly PaperPage[], fonts: PaperFonts): Promise<Embedded> {
  const used = new Set<string>();
  for (const { items } of pages)
    for (const item of items)
      if (item.kind === 'text')
        for (const run of runsOf(item.text, fonts[item.font])) used.add(`${item.font} ${run.file}`);
  const made = new Map<string, PDFFont>();
  for (const font of FONTS)
    for (const file of [0, 1] as const)
      if (used.has(`${font} ${file}`))
        made.set(`${font} ${file}`, await doc.embedFont(fonts[font][file].bytes, { subset: true }));
  const pair = (font: Font): readonly [PDFFont, PDFFont] => {
    const first = made.get(`${font} 0`) ?? made.get(`${font} 1`);
    const second = made.get(`${font} 1`) ?? first;
    // A font that nothing is written in is never asked for.
    return [first, second] as [PDFFont, PDFFont];
  };
  return { body: pair('body'), bold: pair('bold'), cond: pair('cond'), mono: pair('mono') };
}

function draw(
  sheet: PDFPage,
  heightMm: number,
  item: PaperItem,
  embedded: Embedded,
  fonts: PaperFonts,
): void {
  const y = (mm: number) => pt(heightMm - mm);
  switch (item.kind) {
    case 'text': {
      const runs = runsOf(item.text, fonts[item.font]);
      const widths = runs.map((r) => fonts[item.font][r.file].widthMm(r.text, item.sizePt));
      const widthMm = widths.reduce((sum, w) => sum + w, 0);
      let xMm = item.xMm - (item.align === 'left' ? 0 : item.align === 'middle' ? widthMm / 2 : widthMm);
      runs.forEach((run, i) => {
        sheet.drawText(run.text, {
          x: pt(xMm),
          y: y(item.yMm),
          size: item.sizePt,
          font: embedded[item.font][run.file],
          color: colourOf(item.colour),
        });
        xMm += widths[i] ?? 0;
      });
      break;
    }
    case 'box':
      sheet.drawRectangle({
        x: pt(item.xMm),
        y: y(item.yMm + item.heightMm),
        width: pt(item.widthMm),
        height: pt(item.heightMm),
        ...(item.fill === null ? {} : { color: colourOf(item.fill) }),
        ...(item.stroke === null
          ? {}
          : {
              borderColor: colourOf(item.stroke.colour),
              borderWidth: item.stroke.widthPt,
              ...(item.stroke.isDashed ? { borderDashArray: [4, 3] } : {}),
            }),
      });
      break;
    case 'line':
      sheet.drawLine({
        start: { x: pt(item.fromMm[0]), y: y(item.fromMm[1]) },
        end: { x: pt(item.toMm[0]), y: y(item.toMm[1]) },
        thickness: item.stroke.widthPt,
        color: colourOf(item.stroke.colour),
        ...(item.stroke.isDashed ? { dashArray: [4, 3] } : {}),
      });
      break;
  }
}
