import { compileWorld } from '@idle-step/core/engine';
import { readSmf, writeSmf } from '@idle-step/core/formats';
import { controller, encode, noteOn, program } from '@idle-step/core/midi';
import { partName, partsOf, sceneCells, tempoIn, type Song } from '@idle-step/core/show';
import { songFromSmf, songToSmf } from '@idle-step/core/songFile';
import { describe, expect, it } from 'vitest';
import { demoPresets, demoRig, demoSongs } from './index';

const world = compileWorld({ rig: demoRig, presets: demoPresets, setName: '', songs: demoSongs });
let next = 0;
const freshId = () => `fresh-${++next}`;
const songNamed = (name: string) => demoSongs.find((s) => s.name === name)!;

const readBack = (song: Song) => {
  const result = readSmf(writeSmf(songToSmf(world, song)));
  if (!result.ok) throw new Error(result.error.sentence);
  return songFromSmf(world, result.value, 'Unnamed', freshId);
};

/** Name, tempo and the values of every part, as far as they are set by messages that stay. */
const walked = (song: Pick<Song, 'scenes' | 'parts' | 'name' | 'tempoBpm' | 'beatsPerBar'>) => {
  const whole = song as Song;
  const known = new Map<string, number>();
  return partsOf(whole).map((part) => {
    const index = whole.scenes.findIndex((s) => s.id === part.sceneId);
    for (const [id, { value }] of sceneCells(whole, index))
      if (world.functions.get(id)?.fn.shape.kind !== 'trigger') known.set(id, value);
    return {
      name: partName(whole, part),
      bpm: tempoIn(whole, part.sceneId),
      values: Object.fromEntries([...known].sort(([a], [b]) => a.localeCompare(b))),
    };
  });
};

describe('a song as a Standard MIDI File', () => {
  it.each(demoSongs.map((s) => [s.name, s] as const))('%s comes back with the same parts', (_name, song) => {
    const { song: back, unknown, notes } = readBack(song);
    expect(walked(back)).toEqual(walked(song));
    expect([back.name, back.tempoBpm, back.beatsPerBar]).toEqual([
      song.name,
      song.tempoBpm,
      song.beatsPerBar,
    ]);
    // Machine control has no function with a value, and is told as unknown.
    expect(notes).toBe(0);
    expect(unknown).toBeLessThanOrEqual(4);
  });

  it('keeps the lengths of its parts, and a scene that comes again is one', () => {
    const weir = songNamed('Paper Weir');
    const { song } = readBack(weir);
    expect(song.parts.map((p) => p.length)).toEqual(weir.parts.map((p) => p.length));
    expect(song.scenes.map((s) => s.name)).toEqual(weir.scenes.map((s) => s.name));
    expect(song.lengthS).toBeCloseTo((100 * 4 * 60) / 108, 2);
  });

  it('has a marker at each part, a track for each device, and glides in their steps', () => {
    const { tracks } = songToSmf(world, songNamed('Heron'));
    const texts = (i: number) => tracks[i]!.events.flatMap((e) => (e.kind === 'text' ? e.text : []));
    expect(texts(0)).toEqual(['Heron', 'Still', 'Rising', 'Away']);
    expect(tracks.slice(1).map((_, i) => texts(i + 1)[0])).toEqual(['Kelpline', 'Deckhouse']);
    // Reverb from 60 to 84 over 8 beats of 480 ticks, from bar 9 on (8 bars where the length is not known).
    const reverb = tracks[1]!.events.flatMap((e) => {
      const bytes = e.kind === 'message' ? encode(e.message) : [];
      return bytes[0] === 0xb2 && bytes[1] === 91 ? [[e.tick, bytes[2]!] as const] : [];
    });
    const rising = reverb.filter(([tick]) => tick > 8 * 4 * 480 && tick <= 10 * 4 * 480);
    expect(rising.at(-1)![1]).toBe(84);
    expect(rising.length).toBe(24);
    expect(rising.at(-1)![0]).toBeLessThanOrEqual(8 * 4 * 480 + 8 * 480);
  });

  it('without markers is one part, and what no device answers to is counted', () => {
    const result = songFromSmf(
      world,
      {
        format: 0,
        division: { kind: 'quarter', ticks: 96 },
        tracks: [
          {
            endTick: 96 * 10,
            events: [
              { tick: 0, kind: 'message', message: program(2, 13) },
              {
                tick: 5,
                kind: 'message',
                message: controller(14, 3, 3),
              },
              { tick: 9, kind: 'message', message: noteOn(0, 60, 9) },
            ],
          },
        ],
      },
      'Loose',
      freshId,
    );
    expect(result).toMatchObject({ unknown: 1, notes: 1, song: { name: 'Loose', tempoBpm: 120 } });
    expect(result.song.parts).toHaveLength(1);
    expect(result.song.parts[0]!.length).toEqual({ amount: 10, unit: 'beats' });
  });
});
