import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { controller, noteOn, program, realTime, type Message } from '../midi';
import {
  barMs,
  contentShare,
  dimmed,
  hearTempo,
  lights,
  looper,
  looperAt,
  loopPosition,
  mixer,
  mixerAt,
  PLAIN_TEMPO,
  type LooperState,
  type MixerState,
} from './index';

/** The looper listens on channel 5, and its next channel follows the selected track. */
const loop = (
  ...played: (readonly [atMs: number, number: number, value?: number, channel?: number])[]
): LooperState =>
  played.reduce(
    (s, [at, n, v = 127, ch = 4]) => looper.receive(s, controller(ch, n, v), 4, at),
    looper.initial,
  );
const NUMBERS = [27, 40, 41, 42, 44, 48, 52, 56, 60, 61, 62] as const;
const [RECORD, ALL_START, ALL_STOP, NOW, STOP, UNDO, REDO, CLEAR, DOUBLE, HALVE, REPEATS] = NUMBERS;
const at96 = [0, 76, 36] as const;
const LENGTH = 73;

describe('looper', () => {
  it('two bars of 4/4 at 96 bpm are 5.000 s, and close by themselves', () => {
    // Arithmetic: 2 × 4 beats × 60 / 96.
    expect(2 * barMs(96)).toBe(5000);
    const state = loop(at96, [0, LENGTH, 2], [1000, RECORD]);
    expect(looperAt(state, 5999.9).tracks[0]!.phase).toBe('recording');
    const closed = looperAt(state, 6000).tracks[0]!;
    expect([closed.phase, closed.loop?.lengthMs]).toEqual(['playing', 5000]);
    expect(loopPosition(closed, 8500)).toBe(0.5);
  });
  it.each([
    [1, 2500],
    [2, 5000],
    [3, 10_000],
    [4, 20_000],
  ])('length %i at 96 bpm is %i ms', (choice, ms) => {
    const state = loop(at96, [0, LENGTH, choice], [0, RECORD]);
    expect(looperAt(state, ms).tracks[0]!.loop?.lengthMs).toBe(ms);
    expect(looperAt(state, ms - 0.1).tracks[0]!.loop).toBeNull();
  });
  it('on the next channel records, stops and clears whichever track is selected', () => {
    const [NEXT, CLEAR_ALL, SELECTED] = [70, 43, 5];
    const state = loop([0, NEXT], [10, RECORD, 127, SELECTED], [1010, RECORD, 127, SELECTED], [1020, NEXT]);
    expect(state.tracks.map((t) => t.phase)).toEqual(['empty', 'playing', 'empty', 'empty']);
    const both = looper.receive(state, controller(SELECTED, RECORD, 127), 4, 2000);
    expect(both.tracks.map((t) => t.phase)).toEqual(['empty', 'playing', 'recording', 'empty']);
    const cleared = looper.receive(both, controller(SELECTED, CLEAR, 127), 4, 2100);
    expect(cleared.tracks.map((t) => t.phase)).toEqual(['empty', 'playing', 'empty', 'empty']);
    const all = looper.receive(cleared, controller(4, CLEAR_ALL, 127), 4, 2200);
    expect(all.tracks.every((t) => t.phase === 'empty' && t.loop === null)).toBe(true);
    expect(all.said).toBe('all cleared');
    // A button that goes up does nothing.
    expect(looper.receive(state, controller(SELECTED, RECORD, 0), 4, 2000).tracks).toEqual(state.tracks);
  });
  it('doubled twice the content fills a quarter; repeated it fills all', () => {
    const once = [
      [0, RECORD],
      [4000, RECORD],
    ] as const;
    const twice = loop(...once, [4100, DOUBLE], [4200, DOUBLE]).tracks[0]!.loop!;
    expect([twice.lengthMs, contentShare(twice)]).toEqual([16_000, 0.25]);
    expect(
      contentShare(loop(...once, [4050, REPEATS], [4100, DOUBLE], [4200, DOUBLE]).tracks[0]!.loop!),
    ).toBe(1);
  });
  it('halved then doubled the second half is silence', () => {
    const back = loop([0, RECORD], [4000, RECORD], [4100, HALVE], [4200, DOUBLE]).tracks[0]!.loop!;
    expect(back).toEqual({ lengthMs: 4000, content: [{ fromMs: 0, toMs: 2000 }] });
  });
  it('overdubs over the end of the loop, and takes it back and again', () => {
    const played = [
      [0, LENGTH, 0],
      [0, RECORD],
      [1000, RECORD],
      [1000, CLEAR + 1],
    ] as const;
    const dubbed = loop(...played, [1800, RECORD], [2300, RECORD]);
    expect(dubbed.tracks[0]!.loop!.content.slice(1)).toEqual([
      { fromMs: 800, toMs: 1000 },
      { fromMs: 0, toMs: 300 },
    ]);
    const undone = looper.receive(dubbed, controller(4, UNDO, 127), 4, 2400);
    expect(undone.tracks[0]!.loop!.content).toHaveLength(1);
    expect(looper.receive(undone, controller(4, REDO, 127), 4, 2500).tracks[0]!.loop).toEqual(
      dubbed.tracks[0]!.loop,
    );
  });
  it('all stop waits for the end of each loop, stop at once does not, all start begins again', () => {
    const played = [
      [0, RECORD],
      [1000, RECORD],
    ] as const;
    const stopping = loop(...played, [1400, ALL_STOP]);
    expect([1999, 2000].map((ms) => looperAt(stopping, ms).tracks[0]!.phase)).toEqual(['playing', 'stopped']);
    expect(loop(...played, [1400, NOW]).tracks[0]!.phase).toBe('stopped');
    expect(loop(...played, [1400, NOW], [3000, ALL_START]).tracks[0]).toMatchObject({
      phase: 'playing',
      startedAtMs: 3000,
    });
  });
  it.each([
    [[0, DOUBLE], '1 is empty: nothing to be doubled'],
    [[0, STOP + 2], '3 does not run: nothing to stop'],
    [[0, UNDO], '1: nothing to undo'],
    [[0, CLEAR], '1 cleared'],
  ] as const)('says what %j does', (played, said) => expect(loop(played).said).toBe(said));
  it('gives its next channel to the selected track, and records nothing without an input', () => {
    const chosen = loop([0, 72, 2], [0, 7, 33, 5], [0, 11, 44, 5], [0, 7, 99, 6]);
    expect(chosen.tracks.map((t) => t.level)).toEqual([100, 100, 33, 100]);
    expect(chosen.tracks[2]!.feedback).toBe(44);
    const silent = loop([0, 74, 0], [0, RECORD], [1000, RECORD]).tracks[0]!.loop!;
    expect(contentShare(silent)).toBe(0);
    expect(loop([0, 70], [0, 70], [0, 71]).selected).toBe(1);
    expect(loop([0, 71]).selected).toBe(3);
  });
  it('keeps every loop and its content in bounds, whatever is pressed', () => {
    const press = fc.tuple(fc.nat(900), fc.integer({ min: 27, max: 76 }), fc.nat(127));
    fc.assert(
      fc.property(fc.array(press, { maxLength: 80 }), (presses) => {
        let atMs = 0;
        let state = looper.initial;
        for (const [gapMs, number, value] of presses) {
          atMs += gapMs;
          state = looper.receive(state, controller(4, number, value), 4, atMs);
        }
        for (const { loop: made } of looperAt(state, atMs + 5000).tracks) {
          if (!made) continue;
          expect(contentShare(made)).toBeLessThanOrEqual(1 + 1e-9);
          for (const s of made.content) expect(s.fromMs >= 0 && s.toMs <= made.lengthMs + 1e-6).toBe(true);
        }
      }),
      { seed: 95, numRuns: 300 },
    );
  });
  it('hears its tempo from clock, 24 to the beat', () => {
    let tempo = PLAIN_TEMPO;
    for (let i = 0; i <= 24; i++) tempo = hearTempo(tempo, realTime('clock'), (i * 2500) / 96);
    expect(tempo.bpm).toBe(96);
  });
});

/** The mixer's memories and times are set on channel 9; strip n is on channel n. */
const mix = (...sent: (readonly [atMs: number, message: Message])[]): MixerState =>
  sent.reduce((s, [at, m]) => mixer.receive(s, m, 8, at), mixer.initial);
const level = (strip: number, value: number) => controller(strip - 1, 7, value);
const set = (number: number, value: number) => controller(8, number, value);
const [CAPTURE, TENTHS, BEATS, TEMPO] = [82, 83, 84, 76];
/** Mix 1 with strip 1 at 20, mix 2 with it at 120, four beats to go there, at 100 bpm; mix 1 in force. */
const twoMixes = [
  [0, set(TEMPO, 40)],
  [0, level(1, 20)],
  [0, set(CAPTURE, 0)],
  [0, level(1, 120)],
  [0, set(CAPTURE, 1)],
  [0, set(BEATS, 4)],
  [0, program(8, 0)],
] as const;
const levelAt = (state: MixerState, ms: number) => mixerAt(state, ms).strips[0]!.level;

describe('mixer', () => {
  it('takes four beats at 100 bpm 2.40 s, half way in the middle, the last value exact', () => {
    const state = mix(...twoMixes, [1000, program(8, 1)]);
    expect([1000, 2200, 3400, 9000].map((ms) => levelAt(state, ms))).toEqual([20, 70, 120, 120]);
    expect(mixerAt(state, 3399.9).fade).not.toBeNull();
    expect(mixerAt(state, 3400).fade).toBeNull();
  });
  it('takes the rest of the way at a tempo that changed half-way', () => {
    const faster = mix(...twoMixes, [1000, program(8, 1)], [2200, set(TEMPO, 127)]);
    expect(levelAt(faster, 2200)).toBe(70);
    // 187 bpm: the other two beats take 641.7 ms.
    expect(levelAt(faster, 2200 + 320.8)).toBeCloseTo(95, 1);
    expect(levelAt(faster, 2200 + 641.8)).toBe(120);
  });
  it('recalled again on the way begins where it is', () => {
    const state = mix(
      ...twoMixes,
      [0, program(8, 0)],
      [0, set(TENTHS, 10)],
      [1000, program(8, 1)],
      [2200, program(8, 0)],
    );
    expect(levelAt(state, 2200)).toBe(70);
    expect(levelAt(state, 2700)).toBe(45);
    expect(levelAt(state, 3200)).toBe(20);
  });
  it('leaves a strip alone that is moved by hand on the way', () => {
    const state = mix(...twoMixes, [1000, program(8, 1)], [2200, level(1, 33)]);
    expect([2200, 3000, 3400].map((ms) => levelAt(state, ms))).toEqual([33, 33, 33]);
  });
  it('has strip n on channel n, and says what it cannot do', () => {
    const state = mix([0, controller(15, 10, 1)], [0, controller(2, 80, 127)], [0, controller(2, 81, 127)]);
    expect([state.strips[15]!.pan, state.strips[2]!.muted, state.strips[2]!.solo]).toEqual([1, true, true]);
    expect(mix([0, program(8, 5)]).said).toBe('mix 6 is empty: nothing to recall');
    expect(mix([0, set(BEATS, 4)]).said).toMatch(/no mix is chosen/);
    // A fade says to which mix it belongs, and whose tempo its beats follow.
    expect(mix([0, set(82, 2)], [0, set(BEATS, 4)]).said).toMatch(
      /^going to mix 3 takes 4 beats at its own \d+ bpm$/,
    );
    expect(mix([0, set(CAPTURE, 23)]).current).toBe(23);
    expect(mix([0, set(CAPTURE, 24)])).toBe(mixer.initial);
  });
});

describe('lights', () => {
  const lit = (...messages: Message[]) =>
    messages.reduce((s, m) => lights.receive(s, m, 11, 0), lights.initial);
  it('show looks by program and cues by note, and nothing in a blackout', () => {
    expect(lit(program(11, 2)).dimmers).toEqual(lit(noteOn(11, 37, 100)).dimmers);
    expect(lit(program(11, 2)).dimmers.some((d) => d > 0)).toBe(true);
    expect(lit(program(11, 2), program(11, 0)).dimmers.every((d) => d === 0)).toBe(true);
    const dark = lit(controller(11, 20, 100), controller(11, 80, 127));
    expect(dark.dimmers.map((d) => dimmed(dark, d))).toEqual(Array(12).fill(0));
    expect(dimmed(lit(controller(11, 7, 64)), 127)).toBe(64);
    expect(lit(controller(11, 31, 9)).dimmers[11]).toBe(9);
    expect(lit(controller(11, 32, 9))).toBe(lights.initial);
    expect(lit(noteOn(11, 48, 100))).toBe(lights.initial);
  });
});
