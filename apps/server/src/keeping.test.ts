import { type Song, PLAIN_SCENE, PLAIN_SONG, PLAIN_TEMPO_CHANGE } from '@idle-step/core/show';
import type { FullRig } from '@idle-step/core/routing';
import type { Preset } from '@idle-step/core/floor';
import 'reflect-metadata';
import { demoPresets, demoRig, demoSets, demoSongs } from '@idle-step/demo';
import {
  PROBLEM,
  ProblemSchema,
  RigSchema,
  type Kept,
  type Problem,
  pageSchema,
  setSummary,
  songSummary,
  SongSummarySchema,
  type Page,
  type ProblemUser,
  type SetSummary,
  type SongSummary,
} from '@idle-step/contract';
import type { INestApplication } from '@nestjs/common';
import fc from 'fast-check';
import { DataSource } from 'typeorm';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { pageFolder } from '../../../tests/support/page';
import { ask } from '../../../tests/support/api';
import { emptyDatabase } from '../../../tests/support/database';
import { startApp } from './app';
import { databaseOptions } from './database/database.module';
import { Schema1763900000000 } from './database/schema.migration';
import { refuseNewerData } from './database/newerData';
import { Meter1764420000000 } from './database/meter.migration';
import { Panic1764340000000 } from './database/panic.migration';
import { Toggle1764320000000 } from './database/toggle.migration';

let app: INestApplication;
let base: string;
let databaseUrl: string;

beforeAll(async () => {
  databaseUrl = await emptyDatabase(inject('databaseUrl'));
  const started = await startApp({ databaseUrl, webRoot: pageFolder(), port: 0, withDemo: true });
  app = started.app;
  base = `http://127.0.0.1:${started.port}/api`;
});
afterAll(() => app.close());

const call = <T>(method: string, path: string, body?: unknown, headers: Record<string, string> = {}) =>
  ask<T>(base, method, path, body, headers);
const from = (version: number) => ({ 'If-Match': `"${version}"` });

/** A refused request: its problem document, which every one of them has to be. */
async function refused(
  method: string,
  path: string,
  body?: unknown,
  headers: Record<string, string> = {},
): Promise<Problem> {
  const answer = await call<Problem>(method, path, body, headers);
  expect(answer.headers.get('content-type')).toContain('application/problem+json');
  expect(ProblemSchema.parse(answer.body).status).toBe(answer.status);
  return answer.body;
}

const fresh = (part: Partial<Song> = {}): Song => ({
  id: crypto.randomUUID(),
  rigId: demoRig.id,
  name: 'Test song',
  tempoBpm: 90,
  beatsPerBar: 4,
  lengthS: 100,
  ...PLAIN_SONG,
  scenes: [],
  ...part,
});
const keep = async (song: Song): Promise<Song> => {
  expect((await call('POST', '/songs', song)).status).toBe(201);
  return song;
};
const get = async <T>(path: string) => (await call<Kept<T>>('GET', path)).body;

describe('lists', () => {
  const summaries = (query: string) => call<Page<SongSummary>>('GET', `/songs/summaries?${query}`);
  it('show songs without their scenes, by name, page by page', async () => {
    const all = await summaries(`rigId=${demoRig.id}`);
    expect(all.status).toBe(200);
    expect(pageSchema(SongSummarySchema).parse(all.body)).toEqual(all.body);
    expect(all.body.total).toBe(demoSongs.length);
    expect(all.body.items).toEqual(
      demoSongs.toSorted((a, b) => a.name.localeCompare(b.name)).map((s) => songSummary(s)),
    );
    const pages = await Promise.all(
      [0, 4, 8, 12].map((n) => summaries(`rigId=${demoRig.id}&from=${n}&count=4`)),
    );
    expect(pages.flatMap((p) => p.body.items)).toEqual(all.body.items);
    expect(pages.map((p) => p.body.total)).toEqual([11, 11, 11, 11]);
  });
  it('show sets without their running orders, and those in which a song stands', async () => {
    const all = await call<Page<SetSummary>>('GET', `/sets/summaries?rigId=${demoRig.id}`);
    expect(all.body.items).toEqual(demoSets.map((s) => setSummary(s)));
    const song = demoSongs.find((s) => s.name === 'Night Pilot')!;
    const some = await call<Page<SetSummary>>('GET', `/sets/summaries?rigId=${demoRig.id}&songId=${song.id}`);
    expect(some.body.items.map((s) => s.name)).toEqual(['Lock 9 landing']);
    const none = await call<Page<SetSummary>>(
      'GET',
      `/sets/summaries?rigId=${demoRig.id}&songId=${crypto.randomUUID()}`,
    );
    expect(none.body).toEqual({ total: 0, items: [] });
  });
  it('give whole documents by their identifiers, without those that are gone', async () => {
    const [a, b] = [demoSongs[3]!, demoSongs[1]!];
    const { body } = await call<Kept<Song>[]>('GET', `/songs?ids=${a.id},${crypto.randomUUID()},${b.id}`);
    expect(body.map((k) => k.doc)).toEqual([a, b]);
  });
  it.each([
    ['/songs/summaries?rigId=x', 'rigId'],
    [`/songs/summaries?rigId=${demoRig.id}&count=0`, ''],
    [`/sets/summaries?rigId=${demoRig.id}&from=-1`, ''],
    [`/songs?ids=${Array.from({ length: 101 }, () => demoRig.id).join()}`, 'ids'],
    ['/songs?ids=x', 'ids'],
  ])('refuse %s', async (path, field) => {
    const problem = await refused('GET', path);
    expect(problem.status).toBe(422);
    expect(problem.errors![0]!.path).toBe(field);
  });
  it('say who would lose something by a save of the rig, and store nothing', async () => {
    const { doc: rig, version } = await get<FullRig>(`/rigs/${demoRig.id}`);
    const losers = (doc: FullRig) => call<ProblemUser[]>('POST', `/rigs/${demoRig.id}/losers`, doc);
    expect((await losers({ ...rig, name: 'Other' })).body).toEqual([]);
    const routes = rig.routing.routes.filter((r) => r.name !== 'High bells');
    expect((await losers({ ...rig, routing: { ...rig.routing, routes } })).body).toMatchObject([
      { kind: 'song', name: 'Paper Weir', place: 'Weir' },
      { kind: 'song', name: 'Paper Weir', place: 'Outro' },
    ]);
    expect(await get<FullRig>(`/rigs/${demoRig.id}`)).toMatchObject({ version, doc: { name: demoRig.name } });
  });
});

describe('what is kept', () => {
  it('comes back exactly as it was given, for the whole demo', async () => {
    expect((await get<FullRig>(`/rigs/${demoRig.id}`)).doc).toEqual(demoRig);
    for (const preset of demoPresets) expect((await get(`/presets/${preset.id}`)).doc).toEqual(preset);
    for (const song of demoSongs) expect((await get(`/songs/${song.id}`)).doc).toEqual(song);
    for (const set of demoSets) expect((await get(`/sets/${set.id}`)).doc).toEqual(set);
  });

  it('comes back exactly as it was given, for groups with pages, lamps, both ends of a pedal, hardware and panic', async () => {
    const { doc: rig, version } = await get<FullRig>(`/rigs/${demoRig.id}`);
    const hardware = {
      ...rig.boards[0]!.controls[10]!.hardware,
      heel: 7.5,
      toe: 119,
      jitter: 2,
      debounceMs: 10,
    };
    const built: FullRig = {
      ...rig,
      devices: rig.devices.map((d, i) => ({ ...d, soundOffAtPanic: i % 2 === 0 })),
      boards: rig.boards.map((b, i) =>
        i > 0
          ? b
          : {
              ...b,
              mode: 'standalone',
              can: { ...b.can, banks: 8, gestures: ['press'] },
              controls: b.controls.map((c, k) =>
                k === 10 ? { ...c, sends: { kind: 'nrpn', number: 16382 }, channel: 3, hardware } : c,
              ),
            },
      ),
    };
    expect((await call('PUT', `/rigs/${rig.id}`, built, from(version))).status).toBe(200);
    expect((await get<FullRig>(`/rigs/${rig.id}`)).doc).toEqual(built);
    expect((await call('PUT', `/rigs/${rig.id}`, rig, from(version + 1))).status).toBe(200);

    const plank = demoPresets[0]!;
    const [pedal, ...others] = [...plank.banks[0]!.assignments].reverse();
    const page = (name: string, assignments: Preset['banks'][number]['assignments']) => ({
      ...plank.banks[0]!,
      id: crypto.randomUUID(),
      name,
      colour: 'sun' as const,
      remark: 'worn',
      assignments,
    });
    const preset: Preset = {
      ...plank,
      id: crypto.randomUUID(),
      folder: 'Winter',
      banks: [
        page(
          'One',
          others.slice(0, 3).map((a) => ({ ...a, press: [], sweeps: [], remark: 'left' })),
        ),
      ],
      groups: [
        {
          id: crypto.randomUUID(),
          name: 'Pedals',
          controlIds: [pedal!.controlId],
          pages: [
            page('Page 1', [
              {
                ...pedal!,
                sweeps: [],
                toe: [{ id: crypto.randomUUID(), kind: 'panic' }],
                lamp: { kind: 'switch' },
                response: { ...pedal!.response, takeover: 'scale' },
              },
            ]),
            page('Page 2', []),
          ],
        },
      ],
      feel: [
        {
          kind: 'pad',
          velocity: 'fixed',
          fixed: 99,
          curve: 's',
          pressure: 'poly',
          controller: 1,
          lamp: null,
        },
      ],
    };
    const answer = await call('POST', '/presets', preset);
    expect([answer.status, answer.body]).toEqual([201, expect.anything()]);
    expect((await get<Preset>(`/presets/${preset.id}`)).doc).toEqual(preset);
    const turned = {
      ...preset,
      groups: preset.groups.map((g) => ({ ...g, pages: [...g.pages].reverse() })),
    };
    expect((await call('PUT', `/presets/${preset.id}`, turned, from(1))).status).toBe(200);
    expect((await get<Preset>(`/presets/${preset.id}`)).doc).toEqual(turned);
    const apart = { ...turned, groups: [] };
    expect((await call('PUT', `/presets/${preset.id}`, apart, from(2))).status).toBe(200);
    expect((await get<Preset>(`/presets/${preset.id}`)).doc).toEqual(apart);
    expect((await call('DELETE', `/presets/${preset.id}`, undefined, from(3))).status).toBe(204);
  });

  it('comes back exactly as it was given: what is not tonight, what controls do, banks that follow the song', async () => {
    const board = demoRig.boards[0]!;
    const [pedal, footswitch] = ['expression-pedal', 'footswitch'].map(
      (kind) => board.controls.find((c) => c.kind === kind)!.id,
    );
    const kelpline = demoRig.devices.find((d) => d.name === 'Kelpline')!;
    const idOf = (name: string) => kelpline.chart.find((f) => f.name === name)!.id;
    const of = (controlId: string) => ({ boardId: board.id, controlId });
    const song = await keep(
      fresh({
        scenes: [
          {
            ...PLAIN_SCENE,
            id: crypto.randomUUID(),
            name: 'One',
            controls: [
              { ...of(pedal!), kind: 'move', functionId: idOf('Reverb mix'), from: 20, to: 100 },
              { ...of(footswitch!), kind: 'set', functionId: idOf('Snapshot'), value: 5 },
            ],
          },
          {
            ...PLAIN_SCENE,
            id: crypto.randomUUID(),
            name: 'Two',
            controls: [
              { ...of(pedal!), kind: 'as-bank' },
              { ...of(footswitch!), kind: 'toggle', functionId: idOf('Echo') },
            ],
          },
        ],
      }),
    );
    expect((await get<Song>(`/songs/${song.id}`)).doc).toEqual(song);
    const [first] = demoSets;
    const set = {
      ...first!,
      id: crypto.randomUUID(),
      entries: first!.entries.map((e, i) => ({
        ...e,
        id: crypto.randomUUID(),
        notTonight: i % 2 === 0,
        isEncore: i % 3 === 0,
      })),
    };
    expect((await call('POST', '/sets', set)).status).toBe(201);
    expect((await get(`/sets/${set.id}`)).doc).toEqual(set);
    const kept = await get<FullRig>(`/rigs/${demoRig.id}`);
    const follows = {
      ...kept.doc,
      boards: kept.doc.boards.map((b) => ({ ...b, bankFollows: 'song-name' as const })),
    };
    expect((await call('PUT', `/rigs/${demoRig.id}`, follows, from(kept.version))).status).toBe(200);
    expect((await get<FullRig>(`/rigs/${demoRig.id}`)).doc).toEqual(follows);
    expect((await call('PUT', `/rigs/${demoRig.id}`, kept.doc, from(kept.version + 1))).status).toBe(200);
    // What a scene says of a control of another board, or of a function that is gone, is refused.
    const stray = { ...of(crypto.randomUUID()), kind: 'as-bank' as const };
    const [scene] = song.scenes;
    const problem = await refused(
      'POST',
      '/songs',
      fresh({ scenes: [{ ...scene!, id: crypto.randomUUID(), controls: [stray] }] }),
    );
    expect(JSON.stringify(problem)).toContain('the control is gone from the board');
    for (const path of [`/songs/${song.id}`, `/sets/${set.id}`])
      await call('DELETE', path, undefined, from(1));
  });

  it('is listed by name, of one rig', async () => {
    const { body } = await call<Kept<Song>[]>('GET', `/songs?rigId=${demoRig.id}`);
    const names = body.map((k) => k.doc.name);
    expect(names).toEqual([...names].sort((a, b) => a.localeCompare(b)));
    expect((await call<unknown[]>('GET', `/songs?rigId=${crypto.randomUUID()}`)).body).toEqual([]);
  });

  it('is changed row by row: order, removal and addition of scenes and values', async () => {
    const song = await keep(
      fresh({
        scenes: structuredClone(demoSongs[3]!.scenes).map((s) => ({ ...s, id: crypto.randomUUID() })),
      }),
    );
    const changed = {
      ...song,
      scenes: [
        song.scenes[4]!,
        { ...PLAIN_SCENE, id: crypto.randomUUID(), name: 'New', values: song.scenes[0]!.values.slice(1) },
        song.scenes[0]!,
      ],
    };
    expect((await call('PUT', `/songs/${song.id}`, changed, from(1))).status).toBe(200);
    expect((await get<Song>(`/songs/${song.id}`)).doc).toEqual(changed);
  });

  it('counts versions, as ETag too, and keeps every save', async () => {
    const song = await keep(fresh());
    const saved = await call<Kept<Song>>('PUT', `/songs/${song.id}`, { ...song, name: 'Second' }, from(1));
    expect([saved.body.version, saved.headers.get('etag')]).toEqual([2, '"2"']);
    const { body: revisions } = await call<{ version: number }[]>('GET', `/songs/${song.id}/revisions`);
    expect(revisions.map((r) => r.version)).toEqual([2, 1]);
    expect((await get<Song>(`/songs/${song.id}/revisions/1`)).doc).toEqual(song);
    expect(await refused('GET', `/songs/${song.id}/revisions/3`)).toMatchObject({
      status: 404,
      type: PROBLEM.gone,
    });
    const restored = await call<Kept<Song>>('PUT', `/songs/${song.id}`, song, from(2));
    expect(restored.body).toMatchObject({ version: 3, doc: song });
  });

  it('is gone after a delete, with its saves', async () => {
    const song = await keep(fresh());
    expect((await call('DELETE', `/songs/${song.id}`, undefined, from(1))).status).toBe(204);
    expect(await refused('GET', `/songs/${song.id}`)).toMatchObject({ status: 404 });
    expect(await refused('GET', `/songs/${song.id}/revisions`)).toMatchObject({ status: 404 });
    expect((await call('POST', '/songs', song)).status).toBe(201);
  });
});

describe('two windows', () => {
  it('the second save from the same version is told, with what is kept, and stores nothing', async () => {
    const song = await keep(fresh());
    await call('PUT', `/songs/${song.id}`, { ...song, name: 'Theirs' }, from(1));
    const problem = await refused('PUT', `/songs/${song.id}`, { ...song, name: 'Mine' }, from(1));
    expect(problem).toMatchObject({
      status: 409,
      type: PROBLEM.stale,
      current: { version: 2, doc: { name: 'Theirs' } },
    });
    expect((await get<Song>(`/songs/${song.id}`)).doc.name).toBe('Theirs');
  });

  it('of twenty saves at once from one version exactly one is stored', async () => {
    const song = await keep(fresh());
    const answers = await Promise.all(
      Array.from({ length: 20 }, (_, i) =>
        call('PUT', `/songs/${song.id}`, { ...song, name: `Try ${i}` }, from(1)),
      ),
    );
    expect(answers.filter((a) => a.status === 200)).toHaveLength(1);
    expect(answers.filter((a) => a.status === 409)).toHaveLength(19);
    expect((await get(`/songs/${song.id}`)).version).toBe(2);
  });

  it('a save without a version, or over a document made twice, is refused', async () => {
    const song = await keep(fresh());
    expect(await refused('PUT', `/songs/${song.id}`, song)).toMatchObject({
      status: 428,
      type: PROBLEM.versionMissing,
    });
    expect(await refused('PUT', `/songs/${song.id}`, song, { 'If-Match': 'one' })).toMatchObject({
      status: 428,
    });
    expect(await refused('POST', '/songs', song)).toMatchObject({ status: 409, type: PROBLEM.stale });
  });
});

describe('bad input is refused with its place and a remedy, and nothing is stored', () => {
  const device = demoRig.devices.find((d) => d.name === 'Kelpline')!;
  const rigWith = (part: object): FullRig => ({
    ...demoRig,
    devices: demoRig.devices.map((d) => (d === device ? ({ ...d, ...part } as typeof d) : d)),
  });
  const functionWith = (part: object) =>
    rigWith({ chart: device.chart.map((f, i) => (i === 1 ? { ...f, ...part } : f)) });

  it.each([
    [
      'channel 17',
      rigWith({ channel: 16 }),
      'devices.5.channel',
      'Channel 17 does not exist; channels are 1 to 16 (sent as 0 to 15).',
    ],
    [
      'controller 128',
      functionWith({ drive: { kind: 'controller', controller: 128 } }),
      'devices.5.chart.1.drive.controller',
      'Controller 128 is out of range; 0 to 127 would be right.',
    ],
    [
      'an empty name',
      rigWith({ name: '  ' }),
      'devices.5.name',
      'The name is empty; one character is enough.',
    ],
    [
      'a name of 81 characters',
      rigWith({ name: 'x'.repeat(81) }),
      'devices.5.name',
      'The name is longer than 80 characters.',
    ],
    [
      'two devices of one name',
      rigWith({ name: 'plank 10' }),
      'devices.5.name',
      'There is a device called plank 10 already.',
    ],
    [
      'a tape mark twice',
      rigWith({ mark: { shape: 'cross', colour: 'coral' } }),
      'devices.5.mark',
      'Another device has the coral cross already; change its shape or its colour.',
    ],
    [
      'a range upside down',
      functionWith({ shape: { kind: 'range', min: 9, max: 8, shownFrom: 0 } }),
      'devices.5.chart.1.shape.max',
      'The highest value 8 is below the lowest, 9.',
    ],
    [
      'a choice beyond 127',
      functionWith({ shape: { kind: 'choice', first: 127, shownFrom: 1, labels: ['a', 'b'] } }),
      'devices.5.chart.1.shape.labels',
      '2 values from 127 on go beyond 127.',
    ],
    [
      'a cable to nowhere',
      {
        ...demoRig,
        cables: [
          {
            id: crypto.randomUUID(),
            fromPortId: demoRig.devices[0]!.ports[0]!.id,
            toPortId: crypto.randomUUID(),
          },
        ],
      },
      'cables.0.toPortId',
      'This end of the cable is at a port that is gone.',
    ],
  ])('%s', async (_name, rig, path, message) => {
    const before = await get<FullRig>(`/rigs/${demoRig.id}`);
    const problem = await refused('PUT', `/rigs/${demoRig.id}`, rig, from(before.version));
    expect(problem).toMatchObject({ status: 422, type: PROBLEM.invalid });
    expect(problem.errors).toContainEqual({ path, message });
    expect(await get(`/rigs/${demoRig.id}`)).toEqual(before);
  });

  it('a value that the function does not take, and a function that is gone', async () => {
    const snapshot = device.chart.find((f) => f.name === 'Snapshot')!;
    const scene = (functionId: string, value: number) =>
      fresh({
        scenes: [
          { ...PLAIN_SCENE, id: crypto.randomUUID(), name: 'A', values: [{ functionId, value, way: null }] },
        ],
      });
    expect((await refused('POST', '/songs', scene(snapshot.id, 8))).errors).toEqual([
      {
        code: 'not-taken',
        path: 'scenes.0.values.0',
        message: 'A: Kelpline Snapshot does not take 8 (sent); it takes 1 to 8 as shown.',
      },
    ]);
    expect((await refused('POST', '/songs', scene(crypto.randomUUID(), 1))).detail).toMatch(
      /gone from the rig's charts/,
    );
  });

  it('a set with a song that is gone', async () => {
    const set = {
      ...demoSets[0]!,
      id: crypto.randomUUID(),
      entries: [{ id: crypto.randomUUID(), kind: 'song', songId: crypto.randomUUID() }],
    };
    expect((await refused('POST', '/sets', set)).errors).toEqual([
      { code: 'gone', path: 'entries.0.songId', message: 'The song in line 1 of the running order is gone.' },
    ]);
  });

  it('a song that is gone', async () => {
    const song = fresh();
    expect(await refused('PUT', `/songs/${song.id}`, song, from(1))).toMatchObject({
      status: 404,
      type: PROBLEM.gone,
    });
  });

  it('a body of 20 MB, a body that is not JSON, an address that is none', async () => {
    expect(await refused('POST', '/songs', `"${'x'.repeat(20_000_000)}"`)).toMatchObject({
      status: 413,
      type: PROBLEM.tooLarge,
    });
    expect((await refused('POST', '/songs', '{"name": ')).type).toBe(PROBLEM.notJson);
    expect((await refused('PUT', `/songs/${demoSongs[0]!.id}`, '[1, 2', from(1))).type).toBe(PROBLEM.notJson);
    // Said to be compressed, and is not; compressed in a way that is not read; and half a character.
    for (const encoding of ['gzip', 'deflate'])
      expect(await refused('POST', '/songs', '{}', { 'content-encoding': encoding })).toMatchObject({
        status: 400,
        type: PROBLEM.refused,
      });
    expect(await refused('POST', '/songs', '{}', { 'content-encoding': 'zstd' })).toMatchObject({
      status: 415,
      type: PROBLEM.refused,
    });
    expect(await refused('POST', '/songs', '{"name": "\\ud800"}')).toMatchObject({ status: 422 });
    expect(await refused('GET', '/songs/first')).toMatchObject({ status: 422 });
    expect(await refused('GET', '/nothing')).toMatchObject({ status: 404 });
  });

  it('an identifier that belongs to another document is refused, not taken over', async () => {
    const mine = await keep(fresh({ scenes: [{ ...PLAIN_SCENE, id: crypto.randomUUID(), name: 'Mine' }] }));
    const thief = fresh({ scenes: [{ ...mine.scenes[0]!, name: 'Stolen' }] });
    expect((await refused('POST', '/songs', thief)).detail).toMatch(/belongs to something else/);
    expect((await get<Song>(`/songs/${mine.id}`)).doc).toEqual(mine);
  });

  it('two things of one identifier in one document', async () => {
    const id = crypto.randomUUID();
    const song = fresh({
      scenes: [
        { ...PLAIN_SCENE, id, name: 'A' },
        { ...PLAIN_SCENE, id, name: 'B' },
      ],
    });
    expect((await refused('POST', '/songs', song)).errors).toContainEqual({
      path: 'scenes.1.id',
      message: 'Two things have the same identifier.',
    });
  });
});

describe('a rig sent with damaged text', () => {
  it('200 times: the server answers each, and keeps all of it or nothing', async () => {
    const sound = await get<FullRig>(`/rigs/${demoRig.id}`);
    const text = JSON.stringify(sound.doc);
    const damaged = fc.sample(
      fc
        .tuple(
          fc.nat(text.length - 1),
          fc.integer({ min: 1, max: 30 }),
          fc.constantFrom('', '"', '\u0000', '9', '{}'),
        )
        .map(([at, length, junk]) => text.slice(0, at) + junk + text.slice(at + length)),
      { seed: 48, numRuns: 200 },
    );
    let { version } = sound;
    for (const body of damaged) {
      const response = await fetch(`${base}/rigs/${demoRig.id}`, {
        method: 'PUT',
        headers: { 'content-type': 'application/json', ...from(version) },
        body,
      });
      expect([200, 400, 409, 422]).toContain(response.status);
      const now = await get<FullRig>(`/rigs/${demoRig.id}`);
      if (response.status === 200) {
        // Still a whole rig, as when a letter of a name was hit: it is kept as it came.
        expect(now.doc).toEqual(RigSchema.parse(JSON.parse(body)));
        const back = await call<Kept<FullRig>>('PUT', `/rigs/${demoRig.id}`, sound.doc, from(now.version));
        expect(back.status).toBe(200);
        version = back.body.version;
      } else expect(now.doc).toEqual(sound.doc);
    }
  });
});

describe('what is in use', () => {
  it('a function that songs and presets use is not taken out, and they are named', async () => {
    const kept = await get<FullRig>(`/rigs/${demoRig.id}`);
    const without: FullRig = {
      ...kept.doc,
      devices: kept.doc.devices.map((d) => ({ ...d, chart: d.chart.filter((f) => f.name !== 'Arm Hum') })),
    };
    const problem = await refused('PUT', `/rigs/${demoRig.id}`, without, from(kept.version));
    expect(problem).toMatchObject({ status: 409, type: PROBLEM.inUse });
    expect(problem.users).toContainEqual(
      expect.objectContaining({ kind: 'song', name: 'Paper Weir', place: 'Weir' }),
    );
    expect(await get(`/rigs/${demoRig.id}`)).toEqual(kept);
  });

  it('is taken out there too when that is asked for, all in one go', async () => {
    const kept = await get<FullRig>(`/rigs/${demoRig.id}`);
    const gone = new Set(
      kept.doc.devices.flatMap((d) => d.chart.flatMap((f) => (f.name === 'Arm Hum' ? f.id : []))),
    );
    const twigBoard = kept.doc.boards.find((b) => b.controls.length === 4)!;
    const without: FullRig = {
      ...kept.doc,
      devices: kept.doc.devices.map((d) => ({ ...d, chart: d.chart.filter((f) => !gone.has(f.id)) })),
      boards: kept.doc.boards.filter((b) => b !== twigBoard),
    };
    const before = await call<Kept<Song>[]>('GET', `/songs?rigId=${demoRig.id}`);
    const saved = await call<Kept<FullRig>>(
      'PUT',
      `/rigs/${demoRig.id}?inUse=take-out`,
      without,
      from(kept.version),
    );
    expect(saved).toMatchObject({ status: 200, body: { version: kept.version + 1 } });
    const after = await call<Kept<Song>[]>('GET', `/songs?rigId=${demoRig.id}`);
    const uses = ({ doc }: Kept<Song>) =>
      doc.scenes.some((s) => s.values.some((v) => gone.has(v.functionId)));
    expect(before.body.some(uses)).toBe(true);
    expect(after.body.some(uses)).toBe(false);
    for (const song of after.body) {
      const old = before.body.find((k) => k.doc.id === song.doc.id)!;
      expect(song.version).toBe(old.version + (uses(old) ? 1 : 0));
    }
    const presets = await call<Kept<Preset>[]>('GET', `/presets?rigId=${demoRig.id}`);
    expect(presets.body.map((k) => k.doc.boardId)).not.toContain(twigBoard.id);
    expect(JSON.stringify(presets.body)).not.toContain([...gone][0]);
  });

  it('a song that stands in sets is not deleted; the rig is not while anything is built on it', async () => {
    const heron = demoSongs.find((s) => s.name === 'Heron')!;
    const problem = await refused('DELETE', `/songs/${heron.id}`, undefined, from(1));
    expect(problem.users?.map((u) => u.name).sort()).toEqual(['Lock 9 landing', 'Weir mill, short']);
    const { version } = await get(`/rigs/${demoRig.id}`);
    expect((await refused('DELETE', `/rigs/${demoRig.id}`, undefined, from(version))).type).toBe(
      PROBLEM.inUse,
    );
  });
});

describe('who is answered', () => {
  it('only its own pages', async () => {
    expect(await refused('GET', '/songs', undefined, { Origin: 'http://elsewhere.example' })).toMatchObject({
      status: 403,
    });
    expect((await call('GET', '/songs', undefined, { Origin: base.replace('/api', '') })).status).toBe(200);
  });
  it('with a strict content security policy, a health word and an OpenAPI document', async () => {
    const health = await call('GET', '/health');
    expect(health).toMatchObject({ status: 200, body: { status: 'ok' } });
    expect(health.headers.get('content-security-policy')).toContain("script-src 'self'");
    const { body } = await call<{ paths: Record<string, unknown> }>('GET', '/openapi.json');
    for (const r of ['rigs', 'presets', 'songs', 'sets'])
      expect(Object.keys(body.paths)).toContain(`/api/${r}/{id}`);
  });
});

describe('the tables', () => {
  it('are what the entities say: nothing is left for a migration to do', async () => {
    const source = await new DataSource(databaseOptions(databaseUrl)).initialize();
    // Foreign keys are in the migration only, so their changes are not looked at.
    const { upQueries } = await source.driver.createSchemaBuilder().log();
    await source.destroy();
    expect(upQueries.map((q) => q.query).filter((q) => !/FOREIGN KEY|DROP INDEX/.test(q))).toEqual([]);
  });

  it('can be taken down and put up again', async () => {
    const source = await new DataSource({
      ...databaseOptions(await emptyDatabase(inject('databaseUrl'))),
      migrationsRun: false,
    } as never).initialize();
    const runner = source.createQueryRunner();
    const schema = new Schema1763900000000();
    await schema.up(runner);
    await schema.down(runner);
    await schema.up(runner);
    expect(await runner.hasTable('scene_value')).toBe(true);
    await source.destroy();
  });

  it('panic cuts the tails of what was saved before it could spare them', async () => {
    const kept = await get<FullRig>(`/rigs/${demoRig.id}`);
    const spared = { ...kept.doc, devices: kept.doc.devices.map((d) => ({ ...d, soundOffAtPanic: false })) };
    expect((await call('PUT', `/rigs/${demoRig.id}`, spared, from(kept.version))).status).toBe(200);
    const source = await new DataSource(databaseOptions(databaseUrl)).initialize();
    const runner = source.createQueryRunner();
    await new Panic1764340000000().down(runner);
    await new Panic1764340000000().up(runner);
    expect((await get<FullRig>(`/rigs/${demoRig.id}`)).doc).toEqual(kept.doc);
    await runner.release();
    await source.destroy();
  });

  it('a database of a newer version is left as it is, with a sentence', async () => {
    const url = await emptyDatabase(inject('databaseUrl'));
    const options = databaseOptions(url);
    await refuseNewerData(options);
    const source = await new DataSource(options).initialize();
    await refuseNewerData(options);
    await source.query(
      "INSERT INTO `migrations` (`timestamp`, `name`) VALUES (9999999999999, 'Later9999999999999')",
    );
    await expect(
      startApp({ databaseUrl: url, webRoot: pageFolder(), port: 0, withDemo: false }),
    ).rejects.toThrow(
      /^What is kept here was last used by a newer version of Idle Step \(1 step further\)\./,
    );
    await source.destroy();
  });

  it('bars and changes of tempo of what was saved before are quarters at the first beat', async () => {
    const { doc, version } = await get<Song>(`/songs/${demoSongs[3]!.id}`);
    const change = {
      ...PLAIN_TEMPO_CHANGE,
      id: crypto.randomUUID(),
      bar: 5,
      bpm: 90,
      beatsPerBar: 3,
      beatUnit: 4,
    };
    const tempos = [change, { ...PLAIN_TEMPO_CHANGE, id: crypto.randomUUID(), bar: 9, bpm: 80 }];
    const written = { ...doc, line: { ...doc.line, tempos } };
    expect((await call('PUT', `/songs/${doc.id}`, written, from(version))).status).toBe(200);
    const source = await new DataSource(databaseOptions(databaseUrl)).initialize();
    const runner = source.createQueryRunner();
    await new Meter1764420000000().down(runner);
    const rows = (await runner.query('SELECT `line` FROM `song` WHERE `id` = ?', [doc.id])) as {
      line: unknown;
    }[];
    expect(JSON.stringify(rows[0]!.line)).not.toContain('beatUnit');
    await new Meter1764420000000().up(runner);
    expect((await get<Song>(`/songs/${doc.id}`)).doc).toEqual(written);
    await runner.release();
    await source.destroy();
    expect((await call('PUT', `/songs/${doc.id}`, doc, from(version + 1))).status).toBe(200);
  });

  it('what was switched over under its older word is written by its new one', async () => {
    const { doc } = await get<Preset>(`/presets/${demoPresets[0]!.id}`);
    const loop = { id: crypto.randomUUID(), kind: 'loop', to: 'toggle' } as const;
    const copy: Preset = {
      ...doc,
      id: crypto.randomUUID(),
      banks: [{ ...doc.banks[0]!, id: crypto.randomUUID(), assignments: [] }],
      groups: [],
    };
    const assignment = { ...doc.banks[0]!.assignments[0]!, press: [loop] };
    const preset = { ...copy, banks: [{ ...copy.banks[0]!, assignments: [assignment] }] };
    expect((await call('POST', '/presets', preset)).status).toBe(201);
    const source = await new DataSource(databaseOptions(databaseUrl)).initialize();
    const kept = async (): Promise<string> => {
      const rows = await source.query<{ press: string }[]>(
        'SELECT `press` FROM `assignment` WHERE `bankId` = ?',
        [copy.banks[0]!.id],
      );
      return JSON.stringify(rows[0]!.press);
    };
    const runner = source.createQueryRunner();
    await new Toggle1764320000000().down(runner);
    expect(await kept()).toContain('turn');
    await new Toggle1764320000000().up(runner);
    expect(await kept()).not.toContain('turn');
    expect((await get<Preset>(`/presets/${preset.id}`)).doc).toEqual(preset);
    await runner.release();
    await source.destroy();
    expect((await call('DELETE', `/presets/${preset.id}`, undefined, from(1))).status).toBe(204);
  });

  it('the demo is loaded once and never over what is there', async () => {
    const second = await startApp({ databaseUrl, webRoot: pageFolder(), port: 0, withDemo: true });
    const { body } = await call<unknown[]>('GET', '/rigs');
    await second.app.close();
    expect(body).toHaveLength(1);
  });
});
