import { RIG_FILE_FORMAT, RigFileSchema, RigPartSchema, RigSchema, type RigFile } from '@idle-step/contract';
import { demoPresets, demoRig, demoSets, demoSongs } from '@idle-step/demo';
import { expect, it } from 'vitest';
import { rigBodies } from './rigParts';

const demo = RigFileSchema.parse({
  format: RIG_FILE_FORMAT,
  version: 1,
  rig: demoRig,
  presets: demoPresets,
  songs: demoSongs,
  sets: demoSets,
});
const many = (songs: number): RigFile => ({
  ...demo,
  songs: Array.from({ length: songs }, (_, i) => ({
    ...demo.songs[i % demo.songs.length]!,
    id: crypto.randomUUID(),
    name: `Song ${i}`,
  })),
});

it.each([0, 1, 11, 1500])(
  'a rig of %i songs goes in bodies that the server takes, nothing twice or left out',
  (n) => {
    const file = many(n);
    const { parts, rig } = rigBodies(file);
    // The server takes bodies up to 4 MB.
    for (const body of parts) expect(new TextEncoder().encode(body).length).toBeLessThan(4_000_000);
    const read = parts.map((body) => RigPartSchema.parse(JSON.parse(body)));
    expect(RigSchema.parse(JSON.parse(rig))).toEqual(file.rig);
    expect(read.flatMap((p) => p.presets)).toEqual(file.presets);
    expect(read.flatMap((p) => p.songs)).toEqual(file.songs);
    expect(read.flatMap((p) => p.sets)).toEqual(file.sets);
  },
);
