import {
  partOf,
  presetFaults,
  proposeFunctions,
  proposeMatch,
  readRigFile,
  RIG_FILE_FORMAT,
  RigFileSchema,
  songFaults,
  takenIn,
  writeRigFile,
  type Match,
  type RigFile,
  type Wanted,
} from '@idle-step/contract';
import { compileWorld, initialState, showOfSet, step, type LiveEvent } from '@idle-step/core/engine';
import type { FullRig } from '@idle-step/core/routing';
import { encode, hex } from '@idle-step/core/midi';
import { describe, expect, it } from 'vitest';
import { seeded } from '../../core/src/seeded.test-support';
import { demoPresets, demoRig, demoSets, demoSongs } from './index';

const file: RigFile = RigFileSchema.parse({
  format: RIG_FILE_FORMAT,
  version: 1,
  rig: demoRig,
  presets: demoPresets,
  songs: demoSongs,
  sets: demoSets,
});
const [set] = file.sets;
const newId = () => crypto.randomUUID();
const freeName = (taken: readonly string[], wanted: string) =>
  taken.includes(wanted) ? `${wanted} 2` : wanted;
const wanted = (part: Partial<Record<keyof Wanted, readonly string[]>>): Wanted => ({
  presetIds: new Set(part.presetIds),
  songIds: new Set(part.songIds),
  setIds: new Set(part.setIds),
  deviceIds: new Set(part.deviceIds),
});
const all = wanted({ presetIds: file.presets.map((p) => p.id), setIds: [set!.id] });
const EMPTY: FullRig = {
  ...file.rig,
  id: newId(),
  devices: [],
  cables: [],
  boards: [],
  routing: { lines: [], routes: [], othersTo: [] },
};

/** A set gone through by its scenes, with presses between them: the bytes of each moment. */
function played({
  rig,
  presets,
  songs,
  sets,
}: Pick<RigFile, 'rig' | 'presets' | 'songs' | 'sets'>): string[] {
  const world = compileWorld({ rig, presets, ...showOfSet(sets[0]!, songs) });
  let state = initialState(world, 0);
  const told: string[] = [];
  let atMs = 1000;
  const run = (event: LiveEvent) => {
    const done = step(world, state, event);
    state = done.state;
    told.push(done.effects.flatMap((e) => (e.kind === 'send' ? hex(encode(e.message)) : [])).join(', '));
  };
  const controls = rig.boards.flatMap((b) => b.controls);
  for (let i = 0; i < 60; i++) {
    atMs += 3000;
    run({ kind: 'command', atMs, command: { kind: 'scene', to: 'next' } });
    const control = controls[(i * 7) % controls.length];
    if (control)
      for (const velocity of [127, 0])
        run({
          kind: 'command',
          atMs: (atMs += 100),
          command: { kind: 'switch', controlId: control.id, velocity },
        });
    run({ kind: 'tick', atMs: (atMs += 2000) });
  }
  return told;
}

/** With the presets that came put in force. */
const inForce = (taken: ReturnType<typeof takenIn>): ReturnType<typeof takenIn> => ({
  ...taken,
  rig: {
    ...taken.rig,
    boards: taken.rig.boards.map((b) => ({
      ...b,
      presetId: taken.presets.find((p) => p.boardId === b.id)?.id ?? null,
    })),
  },
});

describe('a part of a rig', () => {
  it('has the songs of its sets and of the gear only what these need', () => {
    const heron = file.songs.find((s) => s.name === 'Heron')!;
    const part = partOf(file, wanted({ songIds: [heron.id] }));
    expect(part.songs.map((s) => s.name)).toEqual(['Heron']);
    expect([part.presets, part.sets]).toEqual([[], []]);
    expect(part.rig.devices.length).toBeLessThan(file.rig.devices.length);
    const rows = (r: FullRig) => r.devices.flatMap((d) => d.chart).length;
    expect(rows(part.rig)).toBeLessThan(rows(file.rig) / 4);
    expect(songFaults(part.rig, part.songs[0]!)).toEqual([]);
    const whole = partOf(file, all);
    expect(whole.songs).toHaveLength(
      new Set(set!.entries.flatMap((e) => (e.kind === 'song' ? e.songId : []))).size,
    );
    for (const preset of whole.presets) expect(presetFaults(whole.rig, preset)).toEqual([]);
    // A chart goes whole where it is asked for.
    const kelpline = file.rig.devices.find((d) => d.name === 'Kelpline')!;
    const chart = partOf(file, wanted({ deviceIds: [kelpline.id] }));
    expect(chart.rig.devices.find((d) => d.id === kelpline.id)?.chart).toEqual(kelpline.chart);
  });

  it('is read as it was written, and plays the same where it is opened by itself', () => {
    const part = partOf(file, all);
    const read = readRigFile(writeRigFile(part));
    if (read.error !== undefined) throw new Error(read.error);
    expect(read.file).toEqual(part);
    const bytes = played(read.file);
    expect(bytes.filter((b) => b !== '').length).toBeGreaterThan(60);
    expect(bytes).toEqual(played({ ...file, sets: [set!] }));
  });

  it('that was damaged is refused whole, 500 times', () => {
    const text = writeRigFile(partOf(file, all));
    const random = seeded(12);
    const undamaged = readRigFile(text);
    const whole = JSON.stringify(undamaged.error === undefined && undamaged.file);
    let refused = 0;
    for (let i = 0; i < 500; i++) {
      const at = Math.floor(random() * text.length);
      const kind = i % 3;
      const other = String.fromCharCode(33 + Math.floor(random() * 90));
      const damaged =
        kind === 0
          ? text.slice(0, at)
          : kind === 1
            ? text.slice(0, at) + other + text.slice(at + 1)
            : text.slice(0, at) + text.slice(at + 1 + Math.floor(random() * 40));
      if (damaged === text) continue;
      const read = readRigFile(damaged);
      // Only what stands between things can be lost without loss.
      const isSame = read.error === undefined && JSON.stringify(read.file) === whole;
      if (isSame) continue;
      refused++;
      expect(read.error, `damage ${i}`).toMatch(/[.)]$/);
    }
    expect(refused).toBeGreaterThan(420);
  });
});

describe('what is taken in', () => {
  const theirs = partOf(file, all);

  it('into a rig without gear adds all of it, and plays the same bytes', () => {
    const match = proposeMatch(theirs, EMPTY);
    expect(new Set(Object.values(match.devices).map((p) => p?.kind))).toEqual(new Set(['add']));
    const taken = takenIn(theirs, EMPTY, match, newId, freeName);
    expect(taken.leftOut.filter((l) => !l.name.startsWith('route'))).toEqual([]);
    expect([...taken.added].sort()).toEqual(theirs.rig.devices.map((d) => d.name).sort());
    for (const preset of taken.presets) expect(presetFaults(taken.rig, preset)).toEqual([]);
    for (const song of taken.songs) expect(songFaults(taken.rig, song)).toEqual([]);
    const plain = { ...theirs, rig: { ...theirs.rig, routing: EMPTY.routing } };
    expect(played(taken)).toEqual(played(plain));
  });

  it('into the rig that it came from finds everything, and no identifier twice', () => {
    const match = proposeMatch(theirs, file.rig);
    expect(Object.values(match.functions)).not.toContain(null);
    const taken = takenIn(theirs, file.rig, match, newId, freeName);
    expect([taken.leftOut, taken.added]).toEqual([[], []]);
    expect(taken.rig).toEqual(file.rig);
    expect(taken.songs.map((s) => s.id).filter((id) => file.songs.some((s) => s.id === id))).toEqual([]);
    expect(played(inForce(taken))).toEqual(played({ ...file, sets: [set!] }));
  });

  /** Other gear: other names, channels and numbers; one device is not there, and one row neither. */
  const other: FullRig = {
    ...file.rig,
    devices: file.rig.devices
      .filter((d) => d.name !== 'Lamplighter')
      .map((d) => ({
        ...d,
        id: `${d.id.slice(0, 8)}-0000-4000-9000-${d.id.slice(24)}`,
        name: d.role === 'receiver' ? `My ${d.name}` : d.name,
        channel: d.role === 'receiver' ? (d.channel + 3) % 16 : d.channel,
        chart: d.chart
          .filter((fn) => fn.name !== 'Reverb mix')
          .map((fn) => ({
            ...fn,
            id: `${fn.id.slice(0, 8)}-0000-4000-9000-${fn.id.slice(24)}`,
            drive:
              fn.drive.kind === 'controller'
                ? { ...fn.drive, controller: (fn.drive.controller + 5) % 90 }
                : fn.drive,
          })),
      })),
    boards: file.rig.boards.map((b) => ({
      ...b,
      deviceId: `${b.deviceId.slice(0, 8)}-0000-4000-9000-${b.deviceId.slice(24)}`,
    })),
    routing: EMPTY.routing,
  };

  it('into other gear plays the bytes of that gear, and leaves out by name what it has not', () => {
    const match = proposeMatch(theirs, other);
    const mine = (name: string) => other.devices.find((d) => d.name === name);
    const kelpline = theirs.rig.devices.find((d) => d.name === 'Kelpline')!;
    expect(match.devices[kelpline.id]).toEqual({ kind: 'mine', id: mine('My Kelpline')!.id });
    const lamplighter = theirs.rig.devices.find((d) => d.name === 'Lamplighter');
    if (lamplighter) expect(match.devices[lamplighter.id]).toBeNull();
    const taken = takenIn(theirs, other, match, newId, freeName);
    const names = new Set(taken.leftOut.map((l) => l.name));
    expect(names).toContain('Kelpline Reverb mix');
    for (const preset of taken.presets) expect(presetFaults(taken.rig, preset)).toEqual([]);
    for (const song of taken.songs) expect(songFaults(taken.rig, song)).toEqual([]);
    // What a switch of theirs sent to controller 24 of channel 3 goes to 29 of channel 6 here.
    const drive = kelpline.chart.find((fn) => fn.name === 'Drive')!;
    expect(drive.drive).toEqual({ kind: 'controller', controller: 24 });
    const bytes = played(inForce(taken)).join(', ').split(', ');
    expect(bytes.some((b) => b.startsWith('B5 1D'))).toBe(true);
    expect(bytes.some((b) => b.startsWith('B2 18'))).toBe(false);
  });

  it('is what was chosen by hand: another row, or nothing', () => {
    const match = proposeMatch(theirs, other);
    const kelpline = theirs.rig.devices.find((d) => d.name === 'Kelpline')!;
    const row = (name: string) => kelpline.chart.find((fn) => fn.name === name)!.id;
    const target = other.devices.find((d) => d.name === 'My Kelpline')!;
    const chosen: Match = {
      ...match,
      functions: {
        ...match.functions,
        [row('Reverb mix')]: target.chart.find((fn) => fn.name === 'Tone')!.id,
        [row('Drive')]: null,
      },
    };
    const taken = takenIn(theirs, other, chosen, newId, freeName);
    const names = new Set(taken.leftOut.map((l) => l.name));
    expect([names.has('Kelpline Reverb mix'), names.has('Kelpline Drive')]).toEqual([false, true]);
    expect(proposeFunctions(kelpline, undefined)[row('Drive')]).toBeNull();
  });

  it('never throws and never points anywhere else, whatever plays the part of what (100 matches)', () => {
    for (let seed = 1; seed <= 100; seed++) {
      const random = seeded(seed);
      const one = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
      const proposed = proposeMatch(theirs, other);
      const part = (ids: readonly string[]) =>
        random() < 0.2
          ? null
          : random() < 0.3
            ? ({ kind: 'add' } as const)
            : ({ kind: 'mine', id: one(ids) } as const);
      const rows = other.devices.flatMap((d) => d.chart.map((fn) => fn.id));
      const match: Match = {
        devices: Object.fromEntries(
          Object.keys(proposed.devices).map((id) => [id, part(other.devices.map((d) => d.id))]),
        ),
        boards: Object.fromEntries(
          Object.keys(proposed.boards).map((id) => [id, part(other.boards.map((b) => b.id))]),
        ),
        functions: Object.fromEntries(
          Object.keys(proposed.functions).map((id) => [id, random() < 0.3 ? null : one(rows)]),
        ),
      };
      const taken = takenIn(theirs, other, match, newId, freeName);
      for (const preset of taken.presets) expect(presetFaults(taken.rig, preset), `seed ${seed}`).toEqual([]);
      for (const song of taken.songs) expect(songFaults(taken.rig, song), `seed ${seed}`).toEqual([]);
      const songs = new Set(taken.songs.map((s) => s.id));
      for (const s of taken.sets)
        for (const e of s.entries) if (e.kind === 'song') expect(songs.has(e.songId)).toBe(true);
    }
  });
});
