import type { Song } from '@idle-step/core/show';
import type { FullRig } from '@idle-step/core/routing';
import { demoRig, demoSongs } from '@idle-step/demo';
import type { Page } from 'puppeteer-core';
import { describe, expect, it } from 'vitest';
import { choose, chord, fill, openPage, pressButton, textIs, textOf, until, useApp } from './support/app';
import { axeViolations } from './support/axe';

const running = useApp();
type Kept<T> = { doc: T };
const songNamed = (name: string) => demoSongs.find((s) => s.name === name)!;
const ferry = songNamed('Slow Ferry');
const weir = songNamed('Paper Weir');
const keptSong = async (id: string) => (await running.app.get<Kept<Song>>(`/songs/${id}`)).doc;
const saved = (page: Page) => textIs(page, '.save-state', (t) => /^saved \d/.test(t));
const cuesOf = async () =>
  (await keptSong(ferry.id)).line.cues
    .map((c) => [c.name, c.bar, c.beat] as const)
    .toSorted((a, b) => a[1] - b[1]);
const openRoom = async (song: Song, room: string) => {
  const page = await openPage(running.browser, running.app.base, `/songs/${song.id}/${room}`);
  await page.waitForSelector(room === 'time' ? '.line-drawing' : '.layer-line');
  return page;
};
const cueAt = (name: string) => `.line-cue[aria-label^="Cue ${name}"]`;

/** A button of a head by its text; other buttons of the page may have the same. */
const headButton = (page: Page, head: string, text: string) =>
  page.evaluate(
    (h, t) =>
      [...document.querySelectorAll<HTMLButtonElement>(`${h} button`)]
        .find((b) => b.textContent.trim() === t)!
        .click(),
    head,
    text,
  );

describe('the time line of a song', () => {
  it('is drawn to scale: parts, cues, what moves, and what the feet do', async () => {
    const page = await openRoom(ferry, 'time');
    const lefts = await page.$$eval('.line-part', (parts) =>
      parts.map((p) => parseFloat((p as HTMLElement).style.left)),
    );
    // 76 bars and one more for the change of tempo at its end: the parts begin after 0, 8, 24, 32, 48, 56 and 68 bars.
    const share = lefts.map((l) => Math.round((l / lefts[1]!) * 8));
    expect(share).toEqual([0, 8, 24, 32, 48, 56, 68]);
    // What moves is worked out in the show in play, which comes a moment after the song.
    const names = await until(
      'what moves',
      () => page.$$eval('.line-name', (list) => list.map((e) => e.textContent)),
      (list) => list.includes('Level Voice'),
    );
    // It is played beside the page, which may be playing the set meanwhile.
    expect(page.workers().some((w) => w.url().includes('songPlayer'))).toBe(true);
    expect(names).toEqual(['Parts', 'Bar, time', 'Tempo', 'Cues', 'Reverb mix', 'Level Voice', 'Feet']);
    expect(await page.$$eval('.line-foot', (list) => list.map((e) => e.textContent))).toContain('near 1');
    expect(await axeViolations(page)).toEqual([]);
    expect(page.troubles).toEqual([]);
  });

  it('moves cues by the arrows and by drag, and undo takes it back', async () => {
    const page = await openRoom(ferry, 'time');
    await page.click(cueAt('Roundel play'));
    await textIs(page, '[aria-label="The cue in hand"] .action-title', (t) => t === 'Roundel All start');
    await page.focus(cueAt('Roundel play'));
    await page.keyboard.press('ArrowRight');
    await until('a beat on', cuesOf, (cues) =>
      cues.some(([n, bar, beat]) => n === 'Roundel play' && bar === 33 && beat === 2),
    );
    await page.keyboard.down('Shift');
    await page.keyboard.press('ArrowLeft');
    await page.keyboard.up('Shift');
    await until('a bar back', cuesOf, (cues) =>
      cues.some(([n, bar, beat]) => n === 'Roundel play' && bar === 32 && beat === 2),
    );
    const box = (await (await page.$(cueAt('Low voice')))!.boundingBox())!;
    const track = (await (await page.$('.line-track'))!.boundingBox())!;
    await page.mouse.move(box.x + 10, box.y + 12);
    await page.mouse.down();
    await page.mouse.move(box.x + 10 + track.width / 19, box.y + 12, { steps: 6 });
    await page.mouse.up();
    // A nineteenth of 76 bars is four bars.
    await until('dragged', cuesOf, (cues) => cues.some(([n, bar]) => n === 'Low voice' && bar === 61));
    for (let n = 0; n < 3; n++) await chord(page, 'Control', 'z');
    // Each of the three undos is a step of its own, and is saved by itself.
    const asBefore = JSON.stringify(ferry.line.cues.map((c) => [c.name, c.bar, c.beat]));
    await until('undone', cuesOf, (cues) => JSON.stringify(cues) === asBefore);
    expect(page.troubles).toEqual([]);
  });

  it('takes a new cue where one clicked, with actions of its own, and runs it at its beat', async () => {
    const page = await openRoom(ferry, 'time');
    // Offered as soon as the set in play has come, and not before: it would do nothing.
    await textIs(page, '.time-head', (t) => t.includes('Run'));
    expect(await textOf(page, '.where')).toContain('of 11');
    await headButton(page, '.time-head', 'Run');
    await until(
      'running',
      () => textOf(page, '.line-figures'),
      (t) => !/^1\.1/.test(t ?? ''),
    );
    await headButton(page, '.time-head', 'Stop');
    await headButton(page, '.time-head', 'Cue');
    await page.waitForSelector('[aria-label="The cue in hand"]');
    await fill(page, 'Name of the cue', 'Second beat');
    await fill(page, 'Bar and beat', '1.2');
    await headButton(page, '.line-detail-head', 'Action');
    await page.waitForSelector('.line-detail .action-editor');
    await choose(page, 'Does', 'send raw bytes');
    await fill(page, 'Bytes, in hexadecimal', 'B0 63 2A');
    await saved(page);
    const made = (await keptSong(ferry.id)).line.cues.find((c) => c.name === 'Second beat')!;
    expect(made).toMatchObject({ bar: 1, beat: 2, actions: [{ kind: 'raw', bytes: [0xb0, 0x63, 0x2a] }] });
    await pressButton(page, 'Run from the beginning');
    await textIs(page, '.messages', (t) => t.includes('B0 63 2A'));
    expect(page.troubles).toEqual([]);
  });

  it('is counted on the stage: the bar, and in how many the next part comes', async () => {
    const page = await openRoom(ferry, 'time');
    await textIs(page, '.time-head', (t) => t.includes('Run'));
    await pressButton(page, 'Run from the beginning');
    await page.evaluate(() => {
      window.history.pushState(null, '', '/stage');
      window.dispatchEvent(new PopStateEvent('popstate'));
    });
    await textIs(page, '.stage-bar', (t) => /^bar [1-9]/.test(t));
    await textIs(page, '.stage-next small', (t) => /^next in [2-8] bars$/.test(t));
    expect(page.troubles).toEqual([]);
  });

  it('refuses a place that is none with what would be right', async () => {
    const page = await openRoom(ferry, 'time');
    await page.click(cueAt('Deeper'));
    await fill(page, 'Bar and beat', 'soon');
    expect(await textOf(page, '.line-detail .invalid-feedback, .line-detail .field-error')).toContain(
      'bar and beat like 33.2 would be right',
    );
  });
});

describe('a curve over a song', () => {
  it('is drawn by its points, dragged, typed, kept in cues, and taken back', async () => {
    const page = await openRoom(weir, 'time');
    const kept = async () => (await running.app.get<Kept<Song>>(`/songs/${weir.id}`)).doc;
    const before = await kept();
    await page.locator('.time-head ::-p-text(Curve)').click();
    const box = await page.$eval('.curve-drawing', (e) => {
      e.scrollIntoView();
      const { x, y, width, height } = e.getBoundingClientRect();
      return { x, y, width, height };
    });
    const click = (share: number, up: number) =>
      page.mouse.click(box.x + box.width * share, box.y + box.height * (1 - up));
    await click(0.1, 0.1);
    await click(0.5, 0.9);
    const circles = () => page.$$('.curve-points li');
    await until('two points', circles, (all) => all.length === 2);
    // Its own line in the drawing above comes with it, and moves nothing.
    const name = await page.$eval('[aria-label^="The curve of"]', (e) =>
      e.ariaLabel!.slice('The curve of '.length),
    );
    await until(
      'its line',
      () => page.$$eval('.line-name', (list) => list.map((e) => e.textContent)),
      (list) => list.includes(name),
    );
    expect(await page.$eval('.curve-drawing', (e) => e.getBoundingClientRect().y)).toBe(box.y);
    await click(0.8, 0.5);
    await until('three points', circles, (all) => all.length === 3);
    const ramps = (song: Song) => song.line.cues.flatMap((c) => c.actions.filter((a) => a.kind === 'ramp'));
    const count = ramps(before).length;
    await until('kept', kept, (song) => ramps(song).length === count + 2);
    // The last point is dragged down to the lowest value, and the first one is typed.
    const placeOfLast = async () =>
      (await page.$$('.curve-point')).at(-1)!.evaluate((e) => {
        const r = e.getBoundingClientRect();
        return { x: r.x + r.width / 2, y: r.y + r.height / 2 };
      });
    const { x, y } = await placeOfLast();
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x, box.y + box.height, { steps: 4 });
    await page.mouse.up();
    await until('lowest', kept, (song) => ramps(song).some((a) => a.kind === 'ramp' && a.to === 0));
    // On a slow computer it is dropped before it was drawn where it was pulled to.
    const low = await placeOfLast();
    await page.mouse.move(low.x, low.y);
    await page.mouse.down();
    await page.$eval(
      '.curve-drawing',
      (e, to) => {
        for (const type of ['pointermove', 'pointerup'])
          e.dispatchEvent(
            new PointerEvent(type, { bubbles: true, pointerId: 1, clientX: to.x, clientY: to.y - 200 }),
          );
      },
      low,
    );
    await page.mouse.up();
    await until('highest', kept, (song) => ramps(song).some((a) => a.kind === 'ramp' && a.to === 127));
    const first = await page.waitForSelector('.curve-points li:first-child input.num');
    await first!.click({ count: 3 });
    await page.keyboard.type('42');
    await page.keyboard.press('Enter');
    await until('typed', kept, (song) => ramps(song).some((a) => a.kind === 'ramp' && a.from === 42));
    expect(await axeViolations(page)).toEqual([]);
    await page.locator('.line-detail ::-p-text(Take it away)').click();
    await until(
      'as it was',
      kept,
      (song) => JSON.stringify(song.line.cues) === JSON.stringify(before.line.cues),
    );
    expect(page.troubles).toEqual([]);
  });
});

describe('the layers of a song', () => {
  it('sound in scenes, over a range, at a level; and the sheet says the same', async () => {
    const page = await openRoom(weir, 'layers');
    const scene = (layer: string, name: string) =>
      page.evaluateHandle(
        (l, n) =>
          [...document.querySelectorAll<HTMLElement>(`.layer-line[aria-label="${l}"] .layer-scene`)].find(
            (e) => e.textContent!.startsWith(n),
          )!,
        layer,
        name,
      );
    const intro = await scene('High bells', 'Intro');
    await (await intro.asElement()!.$('button'))!.click();
    await fill(page, 'Level of High bells in Intro', '88');
    await saved(page);
    const bells = demoRig.routing.routes.find((r) => r.name === 'High bells')!;
    const first = (await keptSong(weir.id)).scenes[0]!;
    expect(first.routes).toContainEqual({ routeId: bells.id, part: 'route', on: true });
    expect(await axeViolations(page)).toEqual([]);
    await page.goto(`${running.app.base}/songs/${weir.id}`);
    await page.waitForSelector('.cue-grid');
    const lines = await page.$$eval('.cue-grid tbody tr', (rows) => rows.map((r) => r.textContent!));
    expect(lines.find((l) => l.includes('Layer High bells'))).toMatch(/on/);
    expect(page.troubles).toEqual([]);
  });

  it('are added to the rig, and removed with a question where a song uses them', async () => {
    const page = await openRoom(weir, 'layers');
    const names = () =>
      page.$$eval('.layer-line', (lines) => lines.map((line) => line.getAttribute('aria-label')!));
    const before = await until('the layers', names, (all) => all.length > 0);
    await headButton(page, '.layers-room .time-head', 'Layer');
    const after = await until('one more', names, (all) => all.length > before.length);
    // It is called after the device that it plays.
    const added = after.find((name) => !before.includes(name))!;
    expect(demoRig.devices.some((d) => added.startsWith(d.name))).toBe(true);
    await pressButton(page, `Remove ${added}`);
    await until('gone', names, (all) => !all.includes(added));
    await pressButton(page, 'Remove Low hum');
    await textIs(page, '.modal-body', (t) => t.includes('Low hum is in use') && t.includes('Paper Weir'));
    await page.keyboard.press('Escape');
    const { doc } = await running.app.get<Kept<FullRig>>(`/rigs/${demoRig.id}`);
    expect(doc.routing.routes.some((r) => r.name === 'Low hum')).toBe(true);
  });
});

describe('a song that is opened while the server is away', () => {
  it('comes by itself when the server is back', async () => {
    const page = await openPage(running.browser, running.app.base, '/songs');
    await page.waitForSelector('.cue-grid');
    const blocked = (request: { url(): string; abort(): unknown; continue(): unknown }) =>
      void (request.url().includes('ids=') ? request.abort() : request.continue());
    await page.setRequestInterception(true);
    page.on('request', blocked);
    const other = (await running.app.get<Kept<Song>[]>('/songs')).find(({ doc }) => doc.name === 'Spare');
    expect(other).toBe(undefined);
    const spare = {
      ...ferry,
      id: crypto.randomUUID(),
      name: 'Spare',
      parts: [],
      scenes: [],
      line: { ...ferry.line, cues: [], tempos: [] },
    };
    await fetch(`${running.app.base}/api/songs`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(spare),
    });
    await page.evaluate((id) => {
      window.history.pushState(null, '', `/songs/${id}`);
      window.dispatchEvent(new PopStateEvent('popstate'));
    }, spare.id);
    // The song before stands meanwhile, and cannot be changed by mistake.
    await textIs(page, '.songs-place', (t) => t.includes('Loading …'));
    expect(await page.$('.cue-sheet[inert] .cue-grid')).not.toBeNull();
    page.off('request', blocked);
    await page.setRequestInterception(false);
    await until(
      'opened',
      () => page.$('.cue-sheet:not([inert]) .cue-grid[aria-label="Cue sheet of Spare"]'),
      (found) => found !== null,
    );
    expect(await textOf(page, '.songs-place')).not.toContain('Loading …');
  });
});
