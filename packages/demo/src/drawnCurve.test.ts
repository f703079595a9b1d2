import { SongSchema } from '@idle-step/contract';
import { compileWorld, initialState, step, valueOf, type Command } from '@idle-step/core/engine';
import { beatAt, curveOf, songLine, withCurve, type CurvePoint, type Song } from '@idle-step/core/show';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoPresets, demoRig, demoSongs } from './index';

const song = demoSongs.find((s) => s.name === 'Low Water')!;
const kelpline = demoRig.devices.find((d) => d.name === 'Kelpline')!;
const volume = kelpline.chart.find((f) => f.name === 'Volume')!;
let made = 0;
const newId = () => `00000000-0000-4000-8000-${String(++made).padStart(12, '0')}`;
const drawn = (on: Song, points: readonly CurvePoint[]): Song =>
  withCurve(on, songLine(on), volume.id, points, 'Volume', newId);
const anyPoints = fc
  .uniqueArray(fc.integer({ min: 0, max: 400 }), { minLength: 2, maxLength: 12 })
  .chain((halves) =>
    fc
      .array(fc.nat(127), { minLength: halves.length, maxLength: halves.length })
      .map((values) =>
        halves.toSorted((a, b) => a - b).map((half, i) => ({ beat: half / 2, value: values[i]! })),
      ),
  );

describe('a curve that is drawn over a song', () => {
  it('is read as it was drawn, and leaves the song one that is kept', () => {
    fc.assert(
      fc.property(anyPoints, (points) => {
        const after = drawn(song, points);
        const read = curveOf(songLine(after), volume.id);
        expect(read.map((p) => p.value)).toEqual(points.map((p) => p.value));
        for (const [i, { beat }] of read.entries()) expect(beat).toBeCloseTo(points[i]!.beat, 6);
        expect(SongSchema.safeParse(after).error?.issues ?? []).toEqual([]);
      }),
      { seed: 3312, numRuns: 200 },
    );
  });

  it('takes the place of the one before, leaves other cues as they are, and goes without a trace', () => {
    const own = {
      id: newId(),
      name: 'Lights',
      bar: 3,
      beat: 1,
      actions: [{ id: newId(), kind: 'tap' as const }],
    };
    const start: Song = { ...song, line: { ...song.line, cues: [own] } };
    const at = beatAt(songLine(start), own);
    const first = drawn(start, [
      { beat: 0, value: 10 },
      { beat: at, value: 90 },
      { beat: at + 8, value: 0 },
    ]);
    // The stretch that begins at the cue stands in it.
    expect(first.line.cues.find((c) => c.id === own.id)!.actions.map((a) => a.kind)).toEqual(['tap', 'ramp']);
    expect(first.line.cues).toHaveLength(2);
    const second = drawn(first, [
      { beat: 1, value: 5 },
      { beat: 2, value: 6 },
    ]);
    expect(curveOf(songLine(second), volume.id)).toHaveLength(2);
    expect(second.line.cues.find((c) => c.id === own.id)).toEqual(own);
    expect(drawn(second, []).line.cues).toEqual([own]);
  });

  it('is gone along by the gear: at every point it stands where it was drawn', () => {
    const points = [
      { beat: 0, value: 20 },
      { beat: 8, value: 100 },
      { beat: 12, value: 100 },
      { beat: 16, value: 0 },
    ];
    const world = compileWorld({
      rig: demoRig,
      presets: demoPresets,
      setName: '',
      songs: [drawn(song, points)],
    });
    let state = initialState(world, 0);
    const tell = (atMs: number, command?: Command) => {
      const event = command
        ? ({ kind: 'command', atMs, command } as const)
        : ({ kind: 'tick', atMs } as const);
      state = step(world, state, event).state;
    };
    tell(0, { kind: 'go', songIndex: 0, sceneIndex: 0 });
    // Whatever the scene loads has settled.
    const begunMs = 5000;
    tell(begunMs, { kind: 'line', to: 'start' });
    const bpm = state.tempo.bpm;
    for (const { beat, value } of [...points, { beat: 4, value: 60 }, { beat: 14, value: 50 }].toSorted(
      (a, b) => a.beat - b.beat,
    )) {
      tell(begunMs + (beat * 60_000) / bpm + 15);
      expect(Math.abs(valueOf(world, state, volume.id)! - value)).toBeLessThanOrEqual(2);
    }
    tell(begunMs + (20 * 60_000) / bpm);
    expect(valueOf(world, state, volume.id)).toBe(0);
  });
});
