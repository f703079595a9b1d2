import { compileWorld, initialState, step, type LiveEvent } from '@idle-step/core/engine';
import { PLAIN_ASSIGNMENT, type Action, type Preset } from '@idle-step/core/floor';
import { valueBounds, takesValue } from '@idle-step/core/gear';
import { encode, hex, parseBytes } from '@idle-step/core/midi';
import { handSteps } from '@idle-step/core/memory';
import { switchBytes } from '@idle-step/core/standins';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoControl, demoPresets, demoRig } from './index';

const board = demoRig.boards[0]!;
const near1 = demoControl('near 1');
const base = demoPresets.find((p) => p.id === board.presetId)!;
const functions = demoRig.devices.flatMap((device) =>
  device.chart
    .filter((fn) => !fn.reserved && ['controller', 'program', 'note', 'pitch-bend'].includes(fn.drive.kind))
    .map((fn) => ({ device, fn })),
);

/** The preset with one thing on one switch of its first bank. */
const withAction = (action: Action): Preset => ({
  ...base,
  groups: [],
  banks: [
    {
      ...base.banks[0]!,
      assignments: [{ ...PLAIN_ASSIGNMENT, controlId: near1, press: [action] }],
    },
  ],
});

/** The bytes that the engine sends for presses of the switch, each press as one line. */
function played(preset: Preset, presses: number): string[] {
  const rig = { ...demoRig, stepGuardMs: 0 };
  const world = compileWorld({ rig, presets: [preset], setName: '', songs: [] });
  let state = initialState(world, 0);
  const { control, boardIndex } = world.controls.get(near1)!;
  const { device, path } = world.boards[boardIndex]!;
  const sent: string[] = [];
  const run = (event: LiveEvent) => {
    const after = step(world, state, event);
    state = after.state;
    return after.effects.flatMap((e) => (e.kind === 'send' ? hex(encode(e.message)) : []));
  };
  for (let i = 0; i < presses; i++) {
    const line: string[] = [];
    for (const isDown of [true, false]) {
      const atMs = 1000 + i * 4000 + (isDown ? 0 : 50);
      const [message] = parseBytes(switchBytes(device.channel, control.sends, isDown)).messages;
      line.push(...run({ kind: 'message', atMs, portId: path!.portId, message: message! }));
      line.push(...run({ kind: 'tick', atMs: atMs + 2000 }));
    }
    sent.push(line.join(' '));
  }
  return sent;
}

/** Reads what hands are told as somebody who knows only the standard: MIDI 1.0 Detailed Specification, table I. */
function read(text: string): string[] {
  const one = (words: string): number[] => {
    const [, kind, number, , value] =
      /^(controller|note|program|pitch bend) (\d+)( off| counted from 0)?(?:, (?:value|velocity) (\d+))?/.exec(
        words,
      )!;
    const channel = Number(/channel (\d+)/.exec(words)![1]) - 1;
    const n = Number(number);
    if (kind === 'controller') return [0xb0 + channel, n, Number(value)];
    if (kind === 'program') return [0xc0 + channel, n];
    if (kind === 'pitch bend') return [0xe0 + channel, n & 127, n >> 7];
    return words.includes(' off') ? [0x80 + channel, n, 64] : [0x90 + channel, n, Number(value)];
  };
  const inTurn = /^controller (\d+), value ([\d, ]+) in turn, channel (\d+)$/.exec(text);
  if (inTurn)
    return inTurn[2]!
      .split(', ')
      .map((v) => hex([0xb0 + Number(inTurn[3]) - 1, Number(inTurn[1]), Number(v)]));
  const presses = text.endsWith(' in turn') ? text.matchAll(/\(([^)]+)\)/g) : [['', text]];
  return [...presses].map(([, press]) =>
    press!
      .split('; ')
      .map((m) => hex(one(m)))
      .join(' '),
  );
}

describe('what hands are told of a board that works by itself', () => {
  const told = (preset: Preset): string => {
    const { steps } = handSteps(demoRig, { ...board, mode: 'standalone' }, preset);
    expect(steps).toHaveLength(1);
    return steps[0]!.text;
  };
  const anyOf = fc.constantFrom(...functions);

  it('is, for a value that is set, what is sent when this application plays the same', () => {
    fc.assert(
      fc.property(anyOf, fc.nat(127), ({ fn }, wanted) => {
        const { min, max } = valueBounds(fn.shape);
        const value = Math.min(max, Math.max(min, wanted));
        fc.pre(takesValue(fn.shape, value));
        const preset = withAction({ id: 'a', kind: 'set', functionId: fn.id, value });
        expect(read(told(preset))).toEqual(played(preset, 1));
      }),
      { numRuns: 300 },
    );
  });

  it('is, for values in turn, what is sent by one press after the other', () => {
    fc.assert(
      fc.property(
        anyOf.filter(({ fn }) => fn.shape.kind !== 'trigger'),
        fc.uniqueArray(fc.nat(127), { minLength: 2, maxLength: 4 }),
        fc.constantFrom('forward', 'back'),
        ({ fn }, wanted, direction) => {
          const { max } = valueBounds(fn.shape);
          const values = [...new Set(wanted.map((v) => v % (max + 1)))].filter((v) =>
            takesValue(fn.shape, v),
          );
          fc.pre(values.length > 1);
          const preset = withAction({
            id: 'a',
            kind: 'step',
            functionId: fn.id,
            values,
            direction,
            atEnd: 'round',
          } as Action);
          const told1 = read(told(preset));
          // The first press begins where the function stands.
          const sent = played(preset, 2 * values.length);
          const from = told1.indexOf(sent[0]!);
          expect(from).toBeGreaterThanOrEqual(0);
          expect(sent).toEqual(sent.map((_, i) => told1[(from + i) % told1.length]));
        },
      ),
      { numRuns: 300 },
    );
  });
});
