import { describe, expect, it } from 'vitest';
import { PLAIN_FEEL, type Assignment } from '../floor';
import { channelPressure, controller, noteOff, noteOn, type Message } from '../midi';
import { assign, makeBoard, makeFunction, makePort, valuesOf } from '../testing.test-support';
import { compileWorld, isLampLit, type Command, type LiveEvent, type World } from './index';
import { play, showWithGear } from './playing.test-support';

/** What a small change of the code would break without anybody noticing: one case for each. */

const SETTLE_MS = 40;
const gear = (latencyMs: number) => ({
  ports: [makePort({ direction: 'in', link: latencyMs > 0 ? 'bluetooth' : 'usb', latencyMs })],
  chart: [
    makeFunction({
      id: 'program',
      drive: { kind: 'program', bank: null },
      shape: { kind: 'program', names: [] },
      settleMs: SETTLE_MS,
    }),
    makeFunction({ id: 'level', drive: { kind: 'controller', controller: 21 } }),
  ],
});

function makeWorld(assignments: Assignment[], latencyMs = 0): World {
  const { device, board, preset } = makeBoard(2, 0, [assignments]);
  const [pad, other] = board.controls;
  const controls = [pad!, { ...other!, kind: 'pad' as const, sends: { kind: 'note' as const, number: 36 } }];
  return compileWorld(showWithGear(gear(latencyMs), { device, board: { ...board, controls }, preset }));
}

const hear = (atMs: number, message: Message): LiveEvent => ({
  kind: 'message',
  atMs,
  portId: 'board-out',
  message,
});
const down = (atMs: number) => hear(atMs, controller(15, 30, 127));
const tick = (atMs: number): LiveEvent => ({ kind: 'tick', atMs });
const command = (atMs: number, given: Command): LiveEvent => ({ kind: 'command', atMs, command: given });
const ramp = {
  kind: 'ramp',
  functionId: 'level',
  from: 0,
  to: 100,
  time: { amount: 0.105, unit: 's' },
  curve: 'linear',
};

describe('a small change is noticed', () => {
  it('a program change forgets what else was known of its device', () => {
    const world = makeWorld([]);
    const set = (atMs: number, functionId: string) => command(atMs, { kind: 'set', functionId, value: 5 });
    expect(valuesOf(world, play(world, [set(0, 'level'), set(1, 'program')]).state)).toEqual({ program: 5 });
  });

  it('a device behind a slow link listens later by as much', () => {
    const both = [
      { kind: 'set', functionId: 'program', value: 1 },
      { kind: 'set', functionId: 'level', value: 2 },
    ] as never[];
    const times = (latencyMs: number) =>
      play(makeWorld([assign('s0', both)], latencyMs), [down(0), tick(500)]).sent;
    expect(times(0)).toEqual(['0 C0 01', `${SETTLE_MS} B0 15 02`]);
    expect(times(12)).toEqual(['0 C0 01', `${SETTLE_MS + 12} B0 15 02`]);
  });

  it('panic ends glides', () => {
    const { sent, state } = play(makeWorld([assign('s0', [ramp as never])]), [
      down(0),
      command(35, { kind: 'panic' }),
      tick(500),
    ]);
    expect(sent.filter((s) => s.includes('B0 15')).map((s) => s.split(' ')[0])).toEqual([
      '0',
      '10',
      '20',
      '30',
    ]);
    expect(state.ramps).toEqual([]);
  });

  it('a glide has its last value at its exact end', () => {
    const { sent } = play(makeWorld([assign('s0', [ramp as never])]), [down(0), tick(500)]);
    expect(sent.slice(-2)).toEqual(['100 B0 15 5F', '105 B0 15 64']);
  });

  it('the lamp of a glide is lit while it moves', () => {
    const world = makeWorld([assign('s0', [ramp as never])]);
    const lit = (toMs: number) => isLampLit(play(world, [down(0), tick(toMs)]).state, 's0');
    expect([lit(0), lit(104), lit(105)]).toEqual([true, true, false]);
  });

  it('pressure on another channel than the pad plays on is not its own', () => {
    const note = {
      kind: 'message',
      deviceId: 'gear',
      channel: null,
      send: 'note',
      number: 60,
      value: 90,
    } as never;
    const world = makeWorld([assign('s1', [note])]);
    const withFeel = {
      ...world.show,
      presets: world.show.presets.map((p) => ({
        ...p,
        feel: [{ kind: 'pad' as const, ...PLAIN_FEEL, pressure: 'channel' as const }],
      })),
    };
    const press = (channel: number) =>
      play(compileWorld(withFeel), [
        hear(0, noteOn(15, 36, 90)),
        hear(1, channelPressure(channel, 50)),
        hear(2, noteOff(15, 36)),
      ]).sent.map((s) => s.slice(2));
    expect(press(15)).toContain('D0 32');
    expect(press(3)).not.toContain('D0 32');
  });

  it.each([
    [100, 400],
    [150, 400],
    [151, 397.4],
    [1999, 30],
    [2000, 30],
    [2001, 120],
  ])('taps %i ms apart are %s bpm', (gapMs, bpm) => {
    const taps = [0, 1, 2].map((i) => command(i * gapMs, { kind: 'tap' }));
    expect(play(makeWorld([]), taps).state.tempo.bpm).toBe(bpm);
  });
});
