import {
  type Song,
  type Setlist,
  PLAIN_ENTRY,
  PLAIN_SCENE,
  PLAIN_SET,
  PLAIN_SONG,
} from '@idle-step/core/show';
import type { FullRig } from '@idle-step/core/routing';
import { demoRig } from '@idle-step/demo';
import type { RunningApp } from './app';

const WORDS = ['Low', 'Far', 'Tin', 'Salt', 'Slow', 'Long', 'Grey', 'Still'];
const THINGS = ['Water', 'Lantern', 'Ferry', 'Weir', 'Bell', 'Mooring', 'Gull', 'Stairs', 'Rope', 'Harbour'];
const IN_A_SET = 60;

/** Songs of six scenes with twenty values, of the demo's rig. */
export function bigSongs(count: number): Song[] {
  const rows = (demoRig as FullRig).devices
    .flatMap((d) => d.chart)
    .filter((f) => f.shape.kind === 'range' && f.shape.min === 0 && f.shape.max === 127)
    .slice(0, 20);
  return Array.from({ length: count }, (_, n): Song => {
    const name = `${WORDS[n % WORDS.length]!} ${THINGS[(n >> 3) % THINGS.length]!} ${n}`;
    return {
      ...PLAIN_SONG,
      id: crypto.randomUUID(),
      rigId: demoRig.id,
      name,
      key: ['G', 'D minor', 'A', ''][n % 4]!,
      tempoBpm: 60 + (n % 100),
      beatsPerBar: 4,
      lengthS: 120 + (n % 240),
      tags: [`tag ${n % 40}`],
      scenes: Array.from({ length: 6 }, (_s, i) => ({
        ...PLAIN_SCENE,
        id: crypto.randomUUID(),
        name: `Scene ${i + 1}`,
        values: rows.map((fn, v) => ({ functionId: fn.id, value: (n + i * 7 + v * 3) % 128, way: null })),
      })),
    };
  });
}

/** Thousands of songs of six scenes with twenty values, and hundreds of sets of sixty, beside the demo's own. */
export async function addBigLibrary(
  app: RunningApp,
  { songs, sets }: { songs: number; sets: number },
): Promise<{ songIds: readonly string[]; setIds: readonly string[] }> {
  const made = bigSongs(songs);
  await inTurns(made, (song) => post(app, 'songs', song));
  const ids = made.map((s) => s.id);
  const lists = Array.from({ length: sets }, (_, n): Setlist => ({
    ...PLAIN_SET,
    id: crypto.randomUUID(),
    rigId: demoRig.id,
    // After the demo's own by name, so that the set in play stays.
    name: `Tour evening ${n}`,
    entries: Array.from({ length: IN_A_SET }, (_e, i) => ({
      ...PLAIN_ENTRY,
      id: crypto.randomUUID(),
      kind: 'song' as const,
      songId: ids[(n * 17 + i) % ids.length]!,
      lengthS: null,
      leftOutSceneIds: [],
    })),
  }));
  await inTurns(lists, (set) => post(app, 'sets', set));
  return { songIds: ids, setIds: lists.map((s) => s.id) };
}

async function post(app: RunningApp, resource: string, doc: unknown): Promise<void> {
  const response = await fetch(`${app.base}/api/${resource}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(doc),
  });
  if (response.status !== 201) throw new Error(`${resource}: ${response.status} ${await response.text()}`);
}

/** A few at a time, as several windows would. */
async function inTurns<T>(list: readonly T[], take: (item: T) => Promise<void>): Promise<void> {
  let next = 0;
  const worker = async () => {
    while (next < list.length) await take(list[next++]!);
  };
  await Promise.all(Array.from({ length: 6 }, worker));
}
