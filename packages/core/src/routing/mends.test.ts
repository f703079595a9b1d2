import { describe, expect, it } from 'vitest';
import { cableFaults } from '../gear';
import { applied, type Finding, type Json } from '../edits';
import { PLAIN_FROM, PLAIN_ROUTE, routeLoops, starvedRoutes, type Route } from './index';
import { cable, makeDevice, makePort, makeRig } from '../testing.test-support';

const route = (id: string, from: string, to: string, part: Partial<Route> = {}): Route => ({
  ...PLAIN_ROUTE,
  id,
  name: id,
  from: { ...PLAIN_FROM, portIds: [from] },
  to: [{ portId: to, channel: null }],
  ...part,
});
const mended = <T>(doc: T, finding: Finding, at = 0): T =>
  applied(doc as Json, finding.mends[at]!.changes) as T;

describe('a mend, done as the plain edit that it is, puts its finding right', () => {
  it('of a ring of routes: any of its routes switched off', () => {
    const routing = {
      lines: [
        { id: 'a', name: 'a' },
        { id: 'b', name: 'b' },
      ],
      routes: [route('one', 'a', 'b'), route('two', 'b', 'a')],
      othersTo: [],
    };
    const rig = { ...makeRig([]), routing };
    const [ring] = routeLoops(routing, rig);
    expect(ring!.mends.map((m) => m.text)).toEqual(['Switch “one” off', 'Switch “two” off']);
    for (const at of [0, 1]) {
      const after = mended(rig, ring!, at);
      expect(routeLoops(after.routing, after)).toEqual([]);
    }
  });
  it('of routes that get nothing while a gate above is closed', () => {
    const gate: Route['gate'] = { by: { kind: 'switch' }, startsOpen: false, holds: [], others: 'pass' };
    const routes = [route('above', 'in', 'out', { gate }), route('below', 'in', 'out')];
    const found = starvedRoutes(routes, 0)!;
    expect(found).toMatchObject({ code: 'starved', place: { routeIds: ['above', 'below'] } });
    const rig = { ...makeRig([]), routing: { lines: [], routes, othersTo: [] } };
    expect(starvedRoutes(mended(rig, found).routing.routes, 0)).toBeNull();
  });
  it('of a cable that cannot be', () => {
    const [out, into] = [makePort({ direction: 'out' }), makePort({ direction: 'in', link: 'usb' })];
    const rig = makeRig([makeDevice({ ports: [out] }), makeDevice({ ports: [into] })], [cable(out, into)]);
    const [wrong] = cableFaults(rig).filter((f) => f.severity === 'refused');
    expect(cableFaults(mended(rig, wrong!)).filter((f) => f.severity === 'refused')).toEqual([]);
  });
});
