import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { encode } from '../../midi';
import { noteMs, quartersOfNote, readNoteLength, valueOfNote, valueWithBeat, type Song } from '../../show';
import {
  assign,
  cable,
  makeBoard,
  makeDevice,
  makeFunction,
  makePort,
  makeRig,
  makeSong,
} from '../../testing.test-support';
import {
  captureFor,
  changeShow,
  compileWorld,
  initialState,
  step,
  type Command,
  type Effect,
  type LiveState,
} from '../index';

const ends = (low: number, high: number, unit: string) => ({ low, high, unit, isLog: false });
const timed = (id: string, controller: number, given: ReturnType<typeof ends>) =>
  makeFunction({
    id,
    drive: { kind: 'controller', controller },
    shape: { kind: 'range', min: 0, max: 127, shownFrom: 0, ends: given },
  });
const delay = timed('delay', 20, ends(0, 1270, 'ms'));
const rate = timed('rate', 21, ends(0, 12.7, 'Hz'));

describe('a note length', () => {
  it.each([
    ['1/4', '1/4', 1],
    ['1/8.', '1/8.', 0.75],
    ['1 / 8 dotted', '1/8.', 0.75],
    ['1/8t', '1/8t', 1 / 3],
    ['1/4 triplet', '1/4t', 2 / 3],
    ['1/1', '1/1', 4],
    ['1/64', '1/64', 1 / 16],
  ])('%s is kept as %s: %d quarters', (text, kept, quarters) => {
    expect(readNoteLength(text)).toBe(kept);
    expect(quartersOfNote(kept)).toBeCloseTo(quarters, 12);
  });
  it.each(['1/3', '2/4', '1/8..', 'quarter', '', '1/4x'])('%s is none', (text) =>
    expect(readNoteLength(text)).toBeNull(),
  );
  // Seconds = beats × 60 / bpm.
  it.each([
    ['1/4', 120, 500],
    ['1/8.', 120, 375],
    ['1/8t', 100, 200],
    ['1/2', 60, 2000],
  ])('%s at %i bpm is %i ms', (note, bpm, ms) => expect(noteMs(note, bpm)).toBeCloseTo(ms, 9));

  it('is the nearest value of a time or a rate, and none where the range does not reach so far', () => {
    expect(valueOfNote(delay, '1/4', 120)).toBe(50);
    expect(valueOfNote(rate, '1/4', 120)).toBe(20);
    expect(valueOfNote(delay, '1/1', 120)).toBeNull();
  });
  it('stays with the beat while playing: halved or doubled until it fits', () => {
    expect(valueWithBeat(delay, '1/1', 120)).toBe(100);
    expect(valueWithBeat(delay, '1/1', 60)).toBe(100);
    fc.assert(
      fc.property(
        fc.constantFrom('1/1', '1/2.', '1/4', '1/8t', '1/16'),
        fc.integer({ min: 20, max: 400 }),
        (note, bpm) => {
          const value = valueWithBeat(delay, note, bpm)!;
          const folds = Math.log2(noteMs(note, bpm) / (value * 10));
          // Within half a step of the note, or of its half, quarter …
          const nearest = noteMs(note, bpm) / 2 ** Math.round(folds);
          expect(Math.abs(nearest - value * 10)).toBeLessThanOrEqual(5.0001);
        },
      ),
      { seed: 3310 },
    );
  });
});

const out = makePort({ id: 'out', direction: 'out', link: 'usb', atComputer: true });
const gearIn = makePort({ direction: 'in', link: 'usb' });
const gear = makeDevice({ channel: 0, ports: [gearIn], chart: [delay, rate] });
const { device, board, preset } = makeBoard(1, 0, [[assign('s0', [{ kind: 'tap' } as never])]]);
const rig = makeRig(
  [device, makeDevice({ role: 'carrier', ports: [out] }), gear],
  [cable(out, gearIn)],
  [board],
);

function songAt(bpm: number, notes: Record<string, string>, second: Record<string, string> = {}): Song {
  const made = makeSong('Echoes', [
    ['One', {}],
    ['Two', {}],
  ]);
  const withNotes = (given: Record<string, string>) =>
    Object.entries(given).map(([functionId, note]) => ({ functionId, value: 0, way: null, note }));
  return {
    ...made,
    tempoBpm: bpm,
    scenes: made.scenes.map((s, i) => ({ ...s, values: withNotes(i === 0 ? notes : second) })),
  };
}

/** Gear that knows only bytes: the last value of each controller. */
class Receiver {
  readonly values = new Map<number, number>();
  count = 0;
  hear(effects: readonly Effect[]): void {
    for (const e of effects) {
      if (e.kind !== 'send') continue;
      const [status, number, value] = encode(e.message);
      if (status === 0xb0) this.values.set(number!, value!);
      this.count++;
    }
  }
}

class Run {
  readonly gear = new Receiver();
  world;
  state: LiveState;
  atMs = 0;
  constructor(song: Song) {
    this.world = compileWorld({ rig, presets: [preset], setName: '', songs: [song] });
    this.state = initialState(this.world, 0);
  }
  do(afterMs: number, command: Command): this {
    this.atMs += afterMs;
    const { state, effects } = step(this.world, this.state, { kind: 'command', atMs: this.atMs, command });
    this.state = state;
    this.gear.hear(effects);
    return this;
  }
  edit(song: Song): this {
    const show = { rig, presets: [preset], setName: '', songs: [song] };
    const changed = changeShow(this.world, this.state, show, this.atMs);
    this.world = changed.world;
    this.state = changed.state;
    this.gear.hear(changed.effects);
    return this;
  }
}
const next: Command = { kind: 'scene', to: 'next' };
const taps = (run: Run, bpm: number) => {
  for (let i = 0; i < 6; i++) run.do(60_000 / bpm, { kind: 'tap' });
  return run;
};

describe('a scene whose values follow the tempo', () => {
  it('is sent at the tempo that is written, and again at one that is tapped', () => {
    const run = new Run(songAt(120, { delay: '1/4', rate: '1/4' })).do(0, next);
    expect(Object.fromEntries(run.gear.values)).toEqual({ 20: 50, 21: 20 });
    taps(run, 100);
    expect(run.state.tempo.bpm).toBeCloseTo(100, 0);
    expect(run.gear.values.get(20)).toBe(60);
    // A quarter at 100 bpm is 0.6 s: 1.67 a second.
    expect(run.gear.values.get(21)).toBe(17);
    const { count } = run.gear;
    run.do(10, { kind: 'song', to: 'again' });
    expect([run.gear.values.get(20), run.gear.count > count]).toEqual([50, true]);
  });

  it('is recalled at the tempo in play, and carried from scene to scene', () => {
    const run = taps(new Run(songAt(120, { delay: '1/8.' }, { rate: '1/8' })).do(0, next), 90);
    run.do(1, next);
    // 90 bpm: a dotted eighth is 500 ms, an eighth a third of a second.
    expect(Object.fromEntries(run.gear.values)).toEqual({ 20: 50, 21: 30 });
    taps(run, 120);
    expect(Object.fromEntries(run.gear.values)).toEqual({ 20: 38, 21: 40 });
  });

  it('leaves alone what a foot has moved since', () => {
    const run = new Run(songAt(120, { delay: '1/4' })).do(0, next);
    run.do(100, { kind: 'set', functionId: 'delay', value: 3 });
    taps(run, 90);
    expect(run.gear.values.get(20)).toBe(3);
  });

  it('follows a tempo that is edited while it plays, and is not captured as a plain value', () => {
    const song = songAt(120, { delay: '1/4' });
    const run = new Run(song).do(0, next);
    run.edit({ ...song, tempoBpm: 100 });
    expect(run.gear.values.get(20)).toBe(60);
    taps(run, 75);
    expect(run.gear.values.get(20)).toBe(80);
    expect(captureFor(run.world, run.state, run.world.songs[0]!.song, 0)).toEqual([]);
  });

  it('the gear stands where the note is, whatever is tapped and recalled', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.constant(null), fc.integer({ min: 40, max: 220 })), { maxLength: 8 }),
        (deeds) => {
          const run = new Run(songAt(120, { delay: '1/8' }, { rate: '1/2' })).do(0, next);
          for (const bpm of deeds)
            if (bpm === null) run.do(3000, { kind: 'scene', to: 'again' });
            else taps(run.do(3000, { kind: 'scene', to: 'again' }), bpm);
          expect(run.gear.values.get(20)).toBe(valueWithBeat(delay, '1/8', run.state.tempo.bpm));
        },
      ),
      { seed: 3311, numRuns: 60 },
    );
  });
});
