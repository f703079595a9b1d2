import { describe, expect, it } from 'vitest';
import type { ChartFunction, Device } from '../../gear';
import { controller } from '../../midi';
import {
  assign,
  cable,
  makeBoard,
  makeDevice,
  makeFunction,
  makePort,
  makeRig,
  valuesOf,
} from '../../testing.test-support';
import { Playing, makeShow } from '../playing.test-support';

/**
 * What is known of the gear after typed bytes left by the port `a`. One device is behind each of the ports `a` and `b`, on
 * channel 1 and with the same chart.
 */
function knownAfter(part: Partial<ChartFunction>, bytes: readonly number[], gear: Partial<Device> = {}) {
  const behind = (name: string) => {
    const out = makePort({ id: name, direction: 'out', link: 'usb', atComputer: true });
    const input = makePort({ id: `${name}-in`, link: 'usb' });
    const fn = makeFunction({ ...part, id: `fn-${name}` });
    const device = makeDevice({ id: `gear-${name}`, channel: 0, ...gear, ports: [input], chart: [fn] });
    return { out, device, wire: cable(out, input) };
  };
  const [a, b] = [behind('a'), behind('b')];
  const { device, board, preset } = makeBoard(1, 0, [[assign('s0', [{ kind: 'raw', portId: 'a', bytes }])]]);
  const box = makeDevice({ id: 'box', role: 'carrier', ports: [a.out, b.out] });
  const rig = makeRig([device, box, a.device, b.device], [a.wire, b.wire], [board]);
  const playing = new Playing(makeShow(rig, { presets: [preset] }));
  playing
    .hear(0, controller(15, 30, 127))
    .hear(60, controller(15, 30, 0))
    .wait(1000);
  return valuesOf(playing.world, playing.state);
}

const fine = { kind: 'range', min: 0, max: 16383, shownFrom: 0 } as const;

describe('what typed bytes say to a device', () => {
  it.each<[string, Partial<ChartFunction>, number[], number]>([
    ['a controller', { drive: { kind: 'controller', controller: 21 } }, [0xb0, 21, 40], 40],
    [
      'both halves of a fine controller (MIDI 1.0, MSB and LSB)',
      { drive: { kind: 'controller-14', controller: 7 }, shape: fine },
      [0xb0, 7, 2, 0xb0, 39, 5],
      2 * 128 + 5,
    ],
    [
      'a parameter that no registry has (MIDI 1.0, NRPN)',
      { drive: { kind: 'parameter', registered: false, parameter: 130, bits: 7 } },
      [0xb0, 99, 1, 0xb0, 98, 2, 0xb0, 6, 64],
      64,
    ],
    [
      'a registered parameter of 14 bits (MIDI 1.0, RPN 1, fine tuning)',
      { drive: { kind: 'parameter', registered: true, parameter: 1, bits: 14 }, shape: fine },
      [0xb0, 101, 0, 0xb0, 100, 1, 0xb0, 6, 64, 0xb0, 38, 3],
      64 * 128 + 3,
    ],
    [
      'a program',
      {
        drive: { kind: 'program', bank: null },
        shape: { kind: 'program', names: [] },
      },
      [0xc0, 5],
      5,
    ],
    ['a bend', { drive: { kind: 'pitch-bend' }, shape: fine }, [0xe0, 1, 64], 64 * 128 + 1],
    ['pressure on a channel', { drive: { kind: 'channel-pressure' } }, [0xd0, 33], 33],
  ])('is known of what hears it: %s', (_, part, bytes, value) => {
    expect(knownAfter(part, bytes)).toEqual({ 'fn-a': value });
  });

  const level = { drive: { kind: 'controller', controller: 21 } } as const;
  const setting = { name: 'Mode', options: ['A', 'B'], inForce: 'A' };
  it.each<[string, Partial<ChartFunction>, number[], Partial<Device>, Record<string, number>]>([
    ['on another channel', level, [0xb1, 21, 40], {}, {}],
    ['on a channel of its row', { ...level, channel: 1 }, [0xb1, 21, 40], {}, { 'fn-a': 40 }],
    ['by another number', level, [0xb0, 22, 40], {}, {}],
    [
      'on any channel, to one that hears all',
      level,
      [0xb9, 21, 40],
      { listens: { kind: 'omni' } },
      { 'fn-a': 40 },
    ],
    [
      'of a row of the setting in force',
      { ...level, under: 'A' },
      [0xb0, 21, 40],
      { setting },
      { 'fn-a': 40 },
    ],
    ['of a row of another setting', { ...level, under: 'B' }, [0xb0, 21, 40], { setting }, {}],
    [
      'of the coarse half alone, which leaves the fine one at nothing',
      { drive: { kind: 'controller-14', controller: 7 }, shape: fine },
      [0xb0, 7, 2],
      {},
      { 'fn-a': 256 },
    ],
    [
      'of data with no parameter chosen before it',
      { drive: { kind: 'parameter', registered: false, parameter: 130, bits: 7 } },
      [0xb0, 6, 64],
      {},
      {},
    ],
  ])('%s', (_, part, bytes, gear, known) => {
    expect(knownAfter(part, bytes, gear)).toEqual(known);
  });
});
