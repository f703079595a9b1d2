import type { FullRig } from '@idle-step/core/routing';
import type { Song } from '@idle-step/core/show';
import 'reflect-metadata';
import { copiedRig, RIG_FILE_FORMAT, type Kept, type Problem, type RigFile } from '@idle-step/contract';
import { demoRig } from '@idle-step/demo';
import type { INestApplication } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { pageFolder } from '../../../tests/support/page';
import { ask } from '../../../tests/support/api';
import { emptyDatabase } from '../../../tests/support/database';
import { startApp } from './app';
import { SongsService } from './songs/songs.service';

let app: INestApplication;
let base: string;
let demo: RigFile;

beforeAll(async () => {
  const databaseUrl = await emptyDatabase(inject('databaseUrl'));
  const started = await startApp({ databaseUrl, webRoot: pageFolder(), port: 0, withDemo: true });
  app = started.app;
  base = `http://127.0.0.1:${started.port}/api`;
  demo = (await call<RigFile>('GET', `/whole-rigs/${demoRig.id}`)).body;
});
afterAll(() => app.close());

const call = <T>(method: string, path: string, body?: unknown, version?: number) =>
  ask<T>(base, method, path, body, version);

const copy = (name: string) => copiedRig(demo, name, () => crypto.randomUUID());
const rigs = async () => (await call<Kept<FullRig>[]>('GET', '/rigs')).body.map((k) => k.doc.name);
const countOf = async (rigId: string) =>
  Promise.all(
    ['presets', 'songs', 'sets'].map(
      async (part) => (await call<unknown[]>('GET', `/${part}?rigId=${rigId}`)).body.length,
    ),
  );
/** In whatever order the rows came. */
const inOrder = (file: RigFile): RigFile => {
  const byId = <D extends { id: string }>(docs: readonly D[]) =>
    [...docs].sort((a, b) => a.id.localeCompare(b.id));
  return { ...file, presets: byId(file.presets), songs: byId(file.songs), sets: byId(file.sets) };
};

it('a rig is kept with all that belongs to it, beside another one', async () => {
  const file = copy('Beside');
  const created = await call<Kept<FullRig>>('POST', '/whole-rigs', file);
  expect(created.status).toBe(201);
  expect(created.body.doc).toEqual(file.rig);
  expect(inOrder((await call<RigFile>('GET', `/whole-rigs/${file.rig.id}`)).body)).toEqual(inOrder(file));
  expect(inOrder((await call<RigFile>('GET', `/whole-rigs/${demoRig.id}`)).body)).toEqual(inOrder(demo));
  expect(await rigs()).toEqual(['Beside', demoRig.name]);
});

it('a rig is deleted with all that belongs to it, comes back as it was, and leaves the other alone', async () => {
  const file = copy('Goes and comes');
  const { version } = (await call<Kept<FullRig>>('POST', '/whole-rigs', file)).body;
  const late = await call<Problem>('DELETE', `/whole-rigs/${file.rig.id}`, undefined, version + 1);
  expect(late.status).toBe(409);
  const gone = await call('DELETE', `/whole-rigs/${file.rig.id}`, undefined, version);
  expect(gone.status).toBe(204);
  expect(await countOf(file.rig.id)).toEqual([0, 0, 0]);
  expect((await call('GET', `/rigs/${file.rig.id}`)).status).toBe(404);
  expect(await countOf(demoRig.id)).toEqual([demo.presets.length, demo.songs.length, demo.sets.length]);
  expect((await call('POST', `/bin/rigs/${file.rig.id}`)).status).toBe(200);
  expect(inOrder((await call<RigFile>('GET', `/whole-rigs/${file.rig.id}`)).body)).toEqual(inOrder(file));
});

it('a rig of which one part does not hold is not kept at all', async () => {
  const file = copy('Half');
  const [song, ...others] = file.songs;
  const scene = song!.scenes[0]!;
  const broken = {
    ...file,
    songs: [
      ...others,
      {
        ...song!,
        scenes: [{ ...scene, values: [{ functionId: crypto.randomUUID(), value: 1 }] }],
      },
    ],
  };
  const { status, body } = await call<Problem>('POST', '/whole-rigs', broken);
  expect(status).toBe(422);
  expect(body.detail).toContain('was not stored');
  expect(await rigs()).not.toContain('Half');
  expect(await countOf(file.rig.id)).toEqual([0, 0, 0]);
});

it('a rig that is there already is told, and of two at once one is kept', async () => {
  expect((await call('POST', '/whole-rigs', demo)).status).toBe(409);
  const file = copy('Twice');
  const both = await Promise.all([call('POST', '/whole-rigs', file), call('POST', '/whole-rigs', file)]);
  expect(both.map((b) => b.status).sort()).toEqual([201, 409]);
  expect((await rigs()).filter((name) => name === 'Twice')).toHaveLength(1);
});

it.each([
  [{}, 422],
  [{ format: RIG_FILE_FORMAT, version: 1 }, 422],
  ['no object', 400],
])('%j is refused', async (body, status) =>
  expect((await call('POST', '/whole-rigs', body)).status).toBe(status),
);

describe('a rig that comes in parts', () => {
  const part = (id: string, body: unknown) => call<Problem>('POST', `/whole-rigs/${id}/parts`, body);

  it('is kept whole once the rig itself comes; a part may come twice, and before that nothing is there', async () => {
    const file = copy('In parts');
    const { rig, presets, songs, sets } = file;
    const half = Math.ceil(songs.length / 2);
    expect((await part(rig.id, { sets, songs: songs.slice(half) })).status).toBe(204);
    expect((await part(rig.id, { presets, songs: songs.slice(0, half) })).status).toBe(204);
    expect((await part(rig.id, { presets, songs: songs.slice(0, half) })).status).toBe(204);
    expect(await rigs()).not.toContain('In parts');
    expect(await countOf(rig.id)).toEqual([0, 0, 0]);
    const kept = await call<Kept<FullRig>>('POST', `/whole-rigs/${rig.id}`, rig);
    expect(kept.status).toBe(201);
    expect(kept.body.doc).toEqual(rig);
    expect(inOrder((await call<RigFile>('GET', `/whole-rigs/${rig.id}`)).body)).toEqual(inOrder(file));
    expect((await call<Kept<unknown>>('GET', `/songs/${songs[0]!.id}`)).body.version).toBe(1);
    expect((await call('POST', `/whole-rigs/${rig.id}`, rig)).status).toBe(409);
    expect((await part(rig.id, { songs })).status).toBe(409);
  });

  it('of which something is missing is not kept at all, and what was laid aside can be left', async () => {
    const { rig, presets, sets } = copy('A part is missing');
    expect((await part(rig.id, { presets, sets })).status).toBe(204);
    const refused = await call<Problem>('POST', `/whole-rigs/${rig.id}`, rig);
    expect(refused.status).toBe(422);
    expect(refused.body.detail).toContain('The song in line 1 of the running order is gone');
    expect(await rigs()).not.toContain('A part is missing');
    expect((await call('DELETE', `/whole-rigs/${rig.id}/parts`)).status).toBe(204);
    const bare = { ...rig, boards: rig.boards.map((b) => ({ ...b, presetId: null })) };
    expect((await call('POST', `/whole-rigs/${rig.id}`, bare)).status).toBe(201);
    expect(await countOf(rig.id)).toEqual([0, 0, 0]);
  });

  it('a part of another rig, and one that does not hold, are refused; the bin shows none of it', async () => {
    const { rig, songs } = copy('Wrong parts');
    const other = copy('Other');
    expect((await part(rig.id, { songs: other.songs })).status).toBe(422);
    expect((await part(rig.id, { songs: [{ ...songs[0]!, tempoBpm: 0 }] })).status).toBe(422);
    expect((await part(rig.id, { songs })).status).toBe(204);
    expect((await part(other.rig.id, { songs })).status).toBe(422);
    expect((await call<{ total: number }>('GET', '/bin?name=Wrong')).body.total).toBe(0);
    expect((await call('POST', `/whole-rigs/${rig.id}`, other.rig)).status).toBe(422);
  });
});

it('how far a rig is kept, deleted and brought back is told beside it', async () => {
  const file = copy('Told');
  const songs = Array.from({ length: 400 }, (_, i) => ({
    ...file.songs[0]!,
    id: crypto.randomUUID(),
    name: `Song ${i}`,
    scenes: [],
    parts: [],
    line: { ...file.songs[0]!.line, cues: [] },
  }));
  const { id } = file.rig;
  const bare = { ...file.rig, boards: file.rig.boards.map((b) => ({ ...b, presetId: null })) };
  expect((await call('POST', `/whole-rigs/${id}/parts`, { songs })).status).toBe(204);
  const told = async (work: Promise<{ status: number }>) => {
    const seen: { done: number; of: number }[] = [];
    let status = 0;
    void work.then((answer) => (status = answer.status));
    while (status === 0)
      seen.push((await call<{ done: number; of: number }>('GET', `/whole-rigs/${id}/progress`)).body);
    expect(status).toBeLessThan(300);
    const during = seen.filter((p) => p.of > 0);
    expect(during.every((p) => p.of === 400 && p.done <= 400)).toBe(true);
    expect(during.map((p) => p.done)).toEqual(during.map((p) => p.done).toSorted((a, b) => a - b));
    expect(new Set(during.map((p) => p.done)).size).toBeGreaterThan(2);
    expect((await call('GET', `/whole-rigs/${id}/progress`)).body).toEqual({ done: 0, of: 0 });
  };
  await told(call('POST', `/whole-rigs/${id}`, bare));
  await told(call('DELETE', `/whole-rigs/${id}`, undefined, 1));
  await told(call('POST', `/bin/rigs/${id}`));
});

it('ten who read the whole list at once all get the same, and one who breaks off holds nobody up', async () => {
  const whole = (await call<unknown[]>('GET', `/songs?rigId=${demoRig.id}`)).body;
  for (let i = 0; i < 4; i++) {
    const stop = new AbortController();
    void fetch(`${base}/songs?rigId=${demoRig.id}`, { signal: stop.signal }).catch(() => undefined);
    stop.abort();
  }
  const all = await Promise.all(
    Array.from({ length: 10 }, () => call<unknown[]>('GET', `/songs?rigId=${demoRig.id}`)),
  );
  for (const { body } of all) expect(body).toEqual(whole);
  expect((await call('GET', `/whole-rigs/${crypto.randomUUID()}`)).status).toBe(404);
});

it('of a change that takes something away exactly the songs are read in which it stands, wherever that is', async () => {
  const db = app.get(DataSource);
  const songs = app.get(SongsService, { strict: false });
  const rig = (await call<Kept<FullRig>>('GET', `/rigs/${demoRig.id}`)).body.doc;
  const docs = (await call<Kept<Song>[]>('GET', `/songs?rigId=${demoRig.id}`)).body.map((k) => k.doc);
  const ids = [
    ...rig.devices.flatMap((d) => [d.id, ...d.chart.map((f) => f.id), ...d.ports.map((p) => p.id)]),
    ...rig.boards.flatMap((b) => [b.id, ...b.controls.map((c) => c.id)]),
    ...rig.routing.routes.map((r) => r.id),
  ];
  const found = new Map<string, string[]>();
  for (const id of ids) found.set(id, (await songs.idsWith(db.manager, rig.id, [id])).toSorted());
  for (const id of ids)
    expect([id, found.get(id)]).toEqual([
      id,
      docs.flatMap((d) => (JSON.stringify(d).includes(id) ? d.id : [])).toSorted(),
    ]);
  expect([...found.values()].some((songIds) => songIds.length > 0)).toBe(true);
  expect((await songs.idsWith(db.manager, rig.id, ids)).toSorted()).toEqual(
    [...new Set([...found.values()].flat())].toSorted(),
  );
});
