import { describe, expect, it } from 'vitest';
import { channelPressure, controller, noteOff, noteOn, program, realTime, type Message } from '../midi';
import {
  backingAt,
  backingGains,
  backingPlayer,
  BACKING_LENGTHS_S,
  filterHz,
  padInstrument,
  padsAt,
  patternStep,
  startStandIn,
  tonesOf,
  trackHost,
  tracksSounding,
  type BackingPlayerState,
  type PadInstrumentState,
  type TrackHostState,
} from './index';

type Timed = readonly [atMs: number, message: Message];
const CH = 3;

const pads = (...played: Timed[]): PadInstrumentState =>
  played.reduce((s, [at, m]) => padInstrument.receive(s, m, CH, at), padInstrument.initial);
const player = (...played: Timed[]): BackingPlayerState =>
  played.reduce((s, [at, m]) => backingPlayer.receive(s, m, CH, at), backingPlayer.initial);
const host = (...played: Message[]): TrackHostState =>
  played.reduce((s, m) => trackHost.receive(s, m, 0, 0), trackHost.initial);

describe('pad instrument', () => {
  it.each<[string, Message, number, number]>([
    ['the first pad', noteOn(CH, 36, 1), 0, 1],
    ['the last pad', noteOn(CH, 51, 127), 15, 127],
    ['a velocity of 0 as an end', noteOn(CH, 36, 0), 0, 0],
  ])('takes %s', (_, message, pad, velocity) => {
    expect(pads([0, message]).velocities[pad]).toBe(velocity);
  });

  it.each([35, 52])('says that there is no pad for note %i', (note) => {
    expect(pads([0, noteOn(CH, note, 9)])).toMatchObject({
      velocities: padInstrument.initial.velocities,
      said: `there is no pad for note ${note}; they begin at 36`,
    });
  });

  it('lets go of a pad, takes pressure, cutoff and level, and hears no other channel', () => {
    expect(pads([0, noteOn(CH, 40, 9)], [1, noteOff(CH, 40)]).velocities[4]).toBe(0);
    expect(
      pads([0, channelPressure(CH, 7)], [0, controller(CH, 74, 8)], [0, controller(CH, 7, 9)]),
    ).toMatchObject({ pressure: 7, cutoff: 8, level: 9 });
    expect(pads([0, noteOn(CH + 1, 40, 9)])).toBe(padInstrument.initial);
  });

  it('plays a pattern once: sixteen steps of 125 ms at 120 bpm', () => {
    const state = pads([1000, controller(CH, 80, 127)]);
    const at = (ms: number) => patternStep(state.patterns[0]!, ms);
    expect([999, 1000, 1124.9, 1125, 2999.9, 3000].map(at)).toEqual([null, 0, 0, 1, 15, null]);
    expect(padsAt(state, 1000)[0]).toBe(90);
    expect(padsAt(state, 3000)).toEqual(padInstrument.initial.velocities);
  });

  it('plays it round where it is told to, and ends it', () => {
    const state = pads([0, controller(CH, 82, 127)], [1000, controller(CH, 81, 127)]);
    expect(patternStep(state.patterns[1]!, 3000)).toBe(0);
    expect(padInstrument.receive(state, controller(CH, 81, 0), CH, 3100).patterns).toEqual([null, null]);
  });

  it('takes its tempo from the clock of one beat', () => {
    const ticks = Array.from({ length: 25 }, (_, i): Timed => [i * 25, realTime('clock')]);
    const state = pads(...ticks, [1000, controller(CH, 80, 127)]);
    // 24 clocks of 25 ms are a beat of 600 ms: 100 bpm, and a sixteenth of 150 ms.
    expect(state.tempo.bpm).toBe(100);
    expect(patternStep(state.patterns[0]!, 1149)).toBe(0);
    expect(patternStep(state.patterns[0]!, 1150)).toBe(1);
  });
});

describe('backing player', () => {
  const START: Message = controller(CH, 20, 127);
  const STOP: Message = controller(CH, 21, 127);
  const NEXT: Message = controller(CH, 22, 127);

  it('calls song k by program base + k − 1', () => {
    expect(player([0, program(CH, 0)]).cued).toBe(0);
    expect(player([0, program(CH, 11)]).cued).toBe(11);
    expect(player([0, program(CH, 12)])).toMatchObject({
      cued: 0,
      said: 'there is no song for program 12: the order has 12',
    });
  });

  it('starts what is cued, stops, and says why it does nothing', () => {
    const playing = player([0, program(CH, 2)], [500, START]);
    expect(playing.playing).toEqual({ song: 2, sinceMs: 500 });
    expect(backingPlayer.receive(playing, START, CH, 900)).toMatchObject({
      playing: playing.playing,
      said: 'song 3 plays already',
    });
    expect(backingPlayer.receive(playing, STOP, CH, 900).playing).toBeNull();
    expect(player([0, STOP]).said).toBe('nothing plays, so nothing stops');
    expect(player([0, controller(CH, 20, 0)])).toBe(backingPlayer.initial);
  });

  it('goes to the next thing: cues it while it waits, begins it while it plays', () => {
    expect(player([0, NEXT], [1, NEXT])).toMatchObject({ cued: 2, playing: null });
    expect(player([0, START], [9, NEXT]).playing).toEqual({ song: 1, sinceMs: 9 });
    expect(player([0, program(CH, 11)], [1, NEXT])).toMatchObject({
      cued: 11,
      said: 'that was the last song of the order',
    });
  });

  it('waits again when a song is over, to the millisecond', () => {
    const state = player([0, START]);
    const endMs = BACKING_LENGTHS_S[0]! * 1000;
    expect(backingAt(state, endMs - 1).playing).not.toBeNull();
    expect(backingAt(state, endMs)).toMatchObject({ playing: null, cued: 1 });
  });

  it('fades between two songs with equal power, and takes its levels in either mode', () => {
    const at = (value: number) =>
      backingGains(player([0, controller(CH, 7, 127)], [0, START], [1, controller(CH, 8, value)]));
    expect(at(0)).toEqual([1, 0]);
    expect(at(127)[0]).toBeCloseTo(0, 10);
    for (let v = 0; v <= 127; v++) expect(at(v)[0] ** 2 + at(v)[1] ** 2).toBeCloseTo(1, 10);
    expect(player([0, controller(CH, 7, 30)], [0, controller(CH, 91, 31)])).toMatchObject({
      level: 30,
      reverb: 31,
      playing: null,
    });
  });
});

describe('track host', () => {
  const ARM = 102;
  const note = noteOn(5, 60, 90);
  it.each<[string, Message[], number[], string]>([
    ['none armed', [], [], 'note 60 is silent: no track is armed'],
    ['one armed', [controller(0, ARM, 127)], [0], 'note 60 sounds on track 1'],
    [
      'two armed',
      [controller(0, ARM, 127), controller(0, ARM + 2, 127)],
      [0, 2],
      'note 60 sounds on track 1 and 3',
    ],
    ['always monitored', [controller(0, 111, 127)], [1], 'note 60 sounds on track 2'],
    [
      'armed and not monitored',
      [controller(0, ARM, 127), controller(0, 110, 0)],
      [],
      'note 60 is silent: its track is not monitored',
    ],
    [
      'another channel',
      [controller(0, ARM, 127), controller(0, 48, 1)],
      [],
      'note 60 is silent: no armed track takes in channel 6',
    ],
    ['its own channel', [controller(0, ARM, 127), controller(0, 48, 6)], [0], 'note 60 sounds on track 1'],
    [
      'muted',
      [controller(0, ARM, 127), controller(0, 80, 127)],
      [],
      'note 60 is silent: its track, or the one it goes into, is muted or turned down',
    ],
    [
      'into a muted track',
      [controller(0, ARM, 127), controller(0, 40, 3), controller(0, 82, 127)],
      [],
      'note 60 is silent: its track, or the one it goes into, is muted or turned down',
    ],
    ['into an open track', [controller(0, ARM, 127), controller(0, 40, 3)], [0], 'note 60 sounds on track 1'],
    [
      'into itself',
      [controller(0, ARM, 127), controller(0, 40, 1)],
      [],
      'note 60 is silent: its track, or the one it goes into, is muted or turned down',
    ],
    [
      'another solo',
      [controller(0, ARM, 127), controller(0, 71, 127)],
      [],
      'note 60 is silent: another track is solo',
    ],
    [
      'into a solo track',
      [controller(0, ARM, 127), controller(0, 40, 3), controller(0, 72, 127)],
      [0],
      'note 60 sounds on track 1',
    ],
  ])('with %s', (_, before, sounding, said) => {
    const state = host(...before, note);
    expect(tracksSounding(state, 5)).toEqual(sounding);
    expect(state.said).toBe(said);
  });

  it('holds a note until it ends on its channel', () => {
    expect(host(note, noteOff(4, 60)).notes).toHaveLength(1);
    expect(host(note, noteOff(5, 60)).notes).toEqual([]);
  });
});

describe('what stand-ins sound like', () => {
  const gainOf = (state: TrackHostState) => tonesOf({ kind: 'track-host', state }, 0);

  it('two armed tracks are two tones, none armed is silence', () => {
    expect(gainOf(host(noteOn(0, 69, 90)))).toEqual([]);
    const two = gainOf(host(controller(0, 102, 127), controller(0, 103, 127), noteOn(0, 69, 90)));
    expect(two.map((t) => t.frequencyHz)).toEqual([440, 440 * 1.004]);
  });

  it('a sweep is heard at every step of it', () => {
    const gains = Array.from({ length: 128 }, (_, v) => {
      const { state } = startStandIn('string-processor') as { state: object };
      return tonesOf({ kind: 'string-processor', state: { ...state, volume: v } } as never, 0)[0]?.gain ?? 0;
    });
    for (let v = 1; v < 128; v++) expect(gains[v]!).toBeGreaterThan(gains[v - 1]!);
    expect([gains[0], gains[127]]).toEqual([0, 1]);
  });

  it('a crossfade moves from one tone to the other', () => {
    const at = (v: number) =>
      tonesOf(
        { kind: 'backing-player', state: player([0, controller(CH, 20, 127)], [1, controller(CH, 8, v)]) },
        2,
      ).map((t) => t.id);
    expect([at(0), at(64)]).toEqual([['song'], ['song', 'cued']]);
  });

  it('a filter opens evenly from 120 Hz to 8 kHz', () => {
    expect(filterHz(0)).toBe(120);
    expect(filterHz(127)).toBeCloseTo(8000, 6);
    expect(filterHz(64) / filterHz(63)).toBeCloseTo(filterHz(2) / filterHz(1), 10);
  });

  it.each(['looper', 'lights', 'pad-instrument'] as const)('a %s at rest is silent', (kind) => {
    expect(tonesOf(startStandIn(kind), 0)).toEqual([]);
  });
});
