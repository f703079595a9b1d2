import type { FullRig } from '@idle-step/core/routing';
import type { Song } from '@idle-step/core/show';
import type { Kept, RigFile } from '@idle-step/contract';
import { demoRig } from '@idle-step/demo';
import { writeFileSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from 'puppeteer-core';
import { expect, inject, it } from 'vitest';
import { bigSongs } from './support/bigLibrary';
import { fill, openPage, pressButton, RunningApp, textIs, textOf, until, useApp } from './support/app';

const running = useApp();
const rigs = async () => (await running.app.get<Kept<FullRig>[]>('/rigs')).map((k) => k.doc);
const songsOf = async (rigId: string) =>
  (await running.app.get<Kept<Song>[]>(`/songs?rigId=${rigId}`)).map((k) => k.doc);

it('rigs stand side by side: nothing of one is changed in the other', async () => {
  const page = await openPage(running.browser, running.app.base, '/rigs');
  await page.locator(`[aria-label="Duplicate ${demoRig.name}"]`).click();
  await until('two rigs', rigs, (list) => list.length === 2);
  const copy = (await rigs()).find((r) => r.id !== demoRig.id)!;
  expect(copy.name).toBe(`${demoRig.name} copy`);
  const before = await songsOf(demoRig.id);

  await page.locator('.rig-rows li:not(.in-use) ::-p-text(Use this rig)').click();
  await textIs(page, '.where', (t) => t.includes(copy.name));
  // A song of the copy is renamed; the demo's stays.
  const own = (await songsOf(copy.id))[0]!;
  await page.goto(`${running.app.base}/songs/${own.id}`);
  await page.waitForSelector('.cue-grid');
  await fill(page, 'Name of the song', 'Only mine');
  await until(
    'renamed',
    () => songsOf(copy.id),
    (songs) => songs.some((s) => s.name === 'Only mine'),
  );
  expect(await songsOf(demoRig.id)).toEqual(before);

  await page.goto(`${running.app.base}/stage`);
  await page.waitForSelector('.stage-now');
  expect(page.troubles).toEqual([]);
  await page.close();
});

/** Begins the set in play once its songs are there; a press before that finds nothing to begin. */
async function beginSet(page: Page): Promise<void> {
  await textIs(page, '.where', (t) => t.includes('not begun'));
  await page.locator('[aria-label="Next scene"]').click();
  await textIs(page, '.where', (t) => !t.includes('not begun'));
}

it('changing the rig while a set is played asks first', async () => {
  const page = await openPage(running.browser, running.app.base, '/rigs');
  await page.waitForSelector('.rig-rows li.in-use');
  await beginSet(page);
  const inUse = () => page.$eval('.rig-rows li.in-use input', (e) => e.value);
  const first = await inUse();
  await page.locator('.rig-rows li:not(.in-use) ::-p-text(Use this rig)').click();
  await textIs(page, '[role="alertdialog"]', (t) => t.includes(`${first} is being played`));
  await page.locator(`[role="alertdialog"] ::-p-text(Stay with ${first})`).click();
  expect(await inUse()).toBe(first);
  await page.locator('.rig-rows li:not(.in-use) ::-p-text(Use this rig)').click();
  await page.locator('[role="alertdialog"] ::-p-text(Change to)').click();
  await textIs(page, '.where', (t) => !t.startsWith(`${first} Set`) && t.includes('not begun'));
  await page.close();
});

it('deleting the rig that is played asks too, and another one does not', async () => {
  const page = await openPage(running.browser, running.app.base, '/rigs');
  await page.waitForSelector('.rig-rows li.in-use');
  await beginSet(page);
  const first = await page.$eval('.rig-rows li.in-use input', (e) => e.value);
  const before = (await rigs()).length;
  await page.locator(`[aria-label="Delete ${first}"]`).click();
  await textIs(page, '[role="alertdialog"]', (t) => t.includes(`${first} is being played; what sounds ends`));
  await textIs(page, '[role="alertdialog"]', (t) => t.includes('it stays in the bin for 30 days'));
  await page.locator(`[role="alertdialog"] ::-p-text(Stay with ${first})`).click();
  expect((await rigs()).length).toBe(before);
  expect(page.troubles).toEqual([]);
  await page.close();
});

it('a rig is deleted with the way back, and what was typed just before is in it', async () => {
  const page = await openPage(running.browser, running.app.base, '/rigs');
  const copy = (await rigs()).find((r) => r.id !== demoRig.id)!;
  const songs = await songsOf(copy.id);
  await page.waitForSelector('.rig-rows li');
  await fill(page, `Name of ${copy.name}`, 'Renamed late');
  await page.locator('[aria-label="Delete Renamed late"]').click();
  await until('gone', rigs, (list) => list.length === 1);
  expect(await songsOf(copy.id)).toEqual([]);
  await pressButton(page, 'Undo');
  await until('back', rigs, (list) => list.some((r) => r.name === 'Renamed late'));
  expect(await songsOf(copy.id)).toEqual(songs);
  await page.close();
});

it('a rig is given away as a file and opened elsewhere as one of its own; another file is refused', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'idle-step-rig-'));
  const empty = await RunningApp.start(inject('databaseUrl'), { withDemo: false });
  try {
    const file = join(folder, 'given.json');
    writeFileSync(file, JSON.stringify(await running.app.get(`/whole-rigs/${demoRig.id}`)));
    const page = await openPage(running.browser, empty.base, '/rigs');
    await pressButton(page, 'Start a rig');
    await page.locator('.where .rig-name').click();
    await page.waitForSelector('input[aria-label="Rig file"]');
    const choose = async (path: string) =>
      (await page.$('input[aria-label="Rig file"]'))!.uploadFile(path) as Promise<void>;
    writeFileSync(join(folder, 'other.json'), '{"format":"something"}');
    await choose(join(folder, 'other.json'));
    await textIs(page, '.field-error', (t) => t.includes('does not say that it is a rig'));
    await choose(file);
    await textIs(page, '.where', (t) => t.includes(demoRig.name));
    const kept = (await empty.get<Kept<FullRig>[]>('/rigs')).map((k) => k.doc);
    expect(kept.map((r) => r.name).sort()).toEqual(['My rig', demoRig.name].sort());
    expect(kept.map((r) => r.id)).not.toContain(demoRig.id);
    expect(page.troubles).toEqual([]);
    await page.close();
  } finally {
    await empty.kill();
    rmSync(folder, { recursive: true, force: true });
  }
});

it('a large rig file is read beside the page, which goes on, with how far it is', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'idle-step-rig-'));
  try {
    const whole = await running.app.get<RigFile>(`/whole-rigs/${demoRig.id}`);
    const file = join(folder, 'large.json');
    const large = { ...whole, rig: { ...whole.rig, name: 'Large' }, songs: bigSongs(500), sets: [] };
    writeFileSync(file, JSON.stringify(large));
    const page = await openPage(running.browser, running.app.base, '/rigs');
    await page.waitForSelector('.rig-rows li');
    // What is said meanwhile, and how many pictures were drawn.
    await page.evaluate(() => {
      const seen = { words: [] as string[], frames: 0 };
      Object.assign(window, { seen });
      const look = () => {
        const words = document.querySelector('.rigs-place .notice[role="status"]')?.textContent;
        if (words && seen.words.at(-1) !== words) seen.words.push(words);
        seen.frames++;
        requestAnimationFrame(look);
      };
      look();
    });
    await (await page.$('input[aria-label="Rig file"]'))!.uploadFile(file);
    await until(
      'in hand',
      () => textOf(page, '.where'),
      (t) => t?.includes('Large') ?? false,
      // As long as 500 songs take on a computer that has something else to do.
      240_000,
    );
    const seen = await page.evaluate(
      () => (window as never as { seen: { words: string[]; frames: number } }).seen,
    );
    expect(seen.words[0]).toBe('Reading large.json …');
    expect(seen.words.some((w) => /^Sending Large: part \d+ of \d+ …$/.test(w))).toBe(true);
    expect(seen.words.some((w) => w.startsWith('Keeping Large'))).toBe(true);
    expect(seen.frames).toBeGreaterThan(20);
    const kept = (await rigs()).find((r) => r.name === 'Large')!;
    const list = await running.app.get<{ total: number }>(`/songs/summaries?rigId=${kept.id}&count=1`);
    expect(list.total).toBe(500);
    // One with a fault far inside is refused with its place, and nothing of it is kept.
    const faulty = join(folder, 'faulty.json');
    writeFileSync(faulty, JSON.stringify(large).replace(/"tempoBpm":\d+(?!.*"tempoBpm":\d)/, '"tempoBpm":0'));
    await page.goto(`${running.app.base}/rigs`);
    await page.waitForSelector('input[aria-label="Rig file"]');
    await (await page.$('input[aria-label="Rig file"]'))!.uploadFile(faulty);
    await textIs(page, '.field-error', (t) => /faulty\.json was not read: .*at songs\.499\.tempoBpm/.test(t));
    expect((await rigs()).filter((r) => r.name.startsWith('Large'))).toHaveLength(1);
    expect(page.troubles).toEqual([]);
    await page.close();
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});
