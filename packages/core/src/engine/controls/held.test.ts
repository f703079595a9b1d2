import { PLAIN_SCENE, PLAIN_SONG } from '../../show';
import { describe, expect, it } from 'vitest';
import type { Assignment } from '../../floor';
import { controller, noteOff, noteOn } from '../../midi';
import { PLAIN_MODULATION, PLAIN_ROUTE, type Route } from '../../routing';
import {
  assign,
  cable,
  makeBoard,
  makeDevice,
  makeFunction,
  makePort,
  makeRig,
} from '../../testing.test-support';
import { bankIndex, type Show } from '../index';
import { makeShow, Playing } from '../playing.test-support';

const out = makePort({ id: 'out', direction: 'out', link: 'usb', atComputer: true });
const keys = makePort({ id: 'keys', direction: 'in', link: 'usb', atComputer: true });
const gearIn = makePort({ direction: 'in', link: 'usb' });
const gear = makeDevice({
  channel: 0,
  ports: [gearIn],
  chart: [
    makeFunction({ id: 'level', drive: { kind: 'controller', controller: 21 } }),
    makeFunction({ id: 'swell', drive: { kind: 'controller', controller: 22 } }),
  ],
});
const box = makeDevice({ id: 'box', role: 'carrier', ports: [out, keys] });

/** Several boards side by side, each with one switch and one pedal that send on a port of their own. */
function showOf(boards: Record<string, Assignment[][]>, routes: Route[] = [], rigId = 'rig'): Show {
  const made = Object.entries(boards).map(([name, banks]) => {
    const { device, board, preset } = makeBoard(1, 1, banks);
    const id = (x: string) => `${name}-${x}`;
    const port = { ...device.ports[0]!, id: id('out') };
    return {
      device: { ...device, id: id('device'), ports: [port] },
      board: {
        ...board,
        id: name,
        deviceId: id('device'),
        presetId: id('preset'),
        controls: board.controls.map((c) => ({ ...c, id: id(c.id) })),
      },
      preset: {
        ...preset,
        id: id('preset'),
        boardId: name,
        banks: preset.banks.map((b) => ({
          ...b,
          id: id(b.id),
          assignments: b.assignments.map((a) => ({ ...a, controlId: id(a.controlId) })),
        })),
      },
    };
  });
  const rig = makeRig(
    [...made.map((m) => m.device), box, gear],
    [cable(out, gearIn)],
    made.map((m) => m.board),
  );
  return makeShow(
    { ...rig, id: rigId, routing: { lines: [], routes, othersTo: [] } },
    { presets: made.map((m) => m.preset) },
  );
}

class Boards extends Playing {
  down = (atMs: number, board: string) => this.hear(atMs, controller(15, 30, 127), `${board}-out`);
  up = (atMs: number, board: string) => this.hear(atMs, controller(15, 30, 0), `${board}-out`);
  pedal = (atMs: number, board: string, at: number) => this.hear(atMs, controller(15, 4, at), `${board}-out`);
  /** Bytes that were sent since it was asked last. */
  bytes = (): string[] => this.fresh().map((line) => line.replace(/^\S+ /, ''));
  bankOf = (board: string): number => bankIndex(this.world.boardById.get(board)!, this.state);
}

const momentary = { kind: 'momentary', functionId: 'level', down: 100, up: 3 } as never;
const nothing = [assign('s0', [])];

describe('boards are known by their ids', () => {
  const up = { kind: 'bank', to: { kind: 'up' }, delay: { amount: 100, unit: 'ms' } } as never;

  it("when the first is taken away, a delayed bank change of the second still turns the second's banks", () => {
    const two = { b: [[assign('s0', [up])], nothing], c: [nothing, nothing] };
    const playing = new Boards(showOf({ a: [nothing, nothing], ...two })).down(0, 'b');
    playing.edit(50, showOf(two)).run({ kind: 'tick', atMs: 200 });
    expect([playing.bankOf('b'), playing.bankOf('c')]).toEqual([1, 0]);
  });

  it('a delayed action of a board that is gone is not done', () => {
    const playing = new Boards(showOf({ a: [nothing, nothing], b: [[assign('s0', [up])], nothing] })).down(
      0,
      'b',
    );
    playing.edit(50, showOf({ a: [nothing, nothing] })).run({ kind: 'tick', atMs: 200 });
    expect(playing.bankOf('a')).toBe(0);
    expect(playing.state.delayed).toEqual([]);
  });

  it('what is held down on the last board goes up when another is taken away and when it is itself', () => {
    const last = { b: [[assign('s0', [momentary])]] };
    const playing = new Boards(showOf({ a: [nothing], ...last })).down(0, 'b');
    expect(playing.bytes()).toEqual(['B0 15 64']);
    expect(playing.edit(10, showOf(last)).bytes()).toEqual([]);
    expect(playing.up(20, 'b').bytes()).toEqual(['B0 15 03']);
    playing.down(30, 'b').bytes();
    expect(playing.edit(40, showOf({ a: [nothing] })).bytes()).toEqual(['B0 15 03']);
    expect(playing.state.held).toEqual({});
  });
});

describe('what is held ends where it began', () => {
  const note = {
    kind: 'message',
    deviceId: gear.id,
    channel: null,
    send: 'note',
    number: 60,
    value: 90,
  } as never;
  const through: Route = {
    ...PLAIN_ROUTE,
    id: 'through',
    name: 'Through',
    from: { ...PLAIN_ROUTE.from, portIds: ['keys'] },
    to: [{ portId: 'out', channel: 0 }],
  };
  const swell: Route = {
    ...through,
    id: 'swell',
    modulation: { ...PLAIN_MODULATION, attackMs: 0, decayMs: 0, controller: 11, rest: 5, peak: 90 },
    after: 'pass',
  };

  it('when another rig is opened: momentary values, notes, routed notes, modulations, clocks', () => {
    const clock = { kind: 'clock', portId: 'out', to: 'start' } as never;
    const playing = new Boards(showOf({ a: [[assign('s0', [momentary, note, clock])]] }, [swell, through]));
    playing
      .down(0, 'a')
      .hear(1, noteOn(0, 64, 100), 'keys')
      .bytes();
    const sent = playing.edit(2, showOf({ a: [nothing] }, [], 'other')).bytes();
    for (const bytes of ['B0 15 03', '80 3C 40', '80 40 40', 'B0 0B 05', 'FC']) expect(sent).toContain(bytes);
    expect(playing.state).toMatchObject({ held: {}, playing: {}, clocks: {}, sounding: [] });
    expect(playing.run({ kind: 'tick', atMs: 5000 }).bytes()).toEqual([]);
  });

  it('when a pedal at its toe leaves it in another bank', () => {
    const toe = { ...assign('p0', []), toe: assign('x', [momentary]).press };
    const playing = new Boards(showOf({ a: [[toe], nothing] })).pedal(0, 'a', 60).pedal(1, 'a', 127);
    expect(playing.bytes()).toEqual(['B0 15 64']);
    playing.run({ kind: 'command', atMs: 2, command: { kind: 'bank', boardId: 'a', to: 'up' } });
    expect(playing.pedal(3, 'a', 50).bytes()).toEqual(['B0 15 03']);
  });

  it('when the function that a switch holds down is taken away', () => {
    const show = showOf({ a: [[assign('s0', [momentary])]] });
    const playing = new Boards(show).down(0, 'a');
    playing.bytes();
    const devices = show.rig.devices.map((d) => ({ ...d, chart: d.chart.filter((f) => f.id !== 'level') }));
    expect(playing.edit(5, { ...show, rig: { ...show.rig, devices } }).bytes()).toEqual(['B0 15 03']);
  });

  it('while a control is learned: presses do nothing, and what was down before goes up', () => {
    const playing = new Boards(showOf({ a: [[assign('s0', [momentary])]] }, [through]));
    playing
      .hear(0, noteOn(0, 60, 100), 'keys')
      .down(1, 'a')
      .bytes();
    playing.run({ kind: 'command', atMs: 2, command: { kind: 'learn', on: true } });
    expect(playing.hear(3, noteOn(0, 62, 100), 'keys').bytes()).toEqual([]);
    expect(playing.hear(4, noteOff(0, 60), 'keys').bytes()).toEqual(['80 3C 40']);
    expect(playing.up(5, 'a').bytes()).toEqual(['B0 15 03']);
    expect(playing.down(6, 'a').bytes()).toEqual([]);
    playing.run({ kind: 'command', atMs: 7, command: { kind: 'learn', on: false } });
    expect(playing.down(8, 'a').bytes()).toEqual(['B0 15 64']);
  });
});

describe('songs in play are known by their place in the running order', () => {
  const songOf = (id: string) => ({
    id,
    rigId: 'rig',
    name: id,
    tempoBpm: 100,
    beatsPerBar: 4,
    lengthS: 60,
    ...PLAIN_SONG,
    scenes: [{ ...PLAIN_SCENE, id: `${id}-1`, name: '1' }],
  });
  it('one that stands twice is found again where it was played, when the order changes', () => {
    const [x, y] = [songOf('x'), songOf('y')];
    const set = (order: [string, typeof x][]): Show => ({
      ...showOf({}),
      songs: order.map(([, song]) => song),
      entryIds: order.map(([id]) => id),
    });
    const playing = new Boards(
      set([
        ['e1', x],
        ['e2', y],
        ['e3', x],
      ]),
    );
    playing.run({ kind: 'command', atMs: 0, command: { kind: 'go', songIndex: 2, sceneIndex: 0 } });
    playing.edit(
      1,
      set([
        ['e2', y],
        ['e1', x],
        ['e3', x],
      ]),
    );
    expect(playing.state.position).toEqual({ entryId: 'e3', sceneId: 'x-1', partId: 'x-1' });
  });
});
