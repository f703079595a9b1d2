import { type FullRig, portName } from '@idle-step/core/routing';
import { type Setlist, type Song, setTimes } from '@idle-step/core/show';
import type { Preset } from '@idle-step/core/floor';
import {
  readPresetFile,
  readRecording,
  readRigFile,
  RIG_FILE_FORMAT,
  songSummary,
  writePresetFile,
  writeRecording,
  writeRigFile,
  type RigFile,
} from '@idle-step/contract';
import { compileWorld } from '@idle-step/core/engine';
import {
  readSetCsv,
  readSongCsv,
  writeSetCsv,
  writeSmf,
  writeSongCsv,
  type FileFault,
} from '@idle-step/core/formats';
import { songToSmf } from '@idle-step/core/songFile';
import { demoPresets, demoRig, demoSets, demoSongs } from '@idle-step/demo';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { setFromCsv, songsFromCsv } from '../edits/csvLists';
import { chartAsCsv, chartAsMidnam, loadChartFile } from './chartFiles';
import { readSongFile } from './songFiles';
import { faultsText } from './faultsText';
import { readTextFile, RECORDING_LIMIT } from './readTextFile';

/** Damaged files and such as are made to do harm, at every chooser of the page: refused in a sentence, or read whole. */

const rig = demoRig as FullRig;
const list = demoSongs.map((s) => songSummary(s));
const device = rig.devices.find((d) => d.chart.length > 5)!;
const world = compileWorld({ rig, presets: demoPresets, setName: '', songs: demoSongs.slice(0, 1) });
const set = demoSets[0] as Setlist;
const show = world.show;

type Reader = {
  readonly name: string;
  readonly good: Uint8Array;
  /** What is told, or `null` where it was read. */
  read(file: File): Promise<string | null>;
};
const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);
const text = (file: File) => readTextFile(file, RECORDING_LIMIT, 'files');

const READERS: readonly Reader[] = [
  {
    name: 'chart.csv',
    good: bytesOf(chartAsCsv(device)),
    read: async (file) => {
      const loaded = await loadChartFile(file, { ...device, chart: [] }, 3);
      return 'faults' in loaded ? loaded.faults.map((f) => f.sentence).join(' ') : null;
    },
  },
  {
    name: 'chart.midnam',
    good: bytesOf(chartAsMidnam(device)),
    read: async (file) => {
      const loaded = await loadChartFile(file, { ...device, chart: [] }, 3);
      return 'faults' in loaded ? loaded.faults.map((f) => f.sentence).join(' ') : null;
    },
  },
  {
    name: 'songs.csv',
    good: bytesOf(writeSongCsv(demoSongs)),
    read: async (file) => {
      const read = await text(file);
      if (read.error !== undefined) return read.error;
      const rows = readSongCsv(read.text);
      if (!rows.ok) return faultsText(file.name, rows.error);
      songsFromCsv(rows.value, list, rig.id);
      return null;
    },
  },
  {
    name: 'set.csv',
    good: bytesOf(
      writeSetCsv(
        set,
        setTimes(set, (id) => demoSongs.find((s) => s.id === id)).entries,
        (id) => portName(rig, id),
        String,
      ),
    ),
    read: async (file) => {
      const read = await text(file);
      if (read.error !== undefined) return read.error;
      const rows = readSetCsv(read.text);
      const made = rows.ok
        ? setFromCsv(rows.value, rig, list, demoSongs as Song[], null, () => 'Read')
        : rows.error;
      return Array.isArray(made) ? faultsText(file.name, made as FileFault[]) : null;
    },
  },
  {
    name: 'song.mid',
    good: writeSmf(songToSmf(world, demoSongs[0]!)),
    read: async (file) => {
      const read = await readSongFile(world, rig, file);
      return typeof read === 'string' ? read : null;
    },
  },
  {
    name: 'preset.json',
    good: bytesOf(writePresetFile(rig, demoPresets[0] as Preset)),
    read: async (file) => {
      const read = await text(file);
      if (read.error !== undefined) return read.error;
      return readPresetFile(read.text, rig, demoPresets[0]!.boardId, () => crypto.randomUUID()).error ?? null;
    },
  },
  {
    name: 'rig.json',
    good: bytesOf(
      writeRigFile({
        format: RIG_FILE_FORMAT,
        version: 1,
        rig,
        presets: demoPresets as Preset[],
        songs: demoSongs.slice(0, 2) as Song[],
        sets: [],
      } satisfies RigFile),
    ),
    read: async (file) => {
      const read = await text(file);
      return read.error ?? readRigFile(read.text).error ?? null;
    },
  },
  {
    name: 'recording.json',
    good: bytesOf(
      writeRecording(
        { show, startedAtMs: 0, aheadMs: 0, entries: [{ kind: 'event', event: { kind: 'tick', atMs: 5 } }] },
        [],
        '2026-11-28T20:00:00.000Z',
      ),
    ),
    read: async (file) => {
      const read = await text(file);
      return read.error ?? readRecording(read.text).error ?? null;
    },
  },
];

/** Words of a validator or of a program, which are for nobody. */
const NOBODYS = /Invalid input|expected \w+, received|\[object|undefined|NaN|Cannot read|is not a function/;

const HARM: readonly ((good: Uint8Array, at: number, n: number) => Uint8Array)[] = [
  // Cut off.
  (good, at) => good.slice(0, at),
  // A few bytes are others.
  (good, at, n) => {
    const bad = good.slice();
    for (let i = 0; i < 1 + (n % 40); i++) bad[(at + i * 7919) % bad.length] = (n * 31 + i * 17) % 256;
    return bad;
  },
  // A piece stands twice.
  (good, at, n) =>
    new Uint8Array([...good.slice(0, at), ...good.slice(at, at + (n % 400)), ...good.slice(at)]),
  // Numbers that are none.
  (good, at) =>
    bytesOf(
      new TextDecoder('latin1')
        .decode(good)
        .replace(/\d+/g, (d, i: number) => (i >= at ? '9'.repeat(400) : d)),
    ),
  // Zeros, halves of characters, marks.
  (good, at, n) =>
    new Uint8Array([
      ...good.slice(0, at),
      ...Array<number>(1 + (n % 9)).fill(0),
      0xed,
      0xa0,
      0x80,
      ...good.slice(at),
    ]),
  // Nested without end.
  (good, at, n) =>
    bytesOf(
      new TextDecoder('latin1').decode(good.slice(0, at)) + '[{"a":'.repeat(2000 + n) + '<a>'.repeat(2000),
    ),
  // One cell, one name, one line of a hundred thousand characters.
  (good, at) =>
    bytesOf(
      `${new TextDecoder('latin1').decode(good.slice(0, at))}${'x'.repeat(100_000)}${new TextDecoder('latin1').decode(good.slice(at))}`,
    ),
  // Another kind of file.
  (_good, at, n) => Uint8Array.from({ length: n % 5000 }, (_, i) => (i * at + n) % 256),
];

describe.each(READERS)('$name', ({ name, good, read }) => {
  const fileOf = (bytes: Uint8Array) => new File([bytes as Uint8Array<ArrayBuffer>], name);

  it('as it should be is read', async () => expect(await read(fileOf(good))).toBe(null));

  it('damaged or hostile, sixty times, is refused in a sentence or read whole', () =>
    fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 0, max: HARM.length - 1 }),
        fc.nat(good.length - 1),
        fc.nat(10_000),
        async (harm, at, n) => {
          const told = await read(fileOf(HARM[harm]!(good, at, n)));
          if (told === null) return;
          expect(told).not.toMatch(NOBODYS);
          expect(told.length).toBeGreaterThan(15);
          expect(told.length).toBeLessThan(6000);
        },
      ),
      { seed: 55, numRuns: 60 },
    ));
});
