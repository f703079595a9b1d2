import { describe, expect, it } from 'vitest';
import { placeOfStep } from './placeOfStep';

const nameOf = (_resource: string, id: string) => (id === 'gone' ? undefined : `Name of ${id}`);

describe('whether a step is in view', () => {
  it.each([
    [['songs/a'], '/songs/a', true],
    [['songs/a'], '/songs/b', false],
    [['songs/a'], '/songs', true],
    [['songs/a', 'songs/b'], '/songs/c', true],
    [['sets/s'], '/sets/s/order', true],
    [['songs/a'], '/sets/s', false],
    [['presets/p'], '/floor', true],
    [['presets/p'], '/floor/another', true],
    [['presets/p'], '/sets', false],
    [['rigs/r'], '/rig/another', true],
    [['rigs/r'], '/routes/table', true],
    [['rigs/r'], '/songs/a', false],
  ])('%j at %s: %s', (keys, path, isInView) =>
    expect(placeOfStep(nameOf, keys, path).isInView).toBe(isInView),
  );
});

it('says whose it is, of several the first', () =>
  expect([
    placeOfStep(nameOf, ['songs/a', 'songs/gone'], '').names,
    placeOfStep(nameOf, ['songs/a', 'songs/b', 'songs/c', 'songs/d'], '').names,
  ]).toEqual([['Name of a'], ['Name of a', 'Name of b', 'Name of c', 'others']]));
