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
  recordAfter,
  type BoardRecord,
  type InMemory,
  type MemoryBoard,
} from '@idle-step/core/memory';
import { encode, hex } from '@idle-step/core/midi';
import { startJob } from '@idle-step/core/transfer';
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
export function feet(board: Board, count: number, random: () => number): LiveEvent[] {
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
      at({ kind: 'turn', controlId: control.id, detents: Math.floor(random() * 9) - 4 });
    else at({ kind: 'move', controlId: control.id, travel: Math.floor(random() * 128) });
  }
  return events;
}

/** Everything that leaves and every lamp, with its time. */
export function played(show: Show, events: readonly LiveEvent[]): string[] {
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

export const rig = behindOneOut(demoRig);
export const all = demoPresets.flatMap((preset) => {
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

/** What a board plays by itself that was sent a preset. */
export const own = (board: Board, preset: Preset, events: readonly LiveEvent[]) => {
  const read = readMemory(memoryBytes(memoryOf(rig, board, preset).memory));
  if (!read.ok) throw new Error(read.error);
  return played(memoryShow(read.value, board, 'din'), events);
};
/** The same played by this application. */
export const hosted = (board: Board, preset: Preset, events: readonly LiveEvent[]) =>
  played(
    {
      rig: { ...rig, boards: [{ ...board, presetId: preset.id, bankFollows: 'nothing', mode: 'hosted' }] },
      presets: [withoutLeftOut(board, preset)],
      setName: '',
      songs: [],
    },
    events,
  );

/** A preset of ten banks with ten switches and two pedals. */
export const tenBanks = () =>
  memoryBytes(memoryOf(rig, tenAndTwo, randomPreset(tenAndTwo, 10, seeded(77))).memory);
export const controls = tenAndTwo.controls.length;
export const isOn = (
  board: MemoryBoard,
  atMs: number,
  held = receiveKeys(tenAndTwo).map((c) => c.id),
): MemoryBoard => boardOn(board, { kind: 'power', atMs, on: true, held }).board;
export const ready = () => isOn(newMemoryBoard(tenAndTwo, 'din', 5), 0);
/** A random preset to a board with random faults, at times cancelled or switched off, and stored or not. */
export function heldOtherwise(seed: number, ends = new Map<string, number>()): string | null {
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
  if (end === null) return 'a job does not end';
  ends.set(end, (ends.get(end) ?? 0) + 1);
  const own: InMemory | null = before && { presetId: null, bytes: before, atMs: 0 };
  const isOff = sent.board.power === 'off';
  let record = recordAfter({ sent: own, stored: own }, sent.job, 'random', 1);
  // What is switched off plays by what is stored, and nobody was told.
  if (!isOff && !agrees(record.sent, sent.board.working)) return 'it holds something else than is said';
  if (!isOneOfThem(sent.board.working, [before, bytes])) return 'it holds half of one and half of the other';
  if (!agrees(record.stored, sent.board.stored)) return 'something was stored that nobody asked for';
  if (end !== 'done' || isOff) return null;
  if (!isOneOfThem(sent.board.working, [bytes])) return 'what was sent is not there';
  const stored = overLink(startJob('store', { bytes, controls }, sent.atMs), sent.board, sent.atMs);
  record = recordAfter(record, stored.job, null, 2);
  if (!isOneOfThem(stored.board.stored, [before, bytes])) return 'something else is stored';
  if (!agrees(record.stored, stored.board.stored)) return 'what is said to be stored is not';
  return stored.job.end === 'done' && !isOneOfThem(stored.board.stored, [bytes])
    ? 'what was to be stored is not'
    : null;
}

const agrees = (said: BoardRecord['sent'], held: Uint8Array | null): boolean =>
  said === 'unknown' || isOneOfThem(held, [said?.bytes ?? null]);

const isOneOfThem = (held: Uint8Array | null, those: readonly (Uint8Array | null)[]): boolean =>
  those.some((bytes) => hexOf(bytes) === hexOf(held));
const hexOf = (bytes: Uint8Array | null): string => (bytes ? hex(Array.from(bytes)) : 'none');

/** Whether a board that was sent a random preset plays something else than this application does; how much it played. */
export function playsOtherwise(seed: number): { failed: string | null; count: number } {
  const random = seeded(seed);
  const preset = randomPreset(tenAndTwo, 3, random);
  const events = feet(tenAndTwo, 250, random);
  const told = own(tenAndTwo, preset, events);
  const wanted = hosted(tenAndTwo, preset, events);
  const at = wanted.findIndex((line, i) => line !== told[i]);
  const isSame = at < 0 && told.length === wanted.length;
  const failed = isSame
    ? null
    : `${told[at] ?? 'nothing'} in place of ${wanted[at] ?? 'nothing'} (seed ${seed})`;
  return { failed, count: told.length };
}
