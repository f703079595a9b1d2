import { type Song, type Setlist, PLAIN_SCENE, PLAIN_SONG } from '@idle-step/core/show';
import type { FullRig } from '@idle-step/core/routing';
import type { Preset } from '@idle-step/core/floor';
import type { Kept } from '@idle-step/contract';
import { demoRig, demoSets } from '@idle-step/demo';
import type { Page } from 'puppeteer-core';
import { expect, it } from 'vitest';
import { axeViolations } from './support/axe';
import { fill, openPage, pressButton, textIs, textOf, until, useApp } from './support/app';

const running = useApp();
const all = async <D>(path: string) => (await running.app.get<Kept<D>[]>(path)).map((k) => k.doc);
const names = async <D extends { name: string }>(path: string) =>
  (await all<D>(path)).map((d) => d.name).sort();

const open = async (path: string, ready: string) => {
  const page = await openPage(running.browser, running.app.base, path);
  await page.waitForSelector(ready);
  return page;
};
const rows = (page: Page) =>
  page.$$eval('.bin-table tbody tr', (all) =>
    all.map((tr) => [...tr.querySelectorAll('th, td')].slice(0, 3).map((c) => (c as HTMLElement).innerText)),
  );
const bringBack = async (page: Page, name: string) => {
  await pressButton(page, `Bring back ${name}`);
  await textIs(page, '.notice[role="status"]', (t) => t.startsWith(`${name} is back`));
};

/** A song in no set. */
async function newSong(name: string): Promise<Song> {
  const id = crypto.randomUUID();
  const own = { id, rigId: demoRig.id, name, tempoBpm: 90, beatsPerBar: 4, lengthS: 100 };
  const song = { ...PLAIN_SONG, ...own, scenes: [{ ...PLAIN_SCENE, id: crypto.randomUUID(), name: 'One' }] };
  const made = await fetch(`${running.app.base}/api/songs`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ ...song, scenes: song.scenes.map((s) => ({ ...s, values: [] })) }),
  });
  expect(made.status).toBe(201);
  return ((await made.json()) as Kept<Song>).doc;
}

/** Deletes by the button with that label, once what was typed before is saved. */
async function remove(page: Page, label: string, path: string): Promise<void> {
  const before = (await names(path)).length;
  await page.locator(`[aria-label="${label}"]`).click();
  await until(
    'deleted',
    () => names(path),
    (left) => left.length === before - 1,
  );
}

it('a song, a set, a preset and a rig come back whole after the page and the server are gone', async () => {
  const rigId = demoRig.id;
  const songs = `/songs?rigId=${rigId}`;
  const sets = `/sets?rigId=${rigId}`;
  const presets = `/presets?rigId=${rigId}`;
  // A set that is deleted frees its songs.
  const page = await open(`/sets/${demoSets[0]!.id}`, '.running-order');
  await fill(page, 'Name of the set', 'Last night out');
  const setsBefore = await until(
    'renamed',
    () => all<Setlist>(sets),
    (s) => s.some((set) => set.name === 'Last night out'),
  );
  await remove(page, 'Delete Last night out', sets);
  const free = await newSong('Free of sets');
  await page.goto(`${running.app.base}/songs/${free.id}`);
  await page.waitForSelector('.cue-grid');
  await fill(page, 'Tempo, bpm', '123');
  await until(
    'saved',
    () => running.app.get<Kept<Song>>(`/songs/${free.id}`),
    (k) => k.doc.tempoBpm === 123,
  );
  const songsBefore = await all<Song>(songs);
  await remove(page, `Delete ${free.name}`, songs);
  // The whole rig is copied, and the copy deleted with all that is in it.
  await page.goto(`${running.app.base}/rigs`);
  await page.locator(`[aria-label="Duplicate ${demoRig.name}"]`).click();
  await page.waitForSelector(`[aria-label="Delete ${demoRig.name} copy"]`);
  const copy = (await all<FullRig>('/rigs')).find((r) => r.id !== demoRig.id)!;
  const copySongs = await all<Song>(`/songs?rigId=${copy.id}`);
  await remove(page, `Delete ${copy.name}`, '/rigs');
  const presetsBefore = await all<Preset>(presets);
  await page.goto(`${running.app.base}/floor`);
  await page.locator('.rooms a::-p-text(Presets)').click();
  const preset = presetsBefore.find((p) => p.boardId === demoRig.boards[0]!.id)!;
  await remove(page, `Delete ${preset.name}`, presets);
  await page.close();

  await running.app.kill();
  await running.app.up();

  const bin = await open('/bin', '.bin-table');
  expect(await axeViolations(bin)).toEqual([]);
  expect(await rows(bin)).toEqual([
    [preset.name, 'preset', demoRig.name],
    [copy.name, `rig with ${copySongs.length} songs`, ''],
    [free.name, 'song', demoRig.name],
    ['Last night out', 'set', demoRig.name],
  ]);
  await bin.locator('[aria-label="Find in the bin by name"]').fill(free.name.slice(1, 7).toUpperCase());
  await until(
    'found',
    () => rows(bin),
    (found) => found.length === 1 && found[0]![0] === free.name,
  );
  await bringBack(bin, free.name);
  await bin.goto(`${running.app.base}/bin`);
  await bringBack(bin, preset.name);
  await bringBack(bin, copy.name);
  await bringBack(bin, 'Last night out');
  await textIs(bin, '.empty-place', (t) => t.startsWith('The bin is empty'));
  const byId = <D extends { id: string }>(docs: D[]) => docs.toSorted((a, b) => a.id.localeCompare(b.id));
  expect(byId(await all<Song>(songs))).toEqual(byId(songsBefore));
  expect(byId(await all<Setlist>(sets))).toEqual(byId(setsBefore));
  expect(byId(await all<Preset>(presets))).toEqual(byId(presetsBefore));
  expect(byId(await all<Song>(`/songs?rigId=${copy.id}`))).toEqual(byId(copySongs));
  // From there to what is back, with its earlier saves.
  await bin.locator('.notice ::-p-text(Open Last night out)').click();
  await bin.waitForSelector('.running-order');
  await bin.locator('.place-head .save-state').click();
  await until(
    'saves',
    () => bin.$$eval('.earlier-room li', (all) => all.length),
    (n) => n >= 3,
  );
  expect(bin.troubles).toEqual([]);
});

it('deleting the rig in use asks; the last rig comes back from the bin', async () => {
  const page = await open('/rigs', '.rig-rows li');
  for (const other of (await all<FullRig>('/rigs')).filter((r) => r.id !== demoRig.id))
    await remove(page, `Delete ${other.name}`, '/rigs');
  await page.locator(`[aria-label="Delete ${demoRig.name}"]`).click();
  await textIs(page, '[role="alertdialog"]', (t) => t.includes('is in use. Deleted, it stays in the bin'));
  await page.locator(`[role="alertdialog"] ::-p-text(Delete ${demoRig.name})`).click();
  await textIs(page, '.empty-place h2', (t) => t === 'No rig yet');
  await page.locator('.empty-place a::-p-text(Bin)').click();
  await bringBack(page, demoRig.name);
  await page.locator('.notice ::-p-text(See the rigs)').click();
  await textIs(page, '.rig-rows li.in-use', (t) => t.includes('in use'));
  expect(page.troubles).toEqual([]);
});

it('what is deleted for good asks first, and is then gone', async () => {
  const extra = await newSong('Only a try');
  const page = await open(`/songs/${extra.id}`, '.cue-grid');
  await remove(page, 'Delete Only a try', `/songs?rigId=${demoRig.id}`);
  await page.goto(`${running.app.base}/bin`);
  await page.locator('[aria-label="Delete Only a try for good"]').click();
  await textIs(page, '[role="alertdialog"]', (t) => t.includes('nothing brings them back'));
  await page.locator('[role="alertdialog"] ::-p-text(Keep it here)').click();
  expect((await rows(page)).map(([name]) => name)).toContain('Only a try');
  await page.locator('[aria-label="Delete Only a try for good"]').click();
  await page.locator('[role="alertdialog"] ::-p-text(Delete for good)').click();
  await textIs(page, '.notice[role="status"]', (t) => t === 'Only a try is deleted for good.');
  await until(
    'gone',
    () => textOf(page, '.bin-table'),
    (t) => t === null || !t.includes('Only a try'),
  );
  expect(page.troubles).toEqual([]);
});
