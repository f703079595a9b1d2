import { type Song, partsOf, sceneCells } from '@idle-step/core/show';
import { demoSets, demoSongs, TRACK_NAMES, demoRig } from '@idle-step/demo';
import { functionTable } from '@idle-step/contract';
import { shownText } from '@idle-step/core/gear';
import type { Page } from 'puppeteer-core';
import { describe, expect, it } from 'vitest';
import { choose, openPage, textIs, textOf, until, useApp } from './support/app';
import { bindPort, fake, hexOf, openWithPorts } from './support/ports';

const running = useApp();

const BY_CLICK = '[aria-label="A click on the board"]';
const PLAY = `${BY_CLICK} ::-p-text(Play)`;
const PROCESSOR = '[aria-label="Stand-in of Kelpline"]';
const figure = (name: string) => `${PROCESSOR} [data-figure="${name}"]`;

describe('setting a switch and pressing it', () => {
  it('after a reload stand-ins are where they were, and what the next press sends is shown', async () => {
    const page = await openPage(running.browser, running.app.base, '/floor');
    await page.locator(PLAY).click();
    // A scene that loads a program, and says nothing of the drive.
    await page.locator('[data-control="near 3"]').click();
    const program = await textIs(page, figure('Program'), (t) => t.includes('Program') && !t.endsWith(' 1'));
    await new Promise((r) => setTimeout(r, 400));
    const [snapshot, reverb] = [await textOf(page, figure('Snapshot')), await textOf(page, figure('Reverb'))];
    const lamp = () => page.$eval('[data-control="far 1"]', (e) => e.getAttribute('aria-pressed'));
    expect(await lamp()).toBe('mixed');
    await page.reload();
    await textIs(page, figure('Program'), (t) => t === program);
    await textIs(page, figure('Snapshot'), (t) => t === snapshot);
    await textIs(page, figure('Reverb'), (t) => t === reverb);
    expect(await lamp()).toBe('mixed');
    // The drive: controller 24 on channel 3. It is told off first, then it is known.
    const shows = async (bytes: string, words: string) => {
      await textIs(page, '.action-open .bytes', (t) => t === bytes);
      await textIs(page, '.wire-target', (t) => t.includes(words));
    };
    await page.locator(`${BY_CLICK} ::-p-text(Edit)`).click();
    await page.locator('[data-control="far 1"]').click();
    await shows('B2 18 00', 'Drive off');
    for (const [sent, next, words] of [
      ['B2 18 00', 'B2 18 7F', 'Drive on'],
      ['B2 18 7F', 'B2 18 00', 'Drive off'],
    ] as const) {
      await page.locator('::-p-text(Test press)').click();
      await textIs(page, '.messages', (t) => t.includes(sent));
      await shows(next, words);
    }
    expect(page.troubles).toEqual([]);
  });

  it('is saved, survives a reload, moves the stand-in, and stands in the monitor with its bytes', async () => {
    const page = await openPage(running.browser, running.app.base, '/floor');
    await page.locator('[data-control="far 1"]').click();
    await page.locator('.action-open').click();
    await choose(page, 'Does', 'set a function');
    await choose(page, 'Device', 'Kelpline');
    await choose(page, 'Function', 'Snapshot');
    await choose(page, 'Value', '3 Full');
    // The bytes are there while it is edited: CC on channel 3 is B2, controller 22 is 16, the third snapshot is 02.
    await textIs(
      page,
      '[data-testid="wire-bytes"]',
      (t) => t.includes('B2') && t.includes('16') && t.includes('02'),
    );
    await textIs(page, '.place-head .save-state', (t) => /^saved \d\d:\d\d$/.test(t));
    await page.reload();
    await page.waitForSelector('[data-control="far 1"]');
    await textIs(page, figure('Snapshot'), (t) => t.endsWith('1 Dry'));
    await page.locator(PLAY).click();
    await page.locator('[data-control="far 1"]').click();
    await textIs(page, figure('Snapshot'), (t) => t.endsWith('3 Full'));
    const lines = await until(
      'monitor',
      () => textOf(page, '.messages'),
      (t) => t?.includes('CC 22') ?? false,
    );
    expect(lines).toContain('Ch 3 CC 22 = 2');
    expect(lines).toContain('B2 16 02');
    expect(lines).toContain('Snapshot 3 Full');
    expect(await page.$eval('[data-control="far 1"]', (e) => e.getAttribute('aria-pressed'))).toBe('true');
    expect(page.troubles).toEqual([]);
  });

  it('a press lays out the boxes in which something changes, and not the page around them', async () => {
    const page = await openWithPorts(running.browser, running.app.base, '/rig');
    await bindPort(page, 'Crossbar', 'In 1', 'Blue box 1');
    // Intro, Verse and Outro in turn: the scene in play, lamps, stand-ins, the last press and the monitor change.
    const press = (times: number) =>
      page.evaluate(async (n) => {
        const { midiFake } = window as unknown as {
          midiFake: { deliver(to: string, bytes: number[]): void };
        };
        for (let i = 0; i < n; i++)
          for (const value of [127, 0]) {
            midiFake.deliver('Blue box 1', [0xbf, 31 + (i % 3), value]);
            await new Promise((resolve) => setTimeout(resolve, 60));
          }
      }, times);
    for (const path of ['/rig', '/floor', '/songs', '/sets']) {
      await page.evaluate((to) => {
        window.history.pushState(null, '', to);
        window.dispatchEvent(new PopStateEvent('popstate'));
      }, path);
      await page.waitForSelector('.place-head');
      await press(6);
      await page.tracing.start({ categories: ['devtools.timeline'] });
      await press(15);
      const { traceEvents } = JSON.parse(Buffer.from((await page.tracing.stop())!).toString()) as {
        traceEvents: { name: string; args: { beginData?: { partialLayout: boolean } } }[];
      };
      const layouts = traceEvents.flatMap((e) => (e.name === 'Layout' && e.args.beginData) || []);
      const ofThePage = layouts.filter((l) => !l.partialLayout).length;
      expect(layouts.length, path).toBeGreaterThan(15);
      expect(ofThePage / layouts.length, path).toBeLessThan(0.25);
    }
    expect(page.troubles).toEqual([]);
  });

  it('a pedal moved by mouse and by key takes the volume with it', async () => {
    const page = await openPage(running.browser, running.app.base, '/rig');
    await page.waitForSelector('[data-control="pedal 1"] .treadle');
    const box = await (await page.$('[data-control="pedal 1"] .treadle'))!.boundingBox();
    await page.mouse.move(box!.x + 5, box!.y + box!.height - 2);
    await page.mouse.down();
    for (let i = 1; i <= 10; i++) await page.mouse.move(box!.x + 5, box!.y + box!.height * (1 - i / 10));
    await page.mouse.up();
    await textIs(page, figure('Volume'), (t) => t.endsWith('127'));
    await page.focus('[data-control="pedal 1"]');
    await page.keyboard.press('Home');
    await textIs(page, figure('Volume'), (t) => t.endsWith(' 0'));
    for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowUp');
    await textIs(page, figure('Volume'), (t) => t.endsWith(' 3'));
    expect(page.troubles).toEqual([]);
  });

  it('a switch is held as long as the mouse, the key or the finger is down', async () => {
    const page = await openPage(running.browser, running.app.base, '/floor');
    await page.locator(PLAY).click();
    await page.locator('[data-control="far 5"]').click();
    const talk = '[data-control="far 4"]';
    await textIs(page, talk, (t) => t.includes('Talk'));
    const muted = () =>
      page.$eval('[aria-label="Stand-in of Deckhouse"]', (e) =>
        e.innerHTML.includes('Voice: not armed, muted'),
      );
    await page.focus(talk);
    await page.keyboard.down('Space');
    await until('muted while down', muted, (m) => m);
    await page.keyboard.up('Space');
    await until('open after', muted, (m) => !m);
    const box = (await (await page.$(talk))!.boundingBox())!;
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    await page.touchscreen.touchStart(x, y);
    await until('muted under the finger', muted, (m) => m);
    await page.touchscreen.touchEnd();
    await until('open after the finger', muted, (m) => !m);
    await page.mouse.move(x, y);
    await page.mouse.down();
    await until('muted under the mouse', muted, (m) => m);
    await page.mouse.up();
    await until('open after the mouse', muted, (m) => !m);
    // The switch was let go once each time: leaving it now sends nothing more.
    const lifts = async () => ((await textOf(page, '.messages')) ?? '').split('BF 27 00').length - 1;
    expect(await lifts()).toBe(3);
    await page.focus('.wordmark');
    await new Promise((resolve) => setTimeout(resolve, 150));
    expect(await lifts()).toBe(3);
  });
});

describe('nothing plays by accident', () => {
  const sentLines = (page: Page) => page.$eval('.messages', (e) => e.textContent ?? '').catch(() => '');

  it('a click on the large board opens a control; P, or Play, makes it a press', async () => {
    const page = await openPage(running.browser, running.app.base, '/floor');
    await page.locator('[data-control="far 2"]').click();
    await page.waitForSelector('.control-editor[aria-label="What far 2 does"]');
    await page.focus('[data-control="far 2"]');
    await page.keyboard.press('Space');
    await page.locator('[data-control="pedal 1"]').click();
    await page.keyboard.press('End');
    expect(await sentLines(page)).toBe('');
    await page.keyboard.press('p');
    await page.waitForSelector(`${BY_CLICK} [aria-pressed="true"]::-p-text(Play)`);
    await page.locator('[data-control="far 2"]').click();
    await until(
      'pressed',
      () => sentLines(page),
      (t) => t.includes('Arm Bow on'),
    );
    expect(page.troubles).toEqual([]);
    await page.close();
  });

  it('nothing is drawn while nothing happens, and what comes then is in the monitor at once', async () => {
    const page = await openPage(running.browser, running.app.base, '/rig', (p) =>
      p.evaluateOnNewDocument(() => {
        const ask = window.requestAnimationFrame.bind(window);
        Object.assign(window, { frames: 0 });
        window.requestAnimationFrame = (call) => {
          (window as unknown as { frames: number }).frames++;
          return ask(call);
        };
      }),
    );
    const frames = () => page.evaluate(() => (window as unknown as { frames: number }).frames);
    await page.waitForSelector('[data-control="pedal 1"]');
    await page.focus('[data-control="pedal 1"]');
    await until(
      'a second without a frame asked for',
      async () => {
        const before = await frames();
        await new Promise((resolve) => setTimeout(resolve, 1000));
        return (await frames()) - before;
      },
      (asked) => asked === 0,
    );
    await page.keyboard.press('Home');
    await textIs(page, '.messages', (t) => t.includes('CC'));
    for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowUp');
    await textIs(page, figure('Volume'), (t) => t.endsWith(' 3'));
    await textIs(page, '.messages', (t) => t.includes('= 3'));
    expect(page.troubles).toEqual([]);
  });

  it('digits press nothing before they are turned on, and nothing in or just behind a field', async () => {
    const page = await openPage(running.browser, running.app.base, '/songs');
    await page.waitForSelector('[data-control="near 5"]');
    await page.focus('.wordmark');
    await page.keyboard.press('5');
    expect(await textOf(page, '.where')).toContain('not begun');
    await page.locator('[aria-label^="Play by keys"]').click();
    // Out of a field with Tab, as one leaves a cell, and on typing.
    await page.focus('.song-title input, input.song-title');
    await page.keyboard.press('Tab');
    await page.focus('.wordmark');
    await page.keyboard.press('5');
    expect(await textOf(page, '.where')).toContain('not begun');
    await new Promise((resolve) => setTimeout(resolve, 2100));
    await page.keyboard.press('5');
    await until(
      'begun',
      () => textOf(page, '.where'),
      (t) => !(t ?? '').includes('not begun'),
    );
    await page.close();
  });

  it('hands off: stand-ins go on, real ports are told only what ends', async () => {
    const page = await openWithPorts(running.browser, running.app.base, '/rig');
    await bindPort(page, 'Crossbar', 'Out A', 'Blue box A');
    const sent = () => fake(page, (f) => f.sent('Blue box A')).then(hexOf);
    await page.locator('.strip ::-p-text(Hands off)').click();
    await page.waitForSelector('.strip [aria-pressed="true"].hands-off');
    const before = (await sent()).length;
    await page.locator('[data-control="near 5"]').click();
    await until(
      'begun',
      () => textOf(page, '.where'),
      (t) => !(t ?? '').includes('not begun'),
    );
    expect((await sent()).slice(before)).toEqual([]);
    await page.locator('.strip ::-p-text(Hands off)').click();
    await page.locator('[data-control="near 5"]').click();
    await until('sent again', sent, (s) => s.length > before);
    expect(page.troubles).toEqual([]);
    await page.close();
  });
});

describe('a whole set by presses alone', () => {
  const songs = demoSets[0]!.entries.flatMap((e) =>
    e.kind === 'song' ? demoSongs.filter((s) => s.id === e.songId) : [],
  );
  const functions = functionTable(demoRig);

  /** What the cue sheet says of a scene, as people see it. */
  function wanted(song: Song, sceneIndex: number) {
    const cells = [...sceneCells(song, sceneIndex)].map(([id, cell]) => ({
      ...functions.get(id)!,
      value: cell.value,
    }));
    const shown = (name: string) =>
      cells
        .filter(({ fn }) => fn.name === name)
        .map(({ device, fn, value }) => shownText(device, fn, value))[0];
    const says = new Map(
      cells.flatMap(({ fn, value }) => (fn.arms ? [[fn.arms, value === 1] as const] : [])),
    );
    return { program: shown('Program'), snapshot: shown('Snapshot'), says };
  }

  it('has in every scene the program, snapshot and armed tracks that its cue sheet says', async () => {
    const page = await openPage(running.browser, running.app.base, '/floor');
    await page.locator(PLAY).click();
    const armed = () =>
      page.$$eval('[aria-label="Stand-in of Deckhouse"] .track.armed .track-name', (all) =>
        all.map((e) => e.textContent ?? ''),
      );
    for (const song of songs)
      for (const part of partsOf(song)) {
        const i = song.scenes.findIndex((s) => s.id === part.sceneId);
        const scene = song.scenes[i]!;
        await page.focus('[data-control="near 5"]');
        await page.keyboard.press('Space');
        const { program, snapshot, says } = wanted(song, i);
        const where = `${song.name}, ${scene.name}`;
        await textIs(page, '.where', (t) => t.includes(song.name) && t.endsWith(scene.name));
        await textIs(page, figure('Program'), (t) => `${where}: ${t}` === `${where}: Program ${program!}`);
        await textIs(page, figure('Snapshot'), (t) => `${where}: ${t}` === `${where}: Snapshot ${snapshot!}`);
        for (const track of TRACK_NAMES) {
          if (!says.has(track)) continue;
          await until(
            `${where}: ${track} armed`,
            armed,
            (names) => names.includes(track) === says.get(track),
          );
        }
      }
    expect(await textOf(page, PROCESSOR)).not.toContain('lost');
    expect(page.troubles).toEqual([]);
  });

  it('is shown on the stage: song, scene, next, armed tracks, lamps', async () => {
    const page = await openPage(running.browser, running.app.base, '/stage');
    await page.waitForSelector('[data-testid="stage-now"]');
    await textIs(page, '[data-testid="stage-now"]', (t) => t === 'ready');
    for (const song of songs.slice(0, 3))
      for (const [i, scene] of song.scenes.entries()) {
        await page.keyboard.press('5');
        await textIs(page, '[data-testid="stage-now"]', (t) => t === scene.name);
        await textIs(page, '.stage-head h1', (t) => t === song.name);
        const next = song.scenes[i + 1]?.name;
        if (next) await textIs(page, '.next-button', (t) => t === next);
        for (const [track, isArmed] of wanted(song, i).says)
          await textIs(page, '[data-testid="stage-armed"]', (t) => t.includes(track) === isArmed);
        if (i < 4)
          await until(
            'lamp',
            () => page.$eval(`.stage [data-control="near ${i + 1}"]`, (e) => e.getAttribute('aria-pressed')),
            (p) => p === 'true',
          );
      }
    expect(page.troubles).toEqual([]);
  });
});
