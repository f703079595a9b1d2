import type { Preset } from '@idle-step/core/floor';
import type { FullRig } from '@idle-step/core/routing';
import type { Setlist, Song } from '@idle-step/core/show';
import type { Kept } from '@idle-step/contract';
import { demoRig, demoSets, demoSongs } from '@idle-step/demo';
import { afterAll, describe, expect, it } from 'vitest';
import { ask } from './support/api';
import { openPage, textIs, until, useApp } from './support/app';
import { Person } from './support/person';

const running = useApp();

/** What each piece of work took, against what it may take. */
const counted: { work: string; inputs: number; most: number }[] = [];
const within = (work: string, me: Person, most: number) => {
  counted.push({ work, inputs: me.inputs, most });
  expect(me.inputs, work).toBeLessThanOrEqual(most);
};
afterAll(() => console.table(counted));

const someone = async (path: string) => {
  const page = await openPage(running.browser, running.app.base, path, undefined, { isFirstVisit: true });
  await page.waitForSelector('.save-state, h1');
  return { page, me: new Person(page) };
};
const saved = (me: Person) => textIs(me.page, '.save-state', (t) => /^saved \d/.test(t));

describe('how few inputs a piece of work takes', () => {
  it('twelve songs into a set, one after the other and by a pasted list', async () => {
    const song: Song = {
      ...demoSongs[0]!,
      id: crypto.randomUUID(),
      name: 'Twelfth Tide',
      scenes: [],
      parts: [],
    };
    const answer = await ask(`${running.app.base}/api`, 'POST', '/songs', {
      ...song,
      line: { ...song.line, cues: [] },
    });
    expect(answer.status).toBe(201);
    const titles = [...demoSongs.map((s) => s.name), 'Twelfth Tide'];
    const inSet = async ({ page }: Person) => {
      const { doc } = await running.app.get<Kept<Setlist>>(`/sets/${page.url().split('/').at(-1)!}`);
      return doc.entries.flatMap((e) => (e.kind === 'song' ? e.songId : []));
    };
    const idOf = (title: string) => [...demoSongs, song].find((s) => s.name === title)!.id;

    const { page, me } = await someone('/sets');
    await me.click('[aria-label="Add a set"]');
    await textIs(page, '.running-order .empty-place', (t) => t.startsWith('An empty evening'));
    await me.click('.order-tools ::-p-text(Song)');
    await page.waitForSelector('.add-songs.show');
    for (const title of titles) await me.click(`.add-songs.show .dropdown-item::-p-text(${title})`);
    await textIs(page, '.add-songs [role="status"]', (t) => t === '12 songs added.');
    await me.key('Escape');
    await page.waitForSelector('.add-songs.show', { hidden: true });
    within('twelve songs into a set, pressed', me, 20);
    await saved(me);
    expect(await inSet(me)).toEqual(titles.map(idOf));

    const second = await someone('/sets');
    await second.me.click('[aria-label="Add a set"]');
    await textIs(second.page, '.running-order .empty-place', (t) => t.startsWith('An empty evening'));
    await second.me.click('.order-tools ::-p-text(Song)');
    await until(
      'the field',
      () => second.page.evaluate(() => document.activeElement?.getAttribute('aria-label')),
      (l) => l === 'Songs to add',
    );
    await second.me.paste(`1. ${titles.join('\n')}\nNobody’s Song`);
    await textIs(
      second.page,
      '.add-songs [role="status"]',
      (t) => t === '12 songs added. Not found: Nobody’s Song.',
    );
    within('twelve songs into a set, pasted', second.me, 5);
    await saved(second.me);
    expect(await inSet(second.me)).toEqual(titles.map(idOf));
  });

  it('four snapshots on four switches', async () => {
    const board = demoRig.boards[0]!;
    const { page, me } = await someone('/floor');
    await me.press('Table');
    await page.waitForSelector('.preset-grid');
    const first = board.controls.find((c) => c.name === 'far 1')!;
    // Only the line of the press is of use here.
    await me.click('#shown-release');
    await me.click('.preset-grid [aria-label^="far 1, press, 3 Sound check:"]');
    for (const text of ['Snapshot 1', 'Snapshot 2', 'Snapshot 3', 'Snapshot 4']) await me.type(text);
    within('four snapshots on four switches', me, 18);
    await saved(me);
    const presets = await running.app.get<Kept<Preset>[]>(`/presets?rigId=${demoRig.id}`);
    const bank = presets.find(({ doc }) => doc.boardId === board.id && doc.banks.length === 3)!.doc.banks[2]!;
    const at = board.controls.indexOf(first);
    expect(
      board.controls
        .slice(at, at + 4)
        .map((c) => bank.assignments.find((a) => a.controlId === c.id)!.press[0]),
    ).toMatchObject([0, 1, 2, 3].map((value) => ({ kind: 'set', value })));
  });

  it('a chart of twelve rows from what a manual says', async () => {
    const { page, me } = await someone(`/rig/${demoRig.devices.find((d) => d.name === 'Kelpline')!.id}`);
    await me.press('Rows from text');
    const rows = Array.from({ length: 12 }, (_, i) => `CC ${40 + i} Extra ${i + 1} on/off`);
    await page.waitForSelector('.manual-text textarea:focus');
    await me.typeOnly(rows.join('\n'));
    await textIs(page, '.manual-foot', (t) => t.startsWith('Add 12 functions'));
    await me.press('Add 12 functions');
    within('a chart of twelve rows from a manual', me, 3);
    await until(
      'kept',
      async () => (await running.app.get<Kept<FullRig>>(`/rigs/${demoRig.id}`)).doc,
      (rig) => rig.devices.flatMap((d) => d.chart).filter((f) => f.name.startsWith('Extra ')).length === 12,
    );
  });

  const kelpline = demoRig.devices.find((d) => d.name === 'Kelpline')!;
  const functionId = (name: string) => kelpline.chart.find((f) => f.name === name)!.id;
  /** A song by its name. */
  const songNamed = async (name: string): Promise<Song> => {
    const { items } = await running.app.get<{ items: { id: string; name: string }[] }>(
      `/songs/summaries?rigId=${demoRig.id}`,
    );
    return (await running.app.get<Kept<Song>>(`/songs/${items.find((s) => s.name === name)!.id}`)).doc;
  };
  const valuesOf = (song: Song, name: string) =>
    song.scenes.map((s) => s.values.find((v) => v.functionId === functionId(name))?.value ?? null);
  const cellOf = (column: string, place: string) => `.book-grid td[aria-label^="${column} ${place}"]`;
  /** A song with a name and scenes, in the book of all songs. */
  const songInBook = async (me: Person, name: string, scenes: readonly string[]) => {
    const { page } = me;
    await me.click('[aria-label="Add a song"]');
    await until(
      'the name',
      () => page.evaluate(() => (document.activeElement as HTMLInputElement).labels?.[0]?.textContent),
      (l) => l === 'Name of the song',
    );
    await me.type(name);
    await me.press('The book');
    await page.waitForSelector(`${cellOf('Scene of', `${name}, Intro`)}[data-cell="in-hand"]`);
    for (const [i, scene] of scenes.entries()) {
      if (i > 0) await me.typeOnly(scene);
      if (i < scenes.length - 1) await me.chord('Control', 'Enter');
      else await me.key('Enter');
    }
  };

  it('a song of six parts, with lengths and what each of five functions is', async () => {
    const { me } = await someone('/songs');
    await songInBook(me, 'Six Doors', ['Intro', 'Verse', 'Chorus', 'Solo', 'Bridge', 'Outro']);
    await me.click(cellOf('bpm of', 'Six Doors, Intro'));
    await me.type('96');
    await me.click(cellOf('Length of', 'Six Doors, Intro'));
    for (const bars of ['4', '16', '8', '16', '8', '4']) await me.type(bars);
    const sheet: Readonly<Record<string, readonly string[]>> = {
      Program: ['3', '', '5', '', '', '3'],
      Snapshot: ['1', '2', '3', '4', '2', '1'],
      'Reverb mix': ['20', '', '64', '', '30', '90'],
      Echo: ['off', '', 'on', '', 'off', ''],
      'Drive amount': ['10', '30', '60', '90', '30', '10'],
    };
    for (const [name, values] of Object.entries(sheet)) {
      await me.click(cellOf(`Kelpline ${name} in`, 'Six Doors, Intro'));
      for (const value of values) await (value === '' ? me.key('ArrowDown') : me.type(value));
    }
    within('a song of six parts', me, 110);
    const song = await until(
      'saved',
      () => songNamed('Six Doors'),
      (now) => valuesOf(now, 'Drive amount').at(-1) === 10,
    );
    expect(song.scenes.map((s) => s.name)).toEqual(['Intro', 'Verse', 'Chorus', 'Solo', 'Bridge', 'Outro']);
    expect(song.parts.map((p) => p.length?.amount)).toEqual([4, 16, 8, 16, 8, 4]);
    expect(song.tempoBpm).toBe(96);
    expect(valuesOf(song, 'Snapshot')).toEqual([0, 1, 2, 3, 1, 0]);
    expect(valuesOf(song, 'Echo')).toEqual([0, null, 1, null, 0, null]);
    expect(valuesOf(song, 'Drive amount')).toEqual([10, 30, 60, 90, 30, 10]);
  });

  it('twelve songs of five scenes, each with its program and its snapshots', async () => {
    const { page, me } = await someone('/songs');
    const names = Array.from({ length: 12 }, (_, i) => `Night Road ${String(i + 1).padStart(2, '0')}`);
    const scenes = ['Intro', 'Verse', 'Chorus', 'Solo', 'Outro'];
    await songInBook(me, names[0]!, scenes);
    await me.click(cellOf('Kelpline Reverb mix in', `${names[0]}, Intro`));
    for (const value of ['20', '', '64', '90', '20']) await (value ? me.type(value) : me.key('ArrowDown'));
    await me.click(cellOf('Scene of', `${names[0]}, Intro`));
    await me.press('Songs like this');
    await page.waitForSelector('.book-panel textarea:focus');
    for (const name of names.slice(1)) await me.type(name);
    await me.press('Make 11 songs');
    await page.waitForSelector('.book-panel', { hidden: true });
    for (const [i, name] of names.entries()) {
      await me.click(cellOf('Kelpline Program in', `${name}, Intro`));
      await me.type(String(i + 1));
      await me.click(cellOf('Kelpline Snapshot in', `${name}, Intro`));
      for (const snapshot of [1, 2, 3, 4, 1]) await me.type(String(((snapshot + i) % 8) + 1));
    }
    within('twelve songs of five scenes', me, 260);
    await until(
      'saved',
      () => songNamed(names.at(-1)!),
      (now) => valuesOf(now, 'Snapshot').at(-1) === (1 + 11) % 8,
    );
    for (const [i, name] of names.entries()) {
      const song = await songNamed(name);
      expect(song.scenes.map((s) => s.name)).toEqual(scenes);
      expect(valuesOf(song, 'Program')).toEqual([i, null, null, null, null]);
      expect(valuesOf(song, 'Snapshot')).toEqual([1, 2, 3, 4, 1].map((n) => (n + i) % 8));
      expect(valuesOf(song, 'Reverb mix')).toEqual([20, null, 64, 90, 20]);
    }
  });

  it('a pedal on a different thing in each of six songs', async () => {
    const { page, me } = await someone('/floor');
    await me.click('[data-control="pedal 1"]');
    await me.press('Song by song');
    await page.waitForSelector('.book-grid td[data-cell="in-hand"]:focus');
    const six = demoSets[0]!.entries.flatMap((e) => (e.kind === 'song' ? e.songId : [])).slice(0, 6);
    const moved = ['Reverb mix', 'Drive amount', 'Volume', 'Reverb mix 20-100', 'Drive amount', 'Reverb mix'];
    for (const name of moved) {
      await me.typeOnly(name.startsWith('Volume') ? 'Kelpline Volume' : `Kelpline ${name}`);
      await me.chord('Control', 'ArrowDown');
    }
    within('a pedal in each of six songs', me, 14);
    const pedal = demoRig.boards[0]!.controls.find((c) => c.name === 'pedal 1')!;
    const saidIn = async (songId: string) =>
      (await running.app.get<Kept<Song>>(`/songs/${songId}`)).doc.scenes[0]!.controls;
    await until(
      'saved',
      () => saidIn(six[5]!),
      (c) => c.length === 1,
    );
    for (const [n, id] of six.entries()) {
      const name = moved[n]!.replace(/ \d.*/, '');
      expect(await saidIn(id)).toMatchObject([
        { controlId: pedal.id, kind: 'move', functionId: functionId(name) },
      ]);
    }
    expect(await saidIn(six[3]!)).toMatchObject([{ from: 20, to: 100 }]);
  });

  it('an evening as one paste of a spreadsheet', async () => {
    const { page, me } = await someone('/songs');
    const rows = Array.from({ length: 6 }, (_, i) =>
      ['Verse', 'Chorus', 'Outro'].map((scene, k) =>
        [`Pier ${i + 1}`, 90 + i, scene, 8, i + 1, ((i + k) % 8) + 1, 10 * k].join('\t'),
      ),
    ).flat();
    await me.press('The book');
    await page.waitForSelector('.book-grid [data-cell="in-hand"]:focus');
    await me.paste(['song\tbpm\tscene\tbars\tprogram\tsnapshot\treverb mix', ...rows].join('\n'));
    await textIs(page, '.manual-foot', (t) => t.includes('Make 6 songs'));
    const newSet = await page.$eval('.book-panel option[value="new"]', (o) => o.textContent!);
    await me.choose('Put them into', newSet);
    await me.press('Make 6 songs');
    await page.waitForSelector('.book-panel', { hidden: true });
    within('an evening as one paste', me, 10);
    const song = await songNamed('Pier 4');
    expect(song.scenes.map((s) => s.name)).toEqual(['Verse', 'Chorus', 'Outro']);
    expect(valuesOf(song, 'Program')).toEqual([3, 3, 3]);
    expect(valuesOf(song, 'Snapshot')).toEqual([3, 4, 5]);
    const { items } = await running.app.get<{ items: { id: string; name: string }[] }>(
      `/sets/summaries?rigId=${demoRig.id}`,
    );
    const { doc } = await running.app.get<Kept<Setlist>>(
      `/sets/${items.find((s) => newSet.endsWith(`, ${s.name}`))!.id}`,
    );
    expect(doc.entries).toHaveLength(6);
  });
});
