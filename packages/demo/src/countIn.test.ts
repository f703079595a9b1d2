import { BookmarkSchema } from '@idle-step/contract';
import {
  bookmarkOf,
  compileWorld,
  countInNow,
  initialState,
  step,
  type Command,
  type Effect,
  type LiveState,
} from '@idle-step/core/engine';
import type { BeatUnit, Song } from '@idle-step/core/show';
import { describe, expect, it } from 'vitest';
import { demoPresets, demoRig, demoSongs, DEMO_PORT } from './index';

const ferry = demoSongs.find((s) => s.name === 'Slow Ferry')!;
/** At 120: a quarter is half a second. Parts begin at their bars. */
const song = (beatsPerBar: number, beatUnit: BeatUnit, part: Partial<Song> = {}): Song => ({
  ...ferry,
  tempoBpm: 120,
  beatsPerBar,
  beatUnit,
  countInBars: 2,
  line: { ...ferry.line, cues: [], tempos: [], loop: null, partsByTime: true },
  ...part,
});

/** Plays commands at their times, waking up when the engine wants to, and keeps what was sent when. */
function play(of: Song, commands: readonly (readonly [atMs: number, command: Command])[], untilMs: number) {
  const world = compileWorld({ rig: demoRig, presets: demoPresets, setName: '', songs: [of] });
  let state: LiveState = initialState(world, 0);
  let wakeMs = Infinity;
  const sent: number[] = [];
  const states: { atMs: number; state: LiveState }[] = [];
  const run = (atMs: number, event: Parameters<typeof step>[2]) => {
    const done = step(world, state, event);
    state = done.state;
    wakeMs = Infinity;
    for (const effect of done.effects as readonly Effect[]) {
      if (effect.kind === 'wake') wakeMs = effect.atMs;
      if (effect.kind === 'send') sent.push(effect.atMs);
    }
    states.push({ atMs, state });
  };
  const upTo = (atMs: number) => {
    while (wakeMs < atMs) run(wakeMs, { kind: 'tick', atMs: wakeMs });
  };
  for (const [atMs, command] of commands) {
    upTo(atMs);
    run(atMs, { kind: 'command', atMs, command });
  }
  upTo(untilMs);
  const countAt = (atMs: number) => {
    const { state: then } = states.findLast((s) => s.atMs <= atMs)!;
    return countInNow(world, then, atMs);
  };
  return { sent, countAt, state: () => state };
}

const START: Command = { kind: 'line', to: 'start' };
const TOGGLE: Command = { kind: 'line', to: 'toggle' };

describe('a count-in before the time line runs', () => {
  it.each([
    // 4/4: a bar of two seconds, counted in quarters.
    [
      4,
      4,
      4000,
      [
        [1, 1],
        [1, 2],
        [2, 4],
      ],
      [0, 500, 3999],
    ],
    // 6/8: a bar of three quarters, counted in eighths.
    [
      6,
      8,
      3000,
      [
        [1, 1],
        [1, 2],
        [2, 6],
      ],
      [0, 250, 2999],
    ],
    // 3/2: a bar of six quarters, counted in halves.
    [
      3,
      2,
      6000,
      [
        [1, 1],
        [1, 2],
        [2, 3],
      ],
      [0, 1000, 5999],
    ],
  ] as const)(
    'of two bars of %i/%i at 120 takes %i ms, and the first part begins then',
    (beats, unit, ms, counts, ats) => {
      const { sent, countAt } = play(song(beats, unit), [[1000, START]], 20_000);
      expect(Math.min(...sent)).toBeCloseTo(1000 + ms, 3);
      expect(ats.map((at) => countAt(1000 + at)).map((c) => [c?.bar, c?.beat])).toEqual(counts);
      expect(countAt(1000 + ms)).toBe(null);
    },
  );

  it('comes with the switch that starts and stops as well, but not where the song goes on', () => {
    const { sent, countAt } = play(
      song(4, 4),
      [
        [1000, TOGGLE],
        [7000, TOGGLE],
        [9000, TOGGLE],
      ],
      12_000,
    );
    expect(Math.min(...sent)).toBeCloseTo(5000, 3);
    expect(countAt(1500)).toEqual({ bar: 1, beat: 2, bars: 2 });
    expect(countAt(9500)).toBe(null);
  });

  it('that was broken off, by a stop or a page that went away, is counted again from its first beat', () => {
    const stopped = play(
      song(4, 4),
      [
        [1000, TOGGLE],
        [2500, TOGGLE],
        [4000, TOGGLE],
      ],
      20_000,
    );
    expect(Math.min(...stopped.sent)).toBeCloseTo(8000, 3);
    const world = compileWorld({ rig: demoRig, presets: demoPresets, setName: '', songs: [song(4, 4)] });
    const counting = step(world, initialState(world, 0), {
      kind: 'command',
      atMs: 1000,
      command: START,
    }).state;
    const bookmark = bookmarkOf(world, counting, 2500);
    expect(BookmarkSchema.safeParse(structuredClone(bookmark)).success).toBe(true);
    const back = step(world, initialState(world, 0), {
      kind: 'command',
      atMs: 5000,
      command: { kind: 'resume', bookmark, awayMs: 2500 },
    }).state;
    const again = step(world, back, { kind: 'command', atMs: 6000, command: TOGGLE }).state;
    expect(again.line?.beat).toBe(-8);
    expect(countInNow(world, again, 6000)).toEqual({ bar: 1, beat: 1, bars: 2 });
  });

  it('is none where the song follows a clock, or wants none', () => {
    const follows = song(4, 4, { line: { ...song(4, 4).line, follows: { portId: DEMO_PORT.crossbarIn1 } } });
    expect(play(follows, [[1000, START]], 2000).state().line?.beat).toBe(0);
    expect(Math.min(...play(song(4, 4, { countInBars: 0 }), [[1000, START]], 9000).sent)).toBe(1000);
  });
});

describe('a count-in of a song that is begun by foot', () => {
  it('is counted from there, while its scene is in force at once', () => {
    const { sent, countAt } = play(song(4, 4), [[1000, { kind: 'go', songIndex: 0, sceneIndex: 0 }]], 9000);
    expect(Math.min(...sent)).toBe(1000);
    expect(countAt(1000)).toEqual({ bar: 1, beat: 1, bars: 2 });
    expect(countAt(4600)).toEqual({ bar: 2, beat: 4, bars: 2 });
    expect(countAt(5000)).toBe(null);
  });
});
