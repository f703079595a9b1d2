import 'reflect-metadata';
import {
  copiedRig,
  RIG_FILE_FORMAT,
  type Kept,
  type Problem,
  type RigDoc,
  type RigFile,
} from '@idle-step/contract';
import { demoRig } from '@idle-step/demo';
import type { INestApplication } from '@nestjs/common';
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import { pageFolder } from '../../../tests/support/page';
import { emptyDatabase } from '../../../tests/support/database';
import { startApp } from './app';

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

async function call<T>(method: string, path: string, body?: unknown, version?: number) {
  const response = await fetch(`${base}${path}`, {
    method,
    headers: {
      ...(body === undefined ? {} : { 'content-type': 'application/json' }),
      ...(version === undefined ? {} : { 'If-Match': `"${version}"` }),
    },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    signal: AbortSignal.timeout(20_000),
  });
  const text = await response.text();
  return { status: response.status, body: (text ? JSON.parse(text) : null) as T };
}

const copy = (name: string) => copiedRig(demo, name, () => crypto.randomUUID());
const rigs = async () => (await call<Kept<RigDoc>[]>('GET', '/rigs')).body.map((k) => k.doc.name);
const countOf = async (rigId: string) =>
  Promise.all(
    ['presets', 'songs', 'sets'].map(
      async (part) => (await call<unknown[]>('GET', `/${part}?rigId=${rigId}`)).body.length,
    ),
  );
/** In whatever order the rows came. */
const inOrder = (file: RigFile): RigFile => {
  const byId = <D extends { id: string }>(docs: D[]) => [...docs].sort((a, b) => a.id.localeCompare(b.id));
  return { ...file, presets: byId(file.presets), songs: byId(file.songs), sets: byId(file.sets) };
};

it('a rig is kept with all that belongs to it, beside another one', async () => {
  const file = copy('Beside');
  const created = await call<Kept<RigDoc>>('POST', '/whole-rigs', file);
  expect(created.status).toBe(201);
  expect(created.body.doc).toEqual(file.rig);
  expect(inOrder((await call<RigFile>('GET', `/whole-rigs/${file.rig.id}`)).body)).toEqual(inOrder(file));
  expect(inOrder((await call<RigFile>('GET', `/whole-rigs/${demoRig.id}`)).body)).toEqual(inOrder(demo));
  expect(await rigs()).toEqual(['Beside', demoRig.name]);
});

it('a rig is deleted with all that belongs to it, comes back as it was, and leaves the other alone', async () => {
  const file = copy('Goes and comes');
  const { version } = (await call<Kept<RigDoc>>('POST', '/whole-rigs', file)).body;
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
