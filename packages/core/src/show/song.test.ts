import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { PLAIN_CURVES } from '../floor';
import { makeSong } from '../testing.test-support';
import {
  glideStepMs,
  glideSteps,
  lengthSeconds,
  partName,
  partsLengthS,
  partsOf,
  songLine,
  sceneSurround,
  tempoIn,
  type Part,
  type Song,
} from './index';

const song = makeSong('Song', [
  ['Intro', {}],
  ['Verse', {}],
  ['Chorus', {}],
]);
const sceneNamed = (name: string) => song.scenes.find((s) => s.name === name)!;
const part = (name: string, amount: number | null, given: Partial<Part> = {}): Part => ({
  id: `${name}-${amount}`,
  sceneId: sceneNamed(name).id,
  name: '',
  length: amount === null ? null : { amount, unit: 'bars' },
  remark: '',
  ...given,
});
const inOrder = (...parts: Part[]): Song => ({ ...song, parts });

describe('the parts of a song', () => {
  it('are its scenes once each where no order is written', () =>
    expect(partsOf(song).map((p) => partName(song, p))).toEqual(['Intro', 'Verse', 'Chorus']));

  it('a scene that comes again stands in several, and both follow its name', () => {
    const again = inOrder(part('Verse', 8), part('Chorus', 8), part('Verse', 4, { name: 'Last verse' }));
    expect(partsOf(again).map((p) => partName(again, p))).toEqual(['Verse', 'Chorus', 'Last verse']);
    const renamed = { ...again, scenes: again.scenes.map((s) => ({ ...s, name: `${s.name}!` })) };
    expect(partsOf(renamed).map((p) => partName(renamed, p))).toEqual(['Verse!', 'Chorus!', 'Last verse']);
  });

  // seconds = beats × 60 / bpm
  it.each([
    [{ amount: 4, unit: 'beats' }, 100, 4, 2.4],
    [{ amount: 8, unit: 'bars' }, 120, 4, 16],
    [{ amount: 8, unit: 'bars' }, 90, 3, 16],
    [{ amount: 7.5, unit: 's' }, 90, 3, 7.5],
    [{ amount: 0, unit: 'bars' }, 90, 3, 0],
  ] as const)('%j at %i bpm in %i is %d s', (length, bpm, beats, s) =>
    expect(lengthSeconds(length, bpm, beats)).toBeCloseTo(s, 9),
  );

  it('are timed at the tempo that their scenes bring', () => {
    const timed: Song = {
      ...inOrder(part('Verse', 10), part('Chorus', 10), part('Verse', 10)),
      scenes: song.scenes.map((s) => (s.name === 'Chorus' ? { ...s, tempoBpm: 200 } : s)),
    };
    // 10 bars of 4 beats: 24 s at 100, 12 s at 200. The verse stands left of the chorus, so it stays at 100.
    expect(songLine(timed).parts.map((t) => [t.startS, t.lengthS])).toEqual([
      [0, 24],
      [24, 12],
      [36, 24],
    ]);
    expect(partsLengthS(timed)).toBe(60);
    expect(tempoIn(timed, sceneNamed('Chorus').id)).toBe(200);
  });

  it('from one of unknown length on it is not known where they begin', () => {
    const open = inOrder(part('Intro', 4), part('Verse', null), part('Chorus', 4));
    expect(songLine(open).parts.map((t) => t.startS)).toEqual([0, 9.6, null]);
    expect(partsLengthS(open)).toBeNull();
  });
});

describe('what a scene is beside its functions', () => {
  const rich: Song = {
    ...song,
    scenes: song.scenes.map((s, i) =>
      i === 1
        ? {
            ...s,
            tempoBpm: 140,
            banks: [{ boardId: 'b', index: 2 }],
            routes: [{ routeId: 'r', part: 'gate', on: true }],
          }
        : s,
    ),
  };
  it('is carried to the right and never to the left', () => {
    const at = (i: number) => sceneSurround(rich, i);
    expect(at(0)).toEqual({
      tempo: { value: 100, setIn: -1 },
      banks: new Map(),
      routes: new Map(),
      controls: new Map(),
    });
    expect(at(2).tempo).toEqual({ value: 140, setIn: 1 });
    expect(at(2).banks.get('b')).toEqual({ value: 2, setIn: 1 });
    expect(at(2).routes.get('gate/r')).toEqual({ value: true, setIn: 1 });
  });
  it('no scene brings a tempo: the tempo stays what it is', () =>
    expect(sceneSurround(song, 2).tempo).toBeNull());
});

describe('a glide', () => {
  const anyGlide = fc.record({
    from: fc.integer({ min: 0, max: 16_383 }),
    to: fc.integer({ min: 0, max: 16_383 }),
    curve: fc.constantFrom(...PLAIN_CURVES),
    ms: fc.integer({ min: 1, max: 20_000 }),
    stepMs: fc.integer({ min: 1, max: 20 }).map((n) => n * 10),
  });

  it('ends exactly, on time, says nothing twice, and its messages lie at least a step apart', () =>
    fc.assert(
      fc.property(anyGlide, ({ from, to, curve, ms, stepMs }) => {
        const steps = glideSteps(from, to, curve, ms, stepMs);
        if (from === to) expect(steps).toEqual([]);
        else expect(steps.at(-1)!.value).toBe(to);
        const wrong = steps.filter((step, i) => {
          const before = steps[i - 1] ?? { atMs: -Infinity, value: from };
          // Every curve rises all the way between its ends; the exact end may follow its last step sooner.
          const goesOn = Math.sign(step.value - before.value) === Math.sign(to - from);
          const isApart = step.atMs === ms || step.atMs - before.atMs >= stepMs;
          return !goesOn || !isApart || step.atMs > ms;
        });
        expect(wrong).toEqual([]);
      }),
      { seed: 12, numRuns: 2000 },
    ));

  // A three-byte message takes 0.96 ms on a DIN link (checked in midi); half of the link is for glides.
  it.each([
    [[0.96], 10],
    [Array(5).fill(0.96) as number[], 10],
    [Array(6).fill(0.96) as number[], 20],
    [Array(20).fill(0.96) as number[], 40],
    [[], 10],
  ])('of %j ms a message steps every %i ms', (wires, ms) => expect(glideStepMs(wires)).toBe(ms));
});
