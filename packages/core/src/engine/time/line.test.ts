import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Action } from '../../floor';
import { PLAIN_ROUTE, type Route } from '../../routing';
import { controller, encode, hex, noteOff, noteOn, program, realTime, type Message } from '../../midi';
import {
  PLAIN_LINE,
  PLAIN_TEMPO_CHANGE,
  secondsAt,
  songLine,
  type Cue,
  type Scene,
  type Song,
  type TimeLine,
} from '../../show';
import {
  cable,
  makeBoard,
  makeDevice,
  makeFunction,
  makePort,
  makeRig,
  makeSong,
  valuesOf,
} from '../../testing.test-support';
import { heardTempo, withTick } from './clockTempo';
import { lineBeat } from './lineTimes';
import {
  changeShow,
  compileWorld,
  initialState,
  songCalls,
  step,
  type Command,
  type LiveEvent,
  type LiveState,
  type Show,
  type World,
} from '../index';

const out = makePort({ id: 'out', direction: 'out', link: 'usb', atComputer: true });
const back = makePort({ id: 'keys', direction: 'in', link: 'usb', atComputer: true });
const cc = (id: string, number: number, arms: string | null = null) =>
  makeFunction({
    id,
    arms,
    drive: { kind: 'controller', controller: number },
    shape:
      arms === null ? { kind: 'range', min: 0, max: 127, shownFrom: 0 } : { kind: 'switch', off: 0, on: 127 },
  });
const tracks = ['Bow', 'Voice', 'Hum'].map((name, i) => cc(name, 101 + i, name));
const rig = makeRig(
  [
    makeDevice({ role: 'carrier', ports: [out, back] }),
    makeDevice({
      id: 'host',
      name: 'Host',
      channel: 0,
      ports: [makePort({ id: 'in', direction: 'in' })],
      chart: [cc('wash', 91), cc('send', 12), ...tracks],
    }),
  ],
  [cable(out, makePort({ id: 'in', direction: 'in' }))],
);

let ids = 0;
const cue = (bar: number, beat: number, actions: readonly object[], name = `at ${bar}.${beat}`): Cue => ({
  id: `cue-${++ids}`,
  name,
  bar,
  beat,
  actions: actions.map((a) => ({ ...a, id: `action-${++ids}` }) as Action),
});
const set = (functionId: string, value: number) => ({ kind: 'set', functionId, value });

/** 120 bpm, bars of four: Intro 4 bars, Verse 4, Chorus 4. */
const songOf = (line: Partial<TimeLine> = {}, scenes: readonly Partial<Scene>[] = []): Song => {
  const song = makeSong('Song', [
    ['Intro', { wash: 1 }],
    ['Verse', { wash: 2 }],
    ['Chorus', { wash: 3 }],
  ]);
  return {
    ...song,
    tempoBpm: 120,
    scenes: song.scenes.map((s, i) => ({ ...s, ...scenes[i] })),
    line: { ...PLAIN_LINE, ...line },
    parts: song.scenes.map((s, i) => ({
      id: `part-${i}`,
      sceneId: s.id,
      name: '',
      length: { amount: 4, unit: 'bars' },
      remark: '',
    })),
  };
};

class Play {
  world: World;
  state: LiveState;
  readonly sent: [number, string][] = [];
  readonly said: string[] = [];
  private wakeMs = Infinity;
  constructor(show: Partial<Show>) {
    this.world = compileWorld({ rig, presets: [], setName: '', songs: [], ...show });
    this.state = initialState(this.world, 0);
  }
  do(atMs: number, command: Command): this {
    this.wait(atMs - 1e-6);
    return this.run({ kind: 'command', atMs, command });
  }
  hear(atMs: number, message: Message, portId = 'keys'): this {
    this.wait(atMs - 1e-6);
    return this.run({ kind: 'message', atMs, portId, message });
  }
  wait(untilMs: number): this {
    while (this.wakeMs <= untilMs) this.run({ kind: 'tick', atMs: this.wakeMs });
    return this.run({ kind: 'tick', atMs: untilMs });
  }
  edit(atMs: number, show: Partial<Show>): this {
    this.wait(atMs);
    const changed = changeShow(this.world, this.state, { ...this.world.show, ...show }, atMs);
    this.world = changed.world;
    this.take(changed);
    return this;
  }
  private run(event: LiveEvent): this {
    this.take(step(this.world, this.state, event));
    return this;
  }
  private take({ state, effects }: ReturnType<typeof step> | ReturnType<typeof changeShow>): void {
    this.state = state;
    this.wakeMs = Infinity;
    for (const e of effects) {
      if (e.kind === 'send') this.sent.push([Math.round(e.atMs * 1000) / 1000, hex(encode(e.message))]);
      if (e.kind === 'wake') this.wakeMs = e.atMs;
      if (e.kind === 'note') this.said.push(e.note.code);
    }
  }
  get beat(): number {
    return this.state.line ? lineBeat(this.world, this.state.line, this.state.atMs) : 0;
  }
  get scene(): string | undefined {
    const { sceneId } = this.state.position;
    return this.world.songs.flatMap((s) => s.song.scenes).find((s) => s.id === sceneId)?.name;
  }
}
const play = (line: Partial<TimeLine> = {}, scenes: readonly Partial<Scene>[] = []) =>
  new Play({ songs: [songOf(line, scenes)] });
const start = { kind: 'line', to: 'start' } as const;
const stop = { kind: 'line', to: 'stop' } as const;
const goOn = { kind: 'line', to: 'continue' } as const;

describe('a time line by its own tempo', () => {
  it('begins parts at their bars and does cues at their beats, in order', () => {
    // 120 bpm: a bar is 2 s, so Verse at 8 s, the cue of bar 6 beat 3 at 11 s, Chorus at 16 s, the end at 24 s.
    const p = play({ cues: [cue(6, 3, [set('send', 40), set('send', 41)])] });
    p.do(0, start).wait(30_000);
    expect(p.sent).toEqual([
      [0, 'B0 5B 01'],
      [8000, 'B0 5B 02'],
      [11_000, 'B0 0C 28'],
      [11_000, 'B0 0C 29'],
      [16_000, 'B0 5B 03'],
    ]);
    expect(p.state.line).toMatchObject({ isRunning: false, beat: 48 });
  });

  it('leaves parts to the foot where they are not by time, and passes one that the foot began', () => {
    const foot = play({ partsByTime: false, cues: [cue(2, 1, [set('send', 5)])] });
    foot.do(0, start).wait(20_000);
    expect(foot.sent).toEqual([[2000, 'B0 0C 05']]);
    const early = play();
    early.do(0, start).do(7500, { kind: 'scene', to: 'next' }).wait(12_000);
    expect(early.sent.map(([at]) => at)).toEqual([0, 7500]);
  });

  it('stops where it is and goes on from there', () => {
    const p = play();
    p.do(0, start).do(7000, stop).wait(50_000);
    expect(p.beat).toBe(14);
    p.do(60_000, goOn).wait(61_000);
    expect(p.sent.at(-1)).toEqual([61_000, 'B0 5B 02']);
  });

  it('changes its tempo at the bar that says so, and a tap counts from where it is', () => {
    const p = play({ tempos: [{ ...PLAIN_TEMPO_CHANGE, id: 't', bar: 3, bpm: 60 }] });
    // Bars 1–2 at 120 take 4 s, bars 3–4 at 60 take 8 s: Verse at 12 s.
    p.do(0, start).wait(12_500);
    expect(p.sent.at(-1)).toEqual([12_000, 'B0 5B 02']);
    const tapped = play();
    tapped.do(0, start);
    // Four taps a second apart from 1 s on are 60 bpm from the second on: beat 4 at 2 s, then a beat a second.
    for (const at of [1000, 2000, 3000]) tapped.do(at, { kind: 'tap' });
    tapped.wait(20_000);
    expect(tapped.sent.map(([at]) => at)).toEqual([0, 2000 + 12_000]);
  });

  it('goes back from a tapped tempo to the one that is written where it stands', () => {
    const back = { kind: 'song-tempo' };
    const p = play({ cues: [cue(4, 1, [back])] });
    p.do(0, start);
    // Tapped to 60 bpm: beat 4 at 2 s, beat 12 (bar 4) at 10 s; from there at 120 again, so Verse at beat 16 is at 12 s.
    for (const at of [1000, 2000, 3000]) p.do(at, { kind: 'tap' });
    p.wait(20_000);
    expect(p.sent.map(([at]) => at).slice(0, 2)).toEqual([0, 12_000]);
    // Bars 1–2 at 120, from bar 3 on at 60: beat 8 at 4 s. Tapped to 120 there, beat 12 is at 6 s instead of 8 s.
    const slower = play({
      tempos: [{ ...PLAIN_TEMPO_CHANGE, id: 't', bar: 3, bpm: 60 }],
      cues: [cue(4, 1, [back])],
    });
    slower.do(0, start);
    for (const at of [4000, 4500]) slower.do(at, { kind: 'tap' });
    slower.wait(20_000);
    // One beat of the tapping still at 60, three at 120: bar 4 begins at 6 s; its four beats at 60 again.
    expect(slower.sent.at(-1)![0]).toBe(4500 + 3.5 * 500 + 4000);
  });

  it('plays its loop again and again, until it is switched off', () => {
    const p = play({
      loop: { fromBar: 2, toBar: 2, isOn: true },
      cues: [cue(2, 1, [set('send', 1)]), cue(3, 1, [set('send', 2)])],
    });
    p.do(0, start).wait(7000);
    expect(p.sent.filter(([, b]) => b.startsWith('B0 0C'))).toEqual([
      [2000, 'B0 0C 01'],
      [4000, 'B0 0C 01'],
      [6000, 'B0 0C 01'],
    ]);
    p.do(7000, { kind: 'loop', to: 'off' }).wait(9000);
    expect(p.sent.at(-1)).toEqual([8000, 'B0 0C 02']);
  });

  it('jumps to a cue: what holds there is recalled whole, then the cue is done', () => {
    const p = play({
      cues: [
        cue(5, 2, [set('send', 9), { kind: 'raw', portId: 'out', bytes: [0xf6] }]),
        cue(7, 1, [set('send', 10)], 'Out'),
      ],
    });
    p.do(0, start).do(500, { kind: 'cue', index: 1 });
    // Verse, what the cue passed over has set (its raw bytes are no state), then the cue itself.
    expect(p.sent.slice(1)).toEqual([
      [500, 'B0 5B 02'],
      [500, 'B0 0C 09'],
      [500, 'B0 0C 0A'],
    ]);
    expect(p.beat).toBe(24);
    p.wait(4600);
    expect(p.sent.at(-1)).toEqual([4500, 'B0 5B 03']);
  });

  it('does the step of a cue each time that its loop comes round, however close the foot’s own steps may not be', () => {
    const p = new Play({
      rig: { ...rig, stepGuardMs: 5000 },
      songs: [
        songOf({
          partsByTime: false,
          loop: { fromBar: 2, toBar: 2, isOn: true },
          cues: [cue(2, 1, [{ kind: 'scene', to: { kind: 'next' } }])],
        }),
      ],
    });
    p.do(0, start).wait(6500);
    expect(p.sent).toEqual([
      [2000, 'B0 5B 01'],
      [4000, 'B0 5B 02'],
      [6000, 'B0 5B 03'],
    ]);
  });

  it('jumps to a cue without switching over what a cue before it switches over, but off what it switches off', () => {
    const route: Route = {
      ...PLAIN_ROUTE,
      id: 'through',
      name: 'Through',
      from: { ...PLAIN_ROUTE.from, portIds: ['keys'] },
      to: [{ portId: 'out', channel: 0 }],
    };
    const heardAfterJump = (to: 'off' | 'toggle') => {
      const switching = cue(5, 2, [{ kind: 'route', routeId: route.id, part: 'route', to }]);
      const p = new Play({
        rig: { ...rig, routing: { lines: [], othersTo: [], routes: [route] } },
        songs: [songOf({ cues: [switching, cue(7, 1, [], 'Out')] })],
      });
      p.do(0, start).do(500, { kind: 'cue', index: 1 });
      const from = p.sent.length;
      return p
        .hear(600, noteOn(0, 60, 90))
        .sent.slice(from)
        .map(([, b]) => b);
    };
    expect(heardAfterJump('toggle')).toEqual(['90 3C 5A']);
    expect(heardAfterJump('off')).toEqual([]);
  });

  it('knows the next cue and the one before, and says where there is none', () => {
    const cues = [cue(2, 1, [set('send', 1)]), cue(4, 1, [set('send', 2)])];
    const p = play({ cues });
    const jump = (to: object) =>
      play({ cues: [...cues, cue(1, 1, [{ kind: 'cue', to }])] })
        .do(0, start)
        .wait(0);
    expect(jump({ kind: 'next' }).beat).toBe(4);
    expect(jump({ kind: 'at', index: 2 }).beat).toBe(12);
    p.do(0, { kind: 'cue', index: 7 });
    expect(p.said).toEqual(['no-such-cue']);
    expect(play().do(0, { kind: 'loop', to: 'on' }).said).toEqual(['no-loop']);
  });

  it('is over where another song begins', () => {
    const p = new Play({ songs: [songOf(), songOf()] });
    p.do(0, start).do(1000, { kind: 'song', to: 'next' }).wait(20_000);
    expect(p.state.line).toBe(null);
    expect(p.sent.map(([at]) => at)).toEqual([0]);
  });

  it('stands where it stood when it is edited on the way, and does nothing that is moved behind it', () => {
    const early = cue(2, 1, [set('send', 7)]);
    const p = play({ cues: [{ ...early, bar: 4 }] });
    const song = p.world.show.songs[0]!;
    p.do(0, start).edit(5000, { songs: [{ ...song, line: { ...song.line, cues: [early] } }] });
    expect(p.beat).toBe(10);
    p.wait(9000);
    expect(p.sent.map(([at]) => at)).toEqual([0, 8000]);
  });

  it('sends the same whether time is looked at once or a thousand times', () => {
    const song = songOf({
      cues: [
        cue(1, 2.5, [set('send', 1)]),
        cue(6, 4, [
          {
            kind: 'ramp',
            functionId: 'send',
            from: null,
            to: 90,
            time: { amount: 2, unit: 'beats' },
            curve: 'linear',
          },
        ]),
      ],
      tempos: [{ ...PLAIN_TEMPO_CHANGE, id: 't', bar: 3, bpm: 90, beatsPerBar: 3, isGradual: true }],
      loop: { fromBar: 2, toBar: 3, isOn: false },
    });
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 30_000 }), { maxLength: 40 }), (looks) => {
        const once = new Play({ songs: [song] }).do(0, start);
        const often = new Play({ songs: [song] }).do(0, start);
        for (const at of looks.toSorted((a, b) => a - b)) often.wait(at);
        expect(often.wait(40_000).sent).toEqual(once.wait(40_000).sent);
      }),
      { seed: 1207, numRuns: 60 },
    );
  });
});

/** Ticks of a clock at 24 to the quarter note, each up to `jitterMs` early or late. Source: MIDI 1.0 (from memory). */
function ticks(bpm: number, count: number, fromMs: number, jitterMs: number, seed: number): number[] {
  const random = fc.sample(fc.double({ min: -1, max: 1, noNaN: true }), { numRuns: count, seed });
  return random.map((r, i) => fromMs + 50 + (i * 60_000) / bpm / 24 + r * jitterMs);
}
const follows: Partial<TimeLine> = { follows: { portId: 'keys' } };

describe('a time line that follows MIDI clock', () => {
  it.each([60, 97.3, 120, 174])('hears %s bpm within 0.5 % through 3 ms of jitter', (bpm) => {
    for (let seed = 1; seed <= 20; seed++) {
      const times = ticks(bpm, 24 * 16, 0, 3, seed);
      let heard: readonly number[] = [];
      times.forEach((at, i) => {
        heard = withTick(heard, at);
        const tempo = heardTempo(heard);
        if (i >= 48) expect(Math.abs(tempo! - bpm) / bpm).toBeLessThan(0.005);
      });
    }
  });

  it('takes up another tempo within two beats', () => {
    let heard: readonly number[] = [];
    for (const at of ticks(120, 200, 0, 3, 5)) heard = withTick(heard, at);
    for (const at of ticks(90, 48, heard.at(-1)! - 20, 3, 6)) heard = withTick(heard, at);
    expect(Math.abs(heardTempo(heard)! - 90)).toBeLessThan(1);
  });

  it('does cues on their beat within 10 ms of the ideal, 3 ms of jitter and 2 s without a clock notwithstanding', () => {
    for (let seed = 1; seed <= 20; seed++) {
      const cues = Array.from({ length: 40 }, (_, i) =>
        cue(1 + Math.floor(i / 4), 1 + (i % 4), [set('send', i)]),
      );
      const p = play({ ...follows, whenLost: 'go-on', partsByTime: false, cues });
      p.hear(0, realTime('start'));
      const all = ticks(120, 24 * 40, 0, 3, seed);
      // Lost from beat 20 to beat 24, two seconds.
      all.forEach((at, i) => {
        if (i <= 480 || i > 576) p.hear(at, realTime('clock'));
      });
      const at = p.sent.map(([ms]) => ms);
      expect(at).toHaveLength(40);
      at.forEach((ms, i) => expect(Math.abs(ms - (50 + i * 500))).toBeLessThan(10));
      expect(p.said.filter((c) => c.startsWith('clock'))).toEqual(['clock-lost', 'clock-found']);
    }
  });

  it('waits up to 6 ms for the tick of a cue, and does it without the tick after that', () => {
    const sentAt = (lateMs: number) => {
      const p = play({
        ...follows,
        whenLost: 'go-on',
        partsByTime: false,
        cues: [cue(2, 1, [set('send', 9)])],
      });
      p.hear(0, realTime('start'));
      const times = ticks(120, 97, 0, 0, 1);
      times.slice(0, 96).forEach((at) => p.hear(at, realTime('clock')));
      p.hear(times[96]! + lateMs, realTime('clock'));
      return p.sent.find(([, b]) => b === 'B0 0C 09')![0] - times[96]!;
    };
    expect([0, 4, 5.9, 40].map(sentAt).map((ms) => Number(ms.toFixed(3)))).toEqual([0, 4, 5.9, 6]);
  });

  it('stands while the clock is lost where it is to wait, and goes on with it', () => {
    const p = play({ ...follows, cues: [cue(2, 1, [set('send', 9)])] });
    p.hear(0, realTime('start'));
    const times = ticks(120, 97, 0, 0, 1);
    times.slice(0, 60).forEach((at) => p.hear(at, realTime('clock')));
    p.wait(9000);
    expect(p.beat).toBeCloseTo(60 / 24, 6);
    times.slice(60).forEach((at) => p.hear(at + 10_000, realTime('clock')));
    expect(p.sent.at(-1)).toEqual([times[96]! + 10_000, 'B0 0C 09']);
  });

  it('waits for the first tick after start, which is its first beat', () => {
    const p = play(follows);
    p.hear(0, realTime('start')).wait(5000);
    expect(p.sent).toEqual([]);
    p.hear(5000, realTime('clock'));
    expect(p.sent).toEqual([[5000, 'B0 5B 01']]);
  });

  it('lands on the right cue by song position, which counts sixteenths', () => {
    // Bar 6, beat 3 is beat 22 from 0: 88 sixteenths. Source: MIDI 1.0, "Song Position Pointer" (from memory).
    const p = play({ ...follows, cues: [cue(6, 1, [set('send', 5)]), cue(6, 3, [set('send', 6)])] });
    p.hear(0, { kind: 'song-position', sixteenths: 88 } as Message);
    expect(p.sent.map(([, b]) => b)).toEqual(['B0 5B 02', 'B0 0C 05', 'B0 0C 06']);
    p.hear(100, realTime('continue')).hear(120, realTime('clock'));
    expect(p.beat).toBeCloseTo(22, 6);
    // Ten beats on, 240 ticks, Chorus begins.
    for (let i = 1; i <= 240; i++) p.hear(120 + i * 20, realTime('clock'));
    expect(p.sent.at(-1)).toEqual([120 + 240 * 20, 'B0 5B 03']);
    expect(p.scene).toBe('Chorus');
  });

  it('does not listen to the clock of another port', () => {
    const p = play(follows);
    p.hear(0, realTime('start'), 'elsewhere').hear(10, realTime('clock'), 'elsewhere');
    expect(p.state.line).toBe(null);
  });
});

describe('a scene that arms exactly some tracks', () => {
  const armed = (...names: string[]) => ({ armedFunctionIds: names });
  it('arms them first and lets go of every other one after it, whoever armed it', () => {
    const p = play({}, [armed('Bow'), {}, armed('Voice', 'Hum')]);
    p.do(0, { kind: 'go', songIndex: 0, sceneIndex: 0 });
    expect(p.sent.map(([, b]) => b)).toEqual(['B0 65 7F', 'B0 5B 01', 'B0 66 00', 'B0 67 00']);
    p.do(100, { kind: 'set', functionId: 'Hum', value: 1 });
    p.do(200, { kind: 'go', songIndex: 0, sceneIndex: 1 });
    // Carried over: exactly Bow still, so what the foot armed goes.
    expect(p.sent.slice(5).map(([, b]) => b)).toEqual(['B0 5B 02', 'B0 67 00']);
    p.do(300, { kind: 'go', songIndex: 0, sceneIndex: 2 });
    expect(p.sent.slice(7).map(([, b]) => b)).toEqual(['B0 5B 03', 'B0 66 7F', 'B0 67 7F', 'B0 65 00']);
  });
  it('arms none where it names none', () => {
    const p = play({}, [armed('Bow'), armed()]);
    p.do(0, { kind: 'go', songIndex: 0, sceneIndex: 0 }).do(9, { kind: 'go', songIndex: 0, sceneIndex: 1 });
    expect(p.sent.at(-1)![1]).toBe('B0 65 00');
    expect(tracks.map((t) => valuesOf(p.world, p.state)[t.id])).toEqual([0, 0, 0]);
  });
});

describe('layers', () => {
  const layer = (id: string, from: number, to: number, transpose: number): Route => ({
    ...PLAIN_ROUTE,
    id,
    name: id,
    isOn: false,
    isLayer: true,
    from: { ...PLAIN_ROUTE.from, portIds: ['keys'], numbers: [{ from, to }] },
    change: { ...PLAIN_ROUTE.change, transpose },
    to: [{ portId: 'out', channel: 0 }],
    after: 'pass',
  });
  const routing = { lines: [], othersTo: [], routes: [layer('low', 0, 59, 12), layer('high', 60, 127, 0)] };
  const on = (...ids: string[]) => ({
    routes: ids.map((routeId) => ({ routeId, part: 'route' as const, on: true })),
  });
  const songs = [
    songOf({}, [on('low'), { ...on('high'), values: [{ functionId: 'low', value: 80, way: null }] }]),
    songOf(),
  ];
  const go = (songIndex: number, sceneIndex: number) => ({ kind: 'go', songIndex, sceneIndex }) as const;
  const layered = () => new Play({ rig: { ...rig, routing }, songs });
  const bytes = (p: Play, from: number) => p.sent.slice(from).map(([, b]) => b);

  it('sound in the scenes that switch them, over their range, transposed', () => {
    const p = layered().do(0, go(0, 0));
    const from = p.sent.length;
    p.hear(1, noteOn(0, 50, 90))
      .hear(2, noteOn(0, 70, 90))
      .hear(3, noteOff(0, 50, 0));
    expect(bytes(p, from)).toEqual(['90 3E 5A', '80 3E 00']);
  });
  it('take pedals and bends whatever their range', () => {
    const p = layered().do(0, go(0, 0));
    const from = p.sent.length;
    p.hear(1, controller(0, 64, 127))
      .hear(2, noteOn(0, 50, 90))
      .do(3, go(0, 1));
    // What the pedal holds is let go where the layer is switched off, and so is the note.
    expect(bytes(p, from).filter((b) => !b.startsWith('B0 5B') && !b.startsWith('B0 07'))).toEqual([
      'B0 40 7F',
      '90 3E 5A',
    ]);
    const later = p.sent.length;
    p.hear(4, noteOff(0, 50, 0)).hear(5, controller(0, 64, 0));
    expect(bytes(p, later)).toContain('80 3E 00');
    expect(bytes(p, later)).toContain('B0 40 00');
  });
  it('have their level as the volume of what they play', () => {
    const p = layered().do(0, go(0, 1));
    // Controller 7 is volume. Source: MIDI 1.0 (from memory).
    expect(bytes(p, 0)).toContain('B0 07 50');
  });
  it('end notes where they began when the scene changes, and are silent in a song that does not name them', () => {
    const p = layered()
      .do(0, go(0, 0))
      .hear(1, noteOn(0, 50, 90));
    const from = p.sent.length;
    p.do(2, go(1, 0))
      .hear(3, noteOff(0, 50, 0))
      .hear(4, noteOn(0, 51, 90))
      .hear(5, noteOn(0, 71, 90));
    expect(bytes(p, from).filter((b) => /^[89]/.test(b))).toEqual(['80 3E 00']);
    expect(p.state.sounding).toEqual([]);
  });
});

describe('programs that call songs', () => {
  const calls = { portId: 'keys', channel: 2, base: 10 };
  it('begin the song at their place, base + k − 1, and nothing else does', () => {
    const p = new Play({ songs: [songOf(), songOf()], calls });
    p.hear(0, program(2, 11));
    expect(p.state.position.entryId).toBe(p.world.songs[1]!.entryId);
    expect(p.scene).toBe('Intro');
    p.hear(1, program(1, 10))
      .hear(2, program(2, 12))
      .hear(3, controller(2, 10, 1));
    expect(p.state.position.entryId).toBe(p.world.songs[1]!.entryId);
    p.hear(4, program(2, 10));
    expect(p.state.position.entryId).toBe(p.world.songs[0]!.entryId);
  });

  it('are held against controls and routes that listen to the same, and against the last program', () => {
    const { board, device } = makeBoard(1, 0, []);
    const pads = { ...device, name: 'Pads', channel: 2 };
    const sends = { ...board.controls[0]!, sends: { kind: 'program' as const, number: 126 } };
    const taking: Route = {
      ...PLAIN_ROUTE,
      id: 'r',
      name: 'All on',
      from: {
        ...PLAIN_ROUTE.from,
        portIds: ['board-out'],
        kinds: ['program'],
        numbers: [{ from: 127, to: 127 }],
      },
      to: [{ portId: 'out', channel: null }],
    };
    const devices = [...rig.devices, pads];
    const world = compileWorld({
      rig: {
        ...rig,
        devices,
        boards: [{ ...board, controls: [sends] }],
        routing: { lines: [], othersTo: [], routes: [taking] },
      },
      presets: [],
      setName: '',
      songs: [],
    });
    const found = songCalls(world, { portId: 'board-out', channel: 2, base: 125 }, 4);
    expect(found.map((c) => c.program)).toEqual([125, 126, 127, null]);
    expect(found.map((c) => c.faults.length)).toEqual([0, 1, 1, 1]);
    expect(found[1]!.faults[0]).toMatch(/^Pads switch 1 sends this program/);
    expect(found[2]!.faults[0]).toMatch(/^The route All on takes/);
  });
});

describe('a tempo that changes on the way', () => {
  const change = (bar: number, part: object) => ({
    ...PLAIN_TEMPO_CHANGE,
    id: `change-${bar}`,
    bar,
    ...part,
  });
  it('is as it is written again when the song is run from its beginning', () => {
    const song = songOf({ tempos: [change(3, { bpm: 60 })], cues: [cue(5, 1, [set('send', 9)])] });
    const p = new Play({ songs: [song] });
    p.do(0, { kind: 'line', to: 'start' }).wait(9000);
    expect(p.state.tempo.bpm).toBe(60);
    p.do(10_000, { kind: 'line', to: 'stop' }).do(20_000, { kind: 'line', to: 'start' }).wait(40_000);
    // Two bars at 120, two at 60: 4 s and 8 s.
    expect(p.sent.findLast(([, bytes]) => bytes === 'B0 0C 09')).toEqual([32_000, 'B0 0C 09']);
  });
  it('leaves a bar that was changed as it is when something else of the song is edited', () => {
    const song = songOf({ tempos: [change(2, { beatsPerBar: 3 })] });
    const p = new Play({ songs: [song] });
    p.do(0, { kind: 'line', to: 'start' }).wait(5000);
    expect(p.state.tempo.beatsPerBar).toBe(3);
    p.edit(5100, { songs: [{ ...song, name: 'Renamed' }] });
    expect(p.state.tempo.beatsPerBar).toBe(3);
  });
  it('counts the same in a part with seconds, where a change is written at its first beat', () => {
    const song = makeSong('Song', [['One', {}]], { tempoBpm: 100 });
    const laid = songLine({
      ...song,
      scenes: song.scenes.map((s) => ({ ...s, tempoBpm: 105 })),
      line: { ...PLAIN_LINE, tempos: [change(1, { bpm: 100 })] },
      parts: [
        { id: 'p', sceneId: song.scenes[0]!.id, name: '', length: { amount: 0.2, unit: 's' }, remark: '' },
      ],
    });
    expect(laid.parts[0]!.beats).toBeCloseTo(0.2 * (100 / 60), 12);
    expect(secondsAt(laid, laid.beats!)).toBeCloseTo(0.2, 12);
  });
});

describe('run from the middle of a part that glides', () => {
  const song = songOf({}, [
    {},
    { transition: { time: { amount: 8, unit: 'beats' }, curve: 'linear', switchAt: 0 } },
  ]);
  const gliding: Song = {
    ...song,
    scenes: song.scenes.map((s, i) =>
      i < 2 ? { ...s, values: [{ functionId: 'wash', value: [10, 90][i]!, way: null }] } : s,
    ),
  };
  it('begins where the drawing says, and comes to its end when the song does', () => {
    const p = new Play({ songs: [gliding] });
    // Verse begins at beat 16; two of its eight beats have passed.
    p.do(0, { kind: 'locate', beat: 18 });
    expect(p.sent).toEqual([[0, 'B0 5B 1E']]);
    p.do(1, { kind: 'line', to: 'continue' }).wait(4000);
    // Rounded it is there a little before its exact end at 3 s.
    expect(p.sent.at(-1)).toEqual([2980, 'B0 5B 5A']);
    const whole = new Play({ songs: [gliding] });
    whole.do(0, { kind: 'line', to: 'start' }).wait(9000);
    expect(valuesOf(whole.world, whole.state)['wash']).toBe(30);
  });
  it('behind its end stands at its end', () => {
    const p = new Play({ songs: [gliding] });
    p.do(0, { kind: 'locate', beat: 25 });
    expect(p.sent).toEqual([[0, 'B0 5B 5A']]);
  });
});
