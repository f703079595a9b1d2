import type { FullRig } from '@idle-step/core/routing';
import type { Kept } from '@idle-step/contract';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';

import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { axeViolations } from './support/axe';
import { openPage, RunningApp, textIs, until, useApp } from './support/app';
import { Person } from './support/person';
import { fake, FAKE_SOURCE, hexOf } from './support/ports';

/** Where pictures of each step go, when somebody wants to look at them. */
const PICTURES = process.env['PICTURES'];

const { browser } = { browser: useApp() };

/** A chart as copied from a spreadsheet: six columns and tabs. */
const COPIED = [
  ['Sound', 'Sounds', 'program', '', '', '0=Bare; 1=Fog; 2=Bell'],
  ['Snapshot', 'Sounds', 'CC 22', 'choice', '', '0=Dry; 1=Body; 2=Full', '1'],
  ['Swell', 'Knobs', 'CC 11'],
  ['Echo', 'Blocks', 'CC 27', 'switch', '', '0/127'],
]
  .map((r) => r.join('\t'))
  .join('\n');

/** Somebody who can have a picture of each step. */
class Newcomer extends Person {
  private pictures = 0;
  async look(name: string): Promise<void> {
    if (!PICTURES) return;
    mkdirSync(PICTURES, { recursive: true });
    await this.page.screenshot({
      path: join(PICTURES, `${String(++this.pictures).padStart(2, '0')}-${name}.png`),
    });
  }
}

describe('a newcomer’s first evening, from an empty database', () => {
  let empty: RunningApp;
  beforeAll(async () => {
    empty = await RunningApp.start(inject('databaseUrl'), { withDemo: false });
  });
  afterAll(() => empty.kill());
  const rig = async () => (await empty.get<Kept<FullRig>[]>('/rigs'))[0]!.doc;

  it('a foot switch recalls a sound by real bytes in few inputs; then a chart, songs, a set, and the stage', async () => {
    const page = await openPage(browser.browser, empty.base, '/', (p) =>
      p.evaluateOnNewDocument(FAKE_SOURCE),
    );
    const me = new Newcomer(page);
    const foot = async (number: number) => {
      for (const value of [127, 0])
        await page.evaluate(
          (bytes) =>
            (window as unknown as { midiFake: { deliver(n: string, b: number[]): void } }).midiFake.deliver(
              'Blue box 1',
              bytes,
            ),
          [0xb4, number, value],
        );
    };
    const out = () => fake(page, (f) => f.sent('Blue box A')).then(hexOf);
    const fresh = async (before: number, count: number) =>
      (await until('sent', out, (all) => all.length >= before + count)).slice(before);

    await page.waitForSelector('.empty-place');
    await me.look('nothing');
    await me.press('Start a rig');
    await page.waitForSelector('.begin');
    expect(await axeViolations(page)).toEqual([]);
    await me.look('feet');
    await me.press('Four small switches');
    await me.fill('Gear of your own, called', 'Skiff');
    await me.fill('It listens on channel', '3');
    await me.look('gear');
    await me.press('Move Skiff');
    await me.look('cables');
    await me.press('By MIDI cables, through an interface');
    await textIs(page, '.learn-ask', (t) => t.startsWith('Press switch 1'));
    await me.look('first-press');
    await me.choose('Skiff hears by (Interface Out 1)', 'Blue box A');
    await foot(90);
    await textIs(page, '.learn-said', (t) =>
      t.includes('switch 1 sends CC 90 on channel 5: momentary switch'),
    );
    await textIs(page, '.learn-said', (t) => t.includes('“Blue box 1” is bound to Interface In 1'));
    await foot(90);
    expect(await fresh(0, 1)).toEqual(['C2 00']);
    await textIs(page, '.begin-next', (t) => t.startsWith('switch 1 was pressed, and Skiff was told'));
    expect(await axeViolations(page)).toEqual([]);
    await me.look('moved');
    const toFirstSound = me.inputs;
    expect(toFirstSound).toBeLessThanOrEqual(30);

    // The other three switches are learned in a row, without the mouse between.
    await me.press('Learn the other switches');
    await me.click('[aria-label^="switch 2 "]');
    await me.withShift('[aria-label^="switch 3 "]', '[aria-label^="switch 4 "]');
    await me.click('.board-tools ::-p-text(Learn 3 in a row)');
    for (const n of [2, 3, 4]) {
      await textIs(page, '.learn-ask', (t) => t.startsWith(`Press switch ${n}`));
      await foot(89 + n);
    }
    await textIs(page, '.learn-said', (t) => t.includes('switch 4 sends CC 93'));
    await me.look('learned');

    // The chart comes from a spreadsheet.
    await me.click('.rail a[href="/rig"]');
    await me.click('.device-card ::-p-text(Skiff)');
    await me.click('.detail[aria-label="Skiff"] [role="tab"]::-p-text(Chart)');
    await me.click('.new-row .c-name');
    await me.paste(COPIED);
    await textIs(page, '.notice', (t) => t.includes('4 rows pasted'));
    await me.look('chart');
    const written = await until('kept', rig, (r) => r.devices.some((d) => d.chart.length === 5));
    expect(written.devices.map((d) => d.name)).toEqual(['Small switches', 'Skiff', 'Interface']);

    // The last switch goes on to the next scene.
    await me.click('.rail a[href="/floor"]');
    await me.click('.board-room [data-control="switch 4"]');
    await me.click('.gesture ::-p-text(Skiff Program)');
    await me.choose('Does', 'go to a scene');
    await textIs(page, '.save-state', (t) => /^saved \d/.test(t));
    await me.look('floor');

    // A song of three scenes, with a row of values.
    await me.click('.rail a[href="/songs"]');
    await me.press('Write a song');
    await page.waitForSelector('.add-row input');
    await me.press('Scene');
    await me.press('Scene');
    await me.choose('Add a line to the sheet', 'Skiff: Snapshot');
    await page.waitForSelector('[data-cell="in-hand"]');
    await me.type('1');
    await me.key('ArrowRight');
    await me.type('2');
    await me.key('ArrowRight');
    await me.type('3');
    await textIs(page, '.save-state', (t) => /^saved \d/.test(t));
    await me.look('song');

    await me.click('.rail a[href="/sets"]');
    await me.press('Make a set');
    await me.click('.order-tools ::-p-text(Song)');
    await me.click('.long-menu ::-p-text(New song)');
    await textIs(page, '.save-state', (t) => /^saved \d/.test(t));
    await me.look('set');
    await me.click('.running-order ::-p-text(Stage)');
    await page.waitForSelector('.stage-now');

    // Played with the foot alone: scene by scene, each with its bytes.
    const before = (await out()).length;
    for (let i = 0; i < 3; i++) {
      await foot(93);
      await until(`scene ${i + 1}`, out, (all) => all.length >= before + i + 1);
      // Two steps within a fifth of a second would count as one.
      await new Promise((resolve) => setTimeout(resolve, 250));
    }
    expect(await fresh(before, 3)).toEqual(['B2 16 00', 'B2 16 01', 'B2 16 02']);
    await me.look('stage');
    console.log(
      `A newcomer’s first evening: ${toFirstSound} inputs to the first sound, ${me.inputs} in all.`,
    );
    expect(page.troubles).toEqual([]);
  });
});
