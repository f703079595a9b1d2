import type { FullRig } from '@idle-step/core/routing';
import { demoRig } from '@idle-step/demo';
import { describe, expect, it } from 'vitest';
import { cellOptions, cellSuggestions } from './gridColumns';

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

it('offers what stands in a column already, each once, and nothing where rows are each their own', () => {
  const device = (demoRig as FullRig).devices.find((d) => d.chart.some((f) => f.group !== ''))!;
  const groups = [...new Set(device.chart.flatMap((f) => (f.group === '' ? [] : f.group)))];
  expect(cellSuggestions(device, 'group', 3)).toEqual(groups);
  for (const column of ['name', 'message', 'remark'] as const)
    expect(cellSuggestions(device, column, 3)).toEqual([]);
});
