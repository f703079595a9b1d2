import type { FullRig } from '@idle-step/core/routing';
import type { Song } from '@idle-step/core/show';
import type { Preset } from '@idle-step/core/floor';
import type { Kept } from '@idle-step/contract';
import { readChartCsv, readMidnam, writeChartCsv, writeMidnam, midnamOfChart } from '@idle-step/core/formats';
import { cableFaults, rigPaths } from '@idle-step/core/gear';
import { demoRig } from '@idle-step/demo';
import fc from 'fast-check';
import { mkdtempSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ElementHandle, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { axeViolations } from './support/axe';
import { chord, openPage, pressButton, RunningApp, textIs, textOf, until, useApp } from './support/app';
import { bindPort, fake, hexOf, openRoom, openWithPorts } from './support/ports';

const running = useApp();

/** Five rows as a spreadsheet copies them: in the order of the table, with tabs between. */
const COPIED = [
  ['Sound', 'Sounds', 'program', 'program', '', '0=Reed; 1=Bell; 2=Hum'],
  ['Snapshot', 'Sounds', 'CC 22', 'choice', '', '0=Dry; 1=Body; 2=Full', '1'],
  ['Swell', 'Knobs', 'CC 11'],
  ['Echo', 'Blocks', 'CC 27', 'switch', '', '0/127'],
  ['Wash', 'Knobs', 'CC 91', 'range', '', '0-100'],
]
  .map((r) => r.join('\t'))
  .join('\n');

/** Pastes a text into what has the focus, as Ctrl+V does with that text in the clipboard. */
const paste = (page: Page, text: string) =>
  page.evaluate((t) => {
    const data = new DataTransfer();
    data.setData('text/plain', t);
    document.activeElement!.dispatchEvent(
      new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
    );
  }, text);

const saved = (page: Page) => textIs(page, '.rig-place .save-state', (t) => /^saved \d/.test(t));

describe('a newcomer builds a rig of five devices from nothing', () => {
  let empty: RunningApp;
  beforeAll(async () => {
    empty = await RunningApp.start(inject('databaseUrl'), { withDemo: false });
  });
  afterAll(() => empty.kill());
  const rigs = () => empty.get<Kept<FullRig>[]>('/rigs');

  /** What both ways have to end in. */
  function expectWhole(rig: FullRig): void {
    expect(rig.devices.map((d) => d.role).sort()).toEqual([
      'carrier',
      'controller',
      'receiver',
      'receiver',
      'receiver',
    ]);
    expect(rig.cables).toHaveLength(3);
    expect(cableFaults(rig)).toEqual([]);
    expect(rigPaths(rig)).toHaveLength(3);
    const [pasted] = rig.devices.filter((d) => d.chart.length === 5);
    expect(pasted!.chart.map((f) => f.name)).toEqual(['Sound', 'Snapshot', 'Swell', 'Echo', 'Wash']);
    expect(pasted!.chart[1]!.shape).toEqual({
      kind: 'choice',
      first: 0,
      shownFrom: 1,
      labels: ['Dry', 'Body', 'Full'],
    });
  }

  it('by mouse: devices from the menu, cables by drag, a chart pasted', async () => {
    const page = await openPage(running.browser, empty.base, '/rig');
    await pressButton(page, 'Start a rig');
    await pressButton(page, 'Leave this, and write the rig down by hand');
    await pressButton(page, 'Add a foot board');
    const add = async (text: string) => {
      await page.locator('.place-head ::-p-text(Add device)').click();
      await page.locator(`.dropdown-item ::-p-text(${text})`).click();
    };
    await page.waitForSelector('.device-card');
    await add('Interface, 2 in and 2 out');
    for (let i = 0; i < 3; i++) await add('Other gear that answers');
    await until(
      'five',
      () => page.$$eval('.device-card', (c) => c.length),
      (n) => n === 5,
    );

    // The board has DIN in this rig: its port is turned from USB at the computer to DIN.
    await openRoom(page, 'Foot board', 'Ports');
    await page.waitForSelector('[aria-label="Ports of Foot board"]');
    await page.locator('[aria-label="USB is at this computer"]').click();
    await page.evaluate(() => {
      const label = [...document.querySelectorAll('label')].find((l) => l.textContent === 'Link of USB')!;
      const list = document.getElementById(label.getAttribute('for')!) as HTMLSelectElement;
      list.value = 'din';
      list.dispatchEvent(new Event('change', { bubbles: true }));
    });
    await textIs(page, '.fault-list', (t) => t.includes('Foot board reaches nothing'));

    const socket = (name: string) =>
      page.waitForSelector(`.socket[aria-label$=" at ${name}"]`) as Promise<ElementHandle>;
    const drag = async (from: string, to: string) => {
      const a = (await (await socket(from)).boundingBox())!;
      const b = (await (await socket(to)).boundingBox())!;
      await page.mouse.move(a.x + a.width / 2, a.y + a.height / 2);
      await page.mouse.down();
      await page.mouse.move(b.x, b.y, { steps: 6 });
      await page.mouse.move(b.x + b.width / 2, b.y + b.height / 2, { steps: 2 });
      await page.mouse.up();
    };
    await drag('Foot board USB', 'Interface In 1');
    // From an input to an input it is refused, with the reason, and nothing is drawn.
    await drag('Interface In 2', 'Device In');
    await textIs(page, '.fault-list', (t) =>
      t.includes('Not drawn. Interface In 2 and Device In are both inputs'),
    );
    // Picked up at the wrong end it is drawn all the same.
    await drag('Device In', 'Interface Out 1');
    await drag('Device Thru', 'Device 2 In');
    await drag('Interface Out 1', 'Device 3 In');
    await textIs(page, '.fault-list', (t) => t.includes('a DIN output drives one input'));
    await drag('Interface Out 2', 'Device 3 In');
    await until(
      'cables',
      () => page.$$eval('.cable-label', (c) => c.length),
      (n) => n === 4,
    );
    await page.locator('.cable-label[aria-label="DIN cable from Device Thru to Device 2 In"]').click();
    await textIs(page, '.path-list', (t) => t.includes('Device In to Thru → Device 2 In'));
    await pressButton(page, 'Take out');
    await until(
      'cables',
      () => page.$$eval('.cable-label', (c) => c.length),
      (n) => n === 3,
    );
    await drag('Device 2 In', 'Device 2 Thru');
    await textIs(page, '.fault-list', (t) => t.includes('are on one device'));

    await openRoom(page, 'Device 2', 'Chart');
    await page.locator('.new-row .c-name').click();
    await paste(page, COPIED);
    await textIs(page, '.notice', (t) => t.includes('5 rows pasted.'));
    await saved(page);
    const [kept] = await rigs();
    const paths = rigPaths(kept!.doc);
    expect(paths).toHaveLength(2);
    expect(kept!.doc.cables).toHaveLength(3);
    expect(cableFaults(kept!.doc)).toEqual([]);
    expect(kept!.doc.devices.find((d) => d.name === 'Device 2')!.chart).toHaveLength(5);
    expect(page.troubles).toEqual([]);
    const deleted = await fetch(`${empty.base}/api/rigs/${kept!.doc.id}`, {
      method: 'DELETE',
      headers: { 'If-Match': `"${kept!.version}"` },
    });
    expect(deleted.status).toBe(204);
  });

  it('by keyboard alone', async () => {
    const page = await openPage(running.browser, empty.base, '/rig');
    const key = page.keyboard;
    /** Tabs on until something with that name has the focus, as a person does who reads what is read out. */
    const tabTo = async (name: string | RegExp) => {
      for (let i = 0; i < 150; i++) {
        const now = await page.evaluate(() => {
          const e = document.activeElement as HTMLElement | null;
          const label = e?.id ? document.querySelector(`label[for="${e.id}"]`)?.textContent : null;
          return e?.getAttribute('aria-label') ?? label ?? e?.textContent?.trim() ?? '';
        });
        if (typeof name === 'string' ? now === name : name.test(now)) return;
        await key.press('Tab');
      }
      throw new Error(`Tab never reaches ${String(name)}`);
    };
    const press = async (name: string | RegExp) => {
      await tabTo(name);
      await key.press('Enter');
    };
    await page.waitForSelector('.empty-place');
    await press('Start a rig');
    await page.waitForSelector('.begin');
    await press('Leave this, and write the rig down by hand');
    await page.waitForSelector('.empty-place h2 ::-p-text(What is in your rig)');
    await press('Add a foot board');
    await page.waitForSelector('.device-card');
    /** The kinds stand in the menu in their order. */
    const add = async (index: number, count: number) => {
      await press('Add device');
      await page.waitForSelector('.dropdown-menu.show');
      for (let i = 0; i <= index; i++) await key.press('ArrowDown');
      await key.press('Enter');
      await until(
        'card',
        () => page.$$eval('.device-card', (c) => c.length),
        (n) => n === count,
      );
    };
    await add(12, 2);
    await add(22, 3);
    await add(22, 4);
    await add(22, 5);
    const draw = async (from: string, to: string) => {
      await press(`Draw a cable at ${from}`);
      await press(`Plug the cable in at ${to}`);
      await until(
        'drawn',
        () => page.$(`.cable-label[aria-label="DIN cable from ${from} to ${to}"]`),
        Boolean,
      );
    };
    await draw('Interface Out 1', 'Device In');
    await draw('Device Thru', 'Device 2 In');
    await draw('Interface Out 2', 'Device 3 In');
    // Escape lets go of a cable that was picked up.
    await press('Draw a cable at Device 3 Thru');
    await textIs(page, '.notice', (t) => t.startsWith('A cable is in hand'));
    await key.press('Escape');
    await until(
      'let go',
      () => textOf(page, '.rig-place .notice'),
      (t) => t === null,
    );

    await press(/^Device 2 ch/);
    // The rooms are one stop of the Tab key; the arrows go from one to the next.
    await tabTo('Device');
    await key.press('ArrowLeft');
    await page.waitForSelector('.new-row .c-name');
    await tabTo(/^new function/);
    await paste(page, COPIED);
    await textIs(page, '.notice', (t) => t.includes('5 rows pasted.'));
    // Back to a cell with the arrows, typed over, undone.
    await page.focus('.chart-grid .c-name[tabindex="0"]');
    await key.press('ArrowRight');
    await key.press('ArrowRight');
    await key.type('99');
    await key.press('Enter');
    await until(
      'typed',
      async () =>
        (await rigs())[0]!.doc.devices.some((d) =>
          d.chart.some((f) => JSON.stringify(f.drive).includes('99')),
        ),
      Boolean,
    );
    await key.down('Control');
    await key.press('z');
    await key.up('Control');
    await saved(page);
    await until(
      'kept',
      async () => (await rigs())[0]!.doc,
      (rig) => !JSON.stringify(rig).includes('"controller":99'),
    );
    const [kept] = await rigs();
    expectWhole(kept!.doc);
    expect(page.troubles).toEqual([]);
  });
});

describe('charts from files', () => {
  const folder = mkdtempSync(join(tmpdir(), 'idle-step-charts-'));
  const roundel = demoRig.devices.find((d) => d.name === 'Roundel')!;
  const rig = () => running.app.get<Kept<FullRig>>(`/rigs/${demoRig.id}`);
  const chart = async () => (await rig()).doc.devices.find((d) => d.id === roundel.id)!.chart;
  const openChart = async () => {
    const page = await openPage(running.browser, running.app.base, `/rig/${roundel.id}/chart`);
    await page.waitForSelector('.chart-grid');
    return page;
  };
  const load = async (page: Page, name: string, content: string | Uint8Array) => {
    const path = join(folder, name);
    writeFileSync(path, content);
    await page.evaluate(() => document.querySelector<HTMLElement>('.rig-place .notice .btn')?.click());
    await until(
      'closed',
      () => textOf(page, '.rig-place .notice'),
      (t) => t === null,
    );
    const input = (await page.$('input[type="file"]')) as ElementHandle<HTMLInputElement>;
    await input.uploadFile(path);
    return textIs(page, '.rig-place .notice', (t) => t !== '');
  };
  const kelpline = demoRig.devices.find((d) => d.name === 'Kelpline')!;
  const CSV = writeChartCsv(kelpline.chart.filter((f) => f.under === null));
  const MIDNAM = writeMidnam(
    midnamOfChart(kelpline.chart, {
      manufacturer: 'Quayside',
      model: 'Reed',
      programsShownFrom: 1,
      programPattern: null,
    }),
  );

  it('that are not right are refused whole, each with its reason, and nothing changes', async () => {
    const page = await openChart();
    const before = await rig();
    const latin1 = Buffer.from(CSV.replace('Snapshot', 'Überblick'), 'latin1');
    const cases: [string, string | Uint8Array, RegExp][] = [
      [
        'entity.midnam',
        MIDNAM.replace(/<!DOCTYPE[^>]*>/, '<!DOCTYPE x [<!ENTITY e SYSTEM "file:///etc/passwd">]>'),
        /Line 2: The file declares entities/,
      ],
      [
        'big.midnam',
        new Uint8Array(50 * 1024 * 1024).fill(0x20),
        /big\.midnam has 50 MB; charts are read up to 2 MB/,
      ],
      ['cut.midnam', MIDNAM.slice(0, MIDNAM.length / 2), /may be cut off/],
      ['cut.csv', CSV.slice(0, CSV.length / 2), /may be cut off/],
      ['latin.csv', latin1, /latin\.csv is not written in UTF-8: byte \d+, in line 3\. Save it as UTF-8\./],
      [
        'wide.csv',
        Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from(CSV, 'utf16le'), Buffer.from([0x41])]),
        /written in UTF-16 and damaged or cut off; save it as UTF-8/,
      ],
      ['latin.midnam', Buffer.from(MIDNAM.replace('Reed', 'Röhr'), 'latin1'), /not written in UTF-8/],
      ['said.midnam', MIDNAM.replace('UTF-8', 'ISO-8859-1'), /its encoding is ISO-8859-1; save it as UTF-8/],
      ['nothing.csv', '', /The file is empty/],
    ];
    for (const [name, content, sentence] of cases) {
      const told = await load(page, name, content);
      expect([name, told]).toEqual([name, expect.stringMatching(sentence) as string]);
      expect(told).toContain('Nothing was added.');
    }
    await new Promise((resolve) => setTimeout(resolve, 900));
    expect(await rig()).toEqual(before);
    expect(page.troubles).toEqual([]);
  });

  it('200 damaged ones: none crashes the page, none is half imported', async () => {
    const page = await openChart();
    const damaged = (text: string, seed: number) =>
      fc.sample(
        fc
          .tuple(
            fc.nat(text.length - 1),
            fc.integer({ min: 1, max: 40 }),
            fc.constantFrom('cut', 'junk', 'end'),
          )
          .map(([at, length, how]) =>
            how === 'end'
              ? text.slice(0, at)
              : text.slice(0, at) + (how === 'junk' ? '<"&\u0000;' : '') + text.slice(at + length),
          ),
        { seed, numRuns: 100 },
      );
    const files = [...damaged(CSV, 41), ...damaged(MIDNAM, 42)];
    const before = (await chart()).length;
    const seen = { refused: 0, whole: 0 };
    // The input takes every file in turn in the page itself; what it says after each is looked at.
    for (const text of files) {
      const told = await page.evaluate(async (t) => {
        const notice = () => document.querySelector<HTMLElement>('.rig-place .notice');
        notice()?.querySelector<HTMLElement>('.btn')?.click();
        for (let i = 0; i < 200 && notice(); i++) await new Promise((r) => setTimeout(r, 2));
        const data = new DataTransfer();
        data.items.add(new File([t], 'damaged.txt'));
        const input = document.querySelector<HTMLInputElement>('input[type="file"]')!;
        input.files = data.files;
        input.dispatchEvent(new Event('change', { bubbles: true }));
        for (let i = 0; i < 1000 && !notice(); i++) await new Promise((r) => setTimeout(r, 2));
        const said = notice()?.innerText ?? 'silence';
        const rows = Number(/(\d+) functions/.exec(document.querySelector('.chart-foot')!.textContent!)?.[1]);
        return { said, rows };
      }, text);
      const expected = text.trimStart().startsWith('<') ? readMidnam(text) : readChartCsv(text, 3);
      expect(told.said).toMatch(expected.ok ? /functions added|Nothing was added/ : /Nothing was added/);
      if (told.said.includes('Nothing was added')) seen.refused++;
      else {
        // Read whole: every row of it or none. Undo takes it away again.
        seen.whole++;
        expect(Number(/(\d+) functions added/.exec(told.said)![1])).toBe(told.rows - before);
        await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
        await page.keyboard.down('Control');
        await page.keyboard.press('z');
        await page.keyboard.up('Control');
      }
      await textIs(page, '.chart-foot', (t) => t.startsWith(`${before} functions`));
    }
    expect(seen.refused).toBeGreaterThan(100);
    expect((await chart()).length).toBe(before);
    expect(page.troubles).toEqual([]);
  });

  it('come back as they were: saved as CSV and as MIDNAM, and loaded into an empty chart', async () => {
    const page = await openPage(running.browser, running.app.base, `/rig/${kelpline.id}/chart`);
    await page.waitForSelector('.chart-grid');
    const client = await page.createCDPSession();
    await client.send('Browser.setDownloadBehavior', {
      behavior: 'allow',
      downloadPath: folder,
      browserContextId: page.browserContext().id!,
    });
    for (const item of ['CSV, everything', 'MIDNAM, names only']) {
      await page.locator('.chart-tools [aria-label="Save as"]').click();
      await page.locator(`.dropdown-item ::-p-text(${item})`).click();
    }
    const file = async (ending: string) => {
      const name = await until(
        'file',
        async () => readdirSync(folder).find((f) => f.startsWith('Kelpline') && f.endsWith(ending)),
        Boolean,
      );
      return readFileSync(join(folder, name!), 'utf8');
    };
    expect(readChartCsv(await file('.csv'), 3)).toEqual({
      ok: true,
      value: kelpline.chart.map(({ id: _id, ...row }) => row),
    });
    expect(readMidnam(await file('.midnam'))).toMatchObject({ ok: true, value: { models: ['Kelpline'] } });
    expect(page.troubles).toEqual([]);
  });
});

describe('what is in use', () => {
  it('is removed only after the places were named, is taken out there too, and comes back', async () => {
    const page = await openPage(running.browser, running.app.base, '/rig');
    const texts = async () => ({
      rig: (await running.app.get<Kept<FullRig>>(`/rigs/${demoRig.id}`)).doc,
      songs: (await running.app.get<Kept<Song>[]>(`/songs?rigId=${demoRig.id}`)).map((k) => k.doc),
      presets: (await running.app.get<Kept<{ id: string }>[]>(`/presets?rigId=${demoRig.id}`)).map(
        (k) => k.doc,
      ),
    });
    const before = await texts();
    await page.locator('.device-card ::-p-text(Twig 4)').click();
    await page.locator('[aria-label="Remove Twig 4"]').click();
    await textIs(page, '.modal-body', (t) => t.startsWith('Twig 4 is in use') && t.includes('all of it'));
    expect(await axeViolations(page)).toEqual([]);
    await pressButton(page, 'Keep it');
    await page.locator('.device-card ::-p-text(Deckhouse)').click();
    await page.locator('[aria-label="Remove Deckhouse"]').click();
    await textIs(page, '.modal-body', (t) => t.includes('song Heron'));
    await pressButton(page, 'Remove it, and take it out there');
    await textIs(page, '.toast', (t) => t.startsWith('Deckhouse was removed, and taken out of'));
    const without = await texts();
    expect(without.rig.devices.map((d) => d.name)).not.toContain('Deckhouse');
    await page.locator('.toast ::-p-text(Undo)').click();
    const isAsBefore = (now: unknown) => JSON.stringify(now) === JSON.stringify(before);
    await until('back', texts, isAsBefore);
    // A step like any other: done again whole, and undone whole.
    await page.locator('.place-head h1').click();
    await chord(page, 'Control', 'Shift', 'Z');
    await until('gone again', texts, (now) => JSON.stringify(now) === JSON.stringify(without));
    await chord(page, 'Control', 'z');
    await until('back again', texts, isAsBefore);
    expect(page.troubles).toEqual([]);
  });

  it('undo goes on behind a removal: the steps of a preset that went with its board come back with it', async () => {
    const page = await openPage(running.browser, running.app.base, '/floor');
    const preset = async () =>
      (await running.app.get<Kept<Preset>[]>(`/presets?rigId=${demoRig.id}`)).find(
        (k) => k.doc.boardId === demoRig.boards[1]!.id,
      )?.doc;
    const first = (await preset())!;
    await page.locator('.tabs a::-p-text(Twig 4)').click();
    await page.locator('[aria-label="Add a bank"]').click();
    await until('a bank more', preset, (p) => p?.banks.length === first.banks.length + 1);
    await page.locator('.rail a[href="/rig"]').click();
    await page.locator('.device-card ::-p-text(Twig 4)').click();
    await page.locator('[aria-label="Remove Twig 4"]').click();
    await pressButton(page, 'Remove it, and take it out there');
    await until('gone', preset, (p) => p === undefined);
    await page.locator('.place-head h1').click();
    await chord(page, 'Control', 'z');
    await until('back', preset, (p) => p?.banks.length === first.banks.length + 1);
    await chord(page, 'Control', 'z');
    await until('as it was', preset, (p) => JSON.stringify(p) === JSON.stringify(first));
    expect(await page.$('.notice.danger')).toBeNull();
    expect(page.troubles).toEqual([]);
  });
});

describe('real ports', () => {
  it('are present, held, gone and there again, each with what to do; bound again by name', async () => {
    const page = await openWithPorts(running.browser, running.app.base, '/rig');
    await bindPort(page, 'Crossbar', 'In 1', 'Blue box 1');
    await bindPort(page, 'Crossbar', 'Out A', 'Blue box A');
    const state = (port: string) =>
      textOf(page, `tr:has([aria-label="${port} is at this computer"]) .bound-port > span`);
    const stateIs = (port: string, words: RegExp) =>
      until(
        port,
        () => state(port),
        (t) => words.test(t ?? ''),
      );
    await stateIs('In 1', /^present$/);
    await fake(page, (f) => f.hold('Blue box 1', true));
    await stateIs('In 1', /^busy: another program holds it/);
    await fake(page, (f) => f.hold('Blue box 1', false));
    await stateIs('In 1', /^present$/);
    await fake(page, (f) => f.unplug('Blue box 1'));
    await stateIs('In 1', /^absent: plug it in/);
    // Half a message was on the wire when the plug was pulled; it is not continued afterwards.
    await fake(page, (f) => f.plug('Blue box 1'));
    await stateIs('In 1', /^present$/);
    await textIs(page, '.messages', (t) => t.includes('Blue box 1 is there again, bound to Crossbar In 1'));
    await fake(page, (f) => f.deliver('Blue box 1', [0xbf, 0x24, 0x7f]));
    await until(
      'sent',
      () => fake(page, (f) => f.sent('Blue box A')),
      (s) => hexOf(s).join() === 'B2 18 7F',
    );
    // Not enabled for playing: nothing passes, and the monitor says so.
    await page.locator('[aria-label="In 1 is enabled for playing"]').click();
    await stateIs('In 1', /^disabled/);
    await fake(page, (f) => f.deliver('Blue box 1', [0xbf, 0x24, 0x00, 0xbf, 0x24, 0x7f]));
    await textIs(page, '.messages', (t) => t.includes('Crossbar In 1 is not enabled for playing'));
    expect(hexOf(await fake(page, (f) => f.sent('Blue box A')))).toEqual(['B2 18 7F']);
    await page.locator('[aria-label="In 1 is enabled for playing"]').click();
    await stateIs('In 1', /^present$/);
    await saved(page);
    expect(page.troubles).toEqual([]);
  });
});

describe('the monitor', () => {
  it('records everything at a thousand messages a second, pauses without losing, and says when it thins out drawing', async () => {
    const page = await openWithPorts(running.browser, running.app.base, '/rig');
    await bindPort(page, 'Crossbar', 'In 2', 'Blue box 1');
    await pressButton(page, 'Clear');
    const foot = () => textOf(page, '.drawer-foot');
    const sendAll = (from: number, count: number) =>
      page.evaluate(
        async (first, n) => {
          const { midiFake } = window as unknown as {
            midiFake: { deliver(name: string, bytes: number[]): void };
          };
          const begun = performance.now();
          for (let i = 0; i < n;) {
            const due = Math.min(n, Math.floor(performance.now() - begun) + 1);
            for (; i < due; i++) midiFake.deliver('Blue box 1', [0xb0, (first + i) >> 7, (first + i) & 127]);
            await new Promise((resolve) => setTimeout(resolve, 4));
          }
        },
        from,
        count,
      );
    const firstRun = sendAll(0, 2000);
    await until('thinned', foot, (t) => /\d+\/s: drawn every 2 s, all recorded/.test(t ?? ''));
    await pressButton(page, 'Pause; nothing is lost');
    await firstRun;
    await sendAll(2000, 1000);
    await until('waiting', foot, (t) => /^Paused; \d{4,} more recorded/.test(t ?? ''));
    await pressButton(page, 'Go on');
    await until('over', foot, (t) => !/\/s/.test(t ?? ''));
    await pressButton(page, 'Make the monitor wide');
    await textIs(page, '.filter-bar', (t) => t.includes('3000 lines'));
    // Every one of them, each once and in order, as it is written out.
    const folder = mkdtempSync(join(tmpdir(), 'idle-step-monitor-'));
    const client = await page.createCDPSession();
    await client.send('Browser.setDownloadBehavior', {
      behavior: 'allow',
      downloadPath: folder,
      browserContextId: page.browserContext().id!,
    });
    await page.locator('.filter-bar ::-p-text(Save as CSV)').click();
    const name = await until(
      'file',
      () => Promise.resolve(readdirSync(folder).find((f) => f.endsWith('.csv'))),
      Boolean,
    );
    const lines = readFileSync(join(folder, name!), 'utf8').trim().split('\r\n').slice(1);
    const numbers = lines.map((l) => {
      const [, controller, value] = /"B0 ([0-9A-F]{2}) ([0-9A-F]{2})"$/.exec(l)!;
      return (parseInt(controller!, 16) << 7) | parseInt(value!, 16);
    });
    expect(numbers).toEqual(Array.from({ length: 3000 }, (_, i) => i));
    await page.locator('[aria-label="Search the monitor"]').fill('Ch 1 CC 3 = 5');
    await textIs(page, '.filter-bar', (t) => t.includes('11 lines'));
    expect(page.troubles).toEqual([]);
  });

  it('a line keeps its row while new ones come on top of it, at its place in the list', async () => {
    const page = await openWithPorts(running.browser, running.app.base, '/rig');
    await bindPort(page, 'Crossbar', 'In 1', 'Blue box 1');
    const rows = () =>
      page.$$eval('.messages li', (list) =>
        list.map((li) => ({
          bytes: li.querySelector('.raw')?.textContent,
          top: Math.round(
            li.getBoundingClientRect().top - li.closest('.messages')!.getBoundingClientRect().top,
          ),
          isMarked: 'marked' in (li as HTMLElement).dataset,
        })),
      );
    const deliver = (...values: number[]) =>
      page.evaluate(
        (bytes) =>
          (
            window as unknown as { midiFake: { deliver(name: string, bytes: number[]): void } }
          ).midiFake.deliver('Blue box 1', bytes),
        values.flatMap((value) => [0xb0, 3, value]),
      );
    const newest = (bytes: string) => until(bytes, rows, ([row]) => row?.bytes === bytes);
    await deliver(50, 51, 52, 53, 54, 55, 1);
    await newest('B0 03 01');
    await page.$eval('.messages li', (li) => li.setAttribute('data-marked', ''));
    for (const value of [2, 3, 4]) {
      await deliver(value);
      await newest(`B0 03 0${value}`);
    }
    const marked = (await rows()).findIndex((r) => r.isMarked);
    const list = await rows();
    expect(list[marked]).toEqual({ bytes: 'B0 03 01', top: marked * 42, isMarked: true });
    expect(list.map((r) => r.top)).toEqual(list.map((_, i) => i * 42));
    expect(list.slice(0, 4).map((r) => r.bytes)).toEqual(['B0 03 04', 'B0 03 03', 'B0 03 02', 'B0 03 01']);
    // More at once than are in sight: the rows that stand take the new words.
    await page.$eval('.messages li', (li) => void Object.assign(window, { row: li }));
    await deliver(...Array.from({ length: 100 }, (_, i) => i + 10));
    await newest('B0 03 6D');
    expect(await page.$eval('.messages li', (li) => (window as unknown as { row: Element }).row === li)).toBe(
      true,
    );
    expect(page.troubles).toEqual([]);
  });

  it('shows what a device reports against what it was told', async () => {
    const kept = await running.app.get<Kept<FullRig>>(`/rigs/${demoRig.id}`);
    const reporting: FullRig = {
      ...kept.doc,
      devices: kept.doc.devices.map((d) =>
        d.name === 'Deckhouse'
          ? {
              ...d,
              ports: [
                ...d.ports,
                { ...d.ports[0]!, id: crypto.randomUUID(), name: 'Host out', direction: 'out' as const },
              ],
            }
          : d,
      ),
    };
    const put = await fetch(`${running.app.base}/api/rigs/${demoRig.id}`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json', 'If-Match': `"${kept.version}"` },
      body: JSON.stringify(reporting),
    });
    expect(put.status).toBe(200);
    const page = await openWithPorts(running.browser, running.app.base, '/rig');
    await bindPort(page, 'Deckhouse', 'Host out', 'Twig small');
    await pressButton(page, 'Make the monitor wide');
    const newest = (words: RegExp) =>
      until(
        String(words),
        () =>
          page.$$eval('.messages li', (lines) =>
            lines.map((l) => (l as HTMLElement).innerText.replace(/\s+/g, ' ')).join('\n'),
          ),
        (text) => words.test(text),
      );
    // Far 2 arms the bow: controller 102 on channel 1, as the demo's chart says.
    await page.locator('[data-control="far 2"]').click();
    await newest(/Deckhouse · Arm Bow on/);
    await fake(page, (f) => f.deliver('Twig small', [0xb0, 0x66, 0x7f]));
    await newest(/Deckhouse · Arm Bow on, as told/);
    await page.locator('[data-control="far 2"]').click();
    await newest(/Deckhouse · Arm Bow off/);
    await fake(page, (f) => f.deliver('Twig small', [0xb0, 0x66, 0x7f]));
    await newest(/Deckhouse · Arm Bow on, expected off/);
    expect(page.troubles).toEqual([]);
  });

  it('tells what was touched, where it arrives, and what would answer', async () => {
    const page = await openWithPorts(running.browser, running.app.base, '/rig');
    await bindPort(page, 'Crossbar', 'In 1', 'Blue box 1');
    await bindPort(page, 'Crossbar', 'In 2', 'Twig small');
    await page.locator('.place-head ::-p-text(What is this?)').click();
    // A knob nobody wrote down, between clock and active sensing: controller 91 on channel 3 is Kelpline's reverb.
    await fake(page, (f) => f.deliver('Twig small', [0xf8, 0xb2, 0x5b, 0x14, 0xfe, 0x5b, 0x60]));
    await textIs(page, '.seen-list', (t) => t.includes('Would answer: Kelpline Reverb mix 96'));
    await textIs(page, '.seen-list', (t) => t.includes('controller 91 (Effects 1 depth), channel 3'));
    await textIs(page, '.seen-list', (t) => t.includes('arrives at Crossbar In 2 20 to 96, 2 messages'));
    await page.locator('[data-control="far 1"]').click();
    await textIs(page, '.seen-list li', (t) => t.startsWith('Plank 10, far 1'));
    // A port that is not enabled for learning is not listened to.
    await page.locator('[aria-label="In 2 is enabled for learning"]').click();
    await fake(page, (f) => f.deliver('Twig small', [0xb2, 0x14, 0x40]));
    await fake(page, (f) => f.deliver('Blue box 1', [0xb2, 0x07, 0x40]));
    await textIs(page, '.seen-list li', (t) => t.includes('controller 7'));
    expect(await textOf(page, '.seen-list')).not.toContain('controller 20');
    expect(page.troubles).toEqual([]);
  });
});
