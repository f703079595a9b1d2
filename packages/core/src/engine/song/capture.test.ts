import { describe, expect, it } from 'vitest';
import { makeDevice, makeFunction, makeRig, makeSong, registersAt } from '../../testing.test-support';
import { captureFor, compileWorld } from '../index';

const rig = makeRig([
  makeDevice({
    id: 'processor',
    chart: [
      makeFunction({ id: 'level' }),
      makeFunction({ id: 'wash', drive: { kind: 'controller', controller: 21 } }),
      makeFunction({
        id: 'snapshot',
        drive: { kind: 'controller', controller: 22 },
        shape: { kind: 'choice', first: 0, shownFrom: 1, labels: ['a', 'b'] },
      }),
      makeFunction({ id: 'kept', drive: { kind: 'controller', controller: 23 }, reserved: true }),
      makeFunction({
        id: 'go',
        drive: { kind: 'controller', controller: 24 },
        shape: { kind: 'trigger', sent: 127 },
      }),
    ],
  }),
]);
const song = makeSong('Song', [
  ['Verse', { level: 10, wash: 20 }],
  ['Chorus', { level: 30 }],
]);
const world = compileWorld({ rig, presets: [], setName: '', songs: [song] });
const captured = (values: Record<string, number>, sceneIndex = 1) =>
  captureFor(world, { registers: registersAt(world, values), pending: [] }, song, sceneIndex).map((c) => [
    c.fn.id,
    c.value,
    c.before,
  ]);

describe('capture', () => {
  it('is what stands otherwise than the scene says, its own values and carried ones', () =>
    expect(captured({ level: 31, wash: 20, snapshot: 1 })).toEqual([
      ['level', 31, 30],
      ['snapshot', 1, null],
    ]));
  it('leaves out what is not known, what has no value, what is kept, and what the chart does not take', () =>
    expect(captured({ level: 30, kept: 3, go: 0, snapshot: 9 })).toEqual([]));
  it('depends on the scene', () => expect(captured({ level: 10, wash: 20 }, 0)).toEqual([]));
});
