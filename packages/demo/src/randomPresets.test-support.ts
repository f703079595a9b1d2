import {
  PLAIN_ASSIGNMENT,
  PLAIN_BANK,
  PLAIN_CONTROL,
  PLAIN_PRESET,
  PLAIN_RESPONSE,
  PLAIN_TIMING,
  isPressed,
  type Action,
  type Assignment,
  type Board,
  type Control,
  type Preset,
  type Sweep,
} from '@idle-step/core/floor';
import { isUsable, takesValue, valueBounds, type ChartFunction } from '@idle-step/core/gear';
import { nth } from '@idle-step/core/sure';
import { demoRig } from './index';

/** Ten switches in two rows and two pedals, which play by themselves. */
export const tenAndTwo: Board = {
  ...demoRig.boards[0]!,
  id: 'ten-and-two',
  mode: 'standalone',
  presetId: 'random',
  controls: [
    ...Array.from({ length: 10 }, (_, i) => placed(`switch ${i + 1}`, 'footswitch', i)),
    ...Array.from({ length: 2 }, (_, i) => placed(`pedal ${i + 1}`, 'expression-pedal', 10 + i)),
  ],
};

function placed(name: string, kind: Control['kind'], at: number): Control {
  return {
    ...PLAIN_CONTROL,
    id: name,
    name,
    kind,
    xMm: (at % 6) * 60,
    yMm: Math.floor(at / 6) * 80,
    widthMm: 30,
    heightMm: 30,
    sends: { kind: 'controller', number: 20 + at },
  };
}

const usable = demoRig.devices.flatMap((d) =>
  d.role === 'receiver' ? d.chart.filter((fn) => isUsable(d, fn)) : [],
);

/** A preset of a board with something on every control of every bank, as a board by itself can do it. */
export function randomPreset(board: Board, bankCount: number, random: () => number): Preset {
  const upTo = (most: number) => Math.floor(random() * most);
  const one = <T>(list: readonly T[]): T => nth(list, upTo(list.length));
  const some = <T>(most: number, make: () => T): T[] => Array.from({ length: upTo(most + 1) }, make);
  const chance = (share: number) => random() < share;
  const valueOf = (fn: ChartFunction): number => {
    const { min, max } = valueBounds(fn.shape);
    for (let i = 0; i < 20; i++) {
      const value = min + upTo(Math.min(max, 16383) - min + 1);
      if (takesValue(fn.shape, value)) return value;
    }
    return min;
  };
  const switches = usable.filter((fn) => fn.shape.kind === 'switch');
  const ranges = usable.filter((fn) => fn.shape.kind === 'range' && fn.drive.kind === 'controller');
  const receivers = demoRig.devices.filter((d) => d.role === 'receiver');
  let ids = 0;
  const body = (): Action => {
    const id = `a${ids++}`;
    const fn = one(usable);
    const late: Pick<Action, 'delay' | 'every'> = {
      ...(chance(0.1) ? { delay: { amount: upTo(4) + 1, unit: 'beats' } } : {}),
      ...(chance(0.1) ? { delay: { amount: upTo(500), unit: 'ms' } } : {}),
      ...(chance(0.1) ? { every: one(['odd', 'even'] as const) } : {}),
    };
    const made = ((): Action => {
      switch (upTo(9)) {
        case 0:
        case 1:
          return { id, kind: 'set', functionId: fn.id, value: valueOf(fn) };
        case 2:
        case 3:
          return { id, kind: 'toggle', functionId: one(switches).id };
        case 4:
          return { id, kind: 'momentary', functionId: fn.id, down: valueOf(fn), up: valueOf(fn) };
        case 5: {
          const values = [...new Set(Array.from({ length: 4 }, () => valueOf(fn)))];
          const direction = one(['forward', 'back', 'reset'] as const);
          return {
            id,
            kind: 'step',
            functionId: fn.id,
            values,
            direction,
            atEnd: one(['round', 'stop'] as const),
          };
        }
        case 6:
          return {
            id,
            kind: 'message',
            deviceId: one(receivers).id,
            channel: chance(0.5) ? null : upTo(16),
            send: one(['note', 'controller', 'program'] as const),
            number: upTo(120),
            value: upTo(128),
          };
        case 7:
          return { id, kind: 'raw', portId: 'out', bytes: [0xb0 + upTo(16), upTo(120), upTo(128)] };
        default:
          return {
            id,
            kind: 'bank',
            to: chance(0.5)
              ? { kind: one(['up', 'down'] as const) }
              : { kind: 'bank', bankId: `bank ${upTo(bankCount)}` },
          };
      }
    })();
    return { ...made, ...late };
  };
  const sweepOf = (): Sweep => {
    const fn = one(ranges);
    return {
      id: `s${ids++}`,
      from: valueOf(fn),
      to: valueOf(fn),
      invert: chance(0.3),
      curve: one(['linear', 'audio', 'reverse-audio', 's', 'points'] as const),
      points: [{ x: 0.25 + random() / 2, y: random() }],
      ...(chance(0.7)
        ? { functionId: fn.id }
        : { functionId: null, deviceId: one(receivers).id, channel: null, controller: upTo(120) }),
    };
  };
  const assignment = (control: Control): Assignment => ({
    ...PLAIN_ASSIGNMENT,
    controlId: control.id,
    label: chance(0.5) ? '' : `Würze ${upTo(100)}`,
    colour: chance(0.5) ? null : 'coral',
    timing: chance(0.7)
      ? PLAIN_TIMING
      : { holdMs: 300 + upTo(400), doubleMs: 200 + upTo(200), holdCancelsPress: chance(0.5) },
    ...(isPressed(control.kind)
      ? {
          press: [body(), ...some(2, body)],
          release: some(chance(0.2) ? 1 : 0, body),
          hold: some(chance(0.3) ? 1 : 0, body),
          doublePress: some(chance(0.2) ? 1 : 0, body),
        }
      : {
          sweeps: [sweepOf(), ...some(1, sweepOf)],
          toe: some(chance(0.3) ? 1 : 0, body),
          heel: some(chance(0.3) ? 1 : 0, body),
          response: chance(0.6)
            ? PLAIN_RESPONSE
            : {
                ...PLAIN_RESPONSE,
                takeover: one(['pickup', 'scale'] as const),
                toeAt: 90,
                reverse: chance(0.5),
              },
        }),
  });
  return {
    ...PLAIN_PRESET,
    id: 'random',
    rigId: demoRig.id,
    boardId: board.id,
    name: `Random ${upTo(1000)}`,
    banks: Array.from({ length: bankCount }, (_, i) => ({
      ...PLAIN_BANK,
      id: `bank ${i}`,
      name: `Bank ${i + 1}`,
      assignments: board.controls.map(assignment),
    })),
    groups: [],
    feel: [],
  };
}
