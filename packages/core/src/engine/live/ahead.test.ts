import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Action, Assignment } from '../../floor';
import { controller, encode, hex } from '../../midi';
import { PLAIN_ROUTE } from '../../routing';
import {
  assign,
  cable,
  makeBoard,
  makeDevice,
  makeFunction,
  makePort,
  makeRig,
} from '../../testing.test-support';
import {
  changeShow,
  compileWorld,
  initialState,
  Replay,
  sentBy,
  step,
  valueOf,
  type LiveEvent,
  type Show,
} from '../index';

/** What glides and clocks say is handed over before its time, with its time. */

const AHEAD_MS = 16;

const out = makePort({ id: 'out', direction: 'out', link: 'usb', atComputer: true });
const gearIn = makePort({ direction: 'in', link: 'usb' });
const box = makeDevice({ role: 'carrier', ports: [out] });
const moved = (id: string, number: number, settleMs = 0) =>
  makeFunction({ id, drive: { kind: 'controller', controller: number }, settleMs });
const gear = makeDevice({
  channel: 0,
  ports: [gearIn],
  chart: [
    moved('level', 21),
    moved('tone', 22),
    moved('slow', 23, 40),
    makeFunction({
      id: 'program',
      drive: { kind: 'program', bank: null },
      shape: { kind: 'program', names: [] },
      settleMs: 30,
    }),
  ],
});

const ramp = (functionId: string, s: number, unit: 's' | 'beats' = 's') =>
  ({
    kind: 'ramp',
    functionId,
    from: 0,
    to: 100,
    time: { amount: s, unit },
    curve: 'linear',
  }) as unknown as Action;
const set = (functionId: string, value: number) => ({ kind: 'set', functionId, value }) as unknown as Action;
const clock = (to: 'start' | 'stop') => ({ kind: 'clock', portId: 'out', to }) as unknown as Action;
const plain = (kind: 'tap' | 'panic') => ({ kind }) as unknown as Action;

function showOf(
  presses: readonly (readonly Action[])[],
  { isRouted = false, link = 'usb' }: { isRouted?: boolean; link?: 'usb' | 'din' } = {},
): Show {
  const assignments: Assignment[] = presses.map((press, i) => assign(`s${i}`, press as never));
  const { device, board, preset } = makeBoard(presses.length, 0, [assignments]);
  const by = { ...out, link };
  const devices = [device, { ...box, ports: [by] }, { ...gear, ports: [{ ...gearIn, link }] }];
  const rig = makeRig(devices, [cable(by, gearIn)], [board]);
  const through = {
    ...PLAIN_ROUTE,
    id: 'through',
    name: 'Through',
    from: { ...PLAIN_ROUTE.from, portIds: ['out'] },
    to: [{ portId: 'out', channel: null }],
  };
  const routing = { lines: [], routes: isRouted ? [through] : [], othersTo: [] };
  return { rig: { ...rig, routing }, presets: [preset], setName: '', songs: [] };
}

const press = (index: number, atMs: number): LiveEvent[] =>
  [127, 0].map((value) => ({
    kind: 'message',
    atMs,
    portId: 'board-out',
    message: controller(15, 30 + index, value),
  }));

type Sent = { readonly handedMs: number; readonly atMs: number; readonly bytes: string };

/** Plays events with a tick whenever one is asked for. */
function play(show: Show, events: readonly LiveEvent[], untilMs: number, aheadMs = AHEAD_MS) {
  const world = compileWorld(show, aheadMs);
  let state = initialState(world, 0);
  let wakeMs = Infinity;
  const sent: Sent[] = [];
  const take = (event: LiveEvent) => {
    const done = step(world, state, event);
    state = done.state;
    wakeMs = Infinity;
    for (const e of done.effects) {
      if (e.kind === 'wake') wakeMs = e.atMs;
      if (e.kind === 'send') {
        expect(e.dueMs).toBeLessThanOrEqual(e.atMs);
        sent.push({ handedMs: event.atMs, atMs: e.atMs, bytes: hex(encode(e.message)) });
      }
    }
  };
  for (const event of [...events, { kind: 'tick', atMs: untilMs } as const]) {
    while (wakeMs < event.atMs) take({ kind: 'tick', atMs: wakeMs });
    take(event);
  }
  return { world, sent, state };
}

/** What leaves until a time, in order of time. */
const inTime = (sent: readonly Sent[], untilMs: number): string[] =>
  sent
    .filter((s) => s.atMs <= untilMs)
    .sort((a, b) => a.atMs - b.atMs)
    .map((s) => `${s.atMs.toFixed(6)} ${s.bytes}`);
const valuesOf = (sent: readonly Sent[], number: number): number[] =>
  sent.flatMap(({ bytes }) => {
    const [status, controllerNumber, value] = bytes.split(' ').map((pair) => parseInt(pair, 16));
    return status === 0xb0 && controllerNumber === number ? [value!] : [];
  });
const rises = (list: readonly number[]): boolean => list.every((v, i) => i === 0 || v >= list[i - 1]!);

describe('what a glide or a clock says is handed over ahead', () => {
  it('leaves at the same times as without, each handed over as long before as it can be', () => {
    const show = showOf([[ramp('level', 0.73), clock('start')], [ramp('tone', 0.4)]]);
    const events = [...press(0, 100), ...press(1, 333.3)];
    const [without, ahead] = [play(show, events, 2000, 0), play(show, events, 2000)];
    expect(inTime(ahead.sent, 2000)).toEqual(inTime(without.sent, 2000));
    expect(ahead.state.registers).toEqual(without.state.registers);
    expect(without.sent.every((s) => s.handedMs === s.atMs)).toBe(true);
    for (const { handedMs, atMs } of ahead.sent)
      expect(
        atMs === handedMs || Math.abs(atMs - handedMs - AHEAD_MS) < 1e-6 || [100, 333.3].includes(handedMs),
      ).toBe(true);
    // The press itself leaves at once, with the steps that are due soon after it.
    expect(ahead.sent.filter((s) => s.handedMs === 100).map((s) => s.atMs)).toEqual([100, 100, 110, 101]);
  });

  it('as a property, for any glides that do not meet', () => {
    const glide = fc.tuple(
      fc.double({ min: 0, max: 900, noNaN: true }),
      fc.double({ min: 0.001, max: 1, noNaN: true }),
    );
    fc.assert(
      fc.property(glide, glide, fc.double({ min: 0.1, max: 40, noNaN: true }), ([a, s], [b, t], aheadMs) => {
        const show = showOf([[ramp('level', s)], [ramp('tone', t), clock('start')]]);
        const events = [...press(0, a), ...press(1, b)].sort((x, y) => x.atMs - y.atMs);
        expect(inTime(play(show, events, 2500, aheadMs).sent, 2400)).toEqual(
          inTime(play(show, events, 2500, 0).sent, 2400),
        );
      }),
      { seed: 133, numRuns: 300 },
    );
  });

  it('a press that takes over has the last word, and of what the glide has left nothing comes', () => {
    const show = showOf([[ramp('level', 1)], [set('level', 7)]]);
    const { world, sent, state } = play(show, [...press(0, 0), ...press(1, 205)], 3000);
    expect(valuesOf(sent, 21).at(-1)).toBe(7);
    expect(valueOf(world, state, 'level')).toBe(7);
    expect(sent.at(-1)).toMatchObject({ handedMs: 205, atMs: 205 });
    const latest = Math.max(...sent.map((s) => s.atMs));
    expect(latest).toBeLessThanOrEqual(205 + AHEAD_MS);
  });

  it('takes no time of its link from what leaves before it', () => {
    const show = showOf([[ramp('level', 1)], [set('program', 3), set('tone', 7)]], { link: 'din' });
    const { sent } = play(show, [...press(0, 0), ...press(1, 205)], 3000);
    // Two bytes of 0.32 ms, and the 30 ms that the device needs for them.
    expect(sent.find((s) => s.bytes === 'C0 03')).toMatchObject({ handedMs: 205, atMs: 205 });
    expect(sent.find((s) => s.bytes === 'B0 16 07')!.atMs).toBeCloseTo(205 + 0.64 + 30, 6);
  });

  it('a recording that was played ahead is played so again', () => {
    const show = showOf([[ramp('level', 0.2), clock('start')]]);
    const { sent } = play(show, press(0, 0), 400);
    const entries = [
      ...press(0, 0),
      ...Array.from({ length: 400 }, (_, i) => ({ kind: 'tick', atMs: i + 1 }) as const),
    ];
    const recording = {
      startedAtMs: 0,
      aheadMs: AHEAD_MS,
      show,
      entries: entries.map((event) => ({ kind: 'event', event }) as const),
    };
    const wordsOf = (list: readonly { atMs: number; bytes: string }[]) =>
      list.map((s) => `${s.atMs} ${s.bytes}`).sort();
    expect(new Replay(recording).world.aheadMs).toBe(AHEAD_MS);
    expect(wordsOf(sentBy(recording))).toEqual(wordsOf(sent));
  });

  it('panic ends what was not handed over yet', () => {
    const show = showOf([[ramp('level', 1), clock('start')], [plain('panic')]]);
    const { sent } = play(show, [...press(0, 0), ...press(1, 205)], 3000);
    expect(Math.max(...valuesOf(sent, 21))).toBe(22);
    expect(sent.filter((s) => s.handedMs > 205 && s.bytes.startsWith('B0'))).toEqual([]);
  });

  it('a slower tempo counts from the step that was handed over', () => {
    const show = showOf([[ramp('level', 4, 'beats')], [plain('tap')]]);
    const { sent } = play(show, [...press(0, 0), ...press(1, 103), ...press(1, 1103)], 6000);
    const level = sent.filter((s) => s.bytes.startsWith('B0 15'));
    expect(rises(valuesOf(level, 21))).toBe(true);
    expect(rises(level.map((s) => s.atMs))).toBe(true);
    expect(valuesOf(level, 21).at(-1)).toBe(100);
  });

  it('a clock that is started again starts after the ticks that were handed over', () => {
    const show = showOf([[clock('start')]]);
    const { sent } = play(show, [...press(0, 0), ...press(0, 247)], 400);
    const again = sent.findIndex((s, i) => i > 0 && s.bytes === 'FA');
    expect(again).toBeGreaterThan(5);
    const before = sent.slice(0, again).map((s) => s.atMs);
    const after = sent.slice(again + 1).map((s) => s.atMs);
    expect(Math.min(...after)).toBeGreaterThan(Math.max(...before));
    expect(rises(sent.filter((s) => s.bytes === 'F8').map((s) => s.atMs))).toBe(true);
  });

  it('not what a route takes, nor what its device needs a while for', () => {
    const routed = play(showOf([[ramp('level', 0.3)]], { isRouted: true }), press(0, 0), 1000);
    expect(routed.sent.length).toBeGreaterThan(20);
    expect(routed.sent.every((s) => s.handedMs === s.atMs)).toBe(true);
    const slow = play(showOf([[ramp('slow', 0.3)]]), press(0, 0), 1000);
    expect(slow.sent.length).toBeGreaterThan(5);
    expect(slow.sent.every((s) => s.handedMs === s.atMs)).toBe(true);
  });

  it('a timer that is later than that skips what it missed, as without', () => {
    const world = compileWorld(showOf([[ramp('level', 0.1)]]), AHEAD_MS);
    let state = initialState(world, 0);
    const sent: string[] = [];
    const late = (atMs: number): LiveEvent => ({ kind: 'tick', atMs, leavesMs: atMs });
    for (const event of [...press(0, 0), late(55), late(400)]) {
      const done = step(world, state, event);
      state = done.state;
      for (const e of done.effects) if (e.kind === 'send') sent.push(`${e.atMs} ${hex(encode(e.message))}`);
    }
    expect(sent).toEqual([
      '0 B0 15 00',
      '10 B0 15 0A',
      '55 B0 15 32',
      '60 B0 15 3C',
      '70 B0 15 46',
      '400 B0 15 64',
    ]);
  });

  it('from when things really happen, where what came in had to wait for its turn', () => {
    const late: LiveEvent = {
      kind: 'message',
      atMs: 100,
      leavesMs: 137,
      portId: 'board-out',
      message: controller(15, 99, 1),
    };
    const timesOf = (isRouted: boolean) => {
      const show = showOf([[ramp('level', 1), clock('start')]], { isRouted });
      const world = compileWorld(show, AHEAD_MS);
      const begun = step(world, initialState(world, 0), press(0, 0)[0]!);
      const { state, effects } = step(
        world,
        step(world, begun.state, { kind: 'tick', atMs: 95 }).state,
        late,
      );
      const times = (byte: string) =>
        effects.flatMap((e) =>
          e.kind === 'send' && hex(encode(e.message)).startsWith(byte) ? [e.atMs] : [],
        );
      return { glide: times('B0 15'), clock: times('F8').map(Math.round), state, effects };
    };
    const { glide, clock: ticks, effects } = timesOf(false);
    // What was missed meanwhile of the glide is skipped, of the clock it is made up for; then 16 ms ahead of then.
    expect(glide).toEqual([137, 140, 150]);
    expect(ticks).toEqual([137, 147]);
    expect(effects.flatMap((e) => (e.kind === 'wake' ? [e.atMs] : []))).toEqual([160 - AHEAD_MS]);
    const routed = timesOf(true);
    expect([routed.glide, routed.clock]).toEqual([[], []]);
  });

  it('what came in before the computer slept does not have the clock make up for the night', () => {
    const world = compileWorld(showOf([[clock('start')]]), AHEAD_MS);
    const begun = step(world, initialState(world, 0), press(0, 0)[0]!);
    const message = controller(15, 99, 1);
    const slept: LiveEvent = { kind: 'message', atMs: 2, leavesMs: 60_000, portId: 'board-out', message };
    const { effects } = step(world, begun.state, slept);
    const ticks = effects.flatMap((e) => (e.kind === 'send' && e.message.kind === 'clock' ? [e.atMs] : []));
    expect(ticks.filter((atMs) => atMs > 2 + AHEAD_MS && atMs < 60_000)).toEqual([]);
    expect(ticks.length).toBeLessThan(10);
  });

  it('a glide says the same at the same times whenever it begins', () => {
    const saidFrom = (startMs: number) =>
      play(showOf([[ramp('level', 2)]]), press(0, startMs), startMs + 3000).sent.map(
        (s) => `${Math.round(s.atMs - startMs)} ${s.bytes}`,
      );
    for (let i = 0; i < 200; i++) expect(saidFrom(i * 777.377)).toEqual(saidFrom(0));
  });

  it('what is due at its own time in the same step leaves then', () => {
    const later = { ...set('tone', 7), delay: { amount: 52, unit: 'ms' } } as Action;
    const world = compileWorld(showOf([[ramp('level', 1), later]]), AHEAD_MS);
    const begun = step(world, initialState(world, 0), press(0, 0)[0]!);
    const { effects } = step(world, begun.state, { kind: 'tick', atMs: 55 });
    const tone = effects.flatMap((e) => (e.kind === 'send' && encode(e.message)[1] === 22 ? [e.atMs] : []));
    expect(tone).toEqual([52]);
  });

  it('an edit goes on as far ahead as before', () => {
    const show = showOf([[ramp('level', 1)]]);
    const world = compileWorld(show, AHEAD_MS);
    const begun = step(world, initialState(world, 0), press(0, 0)[0]!);
    const edited = changeShow(world, begun.state, { ...show, setName: 'Other' }, 100);
    expect(edited.world.aheadMs).toBe(AHEAD_MS);
    const times = edited.effects.flatMap((e) => (e.kind === 'send' ? [e.atMs] : []));
    expect(Math.max(...times)).toBe(110);
  });
});
