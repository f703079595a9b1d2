import type { FullRig } from '@idle-step/core/routing';
import type { Kept } from '@idle-step/contract';
import { mkdirSync } from 'node:fs';
import type { Page } from 'puppeteer-core';
import { join } from 'node:path';

import { afterEach, beforeEach, describe, expect, inject, it } from 'vitest';
import { axeViolations } from './support/axe';
import { openPage, RunningApp, textIs, until, useApp } from './support/app';
import { Person } from './support/person';
import { fake, FAKE_SOURCE, footPress, hexOf } from './support/ports';

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

/** Presses and lets go of a switch of a foot board: a controller on channel 5. */
const footAt = (page: Page) => (number: number) => footPress(page, 'Blue box 1', 0xb4, number);
const sentAt = (page: Page) => fake(page, (f) => f.sent('Blue box A')).then(hexOf);

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
  beforeEach(async () => {
    empty = await RunningApp.start(inject('databaseUrl'), { withDemo: false });
  });
  afterEach(() => empty.kill());
  const rig = async () => (await empty.get<Kept<FullRig>[]>('/rigs'))[0]!.doc;

  it('a foot switch recalls a sound by real bytes in few inputs; then a chart, songs, a set, and the stage', async () => {
    const page = await openPage(
      browser.browser,
      empty.base,
      '/',
      (p) => p.evaluateOnNewDocument(FAKE_SOURCE),
      { isFirstVisit: true },
    );
    const me = new Newcomer(page);
    const foot = footAt(page);
    const out = () => sentAt(page);
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

  it('a keyboardist’s: three devices, six switches, six songs of three scenes', async () => {
    const page = await openPage(
      browser.browser,
      empty.base,
      '/',
      (p) => p.evaluateOnNewDocument(FAKE_SOURCE),
      { isFirstVisit: true },
    );
    const me = new Newcomer(page);
    const foot = footAt(page);
    const out = () => sentAt(page);
    const switches = ['far 1', 'far 2', 'far 3', 'far 4', 'far 5', 'near 1'];
    const rowsFromText = async (device: string, text: string) => {
      // An empty chart has the field open already.
      await (device === 'Organ' ? me.press('Rows from text') : me.click('.manual-text textarea'));
      await page.waitForSelector('.manual-text textarea:focus');
      await me.typeOnly(text);
      const count = text.split('\n').length;
      await textIs(page, '.manual-foot', (t) => t.startsWith(`Add ${count} functions`));
      await me.press(`Add ${count} functions`);
      await until(`the chart of ${device}`, rig, (r) =>
        r.devices.some((d) => d.name === device && d.chart.length >= count),
      );
    };

    await page.waitForSelector('.empty-place');
    await me.press('Start a rig');
    await me.press('Ten switches and two pedals');
    await me.fill('Gear of your own, called', 'Organ');
    await me.fill('It listens on channel', '1');
    await me.press('Move Organ');
    await me.press('By USB, into this computer');
    await textIs(page, '.learn-ask', (t) => t.startsWith('Press far 1'));
    await me.choose('Organ hears by (Organ USB)', 'Blue box A');
    await foot(90);
    await textIs(page, '.learn-said', (t) => t.includes('far 1 sends CC 90'));
    await me.press('Write down what Organ answers to');
    await rowsFromText('Organ', 'CC 22 Registration 1-8 = 0-7\nCC 11 Swell\nCC 27 Rotary on/off');
    await me.click('.rail a[href="/floor"]');
    await me.press('Table');
    await page.waitForSelector('.preset-grid');
    await me.click('.preset-grid [aria-label^="far 1, press, 1 "]');
    await me.type('Registration 3');
    const before = (await out()).length;
    await foot(90);
    expect((await until('the first own sound', out, (all) => all.length > before)).slice(before)).toEqual([
      'B0 16 02',
    ]);
    const toFirstOwnSound = me.inputs;

    // The other five switches: what they do, and what they send.
    for (const text of ['Registration 5', 'Rotary', 'song +', 'scene -', 'scene +']) await me.type(text);
    await me.press('Board');
    await me.click('[aria-label^="far 2 "]');
    await me.withShift(...switches.slice(2).map((name) => `[aria-label^="${name} "]`));
    await me.click('.board-tools ::-p-text(Learn 5 in a row)');
    for (const [i, name] of switches.slice(1).entries()) {
      await textIs(page, '.learn-ask', (t) => t.startsWith(`Press ${name}`));
      await foot(91 + i);
    }
    await textIs(page, '.learn-said', (t) => t.includes('near 1 sends CC 95'));

    // The second piece of gear, with its chart, heard by the same output.
    await me.click('.rail a[href="/rig"]');
    await me.press('Add device');
    await me.click('.dropdown-menu.show ::-p-text(Other gear that answers)');
    await page.waitForSelector('.device-settings');
    await me.fill('Name', 'Strings');
    await me.fill('Channel', '2');
    await me.click('.detail[aria-label="Strings"] [role="tab"]::-p-text(Ports)');
    const written = await until('kept', rig, (r) => r.devices.some((d) => d.name === 'Strings'));
    const port = written.devices.find((d) => d.name === 'Strings')!.ports[0]!.name;
    await me.click(`[aria-label="${port} is at this computer"]`);
    await me.choose(`Browser’s port for ${port}`, 'Blue box A');
    await me.click('.detail[aria-label="Strings"] [role="tab"]::-p-text(Chart)');
    await rowsFromText('Strings', 'CC 20 Pad 1-16 = 0-15\nCC 7 Level');

    // Six songs of three scenes: the first by hand, the others like it.
    await me.click('.rail a[href="/songs"]');
    await me.press('Write a song');
    await until(
      'the name',
      () => page.evaluate(() => (document.activeElement as HTMLInputElement).labels?.[0]?.textContent),
      (l) => l === 'Name of the song',
    );
    await me.type('Dusk');
    await me.press('The book');
    await page.waitForSelector('.book-grid td[data-cell="in-hand"]:focus');
    for (const scene of ['Verse', 'Chorus']) {
      await me.chord('Control', 'Enter');
      await me.typeOnly(scene);
    }
    await me.key('Enter');
    const names = ['Dusk', 'Ember', 'Fathom', 'Gable', 'Harrow', 'Ivory'];
    const cell = (column: string, place: string) => `.book-grid td[aria-label^="${column} ${place}"]`;
    for (const line of ['Registration', 'Pad']) {
      await me.click('.add-row input');
      await me.type(line);
    }
    await me.click(cell('Scene of', 'Dusk, Intro'));
    await me.press('Songs like this');
    await page.waitForSelector('.book-panel textarea:focus');
    for (const name of names.slice(1)) await me.type(name);
    await me.choose('Put them into', 'a new set, New set');
    await me.press('Make 5 songs');
    await page.waitForSelector('.book-panel', { hidden: true });
    await me.choose('Songs of', 'all songs');
    // Down the column, song after song: the rows of all six follow each other.
    for (const [column, from] of [
      ['Organ Registration in', 0],
      ['Strings Pad in', 3],
    ] as const) {
      await me.click(cell(column, 'Dusk, Intro'));
      for (let row = 0; row < 18; row++) await me.type(String(1 + ((row + from) % 8)));
    }

    // The set: the first song to the others, and onto the stage.
    await me.click('.rail a[href="/sets"]');
    await me.click('.order-tools ::-p-text(Song)');
    await me.click('.add-songs.show .dropdown-item::-p-text(Dusk)');
    await me.key('Escape');
    await textIs(page, '.save-state', (t) => /^saved \d/.test(t));
    await me.click('.running-order ::-p-text(Stage)');
    await page.waitForSelector('.stage-now');
    const walked = (await out()).length;
    await foot(95);
    await new Promise((resolve) => setTimeout(resolve, 300));
    await foot(95);
    // Ember, the first of the set: its rows are the fourth and the fifth.
    await until('two scenes', out, (all) => all.slice(walked).length >= 4);
    expect((await out()).slice(walked)).toEqual(['B0 16 03', 'B1 14 06', 'B0 16 04', 'B1 14 07']);
    console.table([
      { work: 'a keyboardist’s evening, to the first own sound', inputs: toFirstOwnSound, most: 45 },
      { work: 'a keyboardist’s evening, in all', inputs: me.inputs, most: 210 },
    ]);
    expect(toFirstOwnSound).toBeLessThanOrEqual(45);
    expect(me.inputs).toBeLessThanOrEqual(210);
    expect(page.troubles).toEqual([]);
  });
});
