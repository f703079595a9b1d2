import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { controller, encode, hex, noteOff, noteOn, type Message } from '../../midi';
import { PLAIN_FROM, PLAIN_ROUTE, type Route } from '../../routing';
import { makeDevice, makePort, makeRig } from '../../testing.test-support';
import { compileWorld, initialState, step, type LiveEvent, type LiveState } from '../index';

const keys = makePort({ id: 'keys', direction: 'in', link: 'usb', atComputer: true });
const out = makePort({ id: 'out', direction: 'out', link: 'usb', atComputer: true });
const thru: Route = {
  id: 'thru',
  name: 'Thru',
  ...PLAIN_ROUTE,
  from: { ...PLAIN_FROM, portIds: ['keys'] },
  to: [{ portId: 'out', channel: null }],
};
const world = compileWorld({
  rig: {
    ...makeRig([makeDevice({ role: 'carrier', ports: [keys, out] })]),
    routing: { lines: [], routes: [thru], othersTo: [] },
  },
  presets: [],
  setName: '',
  songs: [],
});

type Arrival = readonly [atMs: number, message: Message];

/**
 * Plays what arrives at the keys; where the output leads back, all that leaves arrives there again after a while.
 * @param pulledMs when the cable of the keys is pulled out.
 */
function play(
  arrivals: readonly Arrival[],
  untilMs: number,
  backAfterMs: number | null = null,
  pulledMs = Infinity,
) {
  let state: LiveState = initialState(world, 0);
  let wakeMs = Infinity;
  const waiting = [...arrivals];
  const sent: [number, string][] = [];
  const loops: number[] = [];
  for (let n = 0; n < 100_000; n++) {
    waiting.sort((a, b) => a[0] - b[0]);
    const next = waiting[0];
    const atMs = Math.min(next?.[0] ?? Infinity, wakeMs, pulledMs);
    if (atMs > untilMs) break;
    const event: LiveEvent =
      atMs === pulledMs
        ? { kind: 'command', atMs, command: { kind: 'port-lost', portId: 'keys' } }
        : next && next[0] <= wakeMs
          ? { kind: 'message', atMs, portId: 'keys', message: waiting.shift()![1] }
          : { kind: 'tick', atMs };
    if (atMs === pulledMs) pulledMs = Infinity;
    const done = step(world, state, event);
    state = done.state;
    wakeMs = Infinity;
    for (const e of done.effects) {
      if (e.kind === 'wake') wakeMs = e.atMs;
      if (e.kind === 'note' && e.note.code === 'route-loop') loops.push(atMs);
      if (e.kind !== 'send') continue;
      sent.push([e.atMs, hex(encode(e.message))]);
      if (backAfterMs !== null) waiting.push([e.atMs + backAfterMs, e.message]);
    }
  }
  return { sent, loops };
}

const every = (count: number, ms: number, of: (i: number) => Message): Arrival[] =>
  Array.from({ length: count }, (_, i) => [i * ms, of(i)] as const);
const bytes = (arrivals: readonly Arrival[]) => arrivals.map(([, m]) => hex(encode(m)));
const step1 = controller(0, 20, 65);

describe('somebody who plays the same again and again', () => {
  it.each([1, 4, 5, 12, 25, 33, 45, 49, 50])('200 steps of an encoder, one each %i ms, all pass', (ms) => {
    const turned = every(200, ms, () => step1);
    expect(play(turned, 60_000).sent.map((s) => s[1])).toEqual(bytes(turned));
  });
  it('200 strikes of one pad all sound, each ends after it began, and in their order', () => {
    const strikes: Arrival[] = Array.from({ length: 200 }, (_, i): Arrival[] => [
      [i * 40, noteOn(9, 38, 100)],
      [i * 40 + 15, noteOff(9, 38)],
    ]).flat();
    expect(play(strikes, 60_000).sent.map((s) => s[1])).toEqual(bytes(strikes));
  });
  it('40 rolls that grow faster and slower and break off anywhere: nothing is lost, and no note hangs', () => {
    const roll = fc.record({
      count: fc.integer({ min: 1, max: 60 }),
      gaps: fc.array(fc.integer({ min: 2, max: 90 }), { minLength: 60, maxLength: 60 }),
      steady: fc.boolean(),
      down: fc.integer({ min: 1, max: 30 }),
    });
    fc.assert(
      fc.property(roll, ({ count, gaps, steady, down }) => {
        let at = 0;
        const strikes: Arrival[] = Array.from({ length: count }, (_, i): Arrival[] => {
          const gap = steady ? gaps[0]! : gaps[i]!;
          const began = at;
          at += gap;
          return [
            [began, noteOn(9, 38, 100)],
            [began + Math.min(down, gap - 1), noteOff(9, 38)],
          ];
        }).flat();
        const { sent, loops } = play(strikes, at + 1000);
        expect(sent.map((s) => s[1])).toEqual(bytes(strikes));
        expect(loops).toEqual([]);
      }),
      { seed: 40, numRuns: 40 },
    );
  });
  it('on two knobs: each leaves after its own moment, not with the other', () => {
    const other = controller(0, 21, 65);
    const [one, two] = [every(9, 2, () => step1), every(9, 2, () => other)];
    const { sent, loops } = play([...one, ...two.map(([at, m]) => [at + 15, m] as const)], 1000);
    const lastOf = (m: Message) => Math.max(...sent.flatMap(([at, b]) => (b === hex(encode(m)) ? [at] : [])));
    expect([sent.length, lastOf(step1), lastOf(other), loops]).toEqual([18, 16 + 30, 15 + 16 + 30, []]);
  });
  it('is not struck any more once its cable is pulled out, and what sounds ends', () => {
    // The ninth strike is held back, from 80 ms to 110.
    const roll = every(18, 5, (i) => (i % 2 === 0 ? noteOn(0, 60, 90) : noteOff(0, 60)));
    const whole = play(roll, 1000).sent;
    expect(whole.at(-1)![0]).toBe(110);
    const pulled = play(roll, 1000, null, 90).sent;
    const sounds = pulled.reduce((n, [, b]) => n + (b.startsWith('90') ? 1 : -1), 0);
    expect([pulled.filter(([atMs, b]) => atMs > 90 && b.startsWith('90')), sounds]).toEqual([[], 0]);
    expect(pulled.length).toBeLessThan(whole.length);
  });
  it('is held back for no more than a moment', () => {
    const turned = every(100, 5, () => step1);
    const late = play(turned, 60_000).sent.map(([atMs], i) => atMs - turned[i]![0]);
    expect(Math.max(...late)).toBeLessThanOrEqual(30);
  });
});

describe('what goes round', () => {
  const kinds: Record<string, readonly Message[]> = {
    controller: [step1],
    note: [noteOn(0, 60, 90)],
    'note with its end': [noteOn(0, 60, 90), noteOff(0, 60)],
  };
  const rings = [1, 3, 20].flatMap((ms) =>
    [1, 2, 3, 4].flatMap((copies) => Object.keys(kinds).map((kind) => [ms, copies, kind] as const)),
  );
  it.each(rings)('in %i ms, %i at once, a %s, ends within half a second and is told', (ms, copies, kind) => {
    const arrivals = Array.from({ length: copies }, (_, i): Arrival[] =>
      kinds[kind]!.map((m, k) => [(i * ms) / copies + k * 0.3, m] as const),
    ).flat();
    const { sent, loops } = play(arrivals, 3000, ms);
    expect(Math.max(...sent.map((s) => s[0]))).toBeLessThan(500);
    expect(loops.length).toBeGreaterThan(0);
  });
  it('100 rings of any length, with one to four copies, all end', () => {
    const ring = fc.record({
      ms: fc.double({ min: 0.6, max: 22, noNaN: true }),
      copies: fc.integer({ min: 1, max: 4 }),
    });
    fc.assert(
      fc.property(ring, ({ ms, copies }) => {
        const arrivals = Array.from({ length: copies }, (_, i) => [(i * ms) / copies, step1] as const);
        const { sent, loops } = play(arrivals, 3000, ms);
        expect(Math.max(...sent.map((s) => s[0]))).toBeLessThan(500);
        expect(loops.length).toBeGreaterThan(0);
      }),
      { seed: 41, numRuns: 100 },
    );
  });
});
