import { describe, expect, it } from 'vitest';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { axeViolations } from './support/axe';
import { choose, openPage, pressButton, textIs, until, useApp } from './support/app';

const running = useApp();

/** Files that the page offers, as base64, in place of saving them. */
const keepFiles = () => {
  const files: string[] = [];
  Object.assign(window, { offered: files });
  const make = URL.createObjectURL.bind(URL);
  URL.createObjectURL = (thing: Blob | MediaSource) => {
    if (thing instanceof Blob) {
      const reader = new FileReader();
      reader.onload = () => files.push((reader.result as string).split(',')[1]!);
      reader.readAsDataURL(thing);
    }
    return make(thing);
  };
};

describe('on paper', () => {
  it('each document is looked at, and saved as a PDF of the paper that was chosen', async () => {
    const page = await openPage(running.browser, running.app.base, '/paper', (p) =>
      p.evaluateOnNewDocument(keepFiles),
    );
    const offered = (count: number) =>
      until(
        `${count} files`,
        () => page.evaluate(() => (window as unknown as { offered: string[] }).offered),
        (all) => all.length === count,
      );
    await textIs(page, '.paper-pages', (t) => t.includes('Drive') && t.includes('Rope echo'));
    expect(await axeViolations(page)).toEqual([]);
    await choose(page, 'Paper', 'Letter');
    await choose(page, 'Banks', 'Crossing');
    await pressButton(page, 'Save as PDF');
    const [pdf] = await offered(1);
    const read = await getDocument({ data: new Uint8Array(Buffer.from(pdf!, 'base64')), verbosity: 0 })
      .promise;
    const first = await read.getPage(1);
    const { width, height } = first.getViewport({ scale: 1 });
    expect([Math.round(width), Math.round(height)]).toEqual([792, 612]);
    const words = (await first.getTextContent()).items.map((i) => ('str' in i ? i.str : '')).join(' ');
    for (const label of ['Drive', 'Rope echo', 'Swell']) expect(words).toContain(label);
    await pressButton(page, 'Save as SVG');
    const [, svg] = await offered(3);
    expect(Buffer.from(svg!, 'base64').toString()).toContain('width="279.4mm" height="215.9mm"');
    for (const [name, text] of [
      ['Running order', 'Low Water'],
      ['Cue sheet', 'Kelpline Snapshot'],
      ['The rig', 'Crossbar Out A'],
      ['Chart of a device', 'implementation chart'],
      ['Everything sent', 'everything that is sent'],
    ] as const) {
      await page.locator(`.paper-place .tabs a::-p-text(${name})`).click();
      await textIs(page, '.paper-pages', (t) => t.includes(text));
      expect(await axeViolations(page)).toEqual([]);
    }
    // The press plan is looked for first, and read back as every other one.
    await page.locator('.paper-place .tabs a::-p-text(Press plan)').click();
    await textIs(page, '.paper-pages', (t) => t.includes('46 presses.'));
    expect(await axeViolations(page)).toEqual([]);
    await pressButton(page, 'Save as PDF');
    const plan = (await offered(4)).at(-1)!;
    const pages = await getDocument({ data: new Uint8Array(Buffer.from(plan, 'base64')), verbosity: 0 })
      .promise;
    const content = await (await pages.getPage(1)).getTextContent();
    const said = content.items.map((i) => ('str' in i ? i.str : '')).join(' ');
    for (const text of ['press plan', 'Right foot', 'near 5', 'Rope and Bell']) expect(said).toContain(text);
  });
});
