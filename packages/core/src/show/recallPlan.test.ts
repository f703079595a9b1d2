import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { encode, hex } from '../midi';
import { makeDevice, makeFunction, makeSong } from '../testing.test-support';
import { planRecall, sceneCells, type Reached, type RecallTarget, type RigKnowledge } from './index';

const SETTLE_MS = 42;
const din = { portId: 'A', link: 'din', latencyMs: 0 } as const;
const processor = makeDevice({ id: 'processor', channel: 2 });
const mixer = makeDevice({ id: 'mixer', channel: 8 });
const host = makeDevice({ id: 'host', channel: 0 });

const reach = (
  device: typeof processor,
  part: Parameters<typeof makeFunction>[0],
  path: Reached['path'] = din,
): Reached => ({
  device,
  fn: makeFunction(part),
  path,
});
const program = reach(processor, {
  id: 'program',
  drive: { kind: 'program', bank: null },
  shape: { kind: 'program', names: [] },
  settleMs: SETTLE_MS,
});
const snapshot = reach(processor, { id: 'snapshot', drive: { kind: 'controller', controller: 22 } });
const reverb = reach(processor, { id: 'reverb', drive: { kind: 'controller', controller: 91 } });
const level = reach(mixer, { id: 'level', drive: { kind: 'controller', controller: 7 } });
const arm = reach(
  host,
  { id: 'arm', drive: { kind: 'controller', controller: 102 } },
  { portId: 'B', link: 'virtual', latencyMs: 0 },
);
const play = reach(
  host,
  { id: 'play', drive: { kind: 'transport', command: 'play' }, shape: { kind: 'trigger', sent: 0 } },
  { portId: 'B', link: 'virtual', latencyMs: 0 },
);
const lost = reach(host, { id: 'lost' }, null);

const knowing = (known: Record<string, number> = {}, part: Partial<RigKnowledge> = {}): RigKnowledge => ({
  nowMs: 0,
  stands: ({ fn }, value) => known[fn.id] === value,
  listensFromMs: () => 0,
  portFreeFromMs: () => 0,
  ...part,
});
const target = (reached: Reached, value: number): RecallTarget => ({ reached, value });
const lines = (targets: RecallTarget[], knowledge: RigKnowledge, mode: 'changes' | 'all' = 'changes') =>
  planRecall(targets, knowledge, mode).sends.map((s) => [
    s.atMs,
    s.portId,
    hex(encode(s.messages[0]!)),
    s.landsAtMs,
  ]);

describe('recall plan', () => {
  it('sends the program first, waits until the device listens, then the rest', () => {
    // Two bytes take 0.64 ms on DIN, three 0.96 ms (MIDI 1.0 Detailed Specification, from memory).
    expect(lines([target(snapshot, 2), target(reverb, 88), target(program, 13)], knowing())).toEqual([
      [0, 'A', 'C2 0D', 0.64],
      [42.64, 'A', 'B2 16 02', 43.6],
      [42.64, 'A', 'B2 5B 58', 44.56],
    ]);
  });

  it('lets other devices on the same port go before the device that is deaf', () => {
    expect(lines([target(program, 1), target(snapshot, 0), target(level, 90)], knowing())).toEqual([
      [0, 'A', 'C2 01', 0.64],
      [0, 'A', 'B8 07 5A', 1.6],
      [42.64, 'A', 'B2 16 00', 43.6],
    ]);
  });

  it('sends on two ports side by side', () => {
    expect(lines([target(snapshot, 1), target(arm, 1)], knowing())).toEqual([
      [0, 'A', 'B2 16 01', 0.96],
      [0, 'B', 'B0 66 01', 0],
    ]);
  });

  it('sends only what differs, or everything again on request', () => {
    const known = knowing({ program: 13, snapshot: 1, reverb: 40 });
    const targets = [target(program, 13), target(snapshot, 2), target(reverb, 40)];
    expect(lines(targets, known).map((l) => l[2])).toEqual(['B2 16 02']);
    expect(lines(targets, known, 'all').map((l) => l[2])).toEqual(['C2 0D', 'B2 16 02', 'B2 5B 28']);
  });

  it('after a program change sends what did not differ too: loading moved it', () => {
    const plan = planRecall(
      [target(program, 20), target(snapshot, 1)],
      knowing({ program: 13, snapshot: 1 }),
      'changes',
    );
    expect(plan.sends.map((s) => s.functionId)).toEqual(['program', 'snapshot']);
    expect([...plan.reloaded]).toEqual(['processor']);
  });

  it('always sends triggers', () => {
    expect(lines([target(play, 0)], knowing({ play: 0 }))).toHaveLength(1);
  });

  it('waits for a device that was settling before, and for bytes still on their way', () => {
    const busy = knowing(
      {},
      { nowMs: 10, listensFromMs: (id) => (id === 'processor' ? 30 : 0), portFreeFromMs: () => 12 },
    );
    expect(lines([target(snapshot, 1), target(level, 1)], busy)).toEqual([
      [10, 'A', 'B8 07 01', 12.96],
      [30, 'A', 'B2 16 01', 30.96],
    ]);
  });

  it('names what nothing leads to and sends the rest', () => {
    const plan = planRecall([target(lost, 1), target(arm, 1)], knowing(), 'all');
    expect(plan.unreached.map((t) => t.reached.fn.id)).toEqual(['lost']);
    expect(plan.sends).toHaveLength(1);
  });

  it('is empty and settled at once when nothing differs', () => {
    const plan = planRecall([target(arm, 1)], knowing({ arm: 1 }, { nowMs: 5 }), 'changes');
    expect([plan.sends, plan.settledAtMs]).toEqual([[], 5]);
  });

  it('never overlaps bytes on a port, never speaks to a deaf device, and lands everything', () => {
    const all = [program, snapshot, reverb, level, arm];
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(all.length - 1), fc.nat(127)), { maxLength: 12 }),
        fc.nat(50),
        (picks, deafMs) => {
          const targets = picks.map(([i, value]) => target(all[i]!, value));
          const plan = planRecall(targets, knowing({}, { listensFromMs: () => deafMs }), 'all');
          expect(plan.sends).toHaveLength(targets.length);
          const din = plan.sends.filter((s) => s.portId === 'A').sort((a, b) => a.landsAtMs - b.landsAtMs);
          for (let i = 1; i < din.length; i++) {
            const took = 0.32 * encode(din[i]!.messages[0]!).length;
            expect(din[i]!.landsAtMs - din[i - 1]!.landsAtMs).toBeGreaterThanOrEqual(took - 1e-9);
          }
          let deafUntil = deafMs;
          for (const s of plan.sends.filter((x) => x.deviceId === 'processor')) {
            expect(s.atMs).toBeGreaterThanOrEqual(deafUntil - 1e-9);
            if (s.functionId === 'program') deafUntil = s.landsAtMs + SETTLE_MS;
          }
          for (const s of plan.sends) expect(s.landsAtMs).toBeLessThanOrEqual(plan.settledAtMs);
        },
      ),
      { seed: 61 },
    );
  });
});

describe('carried values', () => {
  const song = makeSong('Song', [
    ['A', { x: 1, y: 5 }],
    ['B', { x: 2 }],
    ['C', { z: 0 }],
  ]);
  it('come from the scene that set them last', () => {
    expect(Object.fromEntries(sceneCells(song, 2))).toEqual({
      x: { value: 2, setIn: 1, way: null },
      y: { value: 5, setIn: 0, way: null },
      z: { value: 0, setIn: 2, way: null },
    });
  });
  it('do not reach back, and off (0) is a value like any other', () => {
    expect(sceneCells(song, 0).has('z')).toBe(false);
    expect(sceneCells(song, 2).get('z')).toEqual({ value: 0, setIn: 2, way: null });
  });
  it('of a scene that is not there are a bug', () => expect(() => sceneCells(song, 3)).toThrow(RangeError));
});

it('asks what is known of a device and of a port once, however many values wait for it to settle', () => {
  const values = Array.from({ length: 1000 }, (_, i) =>
    reach(processor, { id: `v${i}`, drive: { kind: 'controller', controller: i % 100 } }),
  );
  let asked = 0;
  const knowledge: RigKnowledge = {
    nowMs: 0,
    stands: () => false,
    listensFromMs: () => {
      asked++;
      return 30;
    },
    portFreeFromMs: () => {
      asked++;
      return 0;
    },
  };
  const targets = [program, ...values].map((reached) => ({ reached, value: 1 }));
  expect(planRecall(targets, knowledge, 'all').sends.map((s) => s.functionId)).toEqual(
    targets.map((t) => t.reached.fn.id),
  );
  expect(asked).toBeLessThanOrEqual(2);
});
