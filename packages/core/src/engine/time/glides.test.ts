import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { PLAIN_CURVES } from '../../floor';
import type { Device } from '../../gear';
import { encode, hex } from '../../midi';
import { glideSteps, type Scene, type Song } from '../../show';
import {
  cable,
  makeDevice,
  makeFunction,
  makePort,
  makeRig,
  makeSong,
  valuesOf,
} from '../../testing.test-support';
import { retimed } from './rampTimes';
import { compileWorld, initialState, step, type Command, type LiveState, type World } from '../index';

const SETTLE_MS = 40;
const out = makePort({ id: 'out', direction: 'out', link: 'usb', atComputer: true });
const dinOut = makePort({ id: 'din', direction: 'out', link: 'din', atComputer: true });
const cc = (id: string, controller: number) =>
  makeFunction({ id, drive: { kind: 'controller', controller } });
const device = (id: string, port: string, chart: Device['chart']) =>
  makeDevice({ id, channel: 0, ports: [makePort({ id: port, direction: 'in' })], chart });
const rig = makeRig(
  [
    makeDevice({ role: 'carrier', ports: [out, dinOut] }),
    device('processor', 'in', [
      makeFunction({
        id: 'program',
        drive: { kind: 'program', bank: null },
        shape: { kind: 'program', names: [] },
        settleMs: SETTLE_MS,
      }),
      cc('level', 7),
      cc('wash', 91),
      makeFunction({
        id: 'snapshot',
        drive: { kind: 'controller', controller: 22 },
        shape: { kind: 'choice', first: 0, shownFrom: 1, labels: ['a', 'b', 'c'] },
      }),
    ]),
    device(
      'mixer',
      'din-in',
      Array.from({ length: 12 }, (_, i) => cc(`fader-${i}`, 20 + i)),
    ),
  ],
  [
    cable(out, makePort({ id: 'in', direction: 'in' })),
    cable(dinOut, makePort({ id: 'din-in', direction: 'in' })),
  ],
);

type Scenes = [string, Record<string, number>, Partial<Scene>?][];
const songOf = (scenes: Scenes, part: Partial<Song> = {}): Song => {
  const song = makeSong(
    'Song',
    scenes.map(([name, values]) => [name, values]),
    part,
  );
  return { ...song, scenes: song.scenes.map((s, i) => ({ ...s, ...scenes[i]![2] })) };
};
const over = (amount: number, unit: 's' | 'beats' = 's', switchAt = 0): Partial<Scene> => ({
  transition: { time: { amount, unit }, curve: 'linear', switchAt },
});

class Play {
  readonly world: World;
  state: LiveState;
  private sent: [number, string][] = [];
  private wakeMs = Infinity;
  constructor(...songs: Song[]) {
    this.world = compileWorld({ rig, presets: [], setName: '', songs });
    this.state = initialState(this.world, 0);
  }
  go(atMs: number, sceneIndex: number): this {
    return this.do(atMs, { kind: 'go', songIndex: 0, sceneIndex });
  }
  do(atMs: number, command: Command): this {
    this.wait(atMs);
    this.run({ kind: 'command', atMs, command });
    return this;
  }
  wait(untilMs: number): this {
    while (this.wakeMs <= untilMs) this.run({ kind: 'tick', atMs: this.wakeMs });
    return this;
  }
  fresh(): [number, string][] {
    return this.sent.splice(0).map(([atMs, bytes]) => [Math.round(atMs * 1000) / 1000, bytes]);
  }
  private run(event: Parameters<typeof step>[2]): void {
    const { state, effects } = step(this.world, this.state, event);
    this.state = state;
    this.wakeMs = Infinity;
    for (const e of effects)
      if (e.kind === 'send') this.sent.push([e.atMs, hex(encode(e.message))]);
      else if (e.kind === 'wake') this.wakeMs = e.atMs;
  }
}
const level = (value: number) => `B0 07 ${value.toString(16).toUpperCase().padStart(2, '0')}`;

describe('a scene that glides', () => {
  it('goes from where it is, in the steps that its chart shows, and ends exactly', () => {
    const play = new Play(
      songOf([
        ['A', { level: 10 }],
        ['B', { level: 90 }, over(0.5)],
      ]),
    );
    play.go(0, 0).fresh();
    const planned = glideSteps(10, 90, 'linear', 500).map((s) => [1000 + s.atMs, level(s.value)]);
    expect(play.go(1000, 1).wait(5000).fresh()).toEqual(planned);
    expect(planned.at(-1)).toEqual([1500, level(90)]);
  });

  it('in beats follows the tempo, also when it changes on the way', () => {
    const play = new Play(
      songOf(
        [
          ['A', { level: 0 }],
          ['B', { level: 100 }, over(4, 'beats')],
        ],
        { tempoBpm: 60 },
      ),
    );
    play.go(0, 0).fresh();
    // Two taps half a second apart: 120 bpm, so that the other two beats take one second.
    play.go(1000, 1).do(2500, { kind: 'tap' }).do(3000, { kind: 'tap' });
    expect(valuesOf(play.world, play.state)['level']).toBe(50);
    play.wait(20_000);
    const last = play.fresh().at(-1)!;
    expect(last[1]).toBe(level(100));
    // At the step before the end it is rounded there already.
    expect(last[0]).toBe(3990);
  });

  it('that is interrupted starts again from where it is, and one on the way back too', () => {
    const play = new Play(
      songOf([
        ['A', { level: 0 }, over(1)],
        ['B', { level: 100 }, over(1)],
        ['C', { level: 0 }, over(1)],
      ]),
    );
    play.go(0, 0);
    play.go(1000, 1).wait(1500).fresh();
    expect(valuesOf(play.world, play.state)['level']).toBe(50);
    const [first, ...rest] = play.go(1500, 2).wait(4000).fresh();
    expect(first![1]).toBe(level(49));
    expect(rest.at(-1)).toEqual([2500, level(0)]);
    // Hardly begun, and already back: nothing goes on to where it was meant to be.
    play.go(5000, 1).go(5001, 0).wait(9000);
    expect(valuesOf(play.world, play.state)['level']).toBe(0);
    expect(play.state.ramps).toEqual([]);
  });

  it('goes on through a scene that only carries its value', () => {
    const play = new Play(
      songOf([
        ['A', { level: 0 }],
        ['B', { level: 100 }, over(1)],
        ['C', { wash: 5 }],
      ]),
    );
    play.go(0, 0);
    play.go(1000, 1).wait(1500).fresh();
    const sent = play.go(1500, 2).wait(4000).fresh();
    expect(sent[0]).toEqual([1500, 'B0 5B 05']);
    expect(sent.at(-1)).toEqual([2000, level(100)]);
  });

  it.each([
    [0, 1000],
    [0.5, 1500],
    [1, 2000],
  ])('switches what cannot glide after %d of its time', (switchAt, atMs) => {
    const play = new Play(
      songOf([
        ['A', { level: 0, snapshot: 0 }],
        ['B', { level: 100, snapshot: 2 }, over(1, 's', switchAt)],
      ]),
    );
    play.go(0, 0).fresh();
    const sent = play.go(1000, 1).wait(9000).fresh();
    expect(sent.filter(([, bytes]) => bytes.startsWith('B0 16'))).toEqual([[atMs, 'B0 16 02']]);
  });

  it('one value can have another way than its scene', () => {
    const song = songOf([
      ['A', { level: 0, wash: 0 }],
      ['B', { level: 100, wash: 100 }, over(1)],
    ]);
    const at = (i: number): Song => ({
      ...song,
      scenes: song.scenes.map((s, n) =>
        n === 1
          ? { ...s, values: s.values.map((v) => (v.functionId === 'wash' ? { ...v, way: ways[i]! } : v)) }
          : s,
      ),
    });
    const ways = [
      { kind: 'at-once' },
      { kind: 'glide', time: { amount: 0.25, unit: 's' }, curve: 'linear' },
    ] as const;
    const lastOfWash = (i: number) =>
      new Play(at(i))
        .go(0, 0)
        .go(1000, 1)
        .wait(9000)
        .fresh()
        .findLast(([, b]) => b.startsWith('B0 5B'));
    expect(lastOfWash(0)).toEqual([1000, 'B0 5B 64']);
    expect(lastOfWash(1)).toEqual([1250, 'B0 5B 64']);
  });

  it('waits for a device that loads another program: its functions are set once it listens', () => {
    const play = new Play(
      songOf([
        ['A', { program: 1, level: 0 }],
        ['B', { program: 2, level: 100 }, over(1)],
      ]),
    );
    play.go(0, 0).wait(500).fresh();
    const sent = play.go(1000, 1).wait(5000).fresh();
    expect(sent[0]).toEqual([1000, 'C0 02']);
    // Two bytes take 0.64 ms on the way.
    expect(sent[1]).toEqual([1040.64, level(100)]);
    // A glide that begins while it still loads begins when it listens.
    const late = new Play(
      songOf([
        ['A', { program: 1, level: 0 }],
        ['B', { level: 100 }, over(1)],
      ]),
    );
    late.go(0, 0).fresh();
    expect(
      late
        .go(10, 1)
        .wait(5000)
        .fresh()
        .find(([, b]) => b === level(1))![0],
    ).toBeGreaterThanOrEqual(SETTLE_MS);
  });

  it('everything again is at once', () => {
    const play = new Play(
      songOf([
        ['A', { level: 0 }],
        ['B', { level: 100 }, over(1)],
      ]),
    );
    play.go(0, 0);
    play.go(1000, 1).wait(1300).fresh();
    expect(play.do(1300, { kind: 'scene', to: 'again' }).wait(9000).fresh()).toEqual([[1300, level(100)]]);
  });

  it('many on one link are spread so that it bears them beside what else it carries', () => {
    const faders = (value: number) =>
      Object.fromEntries(Array.from({ length: 12 }, (_, i) => [`fader-${i}`, value]));
    const play = new Play(
      songOf([
        ['A', faders(0)],
        ['B', faders(127), over(2)],
      ]),
    );
    play.go(0, 0).wait(900).fresh();
    const sent = play.go(1000, 1).wait(9000).fresh();
    // A three-byte message takes 0.96 ms on a DIN link.
    for (let from = 1000; from < 3000; from += 100) {
      const busyMs = sent.filter(([atMs]) => atMs >= from && atMs < from + 100).length * 0.96;
      expect(busyMs).toBeLessThanOrEqual(60);
    }
    for (let i = 0; i < 12; i++)
      expect(sent.findLast(([, b]) => b.startsWith(`B0 ${(20 + i).toString(16).toUpperCase()}`))![1]).toMatch(
        /7F$/,
      );
  });

  it('sends the same whether time is told in few ticks or in many', () =>
    fc.assert(
      fc.property(
        fc.constantFrom(...PLAIN_CURVES),
        fc.constantFrom(0.25, 0.5, 1.3),
        fc.array(fc.integer({ min: 1001, max: 2600 }), { maxLength: 40 }),
        (curve, amount, ticks) => {
          const song = songOf([
            ['A', { level: 0, wash: 127, snapshot: 0 }],
            [
              'B',
              { level: 127, wash: 3, snapshot: 1 },
              { transition: { time: { amount, unit: 's' }, curve, switchAt: 0.5 } },
            ],
          ]);
          const few = new Play(song).go(0, 0).go(1000, 1).wait(3000);
          const many = new Play(song).go(0, 0).go(1000, 1);
          for (const atMs of [...ticks].sort((a, b) => a - b))
            many.wait(atMs).do(atMs, { kind: 'learn', on: false });
          expect(many.wait(3000).fresh()).toEqual(few.fresh());
        },
      ),
      { seed: 44, numRuns: 100 },
    ));
});

describe('a glide that has not begun yet', () => {
  it('begins when its device listens, also when the tempo changes before', () => {
    const ramp = { functionId: 'level', from: 0, to: 9, curve: 'linear', amount: 1, unit: 'beats' } as const;
    const waiting = { ...ramp, bpm: 60, sinceMs: 100, share: 0, stepMs: 10, stepsDone: 0 };
    expect(retimed([waiting], 120, 50)).toEqual([{ ...waiting, bpm: 120 }]);
    expect(retimed([waiting], 120, 600)).toEqual([{ ...waiting, bpm: 120, sinceMs: 600, share: 0.5 }]);
  });
});

describe('the order in which a song is played', () => {
  const parts = (song: Song, ...order: number[]): Song => ({
    ...song,
    parts: order.map((n, i) => ({
      id: `p${i}`,
      sceneId: song.scenes[n]!.id,
      name: '',
      length: null,
      remark: '',
    })),
  });
  const song = songOf([
    ['Verse', { level: 10 }],
    ['Chorus', { level: 20, wash: 7 }],
    ['Outro', { level: 30 }],
  ]);

  it('next goes by its parts, and what a scene is does not depend on it', () => {
    const play = new Play(parts(song, 0, 1, 0, 1, 2));
    const levels = [0, 1, 2, 3, 4].map((i) => {
      play.do(i * 1000, { kind: 'scene', to: 'next' });
      return valuesOf(play.world, play.state)['level'];
    });
    expect(levels).toEqual([10, 20, 10, 20, 30]);
    // Back from the end by the same way.
    play.do(6000, { kind: 'scene', to: 'previous' }).do(7000, { kind: 'scene', to: 'previous' });
    expect(valuesOf(play.world, play.state)['level']).toBe(10);
    expect(play.state.position.partId).toBe('p2');
  });

  it('a scene by its number is the next part that is it, else the first', () => {
    const play = new Play(parts(song, 0, 1, 0, 1, 2));
    const partAfter = (atMs: number, sceneIndex: number) => play.go(atMs, sceneIndex).state.position.partId;
    expect([partAfter(0, 1), partAfter(1, 0), partAfter(2, 2), partAfter(3, 0)]).toEqual([
      'p1',
      'p2',
      'p4',
      'p0',
    ]);
  });

  it('a scene in no part can be played, and next is the song’s first part then', () => {
    const play = new Play(parts(song, 0, 1));
    play.go(0, 2);
    expect(play.state.position).toMatchObject({ sceneId: song.scenes[2]!.id, partId: null });
    play.do(1, { kind: 'scene', to: 'next' });
    expect(play.state.position.partId).toBe('p0');
  });

  it('brings the tempo of its scenes, and the song’s own to the left of them', () => {
    const timed = songOf([
      ['A', {}],
      ['B', {}, { tempoBpm: 150 }],
      ['C', {}],
    ]);
    const play = new Play(timed);
    const bpm = (sceneIndex: number, atMs: number) => play.go(atMs, sceneIndex).state.tempo.bpm;
    expect([bpm(0, 0), bpm(1, 1), bpm(2, 2), bpm(0, 3)]).toEqual([100, 150, 150, 100]);
  });
});
