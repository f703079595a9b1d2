import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeDevice, makeFunction } from '../../testing.test-support';
import {
  actionCell,
  readActionCell,
  readSweepCell,
  sweepCell,
  type Action,
  type CellContext,
  type LooseAction,
  type Sweep,
} from '../index';
import { gear } from './tableRig.test-support';

const other = makeDevice({
  id: 'other',
  name: 'Other',
  chart: [
    makeFunction({ id: 'volume-2', name: 'Volume', drive: { kind: 'controller', controller: 7 } }),
    makeFunction({
      id: 'delay',
      name: 'Delay mix',
      drive: { kind: 'controller', controller: 70 },
      shape: { kind: 'range', min: 0, max: 100, shownFrom: 0 },
    }),
    makeFunction({
      id: 'shot',
      name: 'Play once',
      drive: { kind: 'note', note: 40 },
      shape: { kind: 'trigger', sent: 127 },
    }),
    makeFunction({
      id: 'program',
      name: 'Sound',
      drive: { kind: 'program', bank: null },
      shape: { kind: 'program', names: [{ program: 4, name: 'Glass Bells' }] },
    }),
  ],
});
const context: CellContext = {
  devices: [gear, other],
  middleC: 3,
  fallback: { send: 'note', number: 36, value: 100, channel: null, deviceId: 'gear' },
  banks: [
    { id: 'bank-0', name: 'Crossing' },
    { id: 'bank-1', name: 'Sound check' },
  ],
};
const message = (part: object) => ({
  kind: 'message',
  deviceId: 'gear',
  send: 'note',
  number: 36,
  value: 100,
  channel: null,
  ...part,
});
const set = (functionId: string, value: number) => ({ kind: 'set', functionId, value });

describe('what is typed into a cell of a switch', () => {
  it.each<[string, object | null]>([
    ['', null],
    ['CC 7', message({ send: 'controller', number: 7 })],
    ['ch 3 CC 11', message({ send: 'controller', number: 11, channel: 2 })],
    ['channel 16, note C3', message({ number: 60, channel: 15 })],
    ['note 40', message({ number: 40 })],
    ['36', message({})],
    ['program 5', message({ send: 'program', number: 5 })],
    ['Drive', { kind: 'toggle', functionId: 'drive' }],
    ['drive on', set('drive', 1)],
    ['Gear Drive off', set('drive', 0)],
    ['Gear: Echo', { kind: 'toggle', functionId: 'echo' }],
    ['Snapshot 3', set('snapshot', 2)],
    ['Snapshot full', set('snapshot', 2)],
    ['snap 4', set('snapshot', 3)],
    ['Delay mix 50', set('delay', 50)],
    ['Other Volume 64', set('volume-2', 64)],
    ['Play once', set('shot', 0)],
    ['Sound glass bells', set('program', 4)],
    ['scene 2', { kind: 'scene', to: { kind: 'at', index: 1 } }],
    ['scene +', { kind: 'scene', to: { kind: 'next' } }],
    ['previous scene', { kind: 'scene', to: { kind: 'previous' } }],
    ['scene again', { kind: 'scene', to: { kind: 'again' } }],
    ['song 12', { kind: 'song', to: { index: 11 } }],
    ['next song', { kind: 'song', to: 'next' }],
    ['bank +', { kind: 'bank', to: { kind: 'up' } }],
    ['bank-', { kind: 'bank', to: { kind: 'down' } }],
    ['bank 2', { kind: 'bank', to: { kind: 'bank', bankId: 'bank-1' } }],
    ['bank cross', { kind: 'bank', to: { kind: 'bank', bankId: 'bank-0' } }],
    ['cue 3', { kind: 'cue', to: { kind: 'at', index: 2 } }],
    ['on', { kind: 'show', to: 'next' }],
    ['Tap', { kind: 'tap' }],
    ['panic', { kind: 'panic' }],
    ['song tempo', { kind: 'song-tempo' }],
    ['encore', { kind: 'show', to: 'encore' }],
    ['click', { kind: 'here', thing: 'click', to: 'toggle' }],
    ['Blackout off', { kind: 'here', thing: 'blackout', to: 'off' }],
    ['hands off', { kind: 'here', thing: 'hands-off', to: 'toggle' }],
    ['hands off off', { kind: 'here', thing: 'hands-off', to: 'off' }],
  ])('“%s”', (text, value) => expect(readActionCell(text, context)).toEqual({ ok: true, value }));

  it.each([
    ['loud', 'CC 7, ch 3 CC 11'],
    ['note 300', 'CC 7, ch 3 CC 11'],
    ['Snapshot', 'Snapshot with 1 to 4'],
    ['Snapshot 9', 'Snapshot with 1 to 4'],
    // Two devices have one, so it says neither.
    ['Volume 64', 'CC 7, ch 3 CC 11'],
    // The device keeps it for itself.
    ['Kept on', 'CC 7, ch 3 CC 11'],
    ['scene 0', 'CC 7, ch 3 CC 11'],
    ['bank 7', 'CC 7, ch 3 CC 11'],
  ])('“%s” is refused', (text, right) => {
    const read = readActionCell(text, context);
    expect(read.ok ? '' : read.error.expected).toContain(right);
  });

  it('a message goes nowhere where no cable leads to a device', () =>
    expect(
      readActionCell('CC 7', { ...context, fallback: { ...context.fallback, deviceId: null } }),
    ).toMatchObject({ ok: false, error: { expected: expect.stringContaining('a cable') as string } }));
});

describe('what is typed into a cell of a pedal', () => {
  it.each<[string, object | null]>([
    ['', null],
    ['Delay mix', { functionId: 'delay', from: 0, to: 100 }],
    ['delay 20-80', { functionId: 'delay', from: 20, to: 80 }],
    ['Gear Volume 100 to 10', { functionId: 'volume', from: 100, to: 10 }],
    ['CC 11', { functionId: null, deviceId: 'gear', channel: null, controller: 11 }],
    ['ch 3 CC 11', { functionId: null, deviceId: 'gear', channel: 2, controller: 11 }],
  ])('“%s”', (text, value) => expect(readSweepCell(text, context)).toEqual({ ok: true, value }));
  it.each([
    ['bank +', 'a function that moves'],
    ['Snapshot', 'a function that moves'],
    ['Delay mix 20-300', 'Delay mix with two ends'],
    ['Delay mix 20', 'Delay mix with two ends'],
    ['note 40', 'a function that moves'],
  ])('“%s” is refused', (text, right) => {
    const read = readSweepCell(text, context);
    expect(read.ok ? '' : read.error.expected).toContain(right);
  });
});

it('a cell is typed as it is written, whatever its action is', () => {
  const step = fc.constantFrom({ kind: 'next' } as const, { kind: 'previous' } as const);
  const place = fc.nat(199).map((index) => ({ kind: 'at' as const, index }));
  const fnOf = (id: string) => [gear, other].flatMap((d) => d.chart).find((f) => f.id === id)!;
  const deed: fc.Arbitrary<LooseAction> = fc.oneof(
    fc.record({
      kind: fc.constant('message' as const),
      deviceId: fc.constant('gear'),
      send: fc.constantFrom('note' as const, 'controller' as const),
      number: fc.nat(127),
      value: fc.nat(127),
      channel: fc.option(fc.nat(15)),
    }),
    fc.constantFrom('drive', 'echo').map((functionId) => ({ kind: 'toggle' as const, functionId })),
    fc
      .tuple(
        fc.constantFrom('drive', 'snapshot', 'volume', 'volume-2', 'delay', 'program', 'shot'),
        fc.nat(127),
      )
      .map(([functionId, n]) => {
        const { shape } = fnOf(functionId);
        const most = {
          switch: 1,
          choice: 3,
          range: functionId === 'delay' ? 100 : 127,
          program: 127,
          trigger: 0,
          sound: 0,
        };
        return { kind: 'set' as const, functionId, value: n % (most[shape.kind] + 1) };
      }),
    fc.oneof(step, place).map((to) => ({ kind: 'scene' as const, to })),
    fc.oneof(step, place).map((to) => ({ kind: 'cue' as const, to })),
    fc.constantFrom<LooseAction>(
      { kind: 'song', to: 'next' },
      { kind: 'song', to: 'again' },
      { kind: 'song', to: { index: 3 } },
      { kind: 'bank', to: { kind: 'up' } },
      { kind: 'bank', to: { kind: 'bank', bankId: 'bank-1' } },
      { kind: 'tap' },
      { kind: 'capture' },
      { kind: 'song-tempo' },
      { kind: 'show', to: 'next' },
      { kind: 'show', to: 'encore' },
      { kind: 'here', thing: 'click', to: 'toggle' },
      { kind: 'here', thing: 'hands-off', to: 'on' },
    ),
  );
  fc.assert(
    fc.property(deed, (value) => {
      const text = actionCell([{ ...value, id: 'a' } as Action], context);
      expect(text).not.toBe('');
      expect(readActionCell(text, context)).toEqual({ ok: true, value });
    }),
    { seed: 334, numRuns: 400 },
  );
  const sweep = fc.oneof(
    fc
      .tuple(fc.constantFrom('volume', 'volume-2'), fc.nat(127), fc.nat(127))
      .map(([functionId, from, to]) => ({ functionId, from, to })),
    fc.record({
      functionId: fc.constant(null),
      deviceId: fc.constant('gear'),
      channel: fc.option(fc.nat(15)),
      controller: fc.nat(127),
    }),
  );
  fc.assert(
    fc.property(sweep, (value) => {
      const text = sweepCell(
        [{ id: 's', invert: false, curve: 'linear', points: [], from: 0, to: 127, ...value } as Sweep],
        context,
      );
      expect(readSweepCell(text, context)).toEqual({ ok: true, value });
    }),
    { seed: 335, numRuns: 200 },
  );
  expect(actionCell([], context)).toBe('');
});
