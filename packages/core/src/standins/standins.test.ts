import { describe, expect, it } from 'vitest';
import { controller, machineMessage, program, sysex, parseBytes, type Message } from '../midi';
import {
  feedStandIn,
  pedalBytes,
  restingValue,
  PROCESSOR_SETTLE_MS,
  startStandIn,
  STAND_INS,
  stringProcessor,
  switchBytes,
  trackHost,
} from './index';
import { messagesFor, STAND_IN_KINDS, takesValue, valueBounds, type StandInKind } from '../gear';
import { makeDevice } from '../testing.test-support';

const processor = (messages: [number, Message][]) =>
  messages.reduce((state, [atMs, m]) => stringProcessor.receive(state, m, 2, atMs), stringProcessor.initial);
const host = (messages: Message[]) =>
  messages.reduce((state, m) => trackHost.receive(state, m, 0, 0), trackHost.initial);

describe('string processor', () => {
  it('takes snapshots, blocks and knobs', () => {
    const state = processor([
      [0, controller(2, 22, 2)],
      [0, controller(2, 24, 127)],
      [0, controller(2, 7, 81)],
      [0, controller(2, 20, 5)],
      [0, controller(2, 91, 88)],
    ]);
    expect(state).toMatchObject({ snapshot: 2, volume: 81, drive: 5, reverbMix: 88 });
    expect(state.blocks.map(Number).join('')).toBe('01000000');
  });
  it('has eight snapshots and ignores a ninth', () => {
    expect(processor([[0, controller(2, 22, 7)]]).snapshot).toBe(7);
    expect(processor([[0, controller(2, 22, 8)]]).snapshot).toBe(0);
  });
  it('loses what comes while a program loads, up to its settle time and not after', () => {
    const at = (ms: number) =>
      processor([
        [100, program(2, 13)],
        [ms, controller(2, 22, 2)],
      ]);
    expect(at(100 + PROCESSOR_SETTLE_MS - 0.01)).toMatchObject({ program: 13, snapshot: 0, missed: 1 });
    expect(at(100 + PROCESSOR_SETTLE_MS)).toMatchObject({ program: 13, snapshot: 2, missed: 0 });
  });
  it('loads its own snapshot, blocks and knobs with a program, but not the volume', () => {
    const state = processor([
      [0, controller(2, 22, 3)],
      [0, controller(2, 91, 50)],
      [0, controller(2, 7, 30)],
      [1, program(2, 5)],
    ]);
    expect(state).toMatchObject({
      snapshot: 0,
      reverbMix: 0,
      volume: 30,
      blocks: [true, false, true, false, false, false, false, false],
    });
  });
  it('has eight blocks, twelve ranges and two pedal inputs', () => {
    const state = processor([
      [0, controller(2, 30, 127)],
      [0, controller(2, 70, 1)],
      [0, controller(2, 78, 9)],
      [0, controller(2, 4, 55)],
      [0, controller(2, 11, 66)],
    ]);
    expect(state.blocks).toHaveLength(8);
    expect(state.blocks[7]).toBe(true);
    expect([state.knobs[0], state.knobs[8], state.volume, state.reverbMix]).toEqual([1, 9, 55, 66]);
    expect(stringProcessor.chart.filter((r) => r.shape.kind === 'range')).toHaveLength(12 + 2);
  });
  it('keeps the numbers of its panel until it is told not to, and says so', () => {
    const kept = processor([[0, controller(2, 103, 5)]]);
    expect(kept).toMatchObject({ panel: [64, 64, 64], said: 'controller 103 is kept for the front panel' });
    const free = processor([
      [0, controller(2, 119, 0)],
      [0, controller(2, 103, 5)],
    ]);
    expect(free).toMatchObject({ panel: [64, 5, 64], said: '' });
  });
  it('says which snapshot it does not have', () => {
    expect(processor([[0, controller(2, 22, 8)]]).said).toBe('there is no snapshot for 8: it has 8');
  });
  it('is deaf to other channels', () => {
    expect(processor([[0, controller(3, 22, 2)]])).toBe(stringProcessor.initial);
  });
});

describe('track host', () => {
  it('arms by controller and by machine control alike', () => {
    expect(
      host([controller(0, 103, 127)])
        .tracks.map((t) => t.armed)
        .indexOf(true),
    ).toBe(1);
    const byMachine = host([machineMessage({ kind: 'record-ready', machine: 127, track: 2, armed: true })]);
    expect(byMachine.tracks[1]!.armed).toBe(true);
    expect(trackHost.receive(byMachine, controller(0, 103, 0), 0, 0).tracks[1]!.armed).toBe(false);
  });
  it('takes monitor, mute and level, a half as on', () => {
    const state = host([controller(0, 110, 64), controller(0, 81, 63), controller(0, 22, 90)]);
    expect(state.tracks[0]!.monitor).toBe('in');
    expect(state.tracks[1]!.muted).toBe(false);
    expect(state.tracks[2]!.level).toBe(90);
  });
  it('follows the transport, and only commands for itself or for all', () => {
    const play = (machine: number) =>
      host([machineMessage({ kind: 'transport', machine, command: 'play' })]).transport;
    expect([play(127), play(0), play(5)]).toEqual(['playing', 'playing', 'stopped']);
    expect(host([sysex([1, 2, 3])])).toBe(trackHost.initial);
  });
});

it.each(Object.keys(STAND_INS) as (keyof typeof STAND_INS)[])(
  'the %s answers to every row of its own chart',
  (kind) => {
    const { extraChannel } = STAND_INS[kind];
    const extraChannels = extraChannel ? [{ name: extraChannel.name, channel: 4 + extraChannel.above }] : [];
    const device = makeDevice({ channel: 4, extraChannels });
    for (const row of STAND_INS[kind].chart) {
      const fn = { ...row, id: row.name };
      const { min, max } = valueBounds(fn.shape);
      // Set to both ends, and the transport to a state that no row leads to, so that each row has to move something.
      let moved = false;
      const paused = machineMessage({ kind: 'transport', machine: 127, command: 'pause' });
      let state = feedStandIn(startStandIn(kind), paused, 4, 0);
      for (const [i, value] of [max, min, max].entries())
        for (const message of messagesFor(device, fn, value)) {
          const next = feedStandIn(state, message, 4, i * 1000);
          moved ||= next !== state && JSON.stringify(next) !== JSON.stringify(state);
          state = next;
        }
      expect([row.name, moved]).toEqual([row.name, true]);
    }
  },
);

describe('foot board', () => {
  it('sends 127 and 0 for a controller, a note-on and note-off for a note, and a pedal’s position', () => {
    expect(switchBytes(15, { kind: 'controller', number: 33 }, true)).toEqual([0xbf, 33, 127]);
    expect(switchBytes(15, { kind: 'controller', number: 33 }, false)).toEqual([0xbf, 33, 0]);
    expect(parseBytes(switchBytes(14, { kind: 'note', number: 36 }, false)).messages[0]).toMatchObject({
      kind: 'note-off',
    });
    expect(pedalBytes(15, { kind: 'controller', number: 4 }, 81)).toEqual([0xbf, 4, 81]);
  });
});

describe('what gear has at power-on', () => {
  const named = (kind: StandInKind, name: string) =>
    restingValue(
      kind,
      STAND_INS[kind].chart.find((row) => row.name === name)!,
    );

  it.each([
    ['mixer', 'Level', 100],
    ['mixer', 'Pan', 64],
    ['mixer', 'Mute', 0],
    ['looper', 'Feedback', 127],
    ['lights', 'Master', 127],
    ['backing-player', 'Crossfade', 0],
    ['track-host', 'Level 3', 100],
  ] as const)('%s %s is %i', (kind, name, value) => expect(named(kind, name)).toBe(value));

  it('is not guessed for what is pressed once, struck, or answered with words', () => {
    expect(named('looper', 'Record 1')).toBeNull();
    expect(named('pad-instrument', 'Pad 1')).toBeNull();
    expect(named('lights', 'Cue 1')).toBeNull();
  });

  it('changes nothing when it is told', () => {
    for (const kind of STAND_IN_KINDS)
      for (const row of STAND_INS[kind].chart) {
        const value = restingValue(kind, row);
        if (value !== null) expect(takesValue(row.shape, value)).toBe(true);
      }
  });
});
