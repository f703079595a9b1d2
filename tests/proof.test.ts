import type { GearRecord, Kept } from '@idle-step/contract';
import type { FullRig } from '@idle-step/core/routing';
import type { Song } from '@idle-step/core/show';
import { demoRig, demoSongs } from '@idle-step/demo';
import type { Page } from 'puppeteer-core';
import { describe, expect, it } from 'vitest';
import { axeViolations } from './support/axe';
import { chord, openPage, pressButton, textIs, until, useApp } from './support/app';

const running = useApp();
const heron = demoSongs.find((s) => s.name === 'Heron')!;
const song = async (id: string) => (await running.app.get<Kept<Song>>(`/songs/${id}`)).doc;
const verdict = (page: Page, holds: (text: string) => boolean) => textIs(page, '.verdict', holds);

describe('Proof', () => {
  it('says of a sound evening that it plays hands-free, and how', async () => {
    const page = await openPage(running.browser, running.app.base, '/proof');
    await verdict(page, (t) => t === 'Plays hands-free in 46 presses, with nothing held against it.');
    await textIs(page, '.findings-room', (t) => t.includes('Nothing is held against this evening.'));
    expect(await axeViolations(page)).toEqual([]);
    await page.goto(`${running.app.base}/proof/reach`);
    await textIs(page, '.proof-place', (t) => t.includes('Feet bring about all 43 scenes.'));
    await textIs(page, '.proof-place', (t) => t.includes('it takes 4 presses to get back'));
    expect(await axeViolations(page)).toEqual([]);
    // What is told is played on the floor, and leads where it says.
    await pressButton(page, 'Play it on the floor');
    await textIs(page, 'header.strip', (t) => t.includes('Tin Lantern'));
    await until(
      'it ends',
      async () => (await page.$('.proof-place .notice')) === null,
      (isOver) => isOver,
    );
    await page.goto(`${running.app.base}/proof/plan`);
    await textIs(page, '.plan-room', (t) => t.includes('No way plays the set in order with fewer.'));
    await textIs(page, '.plan-line', (t) => t.includes('near 5'));
    expect(await axeViolations(page)).toEqual([]);
    await pressButton(page, 'Show it on Stage');
    await page.goto(`${running.app.base}/proof/layout`);
    await pressButton(page, 'Look for an easier layout');
    await textIs(page, '.layout-room', (t) => t.includes('layouts were tried.'), 90_000);
    await textIs(page, '.layout-room', (t) => /Moving \d+ switch/.test(t));
    expect(await axeViolations(page)).toEqual([]);
    await pressButton(page, 'Take it whole');
    await verdict(page, (t) => t.startsWith('Plays hands-free in 46 presses'));
    await textIs(page, '.layout-room', (t) => t.includes('Nothing easier was found'), 90_000);
    await chord(page, 'Control', 'z');
    await page.goto(`${running.app.base}/proof/breaks`);
    await textIs(page, '.breaks-table', (t) => t.includes('no press leads to 32 of 47 parts'), 120_000);
    expect(await axeViolations(page)).toEqual([]);
    await page.goto(`${running.app.base}/stage`);
    await textIs(page, '.plan-step', (t) => t === 'right foot, near 5');
    expect(await axeViolations(page)).toEqual([]);
  });

  it('finds what is wrong after an edit, mends it in one step, and lets it be set aside', async () => {
    const page = await openPage(running.browser, running.app.base, '/proof');
    await textIs(page, '.findings-room', (t) => t.includes('Nothing is held against'));
    // Two tracks that listen to one input.
    const { doc, version } = await running.app.get<Kept<Song>>(`/songs/${heron.id}`);
    const arm = (name: string) => demoRig.devices.flatMap((d) => d.chart).find((f) => f.name === name)!.id;
    const last = doc.scenes.length - 1;
    const answer = await fetch(`${running.app.base}/api/songs/${doc.id}`, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/json', 'If-Match': `"${version}"` },
      body: JSON.stringify({
        ...doc,
        scenes: doc.scenes.map((s, i) =>
          i === last ? { ...s, armedFunctionIds: [arm('Arm Bow'), arm('Arm Reeds')] } : s,
        ),
      }),
    });
    expect(answer.status).toBe(200);
    await page.reload();
    await textIs(
      page,
      '.finding-list',
      (t) => t.includes('both listen to cello') && t.includes('heard twice'),
    );
    await verdict(page, (t) => t.includes('1 finding.'));
    expect(await axeViolations(page)).toEqual([]);
    await pressButton(page, 'Set aside');
    await page.type('[aria-label="Why it is meant to be so"]', 'a choir of two');
    await page.keyboard.press('Enter');
    await textIs(page, '.finding-list.aside', (t) => t.includes('a choir of two'));
    await verdict(page, (t) => t.includes('nothing held against it'));
    await until(
      'the record',
      () => running.app.get<GearRecord[]>(`/records?rigId=${demoRig.id}`),
      (all) => all.some((r) => r.what.kind === 'set-aside' && r.what.reason === 'a choir of two'),
    );
    await page.reload();
    await textIs(page, '.finding-list.aside', (t) => t.includes('a choir of two'));
    await pressButton(page, 'Take it back');
    await textIs(page, '.finding-list', (t) => t.includes('Let the second one go'));
    await pressButton(page, 'Let the second one go');
    await textIs(page, '.findings-room', (t) => t.includes('Nothing is held against'));
    await until(
      'mended',
      () => song(heron.id),
      (s) => s.scenes[last]!.armedFunctionIds?.length === 1,
    );
    await chord(page, 'Control', 'z');
    await textIs(page, '.finding-list', (t) => t.includes('both listen to cello'));
  });

  it('says that it cannot be played where no switch leads on, and what would bear it', async () => {
    const { doc, version } = await running.app.get<Kept<FullRig>>(`/rigs/${demoRig.id}`);
    const answer = await fetch(`${running.app.base}/api/rigs/${doc.id}`, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/json', 'If-Match': `"${version}"` },
      body: JSON.stringify({ ...doc, cables: doc.cables.slice(1) }),
    });
    expect(answer.status).toBe(200);
    const page = await openPage(running.browser, running.app.base, '/proof');
    await verdict(page, (t) => t.includes('Does not play hands-free: no press leads to 32 parts of 47.'));
    await textIs(page, '.finding-list', (t) => t.includes('Plank 10 reaches nothing'));
    await page.goto(`${running.app.base}/proof/plan`);
    await textIs(page, '.plan-room', (t) => t.includes('no press leads there from the part before'));
    expect(await axeViolations(page)).toEqual([]);
  });
});
