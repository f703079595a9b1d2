import midi from '@tonejs/midi';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compileWorld, initialState, step, type LiveEvent } from '../engine';
import { readSmf, SMF_TEXT, writeSmf, type SmfEvent } from '../formats';
import {
  barBeatAt,
  BEAT_UNITS,
  entryLengthS,
  PLAIN_ENTRY,
  PLAIN_LINE,
  PLAIN_SCENE,
  PLAIN_SONG,
  PLAIN_TEMPO_CHANGE,
  secondsAt,
  songLine,
  type Song,
} from '../show';
import { makeRig } from '../testing.test-support';
import { notInFile, songFromSmf, songToSmf, type NotInFile } from './index';

const empty = compileWorld({ rig: makeRig([]), presets: [], setName: '', songs: [] });
let nextId = 0;
const freshId = (): string => `id-${++nextId}`;
const BEAT = 480;

const tempo = (beat: number, bpm: number): SmfEvent => ({
  tick: beat * BEAT,
  kind: 'tempo',
  usPerQuarter: Math.round(60_000_000 / bpm),
});
const meter = (beat: number, numerator: number, denominator: number): SmfEvent => ({
  tick: beat * BEAT,
  kind: 'meter',
  numerator,
  denominator,
});
const marker = (beat: number, text: string): SmfEvent => ({
  tick: beat * BEAT,
  kind: 'text',
  type: SMF_TEXT.marker,
  text,
});
const read = (events: readonly SmfEvent[], endBeat = 160): Song => {
  const tracks = [{ events: [...events].sort((a, b) => a.tick - b.tick), endTick: endBeat * BEAT }];
  const { song } = songFromSmf(
    empty,
    { format: 1, division: { kind: 'quarter', ticks: BEAT }, tracks },
    'S',
    freshId,
  );
  return { ...song, id: 's', rigId: 'r' };
};

describe('a tempo map of a file', () => {
  it('keeps a tempo that comes back at a marker', () => {
    const song = read([tempo(0, 120), marker(0, 'A'), tempo(16, 60), marker(32, 'B'), tempo(32, 120)]);
    expect(secondsAt(songLine(song), 64)).toBeCloseTo(40, 9);
  });
  it('keeps a change within a bar where it is, and with none after it', () => {
    const song = read([tempo(0, 120), tempo(66, 60)]);
    expect(secondsAt(songLine(song), 128)).toBeCloseTo(95, 9);
    expect(song.line.tempos).toMatchObject([{ bar: 17, beat: 3, bpm: 60, isGradual: false }]);
  });
  it('a change within a bar makes the next one no gradual one', () => {
    const song = read([tempo(0, 120), tempo(33, 90), tempo(64, 60)]);
    expect(secondsAt(songLine(song), 128)).toBeCloseTo(33 / 2 + (31 * 60) / 90 + 64, 9);
  });
  it('a gradual change begins where the file has it begin', () => {
    const steps = [100, 98, 96, 94, 92, 90].map((bpm, i) => tempo(40 + i, bpm));
    const song = read([tempo(0, 102), ...steps]);
    expect(song.line.tempos).toMatchObject([
      { bar: 12, beat: 2, bpm: 90, isGradual: true, since: { bar: 10, beat: 4 } },
    ]);
    expect(songLine(song).tempos.map((t) => [t.atBeat, t.bpm])).toEqual([
      [0, 102],
      ...[100, 98, 96, 94, 92, 90].map((bpm, i) => [40 + i, bpm]),
    ]);
  });
  it('keeps bars of eighths, and one that begins within another', () => {
    const song = read([meter(0, 6, 8), meter(12, 3, 8), meter(19, 4, 4), tempo(0, 90)], 40);
    expect([song.beatsPerBar, song.beatUnit]).toEqual([6, 8]);
    const line = songLine(song);
    const places = [0, 0.5, 3, 11.5, 12, 13.5, 18, 18.5, 19, 23].map((beat) => barBeatAt(line, beat));
    // Bars of three quarters of a whole note, then of three eighths; the fifth of those is cut short after two.
    expect(places.map(({ bar, beat }) => [bar, beat])).toEqual([
      [1, 1],
      [1, 2],
      [2, 1],
      [4, 6],
      [5, 1],
      [6, 1],
      [9, 1],
      [9, 2],
      [10, 1],
      [11, 1],
    ]);
  });
  it('says which tempos and bars a song cannot hold', () => {
    const file = {
      format: 1 as const,
      division: { kind: 'quarter' as const, ticks: BEAT },
      tracks: [
        { events: [tempo(0, 500), meter(0, 40, 4), tempo(8, 10), meter(8, 3, 64)], endTick: 16 * BEAT },
      ],
    };
    expect(songFromSmf(empty, file, 'S', freshId)).toMatchObject({ limited: 2, leftOut: 2 });
  });
});

describe('what a file does not hold', () => {
  const scene = { ...PLAIN_SCENE, id: 'verse', name: 'Verse' };
  const part = {
    id: 'part',
    sceneId: 'verse',
    name: '',
    length: { amount: 8, unit: 'bars' },
    remark: '',
  } as const;
  const cue = (action: object) => ({
    line: { ...PLAIN_LINE, cues: [{ id: 'cue', name: '', at: { kind: 'start' }, actions: [action] }] },
  });
  const plain = {
    ...PLAIN_SONG,
    id: 's',
    rigId: 'r',
    name: 'S',
    tempoBpm: 120,
    beatsPerBar: 4,
    lengthS: 60,
    scenes: [scene],
    parts: [part],
  };
  it.each<[string, object, NotInFile[]]>([
    ['a plain song', {}, []],
    ['a part of unknown length', { parts: [{ ...part, length: null }] }, ['lengths']],
    ['one of two of unknown length', { parts: [part, { ...part, id: 'b', length: null }] }, ['lengths']],
    [
      'a scene that switches a layer',
      { scenes: [{ ...scene, routes: [{ routeId: 'x', isOn: true }] }] },
      ['layers'],
    ],
    [
      'a scene that turns to a bank',
      { scenes: [{ ...scene, banks: [{ boardId: 'b', bankId: 'x' }] }] },
      ['banks'],
    ],
    ['a cue that goes to the next song', cue({ kind: 'song', to: { kind: 'next' } }), ['away']],
    ['the same, switched off', cue({ kind: 'song', to: { kind: 'next' }, isOff: true }), []],
    ['a cue that goes to the next scene', cue({ kind: 'scene', to: { kind: 'next' } }), []],
    ['a cue that sets a value', cue({ kind: 'set', functionId: 'f', value: 1 }), []],
    ['a cue that moves in time', cue({ kind: 'ramp', functionId: 'f' }), ['glides']],
    ['a remark of a part', { parts: [{ ...part, remark: 'softly' }] }, ['remarks']],
    [
      'a colour and a remark',
      { scenes: [{ ...scene, colour: 'teal' }], remark: 'capo 2' },
      ['remarks', 'looks'],
    ],
  ])('of %s', (_what, changed, told) => expect(notInFile({ ...plain, ...changed } as Song)).toEqual(told));
});

const at = fc.integer({ min: 0, max: 120 * BEAT - 1 }).map((tick) => tick / BEAT);
const bpm = fc.integer({ min: 2000, max: 40_000 }).map((n) => n / 100);
/** Songs with changes of tempo at any place of a file, sudden and gradual, bars of any kind, and scenes with tempos. */
const anySong: fc.Arbitrary<Song> = fc
  .record({
    tempoBpm: bpm,
    beatsPerBar: fc.integer({ min: 1, max: 32 }),
    beatUnit: fc.constantFrom(...BEAT_UNITS),
    meters: fc.array(
      fc.record({
        at,
        beatsPerBar: fc.integer({ min: 1, max: 32 }),
        beatUnit: fc.constantFrom(...BEAT_UNITS),
      }),
      { maxLength: 4 },
    ),
    tempos: fc.array(fc.record({ at, bpm, isGradual: fc.boolean(), since: fc.option(at) }), { maxLength: 6 }),
    scenes: fc.array(fc.option(bpm), { minLength: 1, maxLength: 4 }),
    parts: fc.array(
      fc.record({
        scene: fc.nat(3),
        length: fc.oneof(
          fc.integer({ min: 1, max: 4 * BEAT }).map((n) => ({ amount: n / BEAT, unit: 'beats' as const })),
          fc.integer({ min: 1, max: 9 }).map((amount) => ({ amount, unit: 'bars' as const })),
        ),
      }),
      { minLength: 1, maxLength: 6 },
    ),
  })
  .map(({ meters, tempos, scenes, parts, ...head }): Song => {
    const song: Song = {
      ...PLAIN_SONG,
      ...head,
      id: 's',
      rigId: 'r',
      name: 'S',
      lengthS: 0,
      scenes: scenes.map((tempoBpm, i) => ({ ...PLAIN_SCENE, id: `c${i}`, name: `C${i}`, tempoBpm })),
      parts: parts.map((p, i) => ({
        id: `p${i}`,
        sceneId: `c${p.scene % scenes.length}`,
        name: '',
        remark: '',
        length: p.length,
      })),
    };
    let line = { ...PLAIN_LINE, tempos: [] as Song['line']['tempos'][number][] };
    for (const { at: beat, ...shape } of meters.sort((a, b) => a.at - b.at)) {
      const place = barBeatAt(songLine({ ...song, line }), beat);
      line = {
        ...line,
        tempos: [...line.tempos, { ...PLAIN_TEMPO_CHANGE, id: freshId(), ...place, ...shape }],
      };
    }
    const bars = songLine({ ...song, line });
    for (const { at: beat, since, ...change } of tempos)
      line = {
        ...line,
        tempos: [
          ...line.tempos,
          {
            ...PLAIN_TEMPO_CHANGE,
            id: freshId(),
            ...barBeatAt(bars, beat),
            ...change,
            since: since === null ? null : barBeatAt(bars, since),
          },
        ],
      };
    return { ...song, line };
  });

/** A file has 480 places in a beat: a bar counted from within one of another kind may begin between two of them. */
const isOnTicks = (song: Song): boolean =>
  songLine(song).parts.every(
    ({ atBeat, beats }) =>
      Math.abs(atBeat! * BEAT - Math.round(atBeat! * BEAT)) < 1e-6 &&
      Math.abs(beats! * BEAT - Math.round(beats! * BEAT)) < 1e-6,
  );

/** Beats that are looked at: every one, and what lies between. */
const looked = (beats: number): number[] => Array.from({ length: Math.ceil(beats * 2) + 1 }, (_, i) => i / 2);

describe('songs with tempos at any beat, bars of any kind and scenes that are left out', () => {
  it('are the same song again out of their file, in the second of every beat', () => {
    fc.assert(
      fc.property(anySong, (song) => {
        fc.pre(isOnTicks(song));
        const file = readSmf(writeSmf(songToSmf(empty, song)));
        if (!file.ok) throw new Error(file.error.sentence);
        const before = songLine(song);
        const again = songLine({ ...songFromSmf(empty, file.value, 'S', freshId).song, id: 's', rigId: 'r' });
        for (const beat of looked(before.beats!)) {
          expect(Math.abs(secondsAt(again, beat) - secondsAt(before, beat))).toBeLessThan(1e-6);
          expect(barBeatAt(again, beat).bar).toBe(barBeatAt(before, beat).bar);
        }
        expect(again.parts.map((p) => p.atBeat)).toEqual(
          before.parts.map((p) => expect.closeTo(p.atBeat!, 9)),
        );
      }),
      { seed: 31, numRuns: 300 },
    );
  });

  it('are read by a general library in the same seconds', () => {
    fc.assert(
      fc.property(anySong, (song) => {
        fc.pre(isOnTicks(song));
        const line = songLine(song);
        const { header } = new midi.Midi(writeSmf(songToSmf(empty, song)));
        for (const beat of looked(line.beats!))
          // A file has whole microseconds to a beat.
          expect(Math.abs(header.ticksToSeconds(beat * BEAT) - secondsAt(line, beat))).toBeLessThan(
            1e-6 + beat * 0.5e-6,
          );
      }),
      { seed: 32, numRuns: 100 },
    );
  });

  it('are played in the times in which they are laid out, and last that long in the running order', () => {
    fc.assert(
      fc.property(anySong, fc.nat(3), (song, left) => {
        const leftOut = song.scenes.length > 1 ? [song.scenes[left % song.scenes.length]!.id] : [];
        const kept = song.parts.filter((p) => !leftOut.includes(p.sceneId));
        const line = songLine(song, kept);
        const played = playedAt(song, leftOut);
        expect(played).toEqual(line.parts.map((p) => expect.closeTo(p.startS!, 6)));
        const entry = {
          ...PLAIN_ENTRY,
          id: 'e',
          kind: 'song' as const,
          songId: 's',
          lengthS: null,
          leftOutSceneIds: leftOut,
        };
        const sum = ({ parts }: typeof line): number => parts.reduce((s, p) => s + p.lengthS!, 0);
        expect(entryLengthS(entry, { ...song, lengthS: sum(songLine(song)) })).toBeCloseTo(sum(line), 6);
      }),
      { seed: 33, numRuns: 300 },
    );
  });
});

/** When each part begins when the time line runs by itself, in s. */
function playedAt(song: Song, leftOut: readonly string[]): number[] {
  const world = compileWorld({
    rig: makeRig([]),
    presets: [],
    setName: '',
    songs: [song],
    entryIds: ['e'],
    leftOut: [leftOut],
  });
  if (world.songs[0]!.parts.length === 0) return [];
  let state = initialState(world, 0);
  const starts: number[] = [];
  let before: string | null = null;
  let wakeMs = 0;
  let event: LiveEvent = { kind: 'command', atMs: 0, command: { kind: 'line', to: 'start' } };
  while (wakeMs < Infinity && (starts.length === 0 || state.line?.isRunning)) {
    const done = step(world, state, event);
    state = done.state;
    wakeMs = done.effects.reduce((at, e) => (e.kind === 'wake' ? e.atMs : at), Infinity);
    const { partId } = state.position;
    if (partId !== before && partId !== null) starts.push(event.atMs / 1000);
    before = partId;
    event = { kind: 'tick', atMs: wakeMs };
  }
  return starts;
}
