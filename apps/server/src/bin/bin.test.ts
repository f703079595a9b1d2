import { PLAIN_ENTRY, PLAIN_SONG, type Setlist, type Song } from '@idle-step/core/show';
import type { FullRig } from '@idle-step/core/routing';
import type { Preset } from '@idle-step/core/floor';
import 'reflect-metadata';
import {
  BIN_DAYS,
  BinLineSchema,
  copiedRig,
  pageSchema,
  type BinLine,
  type BroughtBack,
  type EveningLine,
  type Kept,
  type Page,
  type Problem,
  type Revision,
  type RigFile,
} from '@idle-step/contract';
import { demoPresets, demoRig, demoSets, demoSongs } from '@idle-step/demo';
import type { INestApplication } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { ask } from '../../../../tests/support/api';
import { emptyDatabase } from '../../../../tests/support/database';
import { pageFolder } from '../../../../tests/support/page';
import { startApp } from '../app';
import { BinService } from './bin.service';

let app: INestApplication;
let base: string;
let databaseUrl: string;

async function start(withDemo: boolean): Promise<void> {
  const started = await startApp({ databaseUrl, webRoot: pageFolder(), port: 0, withDemo });
  app = started.app;
  base = `http://127.0.0.1:${started.port}/api`;
}
beforeAll(async () => {
  databaseUrl = await emptyDatabase(inject('databaseUrl'));
  await start(true);
});
afterAll(() => app.close());

const call = <T>(method: string, path: string, body?: unknown, version?: number) =>
  ask<T>(base, method, path, body, version);
const get = async <T>(path: string) => (await call<T>('GET', path)).body;
const lines = (query = '') => get<Page<BinLine>>(`/bin${query}`);
const lineOf = async (id: string) => (await lines()).items.find((l) => l.id === id);
const isThere = async (path: string) => (await call('GET', path)).status === 200;

/** Saves it three times under other names, and deletes it. @returns its last text and its saves then. */
async function savedAndDeleted<D extends { id: string; name: string }>(resource: string, id: string) {
  let kept = await get<Kept<D>>(`/${resource}/${id}`);
  const { name } = kept.doc;
  for (const n of [1, 2, 3]) {
    const doc = { ...kept.doc, name: `${name} ${n}` };
    kept = (await call<Kept<D>>('PUT', `/${resource}/${id}`, doc, kept.version)).body;
  }
  const saves = await get<Revision[]>(`/${resource}/${id}/revisions`);
  const path = resource === 'rigs' ? 'whole-rigs' : resource;
  expect((await call('DELETE', `/${path}/${id}`, undefined, kept.version)).status).toBe(204);
  expect(await isThere(`/${resource}/${id}`)).toBe(false);
  return { doc: kept.doc, saves };
}

async function isBackWhole(
  resource: string,
  { doc, saves }: { doc: { id: string }; saves: Revision[] },
): Promise<void> {
  const back = await call<BroughtBack>('POST', `/bin/${resource}/${doc.id}`);
  expect(back).toMatchObject({ status: 200, body: { id: doc.id, leftOut: [] } });
  expect((await get<Kept<unknown>>(`/${resource}/${doc.id}`)).doc).toEqual(doc);
  const now = await get<Revision[]>(`/${resource}/${doc.id}/revisions`);
  expect(now.slice(-saves.length)).toEqual(saves);
  for (const { version } of saves)
    expect(await isThere(`/${resource}/${doc.id}/revisions/${version}`)).toBe(true);
  // The next save goes on from there.
  const kept = await get<Kept<object>>(`/${resource}/${doc.id}`);
  expect((await call('PUT', `/${resource}/${doc.id}`, kept.doc, kept.version)).status).toBe(200);
  expect(await lineOf(doc.id)).toBe(undefined);
}

const newSong = (part: Partial<Song> = {}): Song => ({
  id: crypto.randomUUID(),
  rigId: demoRig.id,
  name: 'Gone for now',
  tempoBpm: 90,
  beatsPerBar: 4,
  lengthS: 100,
  ...PLAIN_SONG,
  scenes: [],
  ...part,
});

describe('what was deleted, after the server was started anew,', () => {
  it('is a song, a set, a preset and a rig, each back whole with its earlier saves', async () => {
    const file = copiedRig(await get<RigFile>(`/whole-rigs/${demoRig.id}`), 'Second', () =>
      crypto.randomUUID(),
    );
    expect((await call('POST', '/whole-rigs', file)).status).toBe(201);
    const evening = {
      id: crypto.randomUUID(),
      rigId: file.rig.id,
      setId: file.sets[0]!.id,
      setName: file.sets[0]!.name,
      startedAt: '2026-11-28T19:00:00.000Z',
      endedAt: null,
      plan: [],
    };
    expect((await call('POST', '/evenings', { evening, entries: [] })).status).toBeLessThan(300);
    const song = newSong();
    await call('POST', '/songs', song);
    const goneSong = await savedAndDeleted<Song>('songs', song.id);
    const goneSet = await savedAndDeleted<Setlist>('sets', demoSets[0]!.id);
    const goneRig = await savedAndDeleted<FullRig>('rigs', file.rig.id);
    // In force on a board: the board has none then.
    const inForce = demoRig.boards.find((b) => b.presetId !== null)!;
    const gonePreset = await savedAndDeleted<Preset>('presets', inForce.presetId!);
    const presetOf = async () =>
      (await get<Kept<FullRig>>(`/rigs/${demoRig.id}`)).doc.boards.find((b) => b.id === inForce.id)!.presetId;
    expect(await presetOf()).toBe(null);

    await app.close();
    await start(false);

    const listed = await lines();
    expect(pageSchema(BinLineSchema).parse(listed)).toEqual(listed);
    // The last one first; what went with the rig is not listed by itself.
    expect(listed.items.map((l) => l.id)).toEqual(
      [gonePreset, goneRig, goneSet, goneSong].map((g) => g.doc.id),
    );
    expect(listed.items[1]).toMatchObject({ name: 'Second 3', songCount: demoSongs.length });
    expect((await lines('?name=for%20NOW')).items.map((l) => l.id)).toEqual([song.id]);
    expect((await lines('?name=%25')).total).toBe(0);
    expect((await lines('?from=1&count=2')).items).toEqual(listed.items.slice(1, 3));

    await isBackWhole('songs', goneSong);
    await isBackWhole('sets', goneSet);
    await isBackWhole('presets', gonePreset);
    expect(await presetOf()).toBe(inForce.presetId);
    await isBackWhole('rigs', goneRig);
    const whole = await get<RigFile>(`/whole-rigs/${file.rig.id}`);
    const byId = <D extends { id: string }>(docs: readonly D[]) =>
      docs.toSorted((a, b) => a.id.localeCompare(b.id));
    expect(whole.rig).toEqual({ ...file.rig, name: 'Second 3' });
    for (const part of ['presets', 'songs', 'sets'] as const)
      expect(byId<{ id: string }>(whole[part])).toEqual(byId<{ id: string }>(file[part]));
    expect((await get<EveningLine[]>(`/evenings?rigId=${file.rig.id}`)).map((e) => e.id)).toEqual([
      evening.id,
    ]);
    // The parts have their first saves too.
    expect((await get<Revision[]>(`/songs/${file.songs[0]!.id}/revisions`)).map((r) => r.version)).toEqual([
      2, 1,
    ]);
  });
});

describe('what comes back to something that has changed', () => {
  it('a set comes without the songs that are gone, and says which lines', async () => {
    const song = newSong({ name: 'Leaves too' });
    await call('POST', '/songs', song);
    const set: Setlist = {
      ...(await get<Kept<Setlist>>(`/sets/${demoSets[0]!.id}`)).doc,
      id: crypto.randomUUID(),
      name: 'With a gap',
      entries: [demoSongs[0]!.id, song.id, demoSongs[1]!.id].map((songId) => ({
        ...PLAIN_ENTRY,
        kind: 'song',
        id: crypto.randomUUID(),
        songId,
        lengthS: null,
        leftOutSceneIds: [],
      })),
    };
    expect((await call('POST', '/sets', set)).status).toBe(201);
    expect((await call('DELETE', `/songs/${song.id}`, undefined, 1)).status).toBe(409);
    await call('DELETE', `/sets/${set.id}`, undefined, 1);
    expect((await call('DELETE', `/songs/${song.id}`, undefined, 1)).status).toBe(204);
    const back = await call<BroughtBack>('POST', `/bin/sets/${set.id}`);
    expect(back.body.leftOut).toEqual(['The song in line 2 of the running order is gone.']);
    const now = (await get<Kept<Setlist>>(`/sets/${set.id}`)).doc;
    expect(now.entries).toEqual(set.entries.filter((_, i) => i !== 1));
  });

  it('a song comes without values of a function that is gone, and says which', async () => {
    const file = copiedRig(await get<RigFile>(`/whole-rigs/${demoRig.id}`), 'Changes', () =>
      crypto.randomUUID(),
    );
    const song = file.songs.find((s) => s.scenes.some((scene) => scene.values.length > 0))!;
    const only = { ...file, songs: [song], sets: [], presets: [] };
    only.rig = { ...file.rig, boards: file.rig.boards.map((b) => ({ ...b, presetId: null })) };
    const { version } = (await call<Kept<FullRig>>('POST', '/whole-rigs', only)).body;
    await call('DELETE', `/songs/${song.id}`, undefined, 1);
    const { functionId } = song.scenes.flatMap((s) => s.values)[0]!;
    const without = {
      ...only.rig,
      devices: only.rig.devices.map((d) => ({ ...d, chart: d.chart.filter((f) => f.id !== functionId) })),
    };
    expect((await call('PUT', `/rigs/${file.rig.id}`, without, version)).status).toBe(200);
    const back = await call<BroughtBack>('POST', `/bin/songs/${song.id}`);
    expect(back.status).toBe(200);
    expect(back.body.leftOut.length).toBeGreaterThan(0);
    expect(back.body.leftOut[0]).toContain('the function is gone');
    const now = JSON.stringify((await get<Kept<Song>>(`/songs/${song.id}`)).doc);
    expect(now).not.toContain(functionId);
  });

  it('a song whose rig is in the bin says to bring that back first, and then comes', async () => {
    const file = copiedRig(await get<RigFile>(`/whole-rigs/${demoRig.id}`), 'First this', () =>
      crypto.randomUUID(),
    );
    const { version } = (await call<Kept<FullRig>>('POST', '/whole-rigs', { ...file, sets: [] })).body;
    const song = file.songs[0]!;
    await call('DELETE', `/songs/${song.id}`, undefined, 1);
    await call('DELETE', `/whole-rigs/${file.rig.id}`, undefined, version);
    expect(await lineOf(song.id)).toMatchObject({ rigName: 'First this', isRigBinned: true });
    const refused = await call<Problem>('POST', `/bin/songs/${song.id}`);
    expect(refused.status).toBe(409);
    expect(refused.body.detail).toContain('Its rig, First this, is in the bin too; bring that back first.');
    expect((await call('POST', `/bin/rigs/${file.rig.id}`)).status).toBe(200);
    expect(await isThere(`/songs/${song.id}`)).toBe(false);
    expect((await call('POST', `/bin/songs/${song.id}`)).status).toBe(200);
    expect((await get<Kept<Song>>(`/songs/${song.id}`)).doc).toEqual(song);
  });

  it('a preset whose board is gone stays in the bin and says why', async () => {
    const bank = { ...demoPresets[0]!.banks[0]!, id: crypto.randomUUID(), assignments: [] };
    const feel = demoPresets[0]!.feel;
    const preset = {
      ...demoPresets[0]!,
      id: crypto.randomUUID(),
      name: 'Boardless',
      banks: [bank],
      groups: [],
    };
    const rig = await get<Kept<FullRig>>(`/rigs/${demoRig.id}`);
    const board = { ...rig.doc.boards[0]!, id: crypto.randomUUID(), controls: [], presetId: null };
    const withBoard = (
      await call<Kept<FullRig>>(
        'PUT',
        `/rigs/${demoRig.id}`,
        { ...rig.doc, boards: [...rig.doc.boards, board] },
        rig.version,
      )
    ).body;
    const own = { ...preset, boardId: board.id, feel };
    const made = await call('POST', '/presets', own);
    expect(made).toMatchObject({ status: 201 });
    // It goes with its board.
    const took = await call<Kept<FullRig>>(
      'PUT',
      `/rigs/${demoRig.id}?inUse=take-out`,
      rig.doc,
      withBoard.version,
    );
    expect(took.status).toBe(200);
    const refused = await call<Problem>('POST', `/bin/presets/${preset.id}`);
    expect(refused.status).toBe(409);
    expect(refused.body.detail).toContain('The board that it was made for is gone');
    expect(await lineOf(preset.id)).toMatchObject({ name: 'Boardless' });
    // With its board it comes.
    await call('PUT', `/rigs/${demoRig.id}`, withBoard.doc, took.body.version);
    expect((await call('POST', `/bin/presets/${preset.id}`)).status).toBe(200);
  });
});

describe('the bin', () => {
  it('of two who bring the same back at once one does, and it is there once', async () => {
    const song = newSong({ name: 'Asked for twice' });
    await call('POST', '/songs', song);
    await call('DELETE', `/songs/${song.id}`, undefined, 1);
    const both = await Promise.all([1, 2].map(() => call('POST', `/bin/songs/${song.id}`)));
    expect(both.map((b) => b.status).sort()).toEqual([200, 404]);
    expect((await get<Kept<Song>>(`/songs/${song.id}`)).version).toBe(2);
  });

  it('one that is kept again by undo leaves it, and its saves go on', async () => {
    const song = newSong({ name: 'Undone' });
    await call('POST', '/songs', song);
    await call('DELETE', `/songs/${song.id}`, undefined, 1);
    expect((await call<Kept<Song>>('POST', '/songs', song)).body.version).toBe(2);
    expect(await lineOf(song.id)).toBe(undefined);
    expect((await get<Revision[]>(`/songs/${song.id}/revisions`)).map((r) => r.version)).toEqual([2, 1]);
  });

  it('lets go for good of what is asked for, and of all that was there for its days, saves too', async () => {
    const [now, later] = [newSong({ name: 'For good' }), newSong({ name: 'In a month' })];
    for (const song of [now, later]) {
      await call('POST', '/songs', song);
      await call('DELETE', `/songs/${song.id}`, undefined, 1);
    }
    expect((await call('DELETE', `/bin/songs/${now.id}`)).status).toBe(204);
    expect((await call('DELETE', `/bin/songs/${now.id}`)).status).toBe(404);
    expect((await call('POST', `/bin/songs/${now.id}`)).status).toBe(404);
    const bin = app.get(BinService, { strict: false });
    const inDays = (days: number) => new Date(Date.now() + days * 86_400_000);
    await bin.emptyOld(inDays(BIN_DAYS - 1));
    expect(await lineOf(later.id)).toBeDefined();
    await bin.emptyOld(inDays(BIN_DAYS + 1));
    expect((await lines()).total).toBe(0);
    const db = app.get(DataSource);
    const left = await db.query<{ n: string | number }[]>(
      'SELECT COUNT(*) AS n FROM `revision` WHERE `documentId` IN (?, ?)',
      [now.id, later.id],
    );
    expect(Number(left[0]!.n)).toBe(0);
    expect(await isThere(`/rigs/${demoRig.id}`)).toBe(true);
  });

  it.each([
    ['POST', '/bin/nothing/00000000-0000-4000-8000-000000000001', 404],
    ['POST', '/bin/songs/00000000-0000-4000-8000-00000000ffff', 404],
    ['POST', '/bin/songs/none', 422],
    ['GET', '/bin?count=0', 422],
    ['GET', '/bin?name=a&name=b', 200],
  ])('%s %s is answered %i', async (method, path, status) =>
    expect((await call(method, path)).status).toBe(status),
  );
});
