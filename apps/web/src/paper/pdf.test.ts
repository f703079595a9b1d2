import {
  FONTS,
  labelStrips,
  MM_PER_PT,
  paperSize,
  stripPages,
  type Font,
  type PaperPage,
} from '@idle-step/core/paper';
import { compileWorld, labelOf } from '@idle-step/core/engine';
import { demoPresets, demoRig } from '@idle-step/demo';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { getDocument, OPS } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { beforeAll, describe, expect, it } from 'vitest';
import { measureWith, readFont, runsOf, type PaperFonts } from './fonts';
import { pdfOf } from './pdf';
import { TAPE_ON_PAPER } from './tape';

const require = createRequire(import.meta.url);
const NAMES: Record<Font, readonly [string, string]> = {
  body: ['barlow', '400'],
  bold: ['barlow', '600'],
  cond: ['barlow-condensed', '600'],
  mono: ['ibm-plex-mono', '400'],
};
let fonts: PaperFonts;
beforeAll(() => {
  const file = (font: Font, letters: string) => {
    const [name, weight] = NAMES[font];
    return readFont(
      new Uint8Array(
        readFileSync(require.resolve(`@fontsource/${name}/files/${name}-${letters}-${weight}-normal.woff`)),
      ),
    );
  };
  fonts = Object.fromEntries(FONTS.map((f) => [f, [file(f, 'latin'), file(f, 'latin-ext')]])) as never;
});

/** Read by a reader of PDFs that is not ours. */
async function readBack(bytes: Uint8Array) {
  const doc = await getDocument({ data: bytes.slice(), verbosity: 0, useSystemFonts: false }).promise;
  return Promise.all(
    Array.from({ length: doc.numPages }, async (_, i) => {
      const page = await doc.getPage(i + 1);
      const { width, height } = page.getViewport({ scale: 1 });
      const { items } = await page.getTextContent();
      const texts = items.flatMap((t) =>
        'str' in t && t.str.trim() !== ''
          ? [{ text: t.str, widthPt: t.width, xPt: t.transform[4] as number }]
          : [],
      );
      return {
        widthMm: width * MM_PER_PT,
        heightMm: height * MM_PER_PT,
        texts,
        operators: await page.getOperatorList(),
      };
    }),
  );
}

const world = compileWorld({ rig: demoRig, presets: demoPresets, setName: '', songs: [] });
const board = world.boards[0]!;

describe('a PDF', () => {
  it.each(['a4', 'letter'] as const)(
    'of label strips on %s has every label, and is of the right size',
    async (paper) => {
      const size = paperSize(paper, true);
      const strips = labelStrips(world, board, board.banks);
      const pages = stripPages(
        'Plank 10',
        strips,
        { heightMm: 14, isColoured: true, colours: TAPE_ON_PAPER },
        size,
        measureWith(fonts),
      );
      const read = await readBack(await pdfOf('Plank 10', pages, fonts));
      expect(read).toHaveLength(pages.length);
      for (const page of read) {
        expect(page.widthMm).toBeCloseTo(size.widthMm, 1);
        expect(page.heightMm).toBeCloseTo(size.heightMm, 1);
      }
      const texts = read.flatMap((p) => p.texts.map((t) => t.text)).join('\n');
      const labels = board.banks.flatMap(({ assignments }) =>
        [...assignments.values()].map((a) => labelOf(world, a, 0)),
      );
      expect(labels.filter(Boolean).length).toBeGreaterThan(20);
      for (const label of labels) for (const word of label.split(' ')) expect(texts).toContain(word);
    },
  );

  it('measures 100 mm where the page says so, to 0.2 mm, and a label is as wide as its switch is apart', async () => {
    const page: PaperPage = {
      ...paperSize('a4', true),
      items: [
        {
          kind: 'box',
          xMm: 12,
          yMm: 20,
          widthMm: 100,
          heightMm: 14,
          fill: null,
          stroke: { widthPt: 0.4, colour: '#000000', isDashed: true },
        },
        {
          kind: 'line',
          fromMm: [12, 50],
          toMm: [112, 50],
          stroke: { widthPt: 0.5, colour: '#000000', isDashed: false },
        },
      ],
    };
    const [read] = await readBack(await pdfOf('x', [page], fonts));
    // Paths as a reader has them: their outermost places, in points.
    const widths: number[] = [];
    const { fnArray, argsArray } = read!.operators;
    fnArray.forEach((fn, i) => {
      if (fn !== OPS.constructPath) return;
      const [, coordinates] = argsArray[i] as [unknown, readonly number[]];
      const across = coordinates.filter((_, at) => at % 2 === 0);
      widths.push((Math.max(...across) - Math.min(...across)) * MM_PER_PT);
    });
    expect(widths).toHaveLength(2);
    for (const width of widths) expect(Math.abs(width - 100)).toBeLessThan(0.2);
  });

  it('writes letters of other languages, and a mark for those that its fonts have not', async () => {
    const texts = ['Würze, “Œuvre” — ñ', 'Žluťoučký kůň', 'Łódź', '曲 1'];
    const page: PaperPage = {
      ...paperSize('a4', false),
      items: texts.map((text, i) => ({
        kind: 'text',
        xMm: 20,
        yMm: 20 + 10 * i,
        text,
        sizePt: 12,
        font: 'body',
        colour: '#000000',
        align: 'left' as const,
      })),
    };
    const [read] = await readBack(await pdfOf('x', [page], fonts));
    const written = read!.texts
      .map((t) => t.text)
      .join('')
      .replaceAll(' ', '');
    for (const text of texts.slice(0, 3)) expect(written).toContain(text.replaceAll(' ', ''));
    expect(written).toContain('?1');
    expect(runsOf('aŽb', fonts.body)).toEqual([
      { text: 'a', file: 0 },
      { text: 'Ž', file: 1 },
      { text: 'b', file: 0 },
    ]);
  });

  it('is measured with the letters that are in it', async () => {
    const text = 'Rope and Bell 118';
    const page: PaperPage = {
      ...paperSize('a4', false),
      items: [
        { kind: 'text', xMm: 20, yMm: 20, text, sizePt: 30, font: 'cond', colour: '#000000', align: 'left' },
      ],
    };
    const [read] = await readBack(await pdfOf('x', [page], fonts));
    const widthMm = read!.texts.reduce((sum, t) => sum + t.widthPt, 0) * MM_PER_PT;
    expect(widthMm).toBeCloseTo(measureWith(fonts)(text, 'cond', 30), 0);
  });
});
