import type { FullRig } from '@idle-step/core/routing';
import type { Song, Setlist } from '@idle-step/core/show';
import { axeViolations } from './support/axe';
import type { Kept } from '@idle-step/contract';
import { demoRig, demoSets, demoSongs } from '@idle-step/demo';
import type { Page } from 'puppeteer-core';
import { describe, expect, inject, it } from 'vitest';
import {
  choose,
  fill,
  openPage,
  pressButton,
  RunningApp,
  textIs,
  textOf,
  until,
  useApp,
  usePage,
  valueOf,
} from './support/app';

const running = useApp();

const slowFerry = demoSongs[3]!;
const kelplineId = demoRig.devices.find((d) => d.name === 'Kelpline')!.id;
const plank = demoRig.boards[0]!.id;
const undo = async (page: Page) => {
  await page.keyboard.down('Control');
  await page.keyboard.press('z');
  await page.keyboard.up('Control');
};

describe('bad input in the page: a sentence at its place, the text kept, nothing stored', () => {
  const alert = (page: Page) => textOf(page, '[role="alert"]');
  const rig = () => running.app.get<Kept<FullRig>>(`/rigs/${demoRig.id}`);
  const pageAt = usePage(running);

  it.each([
    ['Channel', '17', 'Channel 17 does not exist; channels are 1 to 16 (sent as 0 to 15).'],
    ['Channel', 'three', 'Channel “three” is not a whole number; channels are 1 to 16 (sent as 0 to 15).'],
    ['Name', '', 'The name is empty; one character is enough.'],
  ])('%s “%s” of a device', async (label, typed, sentence) => {
    const before = await rig();
    const page = await pageAt(`/rig/${kelplineId}/device`);
    await page.waitForSelector('.device-settings');
    await fill(page, label, typed);
    expect(
      await until(
        'sentence',
        () => alert(page),
        (t) => t !== null,
      ),
    ).toBe(sentence);
    expect(await valueOf(page, label)).toBe(typed);
    expect(await rig()).toEqual(before);
  });

  it('controller 128 of a function', async () => {
    const page = await pageAt(`/rig/${kelplineId}`);
    const cell = '.chart-grid tbody tr:nth-child(2) .c-message';
    await textIs(page, cell, (t) => t === 'CC 22');
    await page.locator(cell).click();
    await page.keyboard.press('Enter');
    await page.keyboard.type('CC 128');
    await page.keyboard.press('Enter');
    expect(
      await until(
        'sentence',
        () => alert(page),
        (t) => t !== null,
      ),
    ).toBe('Controller 128 is out of range; 0 to 127 would be right.');
    await textIs(page, cell, (t) => t === 'CC 128');
    await page.locator(cell).click();
    await page.keyboard.type('cc 22');
    await page.keyboard.press('Enter');
    await textIs(page, cell, (t) => t === 'CC 22');
    expect(await alert(page)).toBeNull();
  });

  it('bytes that are no whole messages', async () => {
    const page = await pageAt('/floor');
    await page.locator('[data-control="far 4"]').click();
    await page.locator('.action-open').click();
    await choose(page, 'Does', 'send raw bytes');
    await fill(page, 'Bytes, in hexadecimal', 'B2 16');
    expect(
      await until(
        'sentence',
        () => alert(page),
        (t) => t !== null,
      ),
    ).toBe('incomplete at byte 3; whole messages like B2 16 02 would be right.');
    await fill(page, 'Bytes, in hexadecimal', 'B2 ZZ 02');
    await textIs(
      page,
      '[role="alert"]',
      (t) => t === '“ZZ”, word 2, is no byte; two digits 00 to FF like B2 would be right.',
    );
    await fill(page, 'Bytes, in hexadecimal', 'B2 16 02');
    await textIs(page, '[data-testid="wire-bytes"]', (t) => t.startsWith('B2') && t.includes('02'));
  });

  it('a number that its device keeps is said where it is typed', async () => {
    const keeps = 'Kelpline keeps CC 102 for its own hardware, so nothing will happen.';
    const page = await pageAt('/floor');
    await page.locator('[data-control="far 4"]').click();
    if (!(await page.$('.action-editor'))) await page.locator('.action-open').click();
    await choose(page, 'Does', 'send a note, CC or program');
    await choose(page, 'To', 'Kelpline');
    await choose(page, 'Sends', 'controller');
    await fill(page, 'Controller', '102');
    await textIs(page, '.action-editor .row-warning', (t) => t === keeps);
    await fill(page, 'Controller', '110');
    await until(
      'over',
      () => textOf(page, '.action-editor .row-warning'),
      (t) => t !== keeps,
    );
  });

  it('a song that is gone, by its address', async () => {
    const page = await pageAt('/songs/00000000-0000-4000-8000-00000000dead');
    await textIs(page, '.empty-place', (t) => t.startsWith('This song is gone'));
  });
});

describe('the cue sheet, by keyboard alone', () => {
  it('moves, sets, refuses, carries over and takes back', async () => {
    const page = await openPage(running.browser, running.app.base, `/songs/${slowFerry.id}`);
    await page.waitForSelector('[role="gridcell"]');
    await page.focus('[role="gridcell"]');
    for (const key of ['ArrowRight', 'ArrowRight', 'ArrowDown'] as const) await page.keyboard.press(key);
    const inHand = () => page.$eval('[data-cell="in-hand"]', (e) => e.getAttribute('aria-label'));
    await until('cell', inHand, (l) => l === 'Kelpline Snapshot in Chorus: 3 Full');
    await page.keyboard.type('9');
    await page.keyboard.press('Enter');
    await textIs(
      page,
      '.cue-room [role="alert"]',
      (t) => t === '“9” is not a value of Snapshot; 1 to 8 would be right.',
    );
    expect(await page.$eval('.cell-input', (e) => (e as HTMLInputElement).value)).toBe('9');
    await page.keyboard.press('Backspace');
    await page.keyboard.type('5');
    // Taken over, and on to the line below; back up.
    await page.keyboard.press('Enter');
    await page.keyboard.press('ArrowUp');
    await until('set', inHand, (l) => l === 'Kelpline Snapshot in Chorus: 5 Octave');
    await page.keyboard.press('Delete');
    await until('carried', inHand, (l) => l === 'Kelpline Snapshot in Chorus: 2 Body, carried');
    await undo(page);
    await undo(page);
    await until('back', inHand, (l) => l === 'Kelpline Snapshot in Chorus: 3 Full');
    await textIs(page, '.save-state', (t) => /^saved \d/.test(t));
    expect((await running.app.get<Kept<Song>>(`/songs/${slowFerry.id}`)).doc).toEqual(slowFerry);
    expect(page.troubles).toEqual([]);
  });

  it('digits typed into the grid press no switch', async () => {
    const page = await openPage(running.browser, running.app.base, `/songs/${slowFerry.id}`);
    await page.waitForSelector('[role="gridcell"]');
    await textIs(page, '.where', (t) => t.includes('not begun'));
    await page.focus('[role="gridcell"]');
    await page.keyboard.press('5');
    // Whatever a press would have done is on the screen by the next frame.
    await page.evaluate(() => new Promise((resolve) => setTimeout(resolve, 100)));
    expect(await textOf(page, '.where')).toContain('not begun');
  });
});

describe('the running order', () => {
  const order = async () =>
    (await running.app.get<Kept<Setlist>>(`/sets/${demoSets[1]!.id}`)).doc.entries.map((e) => e.id);
  const first = demoSets[1]!.entries.map((e) => e.id);

  it('is changed by drag, by picking up with Space, and by Alt and an arrow; undo takes each back', async () => {
    const page = await openPage(running.browser, running.app.base, `/sets/${demoSets[1]!.id}`);
    await page.waitForSelector('.order li');
    const handles = await page.$$('.order .handle');
    const [from, to] = [(await handles[0]!.boundingBox())!, (await handles[2]!.boundingBox())!];
    await page.mouse.move(from.x + 8, from.y + 12);
    await page.mouse.down();
    for (let i = 1; i <= 12; i++)
      await page.mouse.move(from.x + 8, from.y + 12 + ((to.y - from.y + 6) * i) / 12);
    // Where it lies now is looked at with the next frame; a hand rests there for longer.
    await new Promise((resolve) => setTimeout(resolve, 300));
    await page.mouse.up();
    await until('dragged', order, (o) => o[2] === first[0]);
    await page.focus('.order .handle');
    await page.keyboard.press('Space');
    await new Promise((resolve) => setTimeout(resolve, 150));
    await page.keyboard.press('ArrowDown');
    await new Promise((resolve) => setTimeout(resolve, 300));
    await page.keyboard.press('Space');
    await until('picked up and moved', order, (o) => o[1] === first[1]);
    await page.focus('.order li:nth-child(5) .handle');
    await page.keyboard.down('Alt');
    await page.keyboard.press('ArrowUp');
    await page.keyboard.up('Alt');
    await until('stepped', order, (o) => o[3] === first[4]);
    await page.focus('.wordmark');
    for (let i = 0; i < 3; i++) await undo(page);
    await until('as it was', order, (o) => o.join() === first.join());
    expect(page.troubles).toEqual([]);
  });

  it('the notice of what was deleted is not shown on stage, and ends when undo takes it back', async () => {
    const page = await openPage(running.browser, running.app.base, `/sets/${demoSets[1]!.id}`);
    const notice = () => page.$eval('.toast-body', (e) => e.textContent).catch(() => null);
    await pressButton(page, `Delete ${demoSets[1]!.name}`);
    await until('told', notice, (t) => t?.includes('was deleted') ?? false);
    // It covers neither the place nor the boards.
    const covered = await page.evaluate(() => {
      const toast = document.querySelector('.toast')!.getBoundingClientRect();
      return ['.work', '.dock', '.rail', '.drawer, .monitor'].filter((part) =>
        [...document.querySelectorAll(part)].some((e) => {
          const r = e.getBoundingClientRect();
          return r.top < toast.bottom && r.bottom > toast.top && r.left < toast.right && r.right > toast.left;
        }),
      );
    });
    expect(covered).toEqual([]);
    await page.locator('a[href="/stage"]').click();
    await page.waitForSelector('.stage-now');
    expect(await notice()).toBeNull();
    await page.goBack();
    await until('told again', notice, (t) => t?.includes('was deleted') ?? false);
    await page.focus('.wordmark');
    await undo(page);
    await until('over', notice, (t) => t === null);
    await until(
      'back',
      () => running.app.get<unknown[]>('/sets'),
      (s) => s.length === 2,
    );
    expect(page.troubles).toEqual([]);
  });

  it('a deleted set can be brought back', async () => {
    const page = await openPage(running.browser, running.app.base, `/sets/${demoSets[1]!.id}`);
    await pressButton(page, `Delete ${demoSets[1]!.name}`);
    await textIs(page, '.toast', (t) => t.includes('was deleted'));
    expect(await running.app.get<unknown[]>('/sets')).toHaveLength(1);
    await pressButton(page, 'Undo');
    await until(
      'back',
      () => running.app.get<unknown[]>('/sets'),
      (s) => s.length === 2,
    );
  });
});

describe('from nothing', () => {
  it('a newcomer makes a rig, a preset, a song and a set, and plays it', async () => {
    const empty = await RunningApp.start(inject('databaseUrl'), { withDemo: false });
    const page = await openPage(running.browser, empty.base, '/');
    await pressButton(page, 'Start a rig');
    await pressButton(page, 'Leave this, and write the rig down by hand');
    await pressButton(page, 'Add a foot board');
    await page.locator('::-p-text(Add device)').click();
    await page.locator('::-p-text(String processor, with its stand-in)').click();
    await textIs(page, '.save-state', (t) => /^saved \d/.test(t));
    await page.goto(`${empty.base}/floor`);
    await pressButton(page, 'Start a preset');
    await page.locator('[data-control="near 1"]').click();
    await pressButton(page, 'Add an action on press');
    await choose(page, 'Does', 'go to a scene');
    await page.goto(`${empty.base}/songs`);
    await pressButton(page, 'Write a song');
    await page.waitForSelector('.add-row input');
    await choose(page, 'Add a line to the sheet', 'String processor: Snapshot');
    await page.waitForSelector('[data-cell="in-hand"]');
    await page.keyboard.type('4');
    await page.keyboard.press('Enter');
    await textIs(page, '.save-state', (t) => /^saved \d/.test(t));
    await page.goto(`${empty.base}/sets`);
    await pressButton(page, 'Make a set');
    await page.locator('.order-tools ::-p-text(Song)').click();
    await page.locator('.long-menu ::-p-text(New song)').click();
    await textIs(page, '.save-state', (t) => /^saved \d/.test(t));
    await page.goto(`${empty.base}/rig`);
    await page.waitForSelector('[data-control="near 1"]');
    // In its first moment a page may still play the show that it kept before: then it is pressed again.
    const press = async () => {
      await page.locator('[data-control="near 1"]').click();
      return (await textOf(page, '[data-figure="Snapshot"]')) ?? '';
    };
    await until('the snapshot', press, (t) => t.includes('4'));
    expect(page.troubles).toEqual([]);
    await empty.kill();
  });
});

describe('the cue sheet', () => {
  it('has every value of a scene under its head', async () => {
    const page = await openPage(running.browser, running.app.base, `/songs/${slowFerry.id}`);
    await page.waitForSelector('.cue-grid [role="gridcell"]');
    const edges = await page.$$eval('.cue-grid tbody tr', (rows) =>
      rows
        .map((row) =>
          [...row.querySelectorAll('[role="gridcell"]')].map((c) => c.getBoundingClientRect().left),
        )
        .filter((row) => row.length > 0),
    );
    expect(edges.length).toBeGreaterThan(3);
    for (const row of edges) expect(row).toEqual(edges[0]);
  });
});

describe('menus', () => {
  const pageAt = usePage(running);
  /** Each menu that can be opened in a place, and what lies over it at fifteen points of it. */
  const openEach = async (page: Page): Promise<[menu: string, over: string[]][]> => {
    const found: [string, string[]][] = [];
    for (const toggle of await page.$$('.work .dropdown-toggle:not(:disabled)')) {
      await toggle.click();
      await page.waitForSelector('.work .dropdown-menu.show');
      const over = await page.$eval('.work .dropdown-menu.show', (menu) => {
        const { left, top, width, height } = menu.getBoundingClientRect();
        return [0.1, 0.3, 0.5, 0.7, 0.9].flatMap((down) =>
          [0.1, 0.5, 0.9].flatMap((across) => {
            const seen = document.elementFromPoint(left + width * across, top + height * down);
            return seen && !menu.contains(seen) ? seen.className : [];
          }),
        );
      });
      found.push([await toggle.evaluate((t) => t.getAttribute('aria-label') ?? t.textContent), over]);
      await page.keyboard.press('Escape');
      await page.waitForSelector('.work .dropdown-menu.show', { hidden: true });
    }
    return found;
  };

  it.each([
    ['/rig', '.chart-grid', 3],
    ['/floor', '.control-editor', 3],
    [`/songs/${slowFerry.id}`, '.cue-grid', 1],
    ['/sets', '.order', 1],
  ])('of %s lie over what comes after them', async (path, selector, atLeast) => {
    const page = await pageAt(path);
    await page.waitForSelector(selector);
    const menus = await openEach(page);
    expect(menus.length).toBeGreaterThanOrEqual(atLeast);
    expect(menus.filter(([, over]) => over.length > 0)).toEqual([]);
  });
});

describe('every view passes axe', () => {
  const pageAt = usePage(running);

  it.each([
    ['/rig', '[role="gridcell"]'],
    [`/rig/${kelplineId}/device`, '.device-settings'],
    [`/rig/${kelplineId}/ports`, '.port-list'],
    [`/rig/${kelplineId}/numbers`, '.number-grid'],
    [`/rig/${kelplineId}/start-up`, '.start-up'],
    ['/rig', '.cable-label'],
    ['/rig', '.place-head ::-p-text(What is this?)'],
    ['/rig', '.place-head ::-p-text(Start-up)'],
    ['/floor', '.action-open'],
    ['/floor', '[data-control="pedal 1"]'],
    ['/floor', '.control-editor [aria-expanded]'],
    [`/floor/${plank}/table`, '.preset-grid'],
    [`/floor/${plank}/board`, '.plan-control'],
    [`/floor/${plank}/presets`, '.preset-folder'],
    [`/floor/${plank}/sends`, '.sends-list'],
    ['/routes', '.part[aria-label^="Gate"]'],
    ['/routes', '.part[aria-label^="Send: a swell"]'],
    ['/routes', '.part[aria-label^="Take"]'],
    [`/songs/${slowFerry.id}`, '[role="gridcell"]'],
    [`/songs/${slowFerry.id}`, '.scene-heads button'],
    ['/sets', '.order'],
    ['/stage', '[data-control="near 1"]'],
    ['/rig', '[aria-label="Make the monitor wide"]'],
  ])('%s with %s in hand', async (path, selector) => {
    const page = await pageAt(path);
    await page.locator(selector).click();
    await new Promise((resolve) => setTimeout(resolve, 200));
    expect(await axeViolations(page)).toEqual([]);
  });

  // Contrast is looked at in both themes everywhere; here the theme is chosen by its button.
  it.each(['/rig', `/songs/${slowFerry.id}`])('%s in blackout', async (path) => {
    const page = await pageAt(path);
    await page.waitForSelector('.save-state');
    if (!(await page.$('[data-bs-theme="dark"]'))) await pressButton(page, 'Blackout');
    await page.waitForSelector('[data-bs-theme="dark"]');
    await new Promise((resolve) => setTimeout(resolve, 200));
    expect(await axeViolations(page)).toEqual([]);
  });

  it('the stage in daylight', async () => {
    const page = await pageAt('/stage');
    await pressButton(page, 'Daylight');
    expect(await axeViolations(page)).toEqual([]);
  });
});
