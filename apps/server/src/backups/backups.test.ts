import 'reflect-metadata';
import { demoRig } from '@idle-step/demo';
import {
  copiedRig,
  readRigFile,
  writeRigFile,
  type Backup,
  type Backups,
  type Problem,
  type RigFile,
} from '@idle-step/contract';
import type { INestApplication } from '@nestjs/common';
import { mkdirSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { pageFolder } from '../../../../tests/support/page';
import { emptyDatabase } from '../../../../tests/support/database';
import { startApp } from '../app';
import { BackupsService } from './backups.service';

let app: INestApplication;
let api: string;
const backupFolder = mkdtempSync(join(tmpdir(), 'idle-step-backups-'));

beforeAll(async () => {
  const databaseUrl = await emptyDatabase(inject('databaseUrl'));
  const started = await startApp({
    databaseUrl,
    webRoot: pageFolder(),
    port: 0,
    withDemo: true,
    backupFolder,
  });
  app = started.app;
  api = `http://127.0.0.1:${started.port}/api`;
});
afterAll(async () => {
  await app.close();
  rmSync(backupFolder, { recursive: true, force: true });
});

const list = async (): Promise<Backups> => (await fetch(`${api}/backups`)).json() as never;
const make = async (): Promise<Backup> => (await fetch(`${api}/backups`, { method: 'POST' })).json() as never;
const fileAt = async (path: string): Promise<RigFile> => {
  const read = readRigFile(await (await fetch(`${api}/${path}`)).text());
  if (read.error !== undefined) throw new Error(read.error);
  return read.file;
};

describe('backups', () => {
  it('have every rig whole, and restored a rig is what it was', async () => {
    expect(await list()).toEqual({ folder: backupFolder, kept: 7, backups: [] });
    const made = await make();
    expect(
      made.rigs.map((r) => [r.name, r.songs > 10, r.sets > 0, r.presets > 0, r.bytes > 100_000]),
    ).toEqual([[demoRig.name, true, true, true, true]]);
    expect((await list()).backups).toEqual([made]);
    const kept = await fileAt(`backups/${made.name}/${demoRig.id}`);
    expect(kept).toEqual(await fileAt(`whole-rigs/${demoRig.id}`));
    // As the page restores it: as a rig of its own, so that nothing is overwritten.
    let ids = 0;
    const copy = copiedRig(
      kept,
      'Restored',
      () => `00000000-0000-4000-a000-${String(ids++).padStart(12, '0')}`,
    );
    const answer = await fetch(`${api}/whole-rigs`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(copy),
    });
    expect(answer.status).toBe(201);
    ids = 0;
    const sorted = ({ presets, songs, sets, ...rest }: RigFile) => ({
      ...rest,
      presets: [...presets].sort((a, b) => a.id.localeCompare(b.id)),
      songs: [...songs].sort((a, b) => a.id.localeCompare(b.id)),
      sets: [...sets].sort((a, b) => a.id.localeCompare(b.id)),
    });
    expect(sorted(await fileAt(`whole-rigs/${copy.rig.id}`))).toEqual(sorted(copy));
    expect(JSON.parse(writeRigFile(copy))).toMatchObject({ format: 'idle-step-rig' });
    const second = await make();
    expect(second.rigs).toHaveLength(2);
  });

  it('are made by themselves once a day, and the last seven stay beside those made by hand', async () => {
    const backups = app.get(BackupsService, { strict: false });
    const byHand = (await list()).backups.filter((b) => b.isByHand).length;
    const day = (n: number, hour = 3) => new Date(Date.UTC(2027, 0, n, hour));
    expect((await backups.daily(day(1)))?.isByHand).toBe(false);
    expect(await backups.daily(day(1, 22))).toBeNull();
    for (let n = 2; n <= 10; n++) expect(await backups.daily(day(n))).not.toBeNull();
    const all = (await list()).backups;
    expect(all.filter((b) => b.isByHand)).toHaveLength(byHand);
    expect(all.filter((b) => !b.isByHand).map((b) => b.at.slice(0, 10))).toEqual(
      [10, 9, 8, 7, 6, 5, 4].map((n) => `2027-01-${String(n).padStart(2, '0')}`),
    );
  });

  it('that broke off, and folders of somebody else, are none', async () => {
    const before = (await list()).backups.length;
    mkdirSync(join(backupFolder, '20270101T000000000Z.unfinished'));
    mkdirSync(join(backupFolder, 'photos'));
    expect((await list()).backups).toHaveLength(before);
    expect(readdirSync(backupFolder)).toContain('photos');
  });

  it.each([
    [`20200101T000000000Z/${demoRig.id}`],
    [`..%2F..%2Fetc/${demoRig.id}`],
    [`20270110T030000000Z/${crypto.randomUUID()}`],
  ])('%s is not there', async (path) => {
    const answer = await fetch(`${api}/backups/${path}`);
    expect([answer.status, ((await answer.json()) as Problem).detail]).toEqual([
      404,
      expect.stringContaining('There is no backup'),
    ]);
  });
});

it('without a folder there are none, and that is said', async () => {
  const databaseUrl = await emptyDatabase(inject('databaseUrl'));
  const started = await startApp({ databaseUrl, webRoot: pageFolder(), port: 0, withDemo: false });
  const base = `http://127.0.0.1:${started.port}/api/backups`;
  expect(await (await fetch(base)).json()).toEqual({ folder: null, kept: 7, backups: [] });
  const answer = await fetch(base, { method: 'POST' });
  expect([answer.status, ((await answer.json()) as Problem).detail]).toEqual([
    409,
    'Nothing was stored. This server was started without a folder for backups.',
  ]);
  await started.app.close();
});
