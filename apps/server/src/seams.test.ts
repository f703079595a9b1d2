import { type Song, type Setlist, PLAIN_SCENE, PLAIN_SONG } from '@idle-step/core/show';
import type { FullRig } from '@idle-step/core/routing';
import type { Preset } from '@idle-step/core/floor';
import 'reflect-metadata';
import { demoPresets, demoRig, demoSets, demoSongs } from '@idle-step/demo';
import { PROBLEM, ProblemSchema, type Kept, type Problem, type Revision } from '@idle-step/contract';
import type { INestApplication } from '@nestjs/common';
import fc from 'fast-check';
import { DataSource } from 'typeorm';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { pageFolder } from '../../../tests/support/page';
import { ask } from '../../../tests/support/api';
import { emptyDatabase } from '../../../tests/support/database';
import { startApp } from './app';
import { databaseOptions } from './database/database.module';
import { savesThatGo } from './revisions/thinning';

let app: INestApplication;
let base: string;
let db: DataSource;

beforeAll(async () => {
  const databaseUrl = await emptyDatabase(inject('databaseUrl'));
  const started = await startApp({ databaseUrl, webRoot: pageFolder(), port: 0, withDemo: true });
  app = started.app;
  base = `http://127.0.0.1:${started.port}/api`;
  db = await new DataSource({ ...databaseOptions(databaseUrl), migrationsRun: false }).initialize();
});
afterAll(async () => {
  await db.destroy();
  await app.close();
});

async function call<T = Kept<Song>>(method: string, path: string, body?: unknown, version?: number) {
  const answer = await ask<T>(base, method, path, body, version);
  return { ...answer, type: answer.headers.get('content-type') };
}

const scene = (id: string = crypto.randomUUID()) => ({ ...PLAIN_SCENE, id, name: 'Scene' });
const song = (part: Partial<Song> = {}): Song => ({
  id: crypto.randomUUID(),
  rigId: demoRig.id,
  name: 'Song',
  tempoBpm: 90,
  beatsPerBar: 4,
  lengthS: 200,
  ...PLAIN_SONG,
  scenes: [scene()],
  ...part,
});
const empty = (part: Partial<FullRig> = {}): FullRig => ({
  ...demoRig,
  id: crypto.randomUUID(),
  devices: [],
  cables: [],
  boards: [],
  routing: { lines: [], routes: [], othersTo: [] },
  ...part,
});

describe('what was acknowledged is what is read', () => {
  it('of six songs created together with the same scenes, those acknowledged keep theirs', async () => {
    const shared = [scene(), scene()];
    const songs = Array.from({ length: 6 }, () => song({ scenes: shared }));
    const answers = await Promise.all(songs.map((s) => call('POST', '/songs', s)));
    const kept = answers.filter((a) => a.status === 201);
    expect(kept).toHaveLength(1);
    for (const { status, body } of answers.filter((a) => a.status !== 201)) {
      expect([status, (body as unknown as Problem).type]).toEqual([409, PROBLEM.taken]);
    }
    for (const { body } of kept)
      expect((await call('GET', `/songs/${body.doc.id}`)).body.doc).toEqual(body.doc);
  });

  it('a song with a scene of another song is refused and takes nothing', async () => {
    const first = song();
    await call('POST', '/songs', first);
    const answer = await call<Problem>('POST', '/songs', song({ scenes: first.scenes }));
    expect([answer.status, answer.body.type]).toEqual([409, PROBLEM.taken]);
    expect((await call('GET', `/songs/${first.id}`)).body.doc).toEqual(first);
  });

  it('of ten creates of one identifier one is stored and the others are told', async () => {
    const one = song();
    const answers = await Promise.all(
      Array.from({ length: 10 }, (_, i) =>
        call<Problem>('POST', '/songs', { ...one, name: `n${i}`, scenes: [] }),
      ),
    );
    const statuses = answers.map((a) => a.status).sort();
    expect(statuses).toEqual([201, ...Array.from({ length: 9 }, () => 409)]);
    expect(answers.filter((a) => a.status === 409 && a.body.type === PROBLEM.stale)).toHaveLength(9);
  });

  it('songs saved while their rig is deleted are refused or stored, and the rig then stays', async () => {
    for (let round = 0; round < 8; round++) {
      const rig = empty();
      await call('POST', '/rigs', rig);
      const answers = await Promise.all([
        call<Problem>('DELETE', `/rigs/${rig.id}`, undefined, 1),
        ...Array.from({ length: 4 }, () => call<Problem>('POST', '/songs', song({ rigId: rig.id }))),
      ]);
      for (const { status } of answers) expect([201, 204, 409, 422]).toContain(status);
      const isThere = (await call('GET', `/rigs/${rig.id}`)).status === 200;
      expect(answers.some((a) => a.status === 201)).toBe(isThere);
    }
  });
});

describe('what points at something', () => {
  const rigOf = async () => (await call<Kept<FullRig>>('GET', `/rigs/${demoRig.id}`)).body;
  const isRefused = async (change: (rig: FullRig) => FullRig) => {
    const { doc, version } = await rigOf();
    const answer = await call<Problem>('PUT', `/rigs/${doc.id}`, change(doc), version);
    expect([answer.status, answer.body.type]).toEqual([409, PROBLEM.inUse]);
    return answer.body.users!;
  };
  const preset = demoPresets[0]!;
  const control = preset.banks[0]!.assignments[0]!.controlId;
  const withAction = async (action: object) => {
    const { body } = await call<Kept<Preset>>('GET', `/presets/${preset.id}`);
    const [bank, ...others] = body.doc.banks;
    const [first, ...assignments] = bank!.assignments;
    const changed = {
      ...first!,
      release: [{ id: crypto.randomUUID(), ...action }],
    };
    const doc = { ...body.doc, banks: [{ ...bank!, assignments: [changed, ...assignments] }, ...others] };
    const saved = await call<Problem>('PUT', `/presets/${preset.id}`, doc, body.version);
    expect([saved.status, saved.body.detail]).toEqual([200, undefined]);
  };
  const lamplighter = demoRig.devices.find((d) => d.name === 'Lamplighter')!;
  const without = (deviceId: string) => (rig: FullRig) => {
    const ports = new Set(rig.devices.find((d) => d.id === deviceId)!.ports.map((p) => p.id));
    return {
      ...rig,
      devices: rig.devices.filter((d) => d.id !== deviceId),
      cables: rig.cables.filter((c) => !ports.has(c.fromPortId) && !ports.has(c.toPortId)),
    };
  };

  it.each([
    [
      'a plain message',
      { kind: 'message', deviceId: lamplighter.id, channel: null, send: 'controller', number: 7, value: 1 },
    ],
    ['an arming step', { kind: 'arm-step', deviceId: lamplighter.id, to: 'next' }],
    ['raw bytes at its port', { kind: 'raw', portId: lamplighter.ports[0]!.id, bytes: [0xb0, 7, 1] }],
    ['a clock at its port', { kind: 'clock', portId: lamplighter.ports[0]!.id, to: 'start' }],
  ])('a device that %s refers to is not taken away unasked', async (_, action) => {
    await withAction(action);
    const users = await isRefused(without(lamplighter.id));
    expect(users.map((u) => u.kind)).toContain('preset');
    expect(users.some((u) => u.place.includes(preset.banks[0]!.name))).toBe(true);
    expect(control).toBeTruthy();
  });

  it('a range is not narrowed below a value that a song holds', async () => {
    const held = new Set(
      demoSongs.flatMap((x) => x.scenes.flatMap((c) => c.values.map((v) => v.functionId))),
    );
    const users = await isRefused((rig) => ({
      ...rig,
      devices: rig.devices.map((d) => ({
        ...d,
        chart: d.chart.map((f) =>
          f.shape.kind === 'range' && held.has(f.id)
            ? { ...f, powerOn: null, shape: { ...f.shape, min: 0, max: 1 } }
            : f,
        ),
      })),
    }));
    expect(users.map((u) => u.kind)).toContain('song');
  });

  it('taken out there too, every preset and song can be saved again', async () => {
    const { doc, version } = await rigOf();
    const saved = await call('PUT', `/rigs/${doc.id}?inUse=take-out`, without(lamplighter.id)(doc), version);
    expect(saved.status).toBe(200);
    for (const resource of ['presets', 'songs', 'sets'])
      for (const kept of (await call<Kept<Song>[]>('GET', `/${resource}`)).body)
        expect((await call('PUT', `/${resource}/${kept.doc.id}`, kept.doc, kept.version)).status).toBe(200);
  });

  it('a song does not move to another rig, nor a preset in force to another board', async () => {
    const other = empty();
    await call('POST', '/rigs', other);
    const kept = (await call('GET', `/songs/${demoSongs[0]!.id}`)).body;
    const moved = await call<Problem>(
      'PUT',
      `/songs/${kept.doc.id}`,
      { ...kept.doc, rigId: other.id },
      kept.version,
    );
    expect([moved.status, moved.body.detail]).toEqual([
      422,
      expect.stringContaining('belongs to another rig'),
    ]);
    const inForce = (await call<Kept<Preset>>('GET', `/presets/${demoRig.boards[0]!.presetId}`)).body;
    const bare = {
      ...inForce.doc,
      boardId: demoRig.boards[1]!.id,
      groups: [],
      banks: [{ ...inForce.doc.banks[0]!, assignments: [] }],
      feel: [],
    };
    const turned = await call<Problem>('PUT', `/presets/${bare.id}`, bare, inForce.version);
    expect([turned.status, turned.body.type]).toEqual([409, PROBLEM.inUse]);
  });
});

describe('kept data that later rules refuse', () => {
  it('is read all the same, in the list too, and other edits of it are stored', async () => {
    const [first] = demoPresets;
    const odd = { kind: 'juggle', id: crypto.randomUUID(), isOff: false };
    const bankId = first!.banks[1]!.id;
    await db.query(
      "UPDATE assignment SET `hold` = JSON_ARRAY(JSON_OBJECT('id', ?, 'kind', 'juggle')) WHERE bankId = ? LIMIT 1",
      [odd.id, bankId],
    );
    const list = await call<Kept<Preset>[]>('GET', `/presets?rigId=${demoRig.id}`);
    expect(list.status).toBe(200);
    expect(list.body.map((k) => k.doc.id)).toContain(first!.id);
    const { doc, version } = (await call<Kept<Preset>>('GET', `/presets/${first!.id}`)).body;
    expect(JSON.stringify(doc)).toContain('juggle');
    const answer = await call<Problem>('PUT', `/presets/${doc.id}`, doc, version);
    expect([answer.status, answer.body.detail]).toEqual([422, expect.stringMatching(/hold/)]);
    await db.query("UPDATE assignment SET `hold` = '[]' WHERE bankId = ?", [bankId]);
  });

  it('a fault that was there before does not stop another edit', async () => {
    const kept = (await call('GET', `/songs/${demoSongs[1]!.id}`)).body;
    const scenes = kept.doc.scenes.find((s) => s.values.length > 0)!;
    await db.query('UPDATE scene_value SET `value` = 9999 WHERE sceneId = ? AND functionId = ?', [
      scenes.id,
      scenes.values[0]!.functionId,
    ]);
    const now = (await call('GET', `/songs/${kept.doc.id}`)).body;
    const renamed = await call('PUT', `/songs/${kept.doc.id}`, { ...now.doc, name: 'Renamed' }, now.version);
    expect([renamed.status, (renamed.body as unknown as Problem).detail]).toEqual([200, undefined]);
  });
});

describe('earlier saves', () => {
  it('300 saves of one song are each read back exactly, in pages, and take little room', async () => {
    let doc = song({ scenes: demoSongs[0]!.scenes.map((s) => ({ ...s, id: crypto.randomUUID() })) });
    await call('POST', '/songs', doc);
    const SAVES = 300;
    for (let version = 1; version < SAVES; version++) {
      doc = { ...doc, name: `Name ${version}` };
      expect((await call('PUT', `/songs/${doc.id}`, doc, version)).status).toBe(200);
    }
    let pages: Revision[] = [];
    for (;;) {
      const before = pages.at(-1)?.version;
      const { body } = await call<Revision[]>(
        'GET',
        `/songs/${doc.id}/revisions${before ? `?before=${before}` : ''}`,
      );
      if (body.length === 0) break;
      expect(body.length).toBeLessThanOrEqual(50);
      pages = [...pages, ...body];
    }
    // More than the newest 200 within two days are thinned out to one an hour; the first stays.
    expect(pages.length).toBeGreaterThanOrEqual(200);
    expect(pages.length).toBeLessThan(SAVES);
    for (const { version } of pages) {
      const { body } = await call('GET', `/songs/${doc.id}/revisions/${version}`);
      expect(body.doc.name).toBe(version === 1 ? 'Song' : `Name ${version - 1}`);
      expect(body.doc.scenes).toEqual(doc.scenes);
    }
    const [{ bytes }] = await db.query<[{ bytes: string }]>(
      'SELECT SUM(LENGTH(COALESCE(doc, "")) + LENGTH(COALESCE(difference, ""))) AS bytes FROM revision WHERE documentId = ?',
      [doc.id],
    );
    expect(Number(bytes) / (pages.length * JSON.stringify(doc).length)).toBeLessThan(0.15);
  }, 120_000);

  it('a named one stays, and the name can be taken away', async () => {
    const doc = song();
    await call('POST', '/songs', doc);
    const named = await call<Revision>('PUT', `/songs/${doc.id}/revisions/1/name`, {
      name: 'Before the tour',
    });
    expect(named.body).toMatchObject({ version: 1, name: 'Before the tour' });
    expect((await call<Revision[]>('GET', `/songs/${doc.id}/revisions`)).body[0]!.name).toBe(
      'Before the tour',
    );
    expect((await call('PUT', `/songs/${doc.id}/revisions/7/name`, { name: 'x' })).status).toBe(404);
    expect((await call('PUT', `/songs/${doc.id}/revisions/1/name`, { name: '' })).status).toBe(422);
  });

  it('go by their age', () => {
    const now = new Date('2026-06-01T12:00:00Z');
    const at = (hoursAgo: number, version: number, name: string | null = null) => ({
      version,
      savedAt: new Date(now.getTime() - hoursAgo * 3_600_000),
      name,
    });
    const saves = [
      at(24 * 500, 1),
      at(24 * 499.9, 2),
      at(24 * 499.8, 3, 'named'),
      at(24 * 30 + 2, 4),
      at(24 * 30 + 1, 5),
      at(24 * 5 + 0.4, 6),
      at(24 * 5 + 0.2, 7),
      at(2, 8),
      at(1.9, 9),
      at(0, 10),
    ];
    expect([...savesThatGo(saves, now)].sort()).toEqual([2, 4, 6]);
  });
});

/** What a body can be spoiled with. */
const SPOILS: readonly unknown[] = [
  null,
  true,
  -1,
  0.5,
  1e308,
  2 ** 53,
  '',
  'x',
  'x'.repeat(5000),
  'half \ud83d an emoji',
  '\u0000',
  { toString: 1, valueOf: {} },
  { __proto__x: 1, constructor: 'x' },
  [],
  {},
  [[]],
  [null],
  crypto.randomUUID(),
];

const deep = (levels: number) => `${'['.repeat(levels)}${']'.repeat(levels)}`;

type Node = { holder: Record<string | number, unknown>; key: string | number; path: string };
function nodesOf(value: unknown, into: Node[] = [], before = ''): Node[] {
  if (typeof value !== 'object' || value === null) return into;
  for (const key of Object.keys(value)) {
    const path = `${before}${key}`;
    into.push({ holder: value as Record<string, unknown>, key, path });
    nodesOf((value as Record<string, unknown>)[key], into, `${path}.`);
  }
  return into;
}

/** Types of problems that an answer may have, by its status. */
const TYPES: Readonly<Record<number, readonly string[]>> = {
  400: [PROBLEM.notJson],
  404: [PROBLEM.gone],
  409: [PROBLEM.stale, PROBLEM.inUse, PROBLEM.taken],
  413: [PROBLEM.tooLarge],
  422: [PROBLEM.invalid],
};
/** Words of a validator, of a file server or of a program, which are for nobody. */
const NOBODYS = /Invalid input|expected \w+, received|There is nothing at|\[object|undefined|NaN|Cannot read/;

/**
 * What is wrong with the answer to a spoiled body, or `null`.
 * @param spoilt the one place that was spoiled, or `null` where it was several, or the whole.
 */
function notItsOwn(
  answer: { status: number; type: string | null; body: unknown },
  spoilt: string | null,
): string | null {
  if (!answer.type?.includes('application/problem+json')) return 'is no problem document';
  const parsed = ProblemSchema.safeParse(answer.body);
  if (!parsed.success) return 'is no problem';
  const { status, type, detail, errors } = parsed.data;
  if (status !== answer.status || !TYPES[status]?.includes(type)) return `has the type ${type}`;
  if (NOBODYS.test(detail) || errors?.some((e) => NOBODYS.test(e.message))) return `says “${detail}”`;
  if (status !== 422) return null;
  if (!errors || errors.length === 0) return 'names no place';
  // What else points at it may be what does not hold any more; that has a code of its own, or names another row.
  const top = spoilt?.split('.')[0];
  const isNear = errors.some(
    (e) =>
      e.code !== undefined ||
      e.path === '' ||
      spoilt === null ||
      e.path.split('.')[0] === top ||
      spoilt.endsWith('id'),
  );
  return isNear ? null : `names ${errors.map((e) => e.path).join(', ')}`;
}

describe('what is published', () => {
  it('has the bounds of every number, and a page behind every kind of problem', async () => {
    const text = JSON.stringify((await call<object>('GET', '/openapi.json')).body);
    expect(text).toContain('"maximum":15');
    expect(text).not.toContain('9007199254740991');
    const site = base.replace(/\/api$/, '');
    for (const path of Object.values(PROBLEM)) {
      const page = await fetch(`${site}${path}`);
      expect([path, page.status]).toEqual([path, 200]);
      expect(await page.text()).toMatch(/<h1>.+<\/h1><p>.+\.<\/p>/);
    }
    expect((await fetch(`${site}/problems/none`)).status).toBe(404);
  });
});

describe('spoiled bodies', () => {
  it('2,500 of them are each answered with their own fault, and what is stored can be read and saved again', async () => {
    const docs = {
      rigs: demoRig,
      presets: demoPresets[0]!,
      songs: demoSongs[3]!,
      sets: demoSets[0]! as Setlist,
    } as const;
    const resources = Object.keys(docs) as (keyof typeof docs)[];
    const spoil = fc.record({
      resource: fc.constantFrom(...resources),
      way: fc.constantFrom('POST', 'PUT', 'PUT', 'PUT', 'name'),
      places: fc.array(fc.tuple(fc.nat(1_000_000), fc.nat(SPOILS.length + 3)), {
        minLength: 1,
        maxLength: 3,
      }),
    });
    const bad: string[] = [];
    const versions = new Map<string, number>();
    for (const r of resources) {
      const { body } = await call<Kept<Song>>('GET', `/${r}/${docs[r].id}`);
      versions.set(r, body.version);
    }
    const statuses = new Map<number, number>();
    let count = 0;
    for (const { resource, way, places } of fc.sample(spoil, { seed: 401, numRuns: 2500 })) {
      count++;
      let text: string;
      const spoilt: string[] = [];
      if (count % 250 === 0) text = deep(5000);
      else {
        const doc = way === 'name' ? { name: 'a name' } : (structuredClone(docs[resource]) as object);
        for (const [at, how] of places) {
          const nodes = nodesOf(doc);
          const node = nodes[at % nodes.length];
          if (!node) continue;
          const { holder, key, path } = node;
          spoilt.push(path);
          if (how < SPOILS.length) holder[key] = structuredClone(SPOILS[how]);
          else if (how === SPOILS.length) Reflect.deleteProperty(holder, key);
          else if (Array.isArray(holder)) holder.push(structuredClone(holder[key as number]));
          else holder[`${key}x`] = holder[key];
        }
        text = JSON.stringify(doc);
      }
      const id = docs[resource].id;
      const version = versions.get(resource)!;
      const answer = await (
        way === 'POST'
          ? call<Kept<Song>>('POST', `/${resource}`, text)
          : way === 'name'
            ? call<Kept<Song>>('PUT', `/${resource}/${id}/revisions/1/name`, text)
            : call<Kept<Song>>('PUT', `/${resource}/${id}`, text, version)
      ).catch((error: unknown) => ({ status: 599, type: null, body: String(error) as never }));
      statuses.set(answer.status, (statuses.get(answer.status) ?? 0) + 1);
      if (answer.status >= 400) {
        const wrong = notItsOwn(answer, spoilt.length === 1 ? spoilt[0]! : null);
        if (wrong !== null)
          bad.push(`${answer.status} to ${way} /${resource}, spoiled at ${spoilt.join(' and ')}, ${wrong}`);
      }
      if (answer.status >= 500) bad.push(`${answer.status} ${way} /${resource} ${text.slice(0, 200)}`);
      if (answer.status === 200 && way === 'PUT') versions.set(resource, answer.body.version);
      if (answer.status === 201 && way === 'POST' && resource !== 'rigs')
        await call('DELETE', `/${resource}/${answer.body.doc.id}`, undefined, answer.body.version);
    }
    expect(bad).toEqual([]);
    // Both sides of the door were met.
    expect(statuses.get(422)).toBeGreaterThan(1000);
    expect(statuses.get(200)).toBeGreaterThan(50);
    for (const resource of resources) {
      const list = await call<Kept<Song>[]>('GET', `/${resource}`);
      expect(list.status).toBe(200);
      for (const { doc, version } of list.body) {
        const again = await call<Problem>('PUT', `/${resource}/${doc.id}`, doc, version);
        expect([resource, again.status, again.body.detail]).toEqual([resource, 200, undefined]);
      }
    }
  }, 400_000);
});
