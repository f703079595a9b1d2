import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeSong } from '../testing.test-support';
import {
  barBeatAt,
  beatAt,
  beatAtSeconds,
  bpmAt,
  PLAIN_LINE,
  PLAIN_TEMPO_CHANGE,
  secondsAt,
  songLine,
  type Length,
  type Song,
  type TempoChange,
  type TimeLine,
} from './index';

const change = (bar: number, part: Partial<TempoChange>): TempoChange => ({
  ...PLAIN_TEMPO_CHANGE,
  id: `t${bar}`,
  bar,
  ...part,
});
const songOf = (lengths: readonly (Length | null)[], line: Partial<TimeLine> = {}, bpm = 120): Song => {
  const song = makeSong('Song', [
    ['A', {}],
    ['B', {}],
  ]);
  return {
    ...song,
    tempoBpm: bpm,
    line: { ...PLAIN_LINE, ...line },
    parts: lengths.map((length, i) => ({
      id: `p${i}`,
      sceneId: song.scenes[i % 2]!.id,
      name: '',
      length,
      remark: '',
    })),
  };
};
const bars = (amount: number): Length => ({ amount, unit: 'bars' });

describe('a song laid out in time', () => {
  it('counts bars and beats, and their seconds at one tempo', () => {
    // 120 bpm is half a second a beat: bar 9 of four beats is beat 32, 16 s. Common arithmetic.
    const line = songLine(songOf([bars(8), bars(16)]));
    expect(line.parts.map((p) => [p.atBeat, p.startS, p.lengthS])).toEqual([
      [0, 0, 16],
      [32, 16, 32],
    ]);
    expect(line.beats).toBe(96);
    expect(barBeatAt(line, 34.5)).toEqual({ bar: 9, beat: 3.5 });
  });

  it('goes from four to three beats and back at the bars that say so', () => {
    // Bars 1–4 of 4 = 16, bars 5–8 of 3 = 12, bar 9 begins at beat 28: counted by hand.
    const line = songLine(
      songOf([bars(12)], { tempos: [change(9, { beatsPerBar: 4 }), change(5, { beatsPerBar: 3 })] }),
    );
    expect([1, 5, 6, 9, 10].map((bar) => beatAt(line, { bar, beat: 1 }))).toEqual([0, 16, 19, 28, 32]);
    expect(line.beats).toBe(16 + 12 + 16);
    expect(barBeatAt(line, 27)).toEqual({ bar: 8, beat: 3 });
  });

  it('takes a gradual change of tempo a step a beat', () => {
    // From 100 at beat 0 to 80 at beat 4: 95, 90, 85 on the way; 60/100 + 60/95 + 60/90 + 60/85 s. By hand.
    const line = songLine(songOf([bars(2)], { tempos: [change(2, { bpm: 80, isGradual: true })] }, 100));
    expect(line.tempos.map((t) => [t.atBeat, t.bpm])).toEqual([
      [0, 100],
      [1, 95],
      [2, 90],
      [3, 85],
      [4, 80],
    ]);
    expect(secondsAt(line, 4)).toBeCloseTo(60 / 100 + 60 / 95 + 60 / 90 + 60 / 85, 9);
    expect(line.parts[0]!.lengthS).toBeCloseTo(secondsAt(line, 4) + (4 * 60) / 80, 9);
  });

  it('takes the tempo that a scene brings, unless one is written at that bar', () => {
    const song = songOf([bars(1), bars(1)]);
    const brisk = { ...song, scenes: song.scenes.map((s, i) => ({ ...s, tempoBpm: i === 1 ? 60 : null })) };
    expect(songLine(brisk).parts.map((p) => p.lengthS)).toEqual([2, 4]);
    const written = { ...brisk, line: { ...PLAIN_LINE, tempos: [change(2, { bpm: 240 })] } };
    expect(songLine(written).parts.map((p) => p.lengthS)).toEqual([2, 1]);
  });

  it('does not know where a part begins after one of unknown length', () => {
    const line = songLine(songOf([bars(4), null, bars(2)]));
    expect(line.parts.map((p) => [p.atBeat, p.startS, p.lengthS])).toEqual([
      [0, 0, 8],
      [16, 8, null],
      [null, null, 4],
    ]);
    expect(line.beats).toBe(null);
  });

  it('puts a part, a tempo and a cue of one beat in this order', () => {
    const cue = { id: 'c', name: '', bar: 5, beat: 1, actions: [] };
    const line = songLine(songOf([bars(4), bars(4)], { cues: [cue], tempos: [change(5, { bpm: 90 })] }));
    expect(line.events.map((e) => [e.kind, e.atBeat])).toEqual([
      ['part', 0],
      ['part', 16],
      ['tempo', 16],
      ['cue', 16],
    ]);
  });

  const anyLine = fc
    .array(
      fc.record({
        bar: fc.integer({ min: 1, max: 60 }),
        bpm: fc.option(fc.integer({ min: 20, max: 400 })),
        beatsPerBar: fc.option(fc.integer({ min: 1, max: 16 })),
        isGradual: fc.boolean(),
      }),
      { maxLength: 8 },
    )
    .map((list) => songLine(songOf([bars(64)], { tempos: list.map((t) => change(t.bar, t)) })));

  it('finds every bar and beat again, and every beat from its seconds', () => {
    fc.assert(
      fc.property(anyLine, fc.integer({ min: 0, max: 400 }), (line, half) => {
        const beat = half / 2;
        expect(beatAt(line, barBeatAt(line, beat))).toBeCloseTo(beat, 9);
        expect(beatAtSeconds(line, secondsAt(line, beat))).toBeCloseTo(beat, 6);
        expect(secondsAt(line, beat + 1)).toBeGreaterThan(secondsAt(line, beat));
        expect(bpmAt(line, beat)).toBeGreaterThanOrEqual(20);
      }),
      { seed: 1206, numRuns: 500 },
    );
  });
});
