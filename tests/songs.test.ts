import type { FullRig } from '@idle-step/core/routing';
import type { Song, Setlist } from '@idle-step/core/show';
import { demoRig, demoSets, demoSongs } from '@idle-step/demo';
import type { Page } from 'puppeteer-core';
import { describe, expect, it } from 'vitest';
import {
  chord,
  choose,
  fill,
  HeldRequests,
  openPage,
  pressButton,
  textIs,
  textOf,
  until,
  useApp,
} from './support/app';
import { axeViolations } from './support/axe';

const running = useApp();
type Kept<T> = { doc: T };
const songNamed = (name: string) => demoSongs.find((s) => s.name === name)!;
const keptSong = async (id: string) => (await running.app.get<Kept<Song>>(`/songs/${id}`)).doc;
const saved = (page: Page) => textIs(page, '.save-state', (t) => /^saved \d/.test(t));
const inHand = (page: Page) => page.$eval('[data-cell="in-hand"]', (e) => e.getAttribute('aria-label'));
const press = async (page: Page, ...keys: Parameters<Page['keyboard']['press']>[0][]) => {
  for (const key of keys) await page.keyboard.press(key);
};

describe('a song of eight scenes and forty lines', () => {
  it('is built by keyboard alone, and its plans are what a hand works out', async () => {
    const page = await openPage(running.browser, running.app.base, '/songs');
    await page.waitForSelector('[aria-label="Add a song"]');
    await page.focus('[aria-label="Add a song"]');
    await press(page, 'Enter');
    await until(
      'new song',
      () => Promise.resolve(page.url()),
      (url) => !url.endsWith('/songs'),
    );
    const id = page.url().split('/').at(-1)!;
    await page.waitForSelector('.cue-grid[aria-label="Cue sheet of New song"]');
    for (let n = 2; n <= 8; n++) {
      await page.focus('.song-rooms > button');
      await press(page, 'Enter');
      await until(
        'scenes',
        () => page.$$('.scene-heads button'),
        (list) => list.length === n,
      );
    }
    for (let n = 1; n <= 40; n++) {
      await page.focus('.add-row input');
      await press(page, 'Enter');
      await until(
        'lines',
        () => page.$$('.cue-grid tbody tr'),
        (list) => list.length === n,
      );
    }
    // Up to the first line, whatever line came last.
    for (let n = 0; n < 5; n++) await press(page, 'PageUp');
    for (let row = 0; row < 40; row++) {
      await page.keyboard.type('1');
      await press(page, 'Enter');
      const refused = await page.$('.cue-room [role="alert"]');
      if (refused) {
        const right = (await textOf(page, '.cue-room [role="alert"]'))!;
        await press(page, 'Backspace');
        await page.keyboard.type(/; ([^ ]+)/.exec(right)![1]!);
        await press(page, 'Enter');
      }
    }
    await saved(page);
    const first = (await keptSong(id)).scenes[0]!;
    expect(first.values.length + first.banks.length + first.routes.length + 3).toBe(40);
    // The whole first scene to the right by one stroke, and back.
    for (let n = 0; n < 5; n++) await press(page, 'PageUp');
    await press(page, 'Home');
    await page.keyboard.down('Shift');
    for (let n = 0; n < 4; n++) await press(page, 'PageDown');
    await press(page, 'End');
    await page.keyboard.up('Shift');
    await chord(page, 'Alt', 'r');
    await saved(page);
    const filled = await keptSong(id);
    for (const scene of filled.scenes) expect(scene.values).toHaveLength(first.values.length);
    // Everything is held on purpose now, so between two scenes only the two triggers are sent.
    expect(await page.$$eval('.cost', (rows) => rows[0]!.textContent)).toMatch(/^Messages sent\d+2{7}$/);
    expect(page.troubles).toEqual([]);
  });

  it('three steps of a song, byte by byte', async () => {
    // Kelpline listens on channel 3 (status B2, program C2), Deckhouse on channel 1 (B0): worked out by hand from their
    // charts: snapshot CC 22 from 0, reverb CC 91, drive CC 20, program 0–127, arm Bow CC 102, Voice 103, Hum 104.
    const page = await openPage(running.browser, running.app.base, `/songs/${songNamed('Tin Lantern').id}`);
    const bytesTo = async (scene: number) => {
      await page.locator(`.scene-heads th:nth-child(${scene + 2}) button`).click();
      if (!(await page.$('.recall-plan'))) await pressButton(page, 'What is sent to get here');
      await page.waitForSelector('.recall-plan');
      return page.$$eval('.recall-plan .bytes', (cells) => cells.map((c) => c.textContent));
    };
    expect(await bytesTo(1)).toEqual(['B2 16 04', 'B2 5B 46', 'B0 66 7F']);
    // Another program: everything of the device again once it listens, and 42 ms later.
    expect(await bytesTo(2)).toEqual(['C2 28', 'B0 68 7F', 'B2 16 02', 'B2 5B 60']);
    expect(await bytesTo(3)).toEqual(['C2 0D', 'B0 68 00', 'B2 16 00', 'B2 5B 1E']);
    expect(await textOf(page, '.recall-plan .place-head')).toMatch(/whole rig stands after 4\d/);
    await choose(page, 'From', 'nothing known');
    await until(
      'everything',
      () => page.$$eval('.recall-plan .bytes', (cells) => cells.length),
      (n) => n === 6,
    );
    expect(await axeViolations(page)).toEqual([]);
    expect(page.troubles).toEqual([]);
  });
});

describe('cells', () => {
  it('several are copied, cut, pasted and cleared; a wrong one refuses all', async () => {
    const { id } = songNamed('Slow Ferry');
    const page = await openPage(running.browser, running.app.base, `/songs/${id}`);
    await page.waitForSelector('[role="gridcell"]');
    await page.focus('[role="gridcell"]');
    await press(page, 'ArrowDown', 'ArrowRight');
    await page.keyboard.down('Shift');
    await press(page, 'ArrowRight');
    await page.keyboard.up('Shift');
    const clip = (type: 'copy' | 'cut' | 'paste', text = '') =>
      page.$eval(
        '.cue-grid',
        (grid, kind, given) => {
          const clipboardData = new DataTransfer();
          if (given) clipboardData.setData('text/plain', given);
          grid
            .querySelector('[data-cell="in-hand"]')!
            .dispatchEvent(new ClipboardEvent(kind, { clipboardData, bubbles: true, cancelable: true }));
          return clipboardData.getData('text/plain');
        },
        type,
        text,
      );
    expect(await clip('copy')).toBe('2 Body\t3 Full');
    await clip('cut');
    await saved(page);
    const snapshots = async () =>
      (await keptSong(id)).scenes.map(
        (s) => s.values.find((v) => v.functionId === snapshotId)?.value ?? null,
      );
    const snapshotId = songNamed('Slow Ferry').scenes[1]!.values[0]!.functionId;
    await until('cut', snapshots, (v) => v.join() === '0,,,0,1');
    await clip('paste', 'Swirl\tNonsense');
    await textIs(page, '.cue-room [role="alert"]', (t) =>
      t.includes('“Nonsense” is not a value of Snapshot'),
    );
    await clip('paste', 'Swirl\tGrain');
    await until('pasted', snapshots, (v) => v.join() === '0,5,6,0,1');
    await press(page, 'Delete');
    await until('cleared', snapshots, (v) => v.join() === '0,,,0,1');
    // All of the sheet, as it is copied into a spreadsheet: every line, over every scene.
    await chord(page, 'Control', 'a');
    const lines = await page.$$eval('.cue-grid tbody tr', (rows) => rows.length);
    const all = await until(
      'the whole sheet',
      async () => (await clip('copy')).split('\n').map((line) => line.split('\t').length),
      (widths) => widths.length === lines,
    );
    expect(new Set(all)).toEqual(new Set([songNamed('Slow Ferry').scenes.length]));
    await press(page, 'Escape');
    await page.focus('.wordmark');
    for (let n = 0; n < 3; n++) await chord(page, 'Control', 'z');
    await until('as it was', snapshots, (v) => v.join() === '0,1,2,0,1');
    expect(page.troubles).toEqual([]);
  });

  it('what is typed is kept when another cell is clicked, and what is refused stays in hand', async () => {
    const song = songNamed('Gull Clock');
    const page = await openPage(running.browser, running.app.base, `/songs/${song.id}`);
    const cell = (n: number) => page.locator(`.cue-grid tbody tr:nth-child(2) td:nth-of-type(${n})`);
    await cell(2).click();
    await until(
      'in hand',
      () => inHand(page),
      (l) => l === 'Kelpline Snapshot in Verse: 3 Full',
    );
    await page.keyboard.type('Swirl');
    await cell(3).click();
    await until(
      'kept',
      async () => (await keptSong(song.id)).scenes[1]!.values[0]!.value,
      (v) => v === 5,
    );
    await page.keyboard.type('Nonsense');
    await cell(1).click();
    await textIs(page, '.cue-room [role="alert"]', (t) => t.includes('“Nonsense” is not a value'));
    expect(await page.$eval('.cell-input', (e) => (e as HTMLInputElement).value)).toBe('Nonsense');
    await press(page, 'Escape');
    // A range that reaches into a scene that is gone by undo is cut, and clearing it clears what is there.
    await page.focus('.song-rooms > button');
    await press(page, 'Enter');
    await until(
      'scene',
      () => page.$$('.scene-heads button'),
      (list) => list.length === 5,
    );
    await cell(4).click();
    await page.keyboard.down('Shift');
    await press(page, 'ArrowRight');
    await page.keyboard.up('Shift');
    await chord(page, 'Control', 'z');
    await until(
      'undone',
      () => page.$$('.scene-heads button'),
      (list) => list.length === 4,
    );
    await page.focus('.cue-grid td');
    await press(page, 'Delete');
    expect(page.troubles).toEqual([]);
  });

  it('what is being typed is taken when another song opens by itself, and nothing of it goes along', async () => {
    const song = songNamed('Heron');
    const page = await openPage(running.browser, running.app.base, `/songs/${song.id}`);
    await page.locator('.cue-grid tbody tr:nth-child(2) td:nth-of-type(2)').click();
    await until('in hand', () => inHand(page).catch(() => null), Boolean);
    const before = await keptSong(song.id);
    await page.keyboard.type('-');
    // As by a foot: nothing in the sheet is left with the mouse or the keyboard.
    const goTo = (name: string) =>
      page.evaluate(
        (path) => {
          history.pushState(null, '', path);
          dispatchEvent(new PopStateEvent('popstate'));
        },
        `/songs/${songNamed(name).id}`,
      );
    const sheetOf = (name: string) => page.waitForSelector(`.cue-grid[aria-label="Cue sheet of ${name}"]`);
    await goTo('Night Pilot');
    await sheetOf('Night Pilot');
    expect(await page.$('[data-cell="in-hand"], .cell-input, .cue-room [role="alert"]')).toBeNull();
    await until(
      'kept',
      async () => (await keptSong(song.id)).scenes[1]!.values.length,
      (n) => n === before.scenes[1]!.values.length - 1,
    );
    await goTo('Heron');
    await sheetOf('Heron');
    expect(await page.$('[data-cell="in-hand"], .cell-input')).toBeNull();
    await goTo('Night Pilot');
    await sheetOf('Night Pilot');
    expect(await keptSong(songNamed('Night Pilot').id)).toEqual(songNamed('Night Pilot'));
    expect(page.troubles).toEqual([]);
  });

  it('tempo, remark and own ways have lines and fields of their own', async () => {
    const { id } = songNamed('Salt Stairs');
    const page = await openPage(running.browser, running.app.base, `/songs/${id}`);
    await page.waitForSelector('[role="gridcell"]');
    await choose(page, 'Add a line to the sheet', 'Song tempo');
    await until(
      'tempo',
      () => inHand(page),
      (l) => l === 'Song tempo in Verse: not set',
    );
    await press(page, 'ArrowRight');
    await page.keyboard.type('96');
    await press(page, 'Tab');
    await until(
      'carried',
      () => inHand(page),
      (l) => l === 'Song tempo in Landing: 96, carried',
    );
    await page.locator('.scene-heads th:nth-child(3) button').click();
    await choose(page, 'Transition', 'glide');
    await fill(page, 'Remark, large on the stage', 'capo 2');
    await page.waitForSelector('.glide-chart canvas');
    await saved(page);
    await until(
      'kept',
      async () => (await keptSong(id)).scenes[1]!,
      (s) => s.tempoBpm === 96 && s.remark === 'capo 2' && s.transition?.time.unit === 'beats',
    );
    expect(page.troubles).toEqual([]);
  });
});

describe('the list of songs', () => {
  it('is found in as one types, put in order, and several are tagged and put into a set at once', async () => {
    const page = await openPage(running.browser, running.app.base, '/songs');
    await page.waitForSelector('.song-rows a');
    const names = () => page.$$eval('.song-rows .song-name', (list) => list.map((e) => e.textContent));
    await page.type('[aria-label="Find a song"]', 'low');
    await until('found', names, (n) => n.join() === 'Low Water,Slow Ferry');
    await pressButton(page, 'Take several in hand');
    await page.locator('[aria-label="Songs in hand"] ::-p-text(all)').click();
    await page.type('[aria-label="Tag for the songs in hand"]', 'opener');
    await press(page, 'Enter');
    const before = (await running.app.get<Kept<Setlist>>(`/sets/${demoSets[0]!.id}`)).doc.entries.length;
    await page.locator('[aria-label="Songs in hand"] ::-p-text(Into a set)').click();
    await page.locator(`[aria-label="Songs in hand"] ::-p-text(${demoSets[0]!.name})`).click();
    const tags = async () => [
      (await keptSong(songNamed('Low Water').id)).tags,
      (await keptSong(songNamed('Slow Ferry').id)).tags,
    ];
    const inSet = async () =>
      (await running.app.get<Kept<Setlist>>(`/sets/${demoSets[0]!.id}`)).doc.entries.length;
    await until('tagged', tags, (all) => all.every((t) => t.includes('opener')));
    await until('in the set', inSet, (n) => n === before + 2);
    // Each is one step, over however many songs.
    await page.locator('[aria-label^="Steps that can be undone"]').click();
    const steps = () => page.$$eval('.undo-menu .dropdown-item', (list) => list.map((e) => e.textContent));
    expect(await steps()).toEqual([
      `add 2 songs ${demoSets[0]!.name}`,
      'tag 2 songs opener Low Water, Slow Ferry',
    ]);
    await page.locator('.undo-menu ::-p-text(tag 2 songs opener)').click();
    await until('tags taken back', tags, (all) => all.every((t) => !t.includes('opener')));
    await until('taken out of the set', inSet, (n) => n === before);
    await page.locator('[aria-label^="Redo: tag 2 songs"]').click();
    await until('tagged again', tags, (all) => all.every((t) => t.includes('opener')));
    await page.focus('[aria-label="Find a song"]');
    await press(page, 'Backspace', 'Backspace', 'Backspace');
    await choose(page, 'Order of the list', 'by tempo');
    await until('by tempo', names, (n) => n[0] === 'Long Mooring');
    await pressButton(page, 'Duplicate this song');
    await textIs(page, 'h1', (t) => t.endsWith(' 2'));
    expect(await axeViolations(page)).toEqual([]);
    expect(page.troubles).toEqual([]);
  });
});

it('what is wrong with a cell is in sight, however long the sheet is', async () => {
  const page = await openPage(running.browser, running.app.base, `/songs/${songNamed('Slow Ferry').id}`);
  await page.locator('[aria-label^="Kelpline Reverb mix in Verse"]').click();
  await page.keyboard.type('1e3');
  await page.keyboard.press('Enter');
  await textIs(page, '.cue-room > .field-error', (t) => t.includes('“1e3” is not a value of Reverb mix'));
  const isInSight = await page.$eval('.cue-room > .field-error', (e) => {
    const box = e.getBoundingClientRect();
    const at = document.elementFromPoint(box.left + 20, (box.top + box.bottom) / 2);
    return e === at || e.contains(at);
  });
  expect(isInSight).toBe(true);
  // Its text stays until it is mended or left.
  expect(await page.$eval('.cell-input', (e) => (e as HTMLInputElement).value)).toBe('1e3');
  await page.keyboard.press('Escape');
  await until(
    'left',
    () => page.$('.cue-room > .field-error'),
    (e) => e === null,
  );
});

it('a value is typed and shown in the unit that the device shows', async () => {
  const { doc, version } = await running.app.get<Kept<FullRig> & { version: number }>(`/rigs/${demoRig.id}`);
  const ends = { low: 0, high: 100, unit: '%', isLog: false };
  const rig = {
    ...doc,
    devices: doc.devices.map((d) => ({
      ...d,
      chart: d.chart.map((fn) => {
        const given = { 'Reverb mix': ends, Volume: { ...ends, high: 1270, unit: 'ms' } }[fn.name];
        return d.name === 'Kelpline' && given ? { ...fn, shape: { ...fn.shape, ends: given } } : fn;
      }),
    })),
  };
  const answer = await fetch(`${running.app.base}/api/rigs/${doc.id}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json', 'if-match': `"${version}"` },
    body: JSON.stringify(rig),
  });
  expect(answer.status).toBe(200);
  const { id } = songNamed('Slow Ferry');
  const page = await openPage(running.browser, running.app.base, `/songs/${id}`);
  const cell = '[aria-label^="Kelpline Reverb mix in Verse"]';
  await page.locator(cell).click();
  await page.keyboard.type('25 %');
  await page.keyboard.press('Enter');
  // The nearest that the device has: 32 of 127.
  await textIs(page, cell, (t) => t.includes('25.2 %'));
  await page.locator(cell).click();
  await page.keyboard.type('120');
  await page.keyboard.press('Enter');
  await textIs(page, '.cue-room > .field-error', (t) => t.includes('0 to 100 %'));
  await page.keyboard.press('Escape');
  await saved(page);
  const chart = rig.devices.find((d) => d.name === 'Kelpline')!.chart;
  const fn = chart.find((f) => f.name === 'Reverb mix')!;
  // A time follows the tempo as a note length: it is typed, shown and kept as one.
  await choose(page, 'Add a line to the sheet', 'Kelpline: Volume');
  const delay = '[aria-label^="Kelpline Volume in Verse"]';
  await page.locator(delay).click();
  await page.keyboard.type('1/8 dotted');
  await page.keyboard.press('Enter');
  await textIs(page, delay, (t) => t === '1/8.');
  await page.locator(delay).click();
  const { tempoBpm } = songNamed('Slow Ferry');
  const ms = Math.round((0.75 * 60_000) / tempoBpm);
  await textIs(page, '.in-hand-bar', (t) => t.includes(`1/8. is ${ms} ms at ${tempoBpm} bpm`));
  await page.keyboard.type('1/1');
  await page.keyboard.press('Enter');
  await textIs(page, '.cue-room > .field-error', (t) => t.includes('Volume takes 0 to 1270 ms'));
  await page.keyboard.press('Escape');
  const followed = chart.find((f) => f.name === 'Volume')!;
  await until(
    'kept as a note',
    async () => {
      const { scenes } = await keptSong(id);
      return scenes.find((s) => s.name === 'Verse')!.values.find((v) => v.functionId === followed.id)?.note;
    },
    (note) => note === '1/8.',
  );
  expect(await axeViolations(page)).toEqual([]);
  const verse = (await keptSong(id)).scenes.find((s) => s.name === 'Verse')!;
  expect(verse.values.find((v) => v.functionId === fn.id)?.value).toBe(32);
  // Its chart says so, and is read as it is written.
  await page.goto(`${running.app.base}/rig/${rig.devices.find((d) => d.name === 'Kelpline')!.id}`);
  await textIs(page, '.chart-grid', (t) => t.includes('0 to 100 %'));
  expect(page.troubles).toEqual([]);
});

it('a line that was brought into the sheet is a step, and one elsewhere says whose it was', async () => {
  const page = await openPage(running.browser, running.app.base, `/songs/${songNamed('Tin Lantern').id}`);
  const lines = () => page.$$eval('.cue-grid .function-head', (list) => list.length);
  const before = await until('the sheet', lines, (n) => n > 3);
  await choose(page, 'Add a line to the sheet', 'Kelpline: Volume');
  await until('a line more', lines, (n) => n === before + 1);
  await page.focus('.wordmark');
  await chord(page, 'Control', 'z');
  await until('the line taken back', lines, (n) => n === before);
  await page.locator('[aria-label^="Redo: add the line"]').click();
  await until('the line again', lines, (n) => n === before + 1);
  await fill(page, 'Key', 'Am');
  await textIs(page, '.song-head .save-state', (t) => t.startsWith('saved'));
  await page.locator('a[href="/sets"]').click();
  await page.waitForSelector('.order');
  await page.focus('.wordmark');
  await chord(page, 'Control', 'z');
  await textIs(page, '.toast-body', (t) => t.includes('Undone in Tin Lantern: change the key'));
  expect(page.troubles).toEqual([]);
});

describe('a MIDI file', () => {
  it('is saved, looked at, and made a song again; another file is refused with its byte', async () => {
    const page = await openPage(running.browser, running.app.base, `/songs/${songNamed('Paper Weir').id}`);
    await page.evaluate(() => {
      const made = window as unknown as { saved: Blob[] };
      made.saved = [];
      const real = URL.createObjectURL.bind(URL);
      URL.createObjectURL = (blob) => {
        made.saved.push(blob as Blob);
        return real(blob);
      };
    });
    await pressButton(page, 'Save as a MIDI file');
    // What a file does not hold is said before it is taken.
    await textIs(page, '.modal-body', (t) => t.includes('Layers and routes that its scenes switch'));
    await pressButton(page, 'Save the file');
    await until(
      'the file',
      () => page.evaluate(() => (window as unknown as { saved: Blob[] }).saved.length),
      (count) => count === 1,
    );
    await page.$eval('input[aria-label^="MIDI file"]', async (input) => {
      const [blob] = (window as unknown as { saved: Blob[] }).saved;
      const files = new DataTransfer();
      files.items.add(new File([blob!], 'weir.mid'));
      (input as HTMLInputElement).files = files.files;
      input.dispatchEvent(new Event('change', { bubbles: true }));
    });
    await textIs(
      page,
      '.smf-look',
      (t) => t.includes('4 scenes') && t.includes('6 parts') && t.includes('24 bars'),
    );
    await pressButton(page, 'Make this song');
    await textIs(page, 'h1', (t) => t === 'Paper Weir 2');
    expect(await page.$$('.part-list li')).toHaveLength(6);
    await page.$eval('input[aria-label^="MIDI file"]', (input) => {
      const files = new DataTransfer();
      files.items.add(new File(['no music'], 'letter.txt'));
      (input as HTMLInputElement).files = files.files;
      input.dispatchEvent(new Event('change', { bubbles: true }));
    });
    await textIs(
      page,
      '.song-list [role="alert"]',
      (t) => t.includes('no Standard MIDI File') && t.includes('byte 0'),
    );
    expect(page.troubles).toEqual([]);
  });
});

describe('capture', () => {
  it('shows what stands otherwise than the scene says, and takes what is wanted of it', async () => {
    const song = songNamed('Rope and Bell');
    const page = await openPage(running.browser, running.app.base, `/songs/${song.id}`);
    await page.locator('.scene-heads th:nth-child(3) button').click();
    await pressButton(page, 'Recall now');
    await textIs(page, '.where', (t) => t.includes('Verse'));
    // The scene has loaded a program, so that nothing tells whether Drive is on: the first press makes it off.
    await page.locator('[data-control="far 1"]').click();
    await pressButton(page, 'Capture what the rig stands at');
    await textIs(page, '[aria-label="Capture"]', (t) => t.includes('Drive') && t.includes('not set → off'));
    await page.locator('[aria-label="Capture"] ::-p-text(Take)').click();
    await until(
      'taken',
      async () => (await keptSong(song.id)).scenes[1]!.values.length,
      (n) => n > song.scenes[1]!.values.length,
    );
    expect(page.troubles).toEqual([]);
  });
});

describe('a scene that comes again', () => {
  it('stands in several parts, is walked through in their order, and is changed once', async () => {
    const { id } = songNamed('Lantern Home');
    const page = await openPage(running.browser, running.app.base, `/songs/${id}`);
    await page.waitForSelector('.part-list li');
    await page.locator('.parts ::-p-text(Part)').click();
    await pressButton(page, 'Part');
    await page.locator('.parts .dropdown-menu ::-p-text(Verse)').click();
    await until(
      'order',
      async () => {
        const song = await keptSong(id);
        return song.parts.map((p) => song.scenes.find((s) => s.id === p.sceneId)!.name);
      },
      (order) => order.join() === 'Verse,Chorus,All,Home,Verse',
    );
    await page.locator('.scene-heads th:nth-child(2) button').click();
    await fill(page, 'Name of the scene', 'Verse one');
    await until(
      'both follow',
      () => page.$$eval('.part-list .cloth', (list) => list.map((c) => c.textContent).join()),
      (names) => names === 'Verse one,Chorus,All,Home,Verse one',
    );
    expect(page.troubles).toEqual([]);
  });
});

describe('an evening', () => {
  const { id } = demoSets[1]!;
  const kept = async () => (await running.app.get<Kept<Setlist>>(`/sets/${id}`)).doc;

  it('has a start, a slot, encores and what is left out, is duplicated and printed', async () => {
    const page = await openPage(running.browser, running.app.base, `/sets/${id}`);
    await page.waitForSelector('.order li');
    await fill(page, 'Starts at', '25:00');
    await textIs(page, '.evening .field-error', (t) => t.includes('20:00 would be right'));
    await fill(page, 'Starts at', '23:50');
    await fill(page, 'Slot, min', '15:00');
    // Heron 4:25, Low Water 4:10, Slow Ferry 4:00, Salt Stairs 3:55, Lantern Home 4:20: 20:50 in all.
    await textIs(page, '.set-times', (t) => t === '20:50, 23:50 to 00:10, 5:50 over the slot');
    expect(
      await page.$$eval('.order li', (rows) => rows.map((r) => /\d\d:\d\d/.exec(r.textContent)![0])),
    ).toEqual(['23:50', '23:54', '23:58', '00:02', '00:06']);
    await page.locator('.order li:nth-child(1) [aria-label^="This evening"]').click();
    await page.locator('.entry-more ::-p-text(encore)').click();
    await textIs(page, '.set-times', (t) => t.startsWith('16:25 + 4:25 encore'));
    await page.locator('.entry-more ::-p-text(Rising)').click();
    await until(
      'kept',
      async () => (await kept()).entries.find((e) => e.isEncore),
      (e) => e?.kind === 'song' && e.leftOutSceneIds.length === 1,
    );
    await pressButton(page, 'Duplicate for another evening');
    await until(
      'twice',
      () => running.app.get<unknown[]>('/sets'),
      (s) => s.length === 3,
    );
    await page.goto(`${running.app.base}/sets/${id}/print`);
    await pressButton(page, 'With scenes and remarks');
    await textIs(
      page,
      '.print-sheet',
      (t) => t.includes('Heron') && t.includes('encore') && !t.includes('Rising'),
    );
    expect(await axeViolations(page)).toEqual([]);
    expect(page.troubles).toEqual([]);
  });

  it('plays encores last and leaves out what is left out', async () => {
    const page = await openPage(running.browser, running.app.base, '/stage');
    await page.evaluate((setId) => {
      const screen = JSON.parse(localStorage.getItem('idle-step.screen') ?? '{}') as object;
      localStorage.setItem('idle-step.screen', JSON.stringify({ ...screen, setId }));
    }, id);
    await page.reload();
    await page.waitForSelector('.next-button');
    const walked: string[] = [];
    for (let n = 0; n < 40; n++) {
      if (await page.$eval('.next-button', (b) => (b as HTMLButtonElement).disabled)) break;
      const next = await page.$eval('.next-text', (e) => e.textContent);
      await page.locator('.next-button').click();
      await textIs(page, '[data-testid="stage-now"] .now-text', (t) => t === next);
      walked.push(next);
    }
    expect(walked.slice(-2)).toEqual(['Still', 'Away']);
    expect(page.troubles).toEqual([]);
  });

  it('leaves a song out tonight by one press: of times, numbers, stage and print', async () => {
    // However late the songs come, the lines stay where they are: they are pressed as soon as they are there.
    const songs = new HeldRequests(/\/api\/songs\b/);
    const page = await openPage(running.browser, running.app.base, `/sets/${id}`, songs.hold);
    await page.waitForSelector('.order li');
    const topOfFirst = () => page.$eval('.order li', (li) => li.getBoundingClientRect().top);
    const top = await topOfFirst();
    songs.letCome();
    await textIs(page, '.set-times', (t) => t.endsWith('over the slot'));
    expect(await topOfFirst()).toBe(top);
    const first = async () =>
      page.$eval('.order li:nth-child(1)', (li) => [li.className, (li as HTMLElement).innerText].join(' '));
    const times = await page.$eval('.set-times', (e) => e.textContent);
    const [name] = await page.$$eval('.order .order-song', (all) => all.map((a) => a.textContent!));
    await page.locator('.order li:nth-child(1) [aria-label="Not tonight"]').click();
    await until('left out', first, (t) => t.includes('not-tonight') && t.includes('not tonight'));
    await textIs(page, '.set-times', (t) => t !== times);
    await textIs(page, '.order-tools', (t) => t.includes('1 not tonight'));
    await until('kept', kept, (s) => s.entries.filter((e) => e.notTonight).length === 1);
    expect(await axeViolations(page)).toEqual([]);
    await page.goto(`${running.app.base}/sets/${id}/print`);
    await textIs(page, '.print-sheet', (t) => !t.includes(name!) && t.includes('Ends at'));
    await page.goto(`${running.app.base}/stage`);
    await page.waitForSelector('.next-button');
    expect(await page.$$eval('.list-name', (all) => all.map((e) => e.textContent))).not.toContain(name);
    await page.goto(`${running.app.base}/sets/${id}`);
    await page.locator('.order li:nth-child(1) [aria-label="Not tonight"]').click();
    await textIs(page, '.set-times', (t) => t === times);
    expect(page.troubles).toEqual([]);
  });
});
