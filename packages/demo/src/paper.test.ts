import {
  chartTable,
  cueTables,
  labelStrips,
  orderPages,
  pageSvg,
  planTable,
  paperSize,
  rigTables,
  sentTable,
  stripPages,
  tablePages,
  MM_PER_PT,
  type LabelStrip,
  type Measure,
  type PaperItem,
  type PaperPage,
} from '@idle-step/core/paper';
import { compileWorld, labelOf } from '@idle-step/core/engine';
import type { PlannedPart, PressPlan } from '@idle-step/core/proof';
import { partName } from '@idle-step/core/show';
import { describe, expect, it } from 'vitest';
import { seeded } from '../../core/src/seeded.test-support';
import { demoPresets, demoRig, demoSongs } from './index';
import { tenAndTwo } from './randomPresets.test-support';

/** Each letter half as wide as it is high. */
const measure: Measure = (text, _font, sizePt) => [...text].length * sizePt * MM_PER_PT * 0.5;
const world = compileWorld({ rig: demoRig, presets: demoPresets, setName: '', songs: demoSongs });
const [plank] = world.boards;
const textsOf = ({ items }: PaperPage): string[] => items.flatMap((i) => (i.kind === 'text' ? i.text : []));
type Box = Extract<PaperItem, { kind: 'box' }>;
const boxesOf = ({ items }: PaperPage): Box[] => items.flatMap((i) => (i.kind === 'box' ? i : []));
const colours = {
  coral: '#111111',
  leaf: '#111111',
  sky: '#111111',
  sun: '#111111',
  violet: '#111111',
  clay: '#111111',
  slate: '#111111',
  teal: '#111111',
};
const look = { heightMm: 14, isColoured: true, colours };

/** Whether a page has everything on it. */
function expectOnPaper(page: PaperPage): void {
  for (const item of page.items) {
    if (item.kind === 'text') {
      const width = measure(item.text, item.font, item.sizePt);
      const left = item.xMm - (item.align === 'left' ? 0 : item.align === 'middle' ? width / 2 : width);
      expect([item.text, left >= 0, left + width <= page.widthMm + 0.01]).toEqual([item.text, true, true]);
      expect(item.yMm).toBeLessThanOrEqual(page.heightMm);
    }
    if (item.kind === 'box') expect(item.xMm + item.widthMm).toBeLessThanOrEqual(page.widthMm);
  }
}

describe('label strips', () => {
  it('are as wide as the switches are apart, and each label stands over its switch', () => {
    for (const strip of labelStrips(world, plank!, plank!.banks)) {
      const controls = strip.cells.map((c) => plank!.board.controls.find((x) => x.id === c.controlId)!);
      const middles = controls.map((c) => c.xMm + c.widthMm / 2);
      expect(strip.widthMm).toBeCloseTo(
        strip.cells.reduce((sum, c) => sum + c.widthMm, 0),
        9,
      );
      const left = middles[0]! - strip.cells[0]!.widthMm / 2;
      strip.cells.forEach((cell, i) => {
        // Half-way to each neighbour.
        const [before, after] = [middles[i - 1], middles[i + 1]];
        if (before !== undefined) expect(left + cell.xMm).toBeCloseTo((before + middles[i]!) / 2, 9);
        if (after !== undefined)
          expect(left + cell.xMm + cell.widthMm).toBeCloseTo((after + middles[i]!) / 2, 9);
      });
    }
  });

  it('of a board whose switches are 60 mm apart are 60 mm a label', () => {
    const device = demoRig.devices.find((d) => d.id === tenAndTwo.deviceId)!;
    const other = compileWorld({
      rig: {
        ...demoRig,
        boards: [{ ...tenAndTwo, presetId: demoPresets[0]!.id }],
        devices: [device, ...demoRig.devices.filter((d) => d !== device)],
      },
      presets: demoPresets,
      setName: '',
      songs: [],
    });
    const strips = labelStrips(other, other.boards[0]!, other.boards[0]!.banks.slice(0, 1));
    expect(strips.map((s) => [s.widthMm, s.cells.map((c) => c.widthMm)])).toEqual([
      [360, Array(6).fill(60)],
      [360, Array(6).fill(60)],
    ]);
  });

  it.each(['a4', 'letter'] as const)(
    'on %s have every label of every bank, in pieces that fit, and 100 mm',
    (paper) => {
      const strips = labelStrips(world, plank!, plank!.banks);
      const pages = stripPages('Plank 10', strips, look, paperSize(paper, true), measure);
      const wanted = plank!.banks.flatMap(({ assignments }) =>
        [...assignments.values()].map((a) => labelOf(world, a, 0)).filter(Boolean),
      );
      const there = pages.flatMap(textsOf);
      for (const label of wanted) expect(there.join('\n')).toContain(label);
      for (const page of pages) {
        expectOnPaper(page);
        const ruler = page.items.find(
          (i) => i.kind === 'line' && i.fromMm[1] === i.toMm[1] && i.stroke.widthPt === 0.5,
        );
        expect(ruler?.kind === 'line' && ruler.toMm[0] - ruler.fromMm[0]).toBe(100);
      }
      // Nothing is lost where a strip is cut.
      const labelBoxes = pages.flatMap(boxesOf).filter((b) => b.stroke === null);
      expect(labelBoxes).toHaveLength(strips.reduce((sum, s) => sum + s.cells.length, 0));
    },
  );

  it.each([
    // A short one is as high as the strip lets it be: 62 % of 14 mm.
    ['Go', ['Go'], (14 * 0.62) / MM_PER_PT],
    // Two words that would be small side by side stand on two lines, each at most half as high as the strip lets one be.
    ['Snapshot three', ['Snapshot', 'three'], (14 * 0.31) / MM_PER_PT],
    ['Reverb on', ['Reverb on'], 29 / (9 * 0.5 * MM_PER_PT)],
    // A word is never cut for the sake of its size, however small it becomes, down to 5 pt.
    ['Antidisestablishment', ['Antidisestablishment'], 29 / (20 * 0.5 * MM_PER_PT)],
    ['Antidisestablishmentarianism again', ['Antidisestablishmentarianism again'], 5],
  ] as const)('writes the label “%s” as large as its place lets it be', (label, lines, sizePt) => {
    const cell = { controlId: 'c', text: label, xMm: 0, widthMm: 32, colour: null };
    const strip: LabelStrip = { name: '', widthMm: 32, cells: [cell] };
    const [page] = stripPages('Board', [strip], look, paperSize('a4', true), measure);
    const texts = page!.items.flatMap((i) => (i.kind === 'text' && i.align === 'middle' ? [i] : []));
    const shown = texts.filter((t) => label.includes(t.text));
    expect(shown.map((t) => t.text)).toEqual(lines);
    for (const t of shown) {
      expect(Math.abs(t.sizePt - sizePt)).toBeLessThanOrEqual(0.25);
      if (t.sizePt > 5) expect(measure(t.text, t.font, t.sizePt)).toBeLessThanOrEqual(32 - 3);
    }
  });

  it('have the colours of the cloth, or are plain black on white', () => {
    const [first] = plank!.banks;
    const assignments = new Map(
      [...first!.assignments].map(([id, a]) => [id, { ...a, colour: 'coral' as const }]),
    );
    const strips = labelStrips(world, plank!, [{ ...first!, assignments }]);
    const fills = (isColoured: boolean) =>
      new Set(
        stripPages('x', strips, { ...look, isColoured }, paperSize('a4', true), measure)
          .flatMap(boxesOf)
          .map((b) => b.fill),
      );
    expect(fills(true)).toContain('#111111');
    expect(fills(false)).toEqual(new Set([null]));
  });
});

describe('tables', () => {
  it('go on from page to page with their head, and lose no word', () => {
    const random = seeded(4);
    const word = () =>
      Array.from({ length: 1 + Math.floor(random() * 14) }, () => 'abcdefgh'[Math.floor(random() * 8)]).join(
        '',
      );
    for (let run = 0; run < 20; run++) {
      const rows = Array.from({ length: Math.floor(random() * 120) }, () => ({
        kind: 'cells' as const,
        cells: Array.from({ length: 3 }, () =>
          Array.from({ length: Math.floor(random() * 20) }, word).join(' '),
        ),
      }));
      const columns = [
        { head: 'One', share: 2 },
        { head: 'Two', share: 1 },
        { head: 'Three', share: 4 },
      ];
      const pages = tablePages(
        [{ title: 'T', about: 'A', columns, rows, sizePt: 9 }],
        paperSize('a4', false),
        measure,
      );
      const letters = (texts: readonly string[]) => texts.join('').replaceAll(' ', '');
      const said = letters(pages.flatMap(textsOf));
      // Columns are written side by side, so each cell is looked for by itself.
      for (const { cells } of rows)
        for (const cell of cells) for (const w of cell.split(' ')) expect(said).toContain(w.slice(0, 3));
      const count = letters(rows.flatMap((r) => r.cells)).length;
      const others =
        letters(['T', 'A', ...pages.flatMap(() => ['One', 'Two', 'Three'])]).length +
        (pages.length > 1 ? pages.reduce((n, _, i) => n + `${i + 1}of${pages.length}`.length, 0) : 0);
      expect(said.length).toBe(count + others);
      pages.forEach(expectOnPaper);
    }
  });

  it('of the rig name every cable and every device', () => {
    const texts = tablePages(rigTables(demoRig), paperSize('a4', false), measure).flatMap(textsOf);
    for (const d of demoRig.devices) if (!d.away) expect(texts).toContain(d.name);
    const links = (all: readonly string[]) => all.filter((t) => t === 'DIN' || t === 'USB').length;
    expect(links(texts)).toBe(demoRig.cables.length);
    // One whose port is gone has nothing to be pulled out of.
    const [cable, ...others] = demoRig.cables;
    const rig = { ...demoRig, cables: [{ ...cable!, toPortId: 'gone' }, ...others] };
    expect(links(tablePages(rigTables(rig), paperSize('a4', false), measure).flatMap(textsOf))).toBe(
      others.length,
    );
  });

  it('of a preset have a line for each message, and of a song what each scene sets', () => {
    const sent = sentTable(demoRig, demoPresets[0]!);
    expect(sent.rows.length).toBeGreaterThan(20);
    const ferry = demoSongs.find((s) => s.name === 'Slow Ferry')!;
    const [table] = cueTables(ferry, world, demoRig, demoPresets);
    expect(table!.columns.slice(1).map((c) => c.head)).toEqual(ferry.scenes.map((s) => s.name));
    expect(JSON.stringify(table!.rows)).toContain('Kelpline Snapshot');
  });
});

it('a chart on paper has a line for each row, as the chart says it', () => {
  const kelpline = demoRig.devices.find((d) => d.name === 'Kelpline')!;
  const { title, rows } = chartTable(kelpline, demoRig);
  expect([title, rows.length]).toEqual(['Kelpline: implementation chart', kelpline.chart.length]);
  const gate = rows.find((r) => r.kind === 'cells' && r.cells[0] === 'Gate');
  expect(gate).toEqual({ kind: 'cells', cells: ['Gate', 'CC 23', 'switch 0/127', '', ''] });
});

it('a word that is wider than its column is cut, and loses no letter', () => {
  const word = 'Donaudampfschifffahrt';
  const table = {
    title: '',
    about: '',
    columns: [
      { head: '', share: 1 },
      { head: '', share: 20 },
    ],
    sizePt: 10,
  };
  const rows = [{ kind: 'cells', cells: [word, 'beside'] } as const];
  const [page] = tablePages([{ ...table, rows }], paperSize('a4', false), measure);
  const texts = textsOf(page!).filter((t) => t !== 'beside');
  expect(texts.length).toBeGreaterThan(2);
  expect(texts.join('')).toBe(word);
});

it('a press plan on paper tells each part with its feet, and marks what is tight or open', () => {
  const [first] = world.songs;
  const [verse, chorus, end] = first!.parts;
  const press = (controlId: string, foot: 'left' | 'right') =>
    ({ controlId, gesture: 'press', foot, from: null, distanceMm: 100, takesS: 0.5 }) as const;
  const part = (partIndex: number, sceneId: string, of: Partial<PlannedPart>): PlannedPart => ({
    songIndex: 0,
    partIndex,
    entryId: first!.entryId,
    sceneId,
    presses: [],
    takesS: 0,
    leavesS: null,
    isTight: false,
    isOpen: false,
    otherwise: [],
    onPedal: [],
    ...of,
  });
  const [one, two] = plank!.board.controls;
  const plan: PressPlan = {
    parts: [
      part(0, verse!.sceneId, {}),
      part(1, chorus!.sceneId, {
        presses: [press(one!.id, 'left'), press(two!.id, 'right')],
        takesS: 1.25,
        leavesS: 1,
        isTight: true,
      }),
      part(2, end!.sceneId, { leavesS: 20, isOpen: true }),
    ],
    presses: 2,
    takesS: 1.25,
    tight: 1,
    open: 1,
    isProven: false,
  };
  const { title, about, rows } = planTable('Lock 9', plan, world);
  expect([title, about]).toEqual(['Lock 9: press plan', '2 presses, 1 tight, 1 left open.']);
  expect(rows[0]).toEqual({ kind: 'section', text: `1 ${first!.song.name}` });
  const name = (i: number) => partName(first!.song, first!.parts[i]!);
  expect(rows.slice(1, 4)).toEqual([
    { kind: 'cells', cells: [name(0), '', '', '', '', ''], isBold: false },
    { kind: 'cells', cells: [name(1), one!.name, two!.name, '1.3 s', '1.0 s', 'tight'], isBold: true },
    { kind: 'cells', cells: [name(2), '', '', '', '20.0 s', 'no press leads there'], isBold: true },
  ]);
  expect(planTable('Lock 9', { ...plan, tight: 0, open: 0 }, world).about).toBe('2 presses.');
});

describe('a running order', () => {
  const lines = (count: number) =>
    Array.from({ length: count }, (_, i) => ({
      number: `${i + 1}`,
      name: `Song with a name ${i}`,
      more: '120',
      isPause: false,
    }));
  it.each([1, 14, 30])('of %d songs is one page', (count) => {
    const pages = orderPages('Set', 'about', lines(count), paperSize('a4', false), measure);
    expect(pages).toHaveLength(1);
    pages.forEach(expectOnPaper);
  });
  it('too long to be read on one page goes on', () => {
    const pages = orderPages('Set', 'about', lines(100), paperSize('letter', false), measure);
    expect(pages.length).toBeGreaterThan(1);
    expect(pages.flatMap(textsOf).filter((t) => t.startsWith('Song'))).toHaveLength(100);
  });
});

it('a page as a drawing is as large as the paper, and no name breaks it', () => {
  const page: PaperPage = {
    ...paperSize('a4', true),
    items: [
      {
        kind: 'text',
        xMm: 1,
        yMm: 2,
        text: '<b>&"',
        sizePt: 10,
        font: 'body',
        colour: '#000000',
        align: 'left',
      },
    ],
  };
  const svg = pageSvg(page);
  expect(svg).toContain('width="297mm" height="210mm" viewBox="0 0 297 210"');
  expect(svg).toContain('&lt;b&gt;&amp;&quot;');
});
