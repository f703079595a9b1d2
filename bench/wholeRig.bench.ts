import { copiedRig, RigFileSchema, type RigFile } from '@idle-step/contract';
import { once } from 'node:events';
import { writeFileSync } from 'node:fs';
import { Worker } from 'node:worker_threads';
import { expect, it } from 'vitest';
import { doing } from './doing';
import { rigBodies } from '../apps/web/src/edits/rigParts';
import { useApp } from '../tests/support/app';
import { bigSongs } from '../tests/support/bigLibrary';

/** A rig of thousands of songs, written, read, listed, deleted and brought back: how long others wait meanwhile. */
const SONGS = Number(process.env['BENCH_WHOLE_SONGS'] ?? 10_000);
/** So short that nothing is measured: only that it runs to its end. */
const IS_SHORT = SONGS < 100;
/** How often somebody else asks for a page of songs, in ms. */
const ASKED_EVERY_MS = 25;

const running = useApp();
const at = (part: number, list: readonly number[]): number =>
  list.toSorted((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * part))] ?? 0;

const call = async (method: string, path: string, body?: string, version?: number): Promise<string> => {
  const answer = await fetch(`${running.app.base}/api${path}`, {
    method,
    headers: {
      ...(body === undefined ? {} : { 'content-type': 'application/json' }),
      ...(version === undefined ? {} : { 'If-Match': `"${version}"` }),
    },
    ...(body === undefined ? {} : { body }),
  });
  const text = await answer.text();
  expect([path, answer.ok, answer.ok ? '' : text]).toEqual([path, true, '']);
  return text;
};

/**
 * Asks for a page of songs again and again until told to stop, and tells how long each took, in ms, and what the host had
 * taken from this machine by then, in hundredths of a second: `steal` in `/proc/stat`, proc(5).
 */
const OTHER = `
  const { readFileSync } = require('node:fs');
  const { parentPort, workerData } = require('node:worker_threads');
  const stolen = () => Number(readFileSync('/proc/stat', 'utf8').split('\\n', 1)[0].split(/ +/)[8]);
  const waits = [];
  let isOver = false;
  parentPort.once('message', () => (isOver = true));
  (async () => {
    parentPort.postMessage('asking');
    while (!isOver) {
      const before = stolen();
      await new Promise((resolve) => setTimeout(resolve, workerData.everyMs));
      const begun = performance.now();
      const answer = await fetch(workerData.url);
      await answer.text();
      if (!answer.ok) throw new Error('Answered ' + answer.status);
      const ms = performance.now() - begun;
      waits.push({ ms, isStolen: stolen() !== before });
    }
    parentPort.postMessage(waits);
  })();
`;

/**
 * Does something long while somebody else asks for a page of songs again and again. That one has a thread of its own:
 * its times are the server's, and not those of a bench that holds a hundred megabytes of songs.
 */
async function withOthers(what: string, rigId: string, work: () => Promise<unknown>) {
  const url = `${running.app.base}/api/songs/summaries?rigId=${rigId}&count=50`;
  const other = new Worker(OTHER, { eval: true, workerData: { url, everyMs: ASKED_EVERY_MS } });
  await once(other, 'message');
  doing(`a whole rig: ${what}`);
  const begun = performance.now();
  await work();
  const tookMs = performance.now() - begun;
  other.postMessage('over');
  const [waits] = (await once(other, 'message')) as [{ ms: number; isStolen: boolean }[]];
  const all = waits.map((w) => w.ms);
  const undisturbed = waits.filter((w) => !w.isStolen).map((w) => w.ms);
  return {
    tookMs,
    p99Ms: at(0.99, all),
    allMostMs: Math.max(...all),
    mostMs: Math.max(...undisturbed),
    undisturbedPercent: (100 * undisturbed.length) / all.length,
  };
}

it('a whole rig of thousands of songs', async () => {
  const [{ doc: demo }] = (await running.app.get<{ doc: { id: string } }[]>('/rigs')) as [
    { doc: { id: string } },
  ];
  const whole = RigFileSchema.parse(await running.app.get(`/whole-rigs/${demo.id}`));
  doing(`a whole rig of ${SONGS} songs is made up`);
  const file: RigFile = copiedRig({ ...whole, songs: bigSongs(SONGS), sets: [] }, 'Whole', () =>
    crypto.randomUUID(),
  );
  const { id } = file.rig;
  const bodies = rigBodies(file);
  // That took long: what the server closed meanwhile is seen before it is used again.
  await new Promise((resolve) => setTimeout(resolve, 500));
  const figures: Record<string, number> = {
    wholeSongs: SONGS,
    wholeMb: bodies.parts.reduce((sum, p) => sum + p.length, 0) / 1_000_000,
  };
  const take = (name: string, f: Awaited<ReturnType<typeof withOthers>>) => {
    figures[`whole${name}S`] = f.tookMs / 1000;
    figures[`whole${name}OthersP99Ms`] = f.p99Ms;
    figures[`whole${name}OthersAllMostMs`] = f.allMostMs;
    figures[`whole${name}OthersMostMs`] = f.mostMs;
    figures[`whole${name}OthersUndisturbedPercent`] = f.undisturbedPercent;
    if (!process.env['BENCH_OUT']) console.log(name, f);
  };
  take(
    'Idle',
    await withOthers(
      'nothing goes on',
      demo.id,
      () => new Promise((resolve) => setTimeout(resolve, IS_SHORT ? 100 : 5000)),
    ),
  );
  take(
    'Written',
    await withOthers('it is written', demo.id, async () => {
      for (const part of bodies.parts) await call('POST', `/whole-rigs/${id}/parts`, part);
      await call('POST', `/whole-rigs/${id}`, bodies.rig);
    }),
  );
  const pages: number[] = [];
  for (let i = 0; i < 20; i++) {
    const begun = performance.now();
    await call('GET', `/songs/summaries?rigId=${id}&from=${i * 500}&count=500`);
    pages.push(performance.now() - begun);
  }
  figures['wholePageMs'] = at(0.5, pages);
  let text = '';
  take(
    'Read',
    await withOthers('it is read', demo.id, async () => (text = await call('GET', `/whole-rigs/${id}`))),
  );
  expect((JSON.parse(text) as RigFile).songs).toHaveLength(SONGS);
  take(
    'Lists',
    await withOthers('several read its list', demo.id, () =>
      Promise.all(Array.from({ length: SONGS > 3000 ? 1 : 10 }, () => call('GET', `/songs?rigId=${id}`))),
    ),
  );
  take(
    'Rigs',
    await withOthers('200 read the rigs', demo.id, () =>
      Promise.all(Array.from({ length: IS_SHORT ? 4 : 200 }, () => call('GET', '/rigs'))),
    ),
  );
  const { version } = JSON.parse(await call('GET', `/rigs/${id}`)) as { version: number };
  take(
    'Deleted',
    await withOthers('it is deleted', demo.id, () => call('DELETE', `/whole-rigs/${id}`, undefined, version)),
  );
  take('Back', await withOthers('it is brought back', demo.id, () => call('POST', `/bin/rigs/${id}`)));
  if (process.env['BENCH_OUT']) writeFileSync(`${process.env['BENCH_OUT']}.whole`, JSON.stringify(figures));
  else console.log(figures);
}, 1_800_000);
