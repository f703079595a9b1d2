import type { Preset } from '@idle-step/core/floor';
import type { FullRig } from '@idle-step/core/routing';
import type { Setlist, Song } from '@idle-step/core/show';
import type { Kept } from '@idle-step/contract';
import { demoRig, demoSongs } from '@idle-step/demo';
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
  const page = await openPage(running.browser, running.app.base, path);
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
});
