import type { Song } from '@idle-step/core/show';
import type { Kept } from '@idle-step/contract';
import { demoSongs } from '@idle-step/demo';
import type { Page } from 'puppeteer-core';
import { describe, expect, it } from 'vitest';
import { fill, openPage, pressButton, textIs, until, useApp, valueOf } from './support/app';

const running = useApp();

const kept = (id: string) => running.app.get<Kept<Song>>(`/songs/${id}`);
const songPage = async (id: string) => {
  const page = await openPage(running.browser, running.app.base, `/songs/${id}`);
  await page.waitForSelector('.cue-grid');
  return page;
};
const isSaved = (page: Page) => textIs(page, '.place-head .save-state', (t) => /^saved \d/.test(t));

describe('two windows on one song', () => {
  /** Both windows fetched the same version; the first saves its edits, the second then types a name. */
  async function bothEdit(song: Song, first: [string, string], name: string): Promise<Page> {
    const one = await songPage(song.id);
    const second = await songPage(song.id);
    await fill(one, ...first);
    await isSaved(one);
    await fill(second, 'Name of the song', name);
    return second;
  }

  it('different fields come together without a question', async () => {
    const song = demoSongs[8]!;
    const page = await bothEdit(song, ['Tempo, bpm', '111'], 'Both');
    await isSaved(page);
    expect(await valueOf(page, 'Tempo, bpm')).toBe('111');
    expect((await kept(song.id)).doc).toMatchObject({ name: 'Both', tempoBpm: 111 });
    // Undo takes back what was typed here, and leaves what came from there.
    await page.focus('.wordmark');
    await page.keyboard.down('Control');
    await page.keyboard.press('z');
    await page.keyboard.up('Control');
    await until(
      'undone',
      () => kept(song.id),
      (k) => k.doc.name === song.name && k.doc.tempoBpm === 111,
    );
  });

  it('of the same field the second is told; both texts are there; keeping mine saves it', async () => {
    const song = demoSongs[6]!;
    const page = await bothEdit(song, ['Name of the song', 'Theirs'], 'Mine');
    await page.waitForSelector('[data-testid="conflict"]');
    expect(await valueOf(page, 'Name of the song')).toBe('Mine');
    expect((await kept(song.id)).doc.name).toBe('Theirs');
    await pressButton(page, 'Look at the difference');
    await textIs(page, '.differences', (t) => t.includes('name Mine Theirs'));
    await pressButton(page, 'Keep mine');
    await isSaved(page);
    expect((await kept(song.id)).doc.name).toBe('Mine');
  });

  it('left open it stays one, through a reload, a closed window and a third save elsewhere', async () => {
    const song = demoSongs[5]!;
    const page = await bothEdit(song, ['Name of the song', 'Theirs'], 'Mine for long');
    await page.waitForSelector('[data-testid="conflict"]');
    const isAsked = async (there: Page, theirs: string) => {
      await there.waitForSelector('[data-testid="conflict"]');
      await there.waitForSelector('.cue-grid');
      expect(await valueOf(there, 'Name of the song')).toBe('Mine for long');
      // Time for a save that must not come.
      await new Promise((resolve) => setTimeout(resolve, 1500));
      expect((await kept(song.id)).doc.name).toBe(theirs);
    };
    await page.reload();
    await isAsked(page, 'Theirs');
    const again = await page.browserContext().newPage();
    await page.close();
    await again.goto(`${running.app.base}/songs/${song.id}`);
    await isAsked(again, 'Theirs');
    const third = await songPage(song.id);
    await fill(third, 'Name of the song', 'Theirs once more');
    await isSaved(third);
    await again.reload();
    await isAsked(again, 'Theirs once more');
    await pressButton(again, 'Keep mine');
    // What was saved there meanwhile is another text than the one that was shown here.
    await isAsked(again, 'Theirs once more');
    await pressButton(again, 'Look at the difference');
    await textIs(again, '.differences', (t) => t.includes('name Mine for long Theirs once more'));
    await pressButton(again, 'Keep mine');
    await isSaved(again);
    expect((await kept(song.id)).doc.name).toBe('Mine for long');
  });

  it('keeping theirs shows it, and undo brings mine back', async () => {
    const song = demoSongs[7]!;
    const page = await bothEdit(song, ['Name of the song', 'Theirs'], 'Mine again');
    await page.waitForSelector('[data-testid="conflict"]');
    await pressButton(page, 'Keep theirs');
    await until(
      'theirs',
      () => valueOf(page, 'Name of the song'),
      (v) => v === 'Theirs',
    );
    await page.focus('.wordmark');
    await page.keyboard.down('Control');
    await page.keyboard.press('z');
    await page.keyboard.up('Control');
    await until(
      'mine',
      () => valueOf(page, 'Name of the song'),
      (v) => v === 'Mine again',
    );
    await isSaved(page);
  });

  it('what was typed last is still there after the page was left with a save under way', async () => {
    const song = demoSongs[4]!;
    const page = await songPage(song.id);
    // Answers take so long that the page is gone before one comes, and what is typed meanwhile has to wait.
    await page.setRequestInterception(true);
    let isSlow = true;
    page.on('request', (request) => {
      if (request.method() !== 'PUT' || !isSlow) void request.continue();
    });
    await fill(page, 'Name of the song', 'Under way');
    await new Promise((resolve) => setTimeout(resolve, 800));
    await fill(page, 'Tempo, bpm', '77');
    isSlow = false;
    await page.reload();
    await page.waitForSelector('.cue-grid');
    await until(
      'saved',
      () => kept(song.id),
      (k) => k.doc.name === 'Under way' && k.doc.tempoBpm === 77,
    );
    expect(await valueOf(page, 'Name of the song')).toBe('Under way');
  });
});

describe('earlier saves', () => {
  it('are listed, compared with the text as it is, and restored', async () => {
    const song = demoSongs[9]!;
    const page = await songPage(song.id);
    await fill(page, 'Tempo, bpm', '140');
    await isSaved(page);
    await page.locator('.save-state').click();
    await page.locator('.earlier-room li:last-child button').click();
    await textIs(page, '.earlier-text', (t) => t.includes(`tempo 140 ${song.tempoBpm}`));
    await pressButton(page, 'Restore this save');
    await until(
      'restored',
      () => kept(song.id),
      (k) => k.version === 3,
    );
    expect((await kept(song.id)).doc).toEqual(song);
  });
});

describe('a server that is killed', () => {
  it('during a save keeps the old or the new text whole', async () => {
    const song = (await kept(demoSongs[5]!.id)).doc;
    let { version } = await kept(song.id);
    for (const delayMs of [0, 1, 2, 4, 6, 8, 12, 20]) {
      const before = await kept(song.id);
      const text: Song = {
        ...song,
        name: `After ${delayMs} ms`,
        scenes: song.scenes
          .map((s) => ({ ...s, name: `${s.name} ${delayMs}`, values: s.values.map((v) => ({ ...v })) }))
          .reverse(),
      };
      const save = fetch(`${running.app.base}/api/songs/${song.id}`, {
        method: 'PUT',
        headers: { 'content-type': 'application/json', 'If-Match': `"${version}"` },
        body: JSON.stringify(text),
      }).catch(() => null);
      await new Promise((resolve) => setTimeout(resolve, delayMs));
      await running.app.kill();
      await save;
      await running.app.up();
      const after = await kept(song.id);
      if (after.version === before.version) expect(after).toEqual(before);
      else expect(after).toMatchObject({ version: before.version + 1, doc: text });
      version = after.version;
    }
  });

  it('during a set leaves the stage playing; the page says that saving is off, and when it is back', async () => {
    const page = await openPage(running.browser, running.app.base, '/stage');
    await textIs(page, '[data-testid="stage-now"]', (t) => t === 'ready');
    await page.keyboard.press('5');
    await textIs(page, '[data-testid="stage-now"]', (t) => t === 'Intro');
    await running.app.kill();
    await page.keyboard.press('5');
    await textIs(page, '[data-testid="stage-now"]', (t) => t === 'Verse');
    await textIs(page, '[data-testid="stage-armed"]', (t) => t.includes('Voice'));
    await textIs(page, '[data-testid="saving-off"]', (t) => t.startsWith('Saving is off'));
    for (let i = 0; i < 6; i++) await page.keyboard.press('5');
    const lamp = () => page.$eval('[data-control="far 2"]', (e) => e.getAttribute('aria-pressed'));
    // What the last scene arms is sent once its program has settled.
    await new Promise((resolve) => setTimeout(resolve, 500));
    const before = await lamp();
    await page.keyboard.press('7');
    await until('lamp', lamp, (now) => now !== before);
    await running.app.up();
    await until(
      'saving is back',
      () => page.$('[data-testid="saving-off"]'),
      (e) => e === null,
    );
    expect(page.troubles).toEqual([]);
  });

  it('does not lose what is typed meanwhile: it is saved when the server is back', async () => {
    const song = demoSongs[8]!;
    const page = await songPage(song.id);
    await running.app.kill();
    await fill(page, 'Tempo, bpm', '59');
    await textIs(page, '[data-testid="saving-off"]', (t) => t.includes('do not close it'));
    await running.app.up();
    await isSaved(page);
    expect((await kept(song.id)).doc.tempoBpm).toBe(59);
  });
});
