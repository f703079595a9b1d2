import type { Kept } from '@idle-step/contract';
import type { FullRig } from '@idle-step/core/routing';
import { demoRig, demoSets } from '@idle-step/demo';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from 'puppeteer-core';
import { describe, expect, it } from 'vitest';
import { axeViolations } from './support/axe';
import { chord, openPage, pressButton, textIs, until, useApp } from './support/app';

const running = useApp();
const folder = mkdtempSync(join(tmpdir(), 'idle-step-share-'));

/** Texts that the page offers, in place of saving them. */
const keepTexts = () => {
  const texts: string[] = [];
  Object.assign(window, { offered: texts });
  const make = URL.createObjectURL.bind(URL);
  URL.createObjectURL = (thing: Blob | MediaSource) => {
    if (thing instanceof Blob) void thing.text().then((t) => texts.push(t));
    return make(thing);
  };
};
const rigs = async () => (await running.app.get<Kept<FullRig>[]>('/rigs')).map((k) => k.doc);
const songsOf = async (rigId: string) =>
  (await running.app.get<{ items: { name: string }[] }>(`/songs/summaries?rigId=${rigId}`)).items.map(
    (s) => s.name,
  );
async function openFile(page: Page, path: string): Promise<void> {
  const input = await page.waitForSelector('input[type="file"]');
  await (input as unknown as { uploadFile(p: string): Promise<void> }).uploadFile(path);
}

describe('a part of a rig', () => {
  it('is saved as a file, taken into a rig without gear and into another one, and taken back', async () => {
    const page = await openPage(running.browser, running.app.base, '/rigs/share', (p) =>
      p.evaluateOnNewDocument(keepTexts),
    );
    const set = demoSets[0]!;
    await page.locator(`label::-p-text(${set.name})`).click();
    await page.locator('label::-p-text(Ferry tour)').click();
    expect(await axeViolations(page)).toEqual([]);
    await pressButton(page, 'Save 2 things as a file');
    const [text] = await until(
      'the file',
      () => page.evaluate(() => (window as unknown as { offered: string[] }).offered),
      (all) => all.length === 1,
    );
    const path = join(folder, 'part.json');
    writeFileSync(path, text!);
    const damaged = join(folder, 'damaged.json');
    writeFileSync(damaged, text!.replace('Low Water', 'Low Wader'));

    // Into a rig without gear: all of it comes along.
    await page.goto(`${running.app.base}/rigs`);
    await pressButton(page, 'New rig');
    await until('the new rig', rigs, (all) => all.length === 2);
    await page.waitForFunction(() => location.pathname === '/rig');
    const own = (await rigs()).find((r) => r.id !== demoRig.id)!;
    await page.goto(`${running.app.base}/rigs/take-in`);
    await textIs(page, '.take-in', (t) => t.includes(`into ${own.name}`));
    await openFile(page, damaged);
    await textIs(page, '.take-in .field-error', (t) => t.includes('does not agree with its sum'));
    await openFile(page, path);
    await textIs(
      page,
      '.take-in',
      (t) => t.includes('11 songs, 1 set, 1 preset') && t.includes('Added to your rig'),
    );
    expect(await axeViolations(page)).toEqual([]);
    await pressButton(page, 'Take it in');
    await textIs(page, 'main, .work-pad', (t) => t.includes(set.name) || t.includes('Low Water'));
    await until(
      'the songs',
      () => songsOf(own.id),
      (names) => names.includes('Low Water') && names.length === 11,
    );
    const filled = (await rigs()).find((r) => r.id === own.id)!;
    expect(filled.boards).toHaveLength(1);
    expect(filled.boards[0]!.presetId).not.toBeNull();
    // One step back takes all of it away, and one forth brings it again.
    await chord(page, 'Control', 'z');
    await until(
      'nothing',
      () => songsOf(own.id),
      (names) => names.length === 0,
    );
    await until('the rig', rigs, (all) => all.find((r) => r.id === own.id)!.devices.length === 0);
    await chord(page, 'Control', 'Shift', 'z');
    await until(
      'the songs again',
      () => songsOf(own.id),
      (names) => names.length === 11,
    );

    // Into the rig that it came from: gear is found by name, and names that are taken are not taken twice.
    await page.goto(`${running.app.base}/rigs`);
    await page.locator('.rig-rows li:not(.in-use) ::-p-text(Use this rig)').click();
    await page.waitForFunction(() => location.pathname === '/rig');
    await page.goto(`${running.app.base}/rigs/take-in`);
    await textIs(page, '.take-in', (t) => t.includes(`into ${demoRig.name}`));
    await openFile(page, path);
    await textIs(
      page,
      '.take-in',
      (t) => t.includes('11 songs, 1 set, 1 preset come') && !t.includes('Left out'),
    );
    await page.select('[aria-label="Device that plays the part of Kelpline"]', 'none').catch(async () => {
      const label = await page.$$eval(
        'label',
        (all) => all.find((l) => l.textContent === 'Device that plays the part of Kelpline')?.htmlFor,
      );
      await page.select(`#${label}`, 'none');
    });
    await textIs(page, '.take-in', (t) => t.includes('Left out') && t.includes('Kelpline Snapshot'));
  });

  it('a preset goes with its board and the rows that it needs, and is looked at where it is opened', async () => {
    const page = await openPage(
      running.browser,
      running.app.base,
      `/floor/${demoRig.boards[0]!.id}/presets`,
      async (p) => {
        await p.evaluateOnNewDocument(keepTexts);
        await p.evaluateOnNewDocument((id) => {
          localStorage.setItem('idle-step.screen', JSON.stringify({ rigId: id }));
        }, demoRig.id);
      },
    );
    await pressButton(page, 'Save Ferry tour as a file');
    const [text] = await until(
      'the file',
      () => page.evaluate(() => (window as unknown as { offered: string[] }).offered),
      (all) => all.length === 1,
    );
    const path = join(folder, 'preset.json');
    writeFileSync(path, text!);
    await openFile(page, path);
    await textIs(page, '.take-in', (t) => t.includes('0 songs, 0 sets, 1 preset, 1 board'));
    await pressButton(page, 'Take it in');
    await until(
      'the preset',
      () => running.app.get<Kept<{ name: string }>[]>(`/presets?rigId=${demoRig.id}`),
      (all) => all.some((k) => k.doc.name === 'Ferry tour 2'),
    );
  });
});
