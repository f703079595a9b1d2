import {
  PresetSchema,
  presetFaults,
  RigSchema,
  SetlistSchema,
  songFaults,
  SongSchema,
} from '@idle-step/contract';
import { describe, expect, it } from 'vitest';
import { demoPresets, demoRig, demoSets, demoSongs } from './index';

describe('the demo', () => {
  it('is what the contract takes, unchanged by it', () => {
    expect(RigSchema.parse(demoRig)).toEqual(demoRig);
    for (const preset of demoPresets) expect(PresetSchema.parse(preset)).toEqual(preset);
    for (const song of demoSongs) expect(SongSchema.parse(song)).toEqual(song);
    for (const set of demoSets) expect(SetlistSchema.parse(set)).toEqual(set);
  });

  it('points at nothing that is gone', () => {
    expect(demoPresets.flatMap((p) => presetFaults(demoRig, p))).toEqual([]);
    expect(demoSongs.flatMap((s) => songFaults(demoRig, s))).toEqual([]);
    const songs = new Set(demoSongs.map((s) => s.id));
    for (const e of demoSets.flatMap((s) => s.entries))
      if (e.kind === 'song') expect(songs.has(e.songId)).toBe(true);
  });

  it('has at least six songs of three to six scenes and two sets', () => {
    expect(demoSongs.length).toBeGreaterThanOrEqual(6);
    for (const { scenes } of demoSongs) expect([3, 4, 5, 6]).toContain(scenes.length);
    expect(demoSets).toHaveLength(2);
  });
});
