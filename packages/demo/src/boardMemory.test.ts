import {
  compileWorld,
  initialState,
  step,
  type Effect,
  type LiveEvent,
  type Show,
} from '@idle-step/core/engine';
import { isPressed, type Board, type Preset, type RigWithBoards } from '@idle-step/core/floor';
import { PLAIN_PORT, type Device } from '@idle-step/core/gear';
import {
  boardOn,
  memoryBytes,
  memoryOf,
  memoryShow,
  newMemoryBoard,
  readMemory,
  receiveKeys,
  type MemoryBoard,
} from '@idle-step/core/memory';
import { encode, hex } from '@idle-step/core/midi';
import { startJob } from '@idle-step/core/transfer';
import { describe, expect, it } from 'vitest';
import { overLink, type Happening } from '../../core/src/memory/boardLink.test-support';
import { seeded } from '../../core/src/seeded.test-support';
import { demoPresets, demoRig } from './index';
import { randomPreset, tenAndTwo } from './randomPresets.test-support';

/** The demo's rig with all its gear behind one out, as a board by itself has it; nothing in it is asked anything. */
function behindOneOut(rig: RigWithBoards): RigWithBoards {
  const receivers = rig.devices.filter((d) => d.role === 'receiver');
  const gear = receivers.map((d): Device => ({
    ...d,
    ports: [{ ...PLAIN_PORT, id: `${d.id}/in`, name: 'in', direction: 'in', link: 'din' }],
    chart: d.chart.map((fn) => ({ ...fn, request: '' })),
  }));
  const others = rig.devices.filter((d) => d.role === 'controller').map((d) => ({ ...d, ports: [] }));
  const wire: Device = {
    ...others[0]!,
    id: 'wire',
    role: 'carrier',
    ports: [
      { ...PLAIN_PORT, id: 'out', name: 'out', direction: 'in', link: 'usb', atComputer: true },
      { ...PLAIN_PORT, id: 'thru', name: 'out', direction: 'out', link: 'din' },
    ],
  };
  return {
    ...rig,
    devices: [...others, wire, ...gear],
    cables: gear.map((d) => ({ id: `${d.id}/cable`, fromPortId: 'thru', toPortId: `${d.id}/in` })),
  };
}

/** What feet do: presses, holds, double presses and sweeps. */
function feet(board: Board, count: number, random: () => number): LiveEvent[] {
  const events: LiveEvent[] = [];
  let atMs = 1000;
  for (let i = 0; i < count; i++) {
    const control = board.controls[Math.floor(random() * board.controls.length)]!;
    const rest = random() < 0.3 ? random() * 250 : random() * 2000;
    atMs += rest;
    const at = (command: Extract<LiveEvent, { kind: 'command' }>['command']) =>
      events.push({ kind: 'command', atMs, command });
    if (isPressed(control.kind)) {
      at({ kind: 'switch', controlId: control.id, velocity: 1 + Math.floor(random() * 127) });
      atMs += random() < 0.2 ? 700 : 40 + random() * 100;
      at({ kind: 'switch', controlId: control.id, velocity: 0 });
    } else if (control.hardware.encoding !== 'absolute')
      at({ kind: 'turn', controlId: control.id, steps: Math.floor(random() * 9) - 4 });
    else at({ kind: 'move', controlId: control.id, position: Math.floor(random() * 128) });
  }
  return events;
}

/** Everything that leaves and every lamp, with its time. */
function played(show: Show, events: readonly LiveEvent[]): string[] {
  const world = compileWorld(show);
  let state = initialState(world, 0);
  const told: string[] = [];
  const take = (effects: readonly Effect[]) => {
    for (const e of effects)
      if (e.kind === 'send') told.push(`${e.atMs.toFixed(3)} ${hex(encode(e.message))}`);
  };
  for (const event of [...events, { kind: 'tick', atMs: (events.at(-1)?.atMs ?? 0) + 20_000 } as const]) {
    const after = step(world, state, event);
    state = after.state;
    take(after.effects);
  }
  return told;
}

const rig = behindOneOut(demoRig);
const all = demoPresets.flatMap((preset) => {
  const board = rig.boards.find((b) => b.id === preset.boardId);
  return board ? [{ board, preset }] : [];
});

/** The preset as far as a board by itself can do it. */
function withoutLeftOut(board: Board, preset: Preset): Preset {
  const { leftOut } = memoryOf(rig, board, preset);
  const gone = new Set(leftOut.map((l) => `${l.pageId}/${l.controlId}/${l.list}/${l.id}`));
  const page = <P extends Preset['banks'][number]>(p: P): P => ({
    ...p,
    assignments: p.assignments.map((a) => {
      const of = <T extends { id: string }>(name: string, things: readonly T[]) =>
        things.filter((x) => !gone.has(`${p.id}/${a.controlId}/${name}/${x.id}`));
      return {
        ...a,
        press: of('press', a.press),
        release: of('release', a.release),
        hold: of('hold', a.hold),
        doublePress: of('doublePress', a.doublePress),
        toe: of('toe', a.toe),
        heel: of('heel', a.heel),
        sweeps: of('sweeps', a.sweeps),
      };
    }),
  });
  return {
    ...preset,
    banks: preset.banks.map(page),
    groups: preset.groups.map((g) => ({ ...g, pages: g.pages.map(page) })),
  };
}

describe('the memory of a board', () => {
  it.each(all.map((a) => [a.preset.name, a] as const))(
    '%s is read as it was written',
    (_, { board, preset }) => {
      const { memory } = memoryOf(rig, board, preset);
      expect(readMemory(memoryBytes(memory))).toEqual({ ok: true, value: memory });
    },
  );

  it('of any preset is read as it was written', () => {
    for (let seed = 1; seed <= 200; seed++) {
      const { memory } = memoryOf(rig, tenAndTwo, randomPreset(tenAndTwo, 1 + (seed % 4), seeded(seed)));
      expect(readMemory(memoryBytes(memory))).toEqual({ ok: true, value: memory });
    }
  });

  it('that is damaged or cut off is refused or is another one, and never throws', () => {
    const random = seeded(3);
    const bytes = memoryBytes(memoryOf(rig, tenAndTwo, randomPreset(tenAndTwo, 2, random)).memory);
    let refused = 0;
    for (let i = 0; i < 500; i++) {
      const damaged = Uint8Array.from(bytes);
      const at = Math.floor(random() * bytes.length);
      damaged[at] = damaged[at]! ^ (1 + Math.floor(random() * 255));
      const read = readMemory(damaged);
      if (!read.ok) {
        refused++;
        expect(read.error).toMatch(/\.$/);
      } else {
        const show = memoryShow(read.value, tenAndTwo, 'din');
        played(show, feet(tenAndTwo, 20, random));
      }
      expect(readMemory(bytes.subarray(0, at)).ok).toBe(false);
    }
    expect(refused).toBeGreaterThan(100);
  });

  const own = (board: Board, preset: Preset, events: readonly LiveEvent[]) => {
    const read = readMemory(memoryBytes(memoryOf(rig, board, preset).memory));
    if (!read.ok) throw new Error(read.error);
    return played(memoryShow(read.value, board, 'din'), events);
  };
  const hosted = (board: Board, preset: Preset, events: readonly LiveEvent[]) =>
    played(
      {
        rig: { ...rig, boards: [{ ...board, presetId: preset.id, bankFollows: 'nothing', mode: 'hosted' }] },
        presets: [withoutLeftOut(board, preset)],
        setName: '',
        songs: [],
      },
      events,
    );

  it.each(all.map((a, i) => [a.preset.name, a, i] as const))(
    'plays %s as this application does',
    (_, { board, preset }, i) => {
      const events = feet(board, 2000, seeded(i + 1));
      const told = own(board, preset, events);
      expect(told.length).toBeGreaterThan(900);
      expect(told).toEqual(hosted(board, preset, events));
    },
  );

  it('plays any preset as this application does: 10,000 presses', () => {
    let count = 0;
    for (let seed = 1; seed <= 40; seed++) {
      const random = seeded(seed);
      const preset = randomPreset(tenAndTwo, 3, random);
      const events = feet(tenAndTwo, 250, random);
      const told = own(tenAndTwo, preset, events);
      count += told.length;
      expect(told, `seed ${seed}`).toEqual(hosted(tenAndTwo, preset, events));
    }
    expect(count).toBeGreaterThan(5000);
  });
});

/** A preset of ten banks with ten switches and two pedals. */
const tenBanks = () => memoryBytes(memoryOf(rig, tenAndTwo, randomPreset(tenAndTwo, 10, seeded(77))).memory);
const controls = tenAndTwo.controls.length;
const isOn = (
  board: MemoryBoard,
  atMs: number,
  held = receiveKeys(tenAndTwo).map((c) => c.id),
): MemoryBoard => boardOn(board, { kind: 'power', atMs, on: true, held }).board;
const ready = () => isOn(newMemoryBoard(tenAndTwo, 'din', 5), 0);
const faulty = { lost: 0.02, damaged: 0.05, slowMs: 0 };

describe('a board with a memory', () => {
  it.each([1, 2, 3, 4, 5])('gets ten banks of twelve over a bad link in 1.3 of their time, %d', (seed) => {
    const bytes = tenBanks();
    const start = { ...ready(), faults: faulty, seed: seed * 1000 };
    const { job, board, tookMs } = overLink(startJob('send', { bytes, controls }, 0), start);
    expect(job.end).toBe('done');
    expect(job.read).toEqual(bytes);
    expect(board.working).toEqual(bytes);
    // Its bytes once there and once back, packed, with what stands around each packet.
    const packets = Math.ceil(bytes.length / 112);
    const needMs = 2 * (bytes.length * (8 / 7) + packets * (9 + 6)) * 0.32;
    expect(tookMs / needMs).toBeLessThan(1.3);
  });

  it('is deaf where it was not switched on for it', () => {
    const start = isOn(newMemoryBoard(tenAndTwo, 'din', 5), 0, []);
    const { job, board } = overLink(startJob('send', { bytes: tenBanks(), controls }, 0), start);
    expect([job.end, board.working]).toEqual(['no-answer', null]);
  });

  it('forgets at power-off what was not stored', () => {
    const bytes = tenBanks();
    const sent = overLink(startJob('send', { bytes, controls }, 0), ready());
    const off = (b: MemoryBoard) => boardOn(b, { kind: 'power', atMs: 1e6, on: false, held: [] }).board;
    const again = overLink(startJob('look', { bytes, controls }, 2e6), isOn(off(sent.board), 2e6), 2e6);
    expect(again.job.held).toEqual({ working: null, stored: null });
    const stored = overLink(startJob('store', { bytes, controls }, sent.atMs), sent.board, sent.atMs);
    expect(stored.job.end).toBe('done');
    const kept = overLink(startJob('read', { bytes, controls }, 2e6), isOn(off(stored.board), 2e6), 2e6);
    expect([kept.job.end, kept.job.read]).toEqual(['done', bytes]);
  });

  it('is as it was where sending is cancelled in the middle', () => {
    const before = memoryBytes(memoryOf(rig, tenAndTwo, randomPreset(tenAndTwo, 1, seeded(5))).memory);
    const start = { ...ready(), working: before };
    const { job, board } = overLink(startJob('send', { bytes: tenBanks(), controls }, 0), start, 0, [
      { atMs: 900, what: 'cancel' },
    ]);
    expect([job.end, board.working, board.receiving.bytes]).toEqual(['cancelled', before, []]);
  });

  it('with another number of controls is sent nothing', () => {
    const { job, sentBytes } = overLink(startJob('send', { bytes: tenBanks(), controls: 9 }, 0), ready());
    expect([job.end, sentBytes]).toEqual(['other-controls', 2 * 6]);
  });

  it('that is slow has this application wait', () => {
    const bytes = tenBanks().subarray(0, 1000);
    const start = { ...ready(), faults: { lost: 0, damaged: 0, slowMs: 60 } };
    const { job, tookMs } = overLink(startJob('send', { bytes, controls }, 0), start);
    // Nine packets, the head and the end are each thought about; what is no memory is not taken.
    expect([job.end, tookMs > 11 * 60]).toEqual(['differs', true]);
  });

  it('is played from what was sent, as this application would play it', () => {
    const random = seeded(8);
    const preset = randomPreset(tenAndTwo, 3, random);
    const bytes = memoryBytes(memoryOf(rig, tenAndTwo, preset).memory);
    const sent = overLink(startJob('send', { bytes, controls }, 0), ready());
    const stored = overLink(startJob('store', { bytes, controls }, sent.atMs), sent.board, sent.atMs);
    let board = boardOn(stored.board, { kind: 'power', atMs: 0, on: false, held: [] }).board;
    board = isOn(board, 0, []);
    const told: string[] = [];
    const events = feet(tenAndTwo, 300, random);
    for (const { command, atMs } of events.flatMap((e) => (e.kind === 'command' ? e : []))) {
      if (command.kind !== 'switch' && command.kind !== 'move' && command.kind !== 'turn') continue;
      const done = boardOn(board, { kind: 'foot', atMs, command });
      board = done.board;
      told.push(...done.replies.map((r) => `${r.atMs.toFixed(3)} ${hex(encode(r.message))}`));
    }
    const after = boardOn(board, { kind: 'tick', atMs: events.at(-1)!.atMs + 20_000 });
    told.push(...after.replies.map((r) => `${r.atMs.toFixed(3)} ${hex(encode(r.message))}`));
    expect(told).toEqual(
      played(memoryShow(memoryOf(rig, tenAndTwo, preset).memory, tenAndTwo, 'din'), events),
    );
  });

  it('never holds anything else than a job says that it does', () => {
    const ends = new Map<string, number>();
    for (let seed = 1; seed <= 300; seed++) ranOnce(seed, ends);
    expect([...ends.keys()].sort()).toEqual(['cancelled', 'done', 'no-answer', 'refused']);
    expect(ends.get('done')).toBeGreaterThan(100);
  });
});

/** A random preset to a board with random faults, at times cancelled or switched off, and stored or not. */
function ranOnce(seed: number, ends: Map<string, number>): void {
  const random = seeded(seed);
  const bytes = memoryBytes(memoryOf(rig, tenAndTwo, randomPreset(tenAndTwo, 1, random)).memory);
  const before =
    random() < 0.5 ? memoryBytes(memoryOf(rig, tenAndTwo, randomPreset(tenAndTwo, 1, random)).memory) : null;
  const faults = {
    lost: random() * 0.15,
    damaged: random() * 0.2,
    slowMs: random() < 0.3 ? random() * 30 : 0,
  };
  const start = { ...ready(), working: before, stored: before, faults, seed };
  const at = random() * 2000;
  const happenings: Happening[] =
    random() < 0.2
      ? [{ atMs: at, what: 'cancel' }]
      : random() < 0.2
        ? [{ atMs: at, what: { kind: 'power', atMs: at, on: false, held: [] } }]
        : [];
  const sent = overLink(startJob('send', { bytes, controls }, 0), start, 0, happenings);
  const { end } = sent.job;
  expect(end).not.toBeNull();
  ends.set(end!, (ends.get(end!) ?? 0) + 1);
  // It is never half of one and half of the other.
  expect([before, bytes]).toContainEqual(sent.board.working);
  expect(sent.board.stored).toEqual(before);
  if (end !== 'done') return;
  expect(sent.board.working).toEqual(bytes);
  const stored = overLink(startJob('store', { bytes, controls }, sent.atMs), sent.board, sent.atMs);
  expect([before, bytes]).toContainEqual(stored.board.stored);
  if (stored.job.end === 'done') expect(stored.board.stored).toEqual(bytes);
}
