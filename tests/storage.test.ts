import type { EveningLine, EveningLog } from '@idle-step/contract';
import { DEMO_PORT, demoRig } from '@idle-step/demo';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { fill, openBrowser, openPage, textIs, textOf, until, useApp } from './support/app';
import { answerNow, lateDisk, reads } from './support/lateDisk';
import { bindPort, fake, FAKE_SOURCE, hexOf, openPorts, plugIn } from './support/ports';

/** A browser that keeps nothing, or not all, or loses it in the middle of a set: the page opens, plays and says so. */

const running = useApp();

const sentence = (page: Page, has: RegExp) => textIs(page, '[data-testid="storage-off"]', (t) => has.test(t));
const deliver = (page: Page, ...bytes: number[]) =>
  page.evaluate(
    (b) =>
      (window as never as { midiFake: { deliver(n: string, b: number[]): void } }).midiFake.deliver(
        'Blue box 1',
        b,
      ),
    bytes,
  );
const out = (page: Page) => fake(page, (f) => f.sent('Blue box A')).then(hexOf);
const evenings = () => running.app.get<EveningLine[]>(`/evenings?rigId=${demoRig.id}`);

/** One step on. @returns where that is. */
async function goOn(page: Page): Promise<string> {
  const before = await textOf(page, '.now-text');
  await page.locator('.next-button').click();
  return (await until(
    'a step on',
    () => textOf(page, '.now-text'),
    (t) => t !== null && t !== before,
  ))!;
}

/** Begins the set in play. */
async function beginSet(page: Page): Promise<void> {
  await page.goto(`${running.app.base}/stage`);
  await page.waitForSelector('.stage-now');
  await textIs(page, '.stage-next small', (t) => t === 'begins with');
  await page.locator('.stage-set .btn').click();
  await textIs(page, '[data-testid="stage-set"]', (t) => t.includes('left'));
}

describe('a browser that refuses all storage', () => {
  const profile = mkdtempSync(join(tmpdir(), 'idle-step-refused-'));
  let browser: Browser;
  let page: Page;
  const troubles: string[] = [];
  beforeAll(async () => {
    // As somebody sets it who lets no site keep data. Source: Chromium's own preferences file.
    mkdirSync(join(profile, 'Default'), { recursive: true });
    writeFileSync(
      join(profile, 'Default', 'Preferences'),
      JSON.stringify({ profile: { default_content_setting_values: { cookies: 2 } } }),
    );
    browser = await openBrowser({ profile });
    page = await browser.newPage();
    await page.setViewport({ width: 1280, height: 800 });
    page.on('pageerror', (error) => troubles.push(String(error)));
    await page.evaluateOnNewDocument(FAKE_SOURCE);
    await page.goto(`${running.app.base}/rig`);
  });
  afterAll(async () => {
    await browser.close();
    rmSync(profile, { recursive: true, force: true });
  });

  it('opens, and says what will be lost', async () => {
    expect(
      await page.evaluate(() => {
        try {
          return typeof window.localStorage;
        } catch (error) {
          return (error as DOMException).name;
        }
      }),
    ).toBe('SecurityError');
    await page.waitForSelector('.device-card');
    await sentence(page, /refuses to keep anything.*which port is which.*where an evening stands are lost/);
    expect(troubles).toEqual([]);
  });

  it('plays: a press at a real port is sent, and edits are saved on the server', async () => {
    await openPorts(page);
    await bindPort(page, 'Crossbar', 'In 1', 'Blue box 1');
    await bindPort(page, 'Crossbar', 'Out A', 'Blue box A');
    await deliver(page, 0xbf, 0x24, 0x7f);
    await until(
      'sent',
      () => out(page),
      (sent) => sent.includes('B2 18 7F'),
    );
    await page.locator('.rail a[href="/songs"]').click();
    await page.waitForSelector('.cue-grid');
    await fill(page, 'Tempo, bpm', '91');
    await textIs(page, '.place-head .save-state', (t) => /^saved \d/.test(t));
    expect(troubles).toEqual([]);
  });

  it('plays a set, and its log is on the server all the same', async () => {
    const before = (await evenings()).length;
    await beginSet(page);
    await textIs(page, '.stage', (t) => !t.includes('the set lies in this browser'));
    await goOn(page);
    await until(
      'told',
      async () => (await evenings()).slice(0, (await evenings()).length - before),
      (lines) => lines.length === 1 && lines[0]!.lineCount > 0,
    );
    expect(troubles).toEqual([]);
  });
});

it('a browser that refuses its database opens, plays, says what is lost, and tells the log to the server', async () => {
  const page = await openPage(running.browser, running.app.base, '/songs', async (p) => {
    await plugIn(p, { [DEMO_PORT.crossbarIn1]: 'Blue box 1', [DEMO_PORT.crossbarOutA]: 'Blue box A' });
    await p.evaluateOnNewDocument(() => {
      IDBFactory.prototype.open = () => {
        throw new DOMException('Refused', 'SecurityError');
      };
    });
  });
  await sentence(page, /keeps nothing: where an evening stands.*are lost/);
  const before = (await evenings()).length;
  await beginSet(page);
  await goOn(page);
  await until(
    'told',
    async () => (await evenings()).length - before,
    (n) => n === 1,
  );
  expect(page.troubles).toEqual([]);
});

it('a full browser says so, and once there is room again keeps all of it', async () => {
  const page = await openPage(running.browser, running.app.base, '/songs', (p) =>
    plugIn(p, { [DEMO_PORT.crossbarIn1]: 'Blue box 1', [DEMO_PORT.crossbarOutA]: 'Blue box A' }),
  );
  await page.evaluateOnNewDocument(() => {
    // The disk fills while the page is open: what is written from then on does not fit.
    const put = IDBObjectStore.prototype.put;
    IDBObjectStore.prototype.put = function (...args: Parameters<typeof put>) {
      if ((window as never as { isFull?: boolean }).isFull)
        throw new DOMException('No room', 'QuotaExceededError');
      return put.apply(this, args);
    };
  });
  await beginSet(page);
  const set = (isFull: boolean) => page.evaluate((f) => void Object.assign(window, { isFull: f }), isFull);
  await set(true);
  const at = await goOn(page);
  await page.evaluate(() => history.pushState(null, '', '/songs'));
  await page.evaluate(() => dispatchEvent(new PopStateEvent('popstate')));
  await sentence(page, /disk space that this browser may use is full.*are lost/);
  await set(false);
  await until(
    'said no more',
    () => textOf(page, '[data-testid="storage-off"]'),
    (t) => t === null,
  );
  await page.goto(`${running.app.base}/stage`);
  await textIs(page, '.now-text', (t) => t === at);
  expect(page.troubles).toEqual([]);
});

it('cleared in the middle of a set, nothing of it is lost: neither its place nor a line of its log', async () => {
  let lets = false;
  const page = await openPage(running.browser, running.app.base, '/songs', async (p) => {
    await plugIn(p, { [DEMO_PORT.crossbarIn1]: 'Blue box 1', [DEMO_PORT.crossbarOutA]: 'Blue box A' });
    await p.setRequestInterception(true);
    // The server hears of the evening only later.
    p.on('request', (request) => {
      if (request.method() === 'POST' && request.url().endsWith('/api/evenings') && !lets)
        void request.abort();
      else void request.continue();
    });
  });
  const before = new Set((await evenings()).map((e) => e.id));
  await beginSet(page);
  await goOn(page);
  await deliver(page, 0xbf, 0x24, 0x7f);
  const client = await page.createCDPSession();
  const stored = () =>
    page.evaluate(
      () =>
        new Promise<number>((resolve, reject) => {
          const request = indexedDB.open('idle-step');
          request.onerror = () => reject(new Error('refused'));
          request.onsuccess = () => {
            const db = request.result;
            if (!db.objectStoreNames.contains('lines')) {
              db.close();
              resolve(0);
              return;
            }
            const count = db.transaction('lines').objectStore('lines').count();
            count.onsuccess = () => {
              db.close();
              resolve(count.result);
            };
          };
        }),
    );
  const count = await until('written', stored, (n) => n > 3);
  await client.send('Storage.clearDataForOrigin', { origin: running.app.base, storageTypes: 'indexeddb' });
  const at = await goOn(page);
  await until('written anew', stored, (n) => n > count);
  await page.reload();
  await textIs(page, '.now-text', (t) => t === at);
  lets = true;
  const [line] = await until(
    'told',
    async () => (await evenings()).filter((e) => !before.has(e.id)),
    (all) => all.length === 1 && all[0]!.lineCount > count,
  );
  const log = await running.app.get<EveningLog>(`/evenings/${line!.id}`);
  expect(log.entries.map((e) => e.number)).toEqual(log.entries.map((_, i) => i));
  expect(page.troubles).toEqual([]);
});

/** A set begun and one step on, on a disk that answers late from then on. @returns where it stands. */
async function beginOnLateDisk(): Promise<{ page: Page; at: string; troubles: readonly string[] }> {
  const page = await openPage(running.browser, running.app.base, '/songs', (p) =>
    plugIn(p, { [DEMO_PORT.crossbarIn1]: 'Blue box 1', [DEMO_PORT.crossbarOutA]: 'Blue box A' }),
  );
  await beginSet(page);
  const at = await goOn(page);
  await page.evaluateOnNewDocument(lateDisk, null);
  await page.reload();
  await textIs(page, '.stage-foot', (t) => t.startsWith('1 in, 1 out'));
  expect(await textOf(page, '.now-text')).not.toBe(at);
  return { page, at, troubles: page.troubles };
}

it('on a disk that answers late the evening goes on as soon as it is read, and nothing is written over it', async () => {
  const before = new Set((await evenings()).map((e) => e.id));
  const { page, at, troubles } = await beginOnLateDisk();
  await answerNow(page);
  await textIs(page, '.now-text', (t) => t === at);
  const next = await goOn(page);
  await page.reload();
  await answerNow(page);
  await textIs(page, '.now-text', (t) => t === next);
  const [line] = await until(
    'told',
    async () => (await evenings()).filter((e) => !before.has(e.id)),
    (all) => all.length === 1 && all[0]!.lineCount > 2,
  );
  const { entries } = await running.app.get<EveningLog>(`/evenings/${line!.id}`);
  expect(entries.filter((e) => e.kind === 'begin')).toHaveLength(1);
  expect(troubles).toEqual([]);
});

it('a set that is begun before a late disk was read goes on, and is kept', async () => {
  const before = new Set((await evenings()).map((e) => e.id));
  const { page, at, troubles } = await beginOnLateDisk();
  await page.locator('.stage-set .btn').click();
  await textIs(page, '[data-testid="stage-set"]', (t) => t.includes('left'));
  const here = await textOf(page, '.now-text');
  expect(here).not.toBe(at);
  await answerNow(page);
  await until(
    'read',
    () => reads(page),
    ({ asked, read }) => asked >= 2 && asked === read,
  );
  expect(await textOf(page, '.now-text')).toBe(here);
  await page.reload();
  await answerNow(page);
  await textIs(page, '.now-text', (t) => t === here);
  await until(
    'told',
    async () => (await evenings()).filter((e) => !before.has(e.id)),
    (all) => all.length === 2 && all.every((e) => e.lineCount > 1),
  );
  expect(troubles).toEqual([]);
});

/** Somebody else writes for as long as the page is there: whatever it writes itself from now on waits. */
const keepDiskBusy = (page: Page): Promise<void> =>
  page.evaluate(
    () =>
      new Promise<void>((resolve) => {
        indexedDB.open('idle-step').onsuccess = function () {
          const now = this.result.transaction(['now', 'heads', 'lines'], 'readwrite').objectStore('now');
          const goOn = () => {
            resolve();
            now.count().onsuccess = goOn;
          };
          goOn();
        };
      }),
  );

it('what the disk did not get before the page was loaded anew is not lost, nor a line of the log', async () => {
  const before = new Set((await evenings()).map((e) => e.id));
  const page = await openPage(running.browser, running.app.base, '/songs', (p) =>
    plugIn(p, { [DEMO_PORT.crossbarIn1]: 'Blue box 1', [DEMO_PORT.crossbarOutA]: 'Blue box A' }),
  );
  await beginSet(page);
  for (let i = 0; i < 2; i++) {
    await keepDiskBusy(page);
    await goOn(page);
    const at = await goOn(page);
    await page.reload();
    await textIs(page, '.now-text', (t) => t === at);
  }
  const logs = async () => {
    const told = (await evenings()).filter((e) => !before.has(e.id));
    return Promise.all(told.map((e) => running.app.get<EveningLog>(`/evenings/${e.id}`)));
  };
  // The scene of its beginning, and two of each round.
  const isWhole = ({ entries }: EveningLog) => entries.filter((e) => e.kind === 'scene').length === 5;
  const [log] = await until('told', logs, (all) => all.some(isWhole));
  expect(log!.entries.map((e) => e.number)).toEqual(log!.entries.map((_, i) => i));
  expect(log!.entries.filter((e) => e.kind === 'begin')).toHaveLength(1);
  expect(page.troubles).toEqual([]);
});

it('nor is it where the disk is full by then', async () => {
  const page = await openPage(running.browser, running.app.base, '/songs', (p) =>
    plugIn(p, { [DEMO_PORT.crossbarIn1]: 'Blue box 1', [DEMO_PORT.crossbarOutA]: 'Blue box A' }),
  );
  await beginSet(page);
  await keepDiskBusy(page);
  const at = await goOn(page);
  await page.evaluateOnNewDocument(() => {
    IDBObjectStore.prototype.put = () => {
      throw new DOMException('No room', 'QuotaExceededError');
    };
  });
  await page.reload();
  await textIs(page, '.now-text', (t) => t === at);
  expect(page.troubles).toEqual([]);
});
