import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseBytes } from '../../midi';
import { bounces, pedalBytes, switchBytes, tremble } from '../../standins';
import {
  assign,
  cable,
  makeBoard,
  makeDevice,
  makeFunction,
  makePort,
  makeRig,
} from '../../testing.test-support';
import { compileWorld, initialState, step, type Effect } from '../index';

/** Worn boards against the engine that has to make sense of them. */

const out = makePort({ id: 'out', direction: 'out', atComputer: true });
const input = makePort({ direction: 'in' });
const box = makeDevice({ role: 'carrier', ports: [out] });
const drive = makeFunction({ id: 'drive', shape: { kind: 'switch', off: 0, on: 127 } });
const volume = makeFunction({ id: 'volume', drive: { kind: 'controller', controller: 7 } });
const gear = makeDevice({ ports: [input], chart: [drive, volume] });

function worldOf(hardware: { debounceMs?: number; jitter?: number }) {
  const sweep = {
    id: 'sweep',
    functionId: 'volume',
    from: 0,
    to: 127,
    invert: false,
    curve: 'linear' as const,
    points: [],
  };
  const b = makeBoard(1, 1, [
    [assign('s0', [{ kind: 'toggle', functionId: 'drive' }]), { ...assign('p0', []), sweeps: [sweep] }],
  ]);
  const controls = b.board.controls.map((c) => ({ ...c, hardware: { ...c.hardware, ...hardware } }));
  const rig = makeRig([b.device, box, gear], [cable(out, input)], [{ ...b.board, controls }]);
  return compileWorld({ rig, presets: [b.preset], setName: '', songs: [] });
}

/** Plays timed bytes of the board, with every tick that is asked for, and gives what was sent to the gear. */
function play(
  world: ReturnType<typeof worldOf>,
  said: readonly { atMs: number; bytes: number[] }[],
): Effect[] {
  let state = initialState(world, 0);
  const all: Effect[] = [];
  const run = (event: Parameters<typeof step>[2]) => {
    const done = step(world, state, event);
    state = done.state;
    all.push(...done.effects);
  };
  for (const { atMs, bytes } of said)
    for (const message of parseBytes(bytes).messages)
      run({ kind: 'message', atMs, portId: 'board-out', message });
  run({ kind: 'tick', atMs: 100_000 });
  return all.filter((e) => e.kind === 'send' && e.portId === 'out');
}

const SWITCH = { kind: 'controller', number: 30 } as const;
const PEDAL = { kind: 'controller', number: 4 } as const;

describe('contacts that bounce', () => {
  const pressed = (debounceMs: number) =>
    [
      ...bounces(true, debounceMs).map((b) => ({ ...b, atMs: 1000 + b.afterMs })),
      ...bounces(false, debounceMs).map((b) => ({ ...b, atMs: 1500 + b.afterMs })),
    ].map(({ atMs, isDown }) => ({ atMs, bytes: switchBytes(15, SWITCH, isDown) }));

  it.each([0, 1, 4, 8, 20, 50])('for up to %i ms toggle once where they are waited out', (debounceMs) => {
    expect(play(worldOf({ debounceMs }), pressed(debounceMs))).toHaveLength(1);
  });

  it('toggle at every touch where nobody waits: the board has to be told', () => {
    expect(play(worldOf({ debounceMs: 0 }), pressed(8))).toHaveLength(3);
  });

  it('end where the switch ends, within the time of the board', () => {
    for (const debounceMs of [1, 8, 50])
      for (const isDown of [true, false]) {
        const said = bounces(isDown, debounceMs);
        expect(said.at(-1)!.isDown).toBe(isDown);
        expect(said.at(-1)!.afterMs).toBeLessThan(debounceMs);
      }
  });
});

describe('a pedal that trembles', () => {
  it('moves nothing while it stands, wherever that is, as far as its board allows for', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 127 }), fc.integer({ min: 0, max: 16 }), (raw, jitter) => {
        const hardware = { jitter, heel: 0, toe: 127 };
        const said = [...tremble(raw, hardware), ...tremble(raw, hardware)];
        const sent = play(
          worldOf({ jitter }),
          said.map((r, i) => ({ atMs: 1000 + i * 20, bytes: pedalBytes(15, PEDAL, r) })),
        );
        expect(sent.length).toBeLessThanOrEqual(1);
      }),
      { seed: 12, numRuns: 200 },
    );
  });

  it('moves its function where nobody allows for it', () => {
    const said = tremble(64, { jitter: 6, heel: 0, toe: 127 }).map((r, i) => ({
      atMs: 1000 + i * 20,
      bytes: pedalBytes(15, PEDAL, r),
    }));
    expect(play(worldOf({ jitter: 0 }), said).length).toBeGreaterThan(1);
  });
});
