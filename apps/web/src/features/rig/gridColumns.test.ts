import { describe, expect, it } from 'vitest';
import { cellOptions } from './gridColumns';

describe('a cell that is chosen and not typed', () => {
  const device = { setting: { name: 'Mode', options: ['A', 'B'], inForce: 'A' } } as never;
  const fn = { drive: { kind: 'controller', controller: 20 } } as never;
  it.each([
    ['kind', ['range', 'choice', 'switch', 'trigger']],
    ['reserved', ['', 'yes']],
    ['under', ['', 'A', 'B']],
  ] as const)('%s has its options', (column, options) =>
    expect([...(cellOptions(device, fn, column) ?? [])].sort()).toEqual([...options].sort()),
  );
  it('a name is free text', () => expect(cellOptions(device, fn, 'name')).toBe(null));
});
