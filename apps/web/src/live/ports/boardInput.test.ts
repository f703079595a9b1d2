import { compileWorld, initialState, type Command, type LiveState } from '@idle-step/core/engine';
import type { Board, Control } from '@idle-step/core/floor';
import { hex } from '@idle-step/core/midi';
import { demoPresets, demoRig, DEMO_PORT } from '@idle-step/demo';
import { describe, expect, it } from 'vitest';
import type { LiveClock } from '../clock';
import { BoardInput } from './boardInput';

const [plank] = demoRig.boards;
const idOf = (name: string): string => plank!.controls.find((c) => c.name === name)!.id;
const near1 = idOf('near 1');
const pedal1 = idOf('pedal 1');

/** The demo's floor board under a finger, with some of its hardware made otherwise, and what comes of it. */
function underAFinger(hardware: Partial<Control['hardware']> = {}, part: Partial<Board> = {}, rig = demoRig) {
  const controls = plank!.controls.map((c) => ({ ...c, hardware: { ...c.hardware, ...hardware } }));
  const boards = rig.boards.map((b) => (b.id === plank!.id ? { ...plank!, controls, ...part } : b));
  const world = compileWorld({ rig: { ...rig, boards }, presets: demoPresets, setName: '', songs: [] });
  let state: LiveState = initialState(world, 0);
  const said: string[] = [];
  const later: { afterMs: number; call: () => void }[] = [];
  const host = {
    world: () => world,
    state: () => state,
    command: (command: Command) => void said.push(JSON.stringify(command)),
    arrive: (portId: string, bytes: readonly number[]) =>
      void said.push(`${portId === DEMO_PORT.crossbarIn1 ? '' : `${portId} `}${hex(bytes)}`),
    noWay: (deviceId: string) => void said.push(`no way to ${deviceId}`),
    unknown: (controlId: string) => void said.push(`unknown at ${controlId}`),
  };
  // Of a clock it uses this alone.
  const clock = { after: (afterMs: number, call: () => void) => void later.push({ afterMs, call }) };
  return {
    input: new BoardInput(host, clock as unknown as LiveClock),
    fresh: () => said.splice(0),
    /** What comes later, in order, with its time. */
    wait: () =>
      later
        .splice(0)
        .sort((a, b) => a.afterMs - b.afterMs)
        .map(({ afterMs, call }) => {
          call();
          return `${afterMs} ${said.splice(0).join(' ')}`;
        }),
    latch: (isDown: boolean) => void (state = { ...state, latched: { [near1]: isDown } }),
  };
}

describe('a switch on the screen says what its hardware would', () => {
  it('going down and going up', () => {
    const { input, fresh } = underAFinger();
    input.pressSwitch(near1, true);
    input.pressSwitch(near1, false);
    expect(fresh()).toEqual(['BF 1F 7F', 'BF 1F 00']);
  });

  it('latching: every second press is up, and letting go says nothing', () => {
    const { input, fresh, latch } = underAFinger({ switching: 'latching' });
    input.pressSwitch(near1, true);
    input.pressSwitch(near1, false);
    expect(fresh()).toEqual(['BF 1F 7F']);
    latch(true);
    input.pressSwitch(near1, true);
    input.pressSwitch(near1, false);
    expect(fresh()).toEqual(['BF 1F 00']);
  });

  it.each([
    ['down', true],
    ['up', false],
  ] as const)('that tells only of going %s', (edge, isDown) => {
    const { input, fresh } = underAFinger({ edge });
    input.pressSwitch(near1, !isDown);
    expect(fresh()).toEqual([]);
    input.pressSwitch(near1, isDown);
    expect(fresh()).toEqual(['BF 1F 7F']);
  });

  it('with contacts that bounce for 8 ms', () => {
    const { input, fresh, wait } = underAFinger({ debounceMs: 8 });
    input.pressSwitch(near1, true);
    expect([fresh(), wait()]).toEqual([['BF 1F 7F'], ['2 BF 1F 00', '4 BF 1F 7F']]);
  });

  it('on a board without hardware it is a command, struck as hard as it was', () => {
    const { input, fresh } = underAFinger({}, { isOnScreen: true });
    input.pressSwitch(near1, true, 40);
    input.pressSwitch(near1, false, 40);
    expect(fresh()).toEqual(
      [40, 0].map((velocity) => JSON.stringify({ kind: 'switch', controlId: near1, velocity })),
    );
  });

  it('of a board that no cable leads away from goes nowhere, and that is told', () => {
    const { input, fresh } = underAFinger({}, {}, { ...demoRig, cables: [] });
    input.pressSwitch(near1, true);
    expect(fresh()).toEqual([`no way to ${plank!.deviceId}`]);
  });

  it('that is gone says nothing', () => {
    const { input, fresh } = underAFinger();
    input.pressSwitch('gone', true);
    input.movePedal('gone', 5);
    input.turnEncoder('gone', 1);
    expect(fresh()).toEqual([]);
  });
});

describe('a pedal or an encoder on the screen', () => {
  it('says where it is put, within its travel', () => {
    const { input, fresh } = underAFinger();
    for (const to of [-5, 0, 63.4, 127, 300]) input.movePedal(pedal1, to);
    expect(fresh()).toEqual(['BF 04 00', 'BF 04 00', 'BF 04 3F', 'BF 04 7F', 'BF 04 7F']);
  });

  it('worn, stands within its real ends and trembles between them', () => {
    const { input, fresh } = underAFinger({ heel: 10, toe: 110, jitter: 4 });
    input.movePedal(pedal1, 0);
    input.movePedal(pedal1, 127);
    expect(fresh()).toEqual(['BF 04 0A', 'BF 04 6E']);
    input.movePedal(pedal1, 63.5);
    expect(fresh()).toEqual(['BF 04 3C', 'BF 04 3E', 'BF 04 3A', 'BF 04 3C']);
  });

  // Two's complement, common practice, no source.
  it('says how far it is turned, no further than a byte can say', () => {
    const { input, fresh } = underAFinger({ encoding: 'twos-complement' });
    for (const detents of [1, -1, 3, 0, 500, -500]) input.turnEncoder(pedal1, detents);
    expect(fresh()).toEqual(['BF 04 01', 'BF 04 7F', 'BF 04 03', 'BF 04 3F', 'BF 04 40']);
    // Put somewhere it is turned that way by one.
    input.movePedal(pedal1, 90);
    expect(fresh()).toEqual(['BF 04 01']);
  });
});
