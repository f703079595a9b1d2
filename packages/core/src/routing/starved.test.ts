import { describe, expect, it } from 'vitest';
import { PLAIN_FROM, PLAIN_ROUTE, starvedRoutes, type Route } from './index';

const starvedBy = (routes: readonly Route[], index: number) =>
  starvedRoutes(routes, index)?.place.routeIds?.slice(1) ?? [];
const gate: Route['gate'] = { by: { kind: 'switch' }, startsOpen: false, holds: [], others: 'pass' };
const route = (name: string, part: Partial<Route>, from: Partial<Route['from']> = {}): Route => ({
  ...PLAIN_ROUTE,
  id: name,
  name,
  isOn: true,
  gate: null,
  after: 'stop',
  ...part,
  from: { ...PLAIN_FROM, portIds: ['in'], kinds: [], channels: [], ...from },
});

describe('routes below one whose gate is closed', () => {
  it.each([
    ['of the same input', route('below', {}), ['below']],
    ['of another input', route('below', {}, { portIds: ['other'] }), []],
    ['of other kinds', route('below', {}, { kinds: ['controller'] }), []],
    ['of another channel', route('below', {}, { channels: [3] }), []],
    ['that are off', route('below', { isOn: false }), []],
  ] as const)('%s', (_name, below, names) => {
    const gated = route('gated', { gate }, { kinds: ['note'], channels: [1] });
    expect(starvedBy([route('above', {}), gated, below], 1)).toEqual(names);
    // What offers it on, has no gate, or is off starves nobody.
    expect(starvedBy([{ ...gated, after: 'pass' }, below], 0)).toEqual([]);
    expect(starvedBy([{ ...gated, gate: null }, below], 0)).toEqual([]);
    expect(starvedBy([{ ...gated, isOn: false }, below], 0)).toEqual([]);
  });
});
