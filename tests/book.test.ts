import type { Setlist, Song } from '@idle-step/core/show';
import type { Kept } from '@idle-step/contract';
import { DEMO_PORT, demoRig, demoSongs } from '@idle-step/demo';
import { mkdtempSync, readdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ElementHandle, Page } from 'puppeteer-core';
import { describe, expect, it } from 'vitest';
import { axeViolations } from './support/axe';
import { chord, HeldRequests, openPage, pressButton, textIs, until, useApp } from './support/app';
import { Person } from './support/person';
import { fake, hexOf, plugIn } from './support/ports';

const running = useApp();

const kelpline = demoRig.devices.find((d) => d.name === 'Kelpline')!;
const functionId = (name: string) => kelpline.chart.find((f) => f.name === name)!.id;
const openBook = async (prepare?: (page: Page) => Promise<unknown>) => {
  const page = await openPage(running.browser, running.app.base, '/songs/book', prepare);
  await page.waitForSelector('.book-grid');
  return page;
};
/** A cell by what it says of itself. */
const cell = (page: Page, says: string) => page.locator(`.book-grid td[aria-label^="${says}"]`);
const says = (page: Page, start: string) =>
  page.$eval(`.book-grid td[aria-label^="${start}"]`, (td) => td.getAttribute('aria-label')!);
const songNamed = async (name: string): Promise<Song | undefined> => {
  const { items } = await running.app.get<{ items: { id: string; name: string }[] }>(
    `/songs/summaries?rigId=${demoRig.id}`,
  );
  const found = items.find((s) => s.name === name);
  return found && (await running.app.get<Kept<Song>>(`/songs/${found.id}`)).doc;
};
const ferry = demoSongs.find((s) => s.name === 'Slow Ferry')!;
const ferryNow = async () => (await running.app.get<Kept<Song>>(`/songs/${ferry.id}`)).doc;

describe('the book', () => {
  it('shows a row a scene; what is typed, filled down and undone is saved in each song', async () => {
    const before = await ferryNow();
    const page = await openBook();
    await textIs(page, '.place-head', (t) => t.includes('Lock 9 landing, 11 songs'));
    await cell(page, 'Kelpline Reverb mix in Slow Ferry, Verse').click();
    await page.keyboard.type('77');
    await page.keyboard.press('Enter');
    await until('saved', ferryNow, (s) =>
      s.scenes[1]!.values.some((v) => v.functionId === functionId('Reverb mix') && v.value === 77),
    );
    // Up again, and down over the end of the song: two songs change in one step.
    await page.keyboard.press('ArrowUp');
    await page.keyboard.down('Shift');
    for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowDown');
    await page.keyboard.up('Shift');
    await pressButton(page, 'Fill down');
    const last = ferry.scenes.at(-1)!.name;
    await until(
      'filled',
      () => says(page, `Kelpline Reverb mix in Slow Ferry, ${last}`),
      (t) => t.endsWith(': 77, held'),
    );
    const next = demoSongs[demoSongs.indexOf(ferry) + 1]!;
    const nextCell = `Kelpline Reverb mix in ${next.name}, ${next.scenes[0]!.name}`;
    await until(
      'the next song',
      () => says(page, nextCell),
      (t) => t.endsWith(': 77'),
    );
    await page.locator('.place-head h1').click();
    await chord(page, 'Control', 'z');
    await until(
      'undone',
      () => says(page, nextCell),
      (t) => !t.endsWith(': 77'),
    );
    await chord(page, 'Control', 'z');
    await until('as before', ferryNow, (s) => JSON.stringify(s.scenes) === JSON.stringify(before.scenes));
    expect(page.troubles).toEqual([]);
  });

  it('refuses what is none with the place; Escape leaves what was', async () => {
    const page = await openBook();
    await cell(page, 'Kelpline Snapshot in Slow Ferry, Verse').click();
    await page.keyboard.type('99');
    await page.keyboard.press('Enter');
    await textIs(page, '.book-place .field-error', (t) => t.includes('“99” is not a value of Snapshot'));
    await page.keyboard.press('Escape');
    await page.waitForSelector('.book-place .field-error', { hidden: true });
    expect(await says(page, 'Kelpline Snapshot in Slow Ferry, Verse')).toContain('2 Body');
    // A name that is emptied stays.
    await cell(page, 'Song of Slow Ferry, Intro').click();
    await page.keyboard.press('Enter');
    await chord(page, 'Control', 'a');
    await page.keyboard.press('Backspace');
    await page.keyboard.press('Enter');
    expect((await ferryNow()).name).toBe('Slow Ferry');
    expect(page.troubles).toEqual([]);
  });

  it('adds and removes scenes, and brings in a line that no song has yet', async () => {
    const page = await openBook();
    await cell(page, 'Scene of Slow Ferry, Verse').click();
    await pressButton(page, 'Scene below');
    await until('a scene more', ferryNow, (s) => s.scenes.length === ferry.scenes.length + 1);
    await page.keyboard.type('Middle');
    await page.keyboard.press('Enter');
    await until('named', ferryNow, (s) => s.scenes[2]!.name === 'Middle');
    await cell(page, 'Scene of Slow Ferry, Middle').click();
    await pressButton(page, 'Remove this scene');
    await until('gone', ferryNow, (s) => s.scenes.length === ferry.scenes.length);
    await page.locator('.add-row input').fill('song tempo');
    await page.keyboard.press('Enter');
    await page.waitForSelector('.book-grid td[aria-label^="Song tempo in Slow Ferry"]');
    expect(page.troubles).toEqual([]);
  });

  it('finds songs, also those of no set, and says where there are none', async () => {
    const page = await openBook();
    await page.locator('[aria-label="Find songs"]').fill('ferry');
    await textIs(page, '.place-head', (t) => t.includes('1 song,'));
    await page.locator('[aria-label="Find songs"]').fill('nothing like it');
    await textIs(page, '.book-place [role="status"]', (t) => t === 'No song is like that.');
    expect(page.troubles).toEqual([]);
  });

  it('is read out without faults in both themes, with its panels open', async () => {
    const page = await openBook();
    await cell(page, 'Kelpline Snapshot in Slow Ferry, Verse').click();
    for (const panel of ['Paste a table', 'Songs like this']) {
      await pressButton(page, panel);
      await page.waitForSelector('.book-panel textarea');
      expect(await axeViolations(page)).toEqual([]);
    }
    await page.emulateMediaFeatures([{ name: 'prefers-color-scheme', value: 'dark' }]);
    await page.locator('[aria-label*="ark"]').click();
    expect(await axeViolations(page)).toEqual([]);
  });

  it('waits for a slow server without saying that there is no song', async () => {
    const slow = new HeldRequests(/\/api\/songs\?ids=/);
    const page = await openPage(running.browser, running.app.base, '/songs/book', slow.hold);
    await textIs(page, '.book-place [role="status"]', (t) => t === 'Fetching the songs …');
    slow.letCome();
    await page.waitForSelector('.book-grid');
    expect(page.troubles).toEqual([]);
  });
});

const TABLE = [
  'Song\tbpm\tScene\tBars\tSnapshot\tReverb mix\tShoes',
  'Paper Boat\t96\tVerse\t8\tFull\t31\tbrown',
  '\t\tChorus\t16\tDry\t\t',
  'Tin Roof\t132\tVerse\t\tSwirl\t90\t',
].join('\n');

describe('a table of songs', () => {
  it('pasted anywhere in the book makes songs that play what the table says', async () => {
    const page = await openBook((p) =>
      plugIn(p, { [DEMO_PORT.crossbarIn1]: 'Blue box 1', [DEMO_PORT.crossbarOutA]: 'Blue box A' }),
    );
    const me = new Person(page);
    await me.paste(TABLE);
    await textIs(page, '.manual-look', (t) =>
      t.includes('Left out: “Shoes”, nothing in the rig is called so'),
    );
    await pressButton(page, 'Make 2 songs');
    await page.waitForSelector('.book-panel', { hidden: true });
    expect(await songNamed('Paper Boat')).toMatchObject({
      tempoBpm: 96,
      scenes: [{ name: 'Verse' }, { name: 'Chorus' }],
      parts: [{ length: { amount: 8, unit: 'bars' } }, { length: { amount: 16, unit: 'bars' } }],
    });
    await until(
      'in the book',
      () => says(page, 'Kelpline Snapshot in Paper Boat, Verse'),
      (t) => t.includes('3 Full'),
    );
    const song = (await songNamed('Paper Boat'))!;
    await page.locator('.book-bar a').click();
    await page.locator(`.scene-heads ::-p-text(Verse)`).click();
    await pressButton(page, 'Recall now');
    // Channel 3, controller 22 is Kelpline’s snapshot, numbered from 1 for people; controller 91 its reverb.
    const sent = () => fake(page, (f) => f.sent('Blue box A')).then(hexOf);
    await until('played', sent, (s) => s.includes('B2 16 02') && s.includes('B2 5B 1F'));
    expect(song.scenes[1]!.values).toEqual([{ functionId: functionId('Snapshot'), value: 0, way: null }]);
    expect(page.troubles).toEqual([]);
  });

  it('saved as CSV and opened in Songs changes nothing', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'book-'));
    const page = await openBook();
    const client = await page.createCDPSession();
    await client.send('Browser.setDownloadBehavior', {
      behavior: 'allow',
      downloadPath: folder,
      browserContextId: page.browserContext().id ?? '',
    });
    await pressButton(page, 'Save as CSV');
    const file = await until(
      'saved',
      async () => readdirSync(folder).find((name) => name.endsWith('.csv')) ?? '',
      (name) => name !== '',
    );
    await page.locator('.tabs a::-p-text(Song)').click();
    await page.waitForSelector('.song-list-head');
    const input = await page.$('input[aria-label="MIDI file, or list of songs as CSV"]');
    await (input as ElementHandle<HTMLInputElement>).uploadFile(join(folder, file));
    const rows = () =>
      page.$$eval('.manual-look tr', (all) => all.map((tr) => tr.querySelectorAll('td')[0]?.textContent));
    await until('looked at', rows, (r) => r.length >= 11);
    expect(new Set(await rows())).toEqual(new Set(['as it is']));
    expect(page.troubles).toEqual([]);
  });

  it('a wrong cell is told with its line and nothing is made', async () => {
    const page = await openBook();
    const me = new Person(page);
    await me.paste('song,scene,Snapshot\nGull,Verse,Nonsense');
    await textIs(page, '.table-faults', (t) => /^line 2: Snapshot: “Nonsense” is not a value/.test(t));
    expect(await page.$eval('.book-panel .btn-go', (b) => (b as HTMLButtonElement).disabled)).toBe(true);
    await page.keyboard.press('Escape');
    await page.waitForSelector('.book-panel', { hidden: true });
    expect(await songNamed('Gull')).toBeUndefined();
    expect(page.troubles).toEqual([]);
  });
});

describe('songs like one that is there', () => {
  it('are made by a list of names, from a pattern that is kept, into a new set', async () => {
    const page = await openBook();
    await cell(page, 'Scene of Slow Ferry, Verse').click();
    await pressButton(page, 'Songs like this');
    await page.keyboard.type('1. Gull; 140; E minor\nSlow Ferry\nHeron Two');
    await textIs(page, '.table-faults', (t) =>
      t.includes('line 2: “Slow Ferry”: A song is called so already.'),
    );
    await page.locator('#like-pattern').click();
    await until('a pattern', ferryNow, (s) => s.tags.includes('pattern'));
    await page.select('.book-panel select', 'new');
    await pressButton(page, 'Make 2 songs');
    // What could not be made stays in the field.
    await until(
      'the rest',
      () => page.$eval('.book-panel textarea', (t) => (t as HTMLTextAreaElement).value),
      (t) => t === 'Slow Ferry',
    );
    const gull = (await songNamed('Gull'))!;
    expect(gull).toMatchObject({ tempoBpm: 140, key: 'E minor', lengthS: ferry.lengthS });
    expect(gull.tags).not.toContain('pattern');
    expect(gull.scenes.map((s) => [s.name, s.values])).toEqual(ferry.scenes.map((s) => [s.name, s.values]));
    expect(gull.scenes.map((s) => s.id).some((id) => ferry.scenes.some((s) => s.id === id))).toBe(false);
    const { items } = await running.app.get<{ items: { id: string; name: string }[] }>(
      `/sets/summaries?rigId=${demoRig.id}`,
    );
    const made = items.find((s) => s.name === 'New set')!;
    const { doc } = await running.app.get<Kept<Setlist>>(`/sets/${made.id}`);
    expect(doc.entries.map((e) => e.kind === 'song' && e.songId)).toEqual([
      gull.id,
      (await songNamed('Heron Two'))!.id,
    ]);
    expect(page.troubles).toEqual([]);
  });
});
