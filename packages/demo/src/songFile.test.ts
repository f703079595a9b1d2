import { compileWorld } from '@idle-step/core/engine';
import type { Action } from '@idle-step/core/floor';
import { readSmf, smfClock, writeSmf } from '@idle-step/core/formats';
import { controller, encode, noteOn, program } from '@idle-step/core/midi';
import {
  partName,
  partsOf,
  PLAIN_LINE,
  PLAIN_TEMPO_CHANGE,
  sceneCells,
  secondsAt,
  songLine,
  tempoIn,
  type Cue,
  type Song,
} from '@idle-step/core/show';
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

  it('cuts a glide that is longer than its part, as it is played', () => {
    const heron = songNamed('Heron');
    const short = heron.scenes.map((s) => ({
      id: `part-${s.id}`,
      sceneId: s.id,
      name: '',
      length: { amount: 1, unit: 'bars' as const },
      remark: '',
    }));
    const { song } = readBack({ ...heron, parts: short });
    // Eight beats from 60 to 84 are cut after four, halfway; the last part's glide comes to its end.
    const wash = heron.scenes[0]!.values.find((v) => v.value === 60)!.functionId;
    const values = song.scenes.map((_, i) => sceneCells(song as Song, i).get(wash)?.value);
    expect(values).toEqual([60, 72, 110]);
  });

  it('reads what is spread over several messages: a parameter number in 14 bits, and both halves of a controller', () => {
    const kelpline = demoRig.devices.find((d) => d.name === 'Kelpline')!;
    const rows = [
      {
        drive: { kind: 'parameter', registered: false, parameter: 1000, bits: 14 },
        shape: { kind: 'range', min: 0, max: 16_383, shownFrom: 0 },
      },
      {
        drive: { kind: 'controller-14', controller: 16 },
        shape: { kind: 'range', min: 0, max: 16_383, shownFrom: 0 },
      },
      { drive: { kind: 'program', bank: 129 }, shape: { kind: 'program', names: [] } },
    ] as const;
    const chart = rows.map((row, i) => ({
      ...kelpline.chart[0]!,
      ...row,
      id: `wide-${i}`,
      name: `Wide ${i}`,
      settleMs: 0,
    }));
    const devices = demoRig.devices.map((d) => (d === kelpline ? { ...d, chart: [...chart] } : d));
    const wide = compileWorld({ rig: { ...demoRig, devices }, presets: [], setName: '', songs: [] });
    const values = [9999, 4321, 7].map((value, i) => ({ functionId: `wide-${i}`, value, way: null }));
    const song = { ...demoSongs[0]!, scenes: [{ ...demoSongs[0]!.scenes[0]!, values }] };
    const file = readSmf(writeSmf(songToSmf(wide, song)));
    if (!file.ok) throw new Error(file.error.sentence);
    const back = songFromSmf(wide, file.value, '', freshId);
    expect(back.unknown).toBe(0);
    expect(Object.fromEntries(back.song.scenes[0]!.values.map((v) => [v.functionId, v.value]))).toEqual({
      'wide-0': 9999,
      'wide-1': 4321,
      'wide-2': 7,
    });
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

describe('cues, tempos and bars of a song in its file', () => {
  const wash = songNamed('Heron').scenes[0]!.values.find((v) => v.value === 60)!.functionId;
  const cue = (bar: number, beat: number, name: string, actions: readonly object[]): Cue => ({
    id: freshId(),
    name,
    bar,
    beat,
    actions: actions.map((a) => ({ ...a, id: freshId() }) as Action),
  });
  const glide = { kind: 'ramp', from: null, curve: 'linear', time: { amount: 4, unit: 'beats' } };
  const timed: Song = {
    ...songNamed('Paper Weir'),
    line: {
      ...PLAIN_LINE,
      cues: [
        cue(3, 2.5, 'Deeper', [{ kind: 'set', functionId: wash, value: 11 }]),
        cue(5, 1, 'Swell', [{ ...glide, functionId: wash, to: 120 }]),
        cue(20, 1, 'Bell', []),
      ],
      tempos: [
        { ...PLAIN_TEMPO_CHANGE, id: 'a', bar: 11, beatsPerBar: 3, beatUnit: 4 },
        {
          ...PLAIN_TEMPO_CHANGE,
          id: 'b',
          bar: 14,
          bpm: 88,
          isGradual: true,
          since: { bar: 11, beat: 1 },
        },
        { ...PLAIN_TEMPO_CHANGE, id: 'c', bar: 30, bpm: 120, beatsPerBar: 4, beatUnit: 4 },
      ],
    },
  };

  it('come back as they were', () => {
    const { song } = readBack(timed);
    expect(song.line.cues.map(({ bar, beat, name }) => [bar, beat, name])).toEqual([
      [3, 2.5, 'Deeper'],
      [5, 1, 'Swell'],
      [20, 1, 'Bell'],
    ]);
    expect(song.line.cues[0]!.actions[0]).toMatchObject({ kind: 'set', functionId: wash, value: 11 });
    const swell = song.line.cues[1]!.actions[0]!;
    expect(swell).toMatchObject({ kind: 'ramp', functionId: wash, to: 120 });
    if (swell.kind === 'ramp') expect(Math.abs(swell.time.amount - 4)).toBeLessThan(0.1);
    expect(song.line.tempos.map(({ id: _id, ...t }) => t)).toEqual(
      timed.line.tempos.map(({ id: _id, ...t }) => t),
    );
  });

  it('keep the times of the stage within 1 ms, through a gradual change of tempo', () => {
    const file = songToSmf(world, timed);
    const clock = smfClock(file);
    const line = songLine(timed);
    for (const beat of [0, 8, 30.5, 47, 60, 95])
      expect(Math.abs(clock(beat * 480) / 1000 - secondsAt(line, beat))).toBeLessThan(0.001);
  });

  it('leave out what would lead away from the song', () => {
    const away = cue(2, 1, 'Round', [
      { kind: 'cue', to: { kind: 'at', index: 0 } },
      { kind: 'song', to: 'next' },
    ]);
    const { song } = readBack({ ...timed, line: { ...timed.line, cues: [away] } });
    expect(song.line.cues).toMatchObject([{ name: 'Round', actions: [] }]);
    expect(song.parts).toHaveLength(timed.parts.length);
  });
});
