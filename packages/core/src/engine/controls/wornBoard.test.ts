import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseBytes } from '../../midi';
import { bounces, pedalBytes, switchBytes, tremble } from '../../standins';
import { assign, makeBoard, makeFunction } from '../../testing.test-support';
import { compileWorld, type World } from '../index';
import { play, showWithGear, type Sent } from '../playing.test-support';

/** Worn boards against the engine that has to make sense of them. */

const drive = makeFunction({ id: 'drive', shape: { kind: 'switch', off: 0, on: 127 } });
const volume = makeFunction({ id: 'volume', drive: { kind: 'controller', controller: 7 } });

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
  return compileWorld(
    showWithGear({ chart: [drive, volume] }, { ...b, board: { ...b.board, controls } }, 'din'),
  );
}

/** Plays timed bytes of the board, with every tick that is asked for, and gives what was sent to the gear. */
function played(world: World, said: readonly { atMs: number; bytes: number[] }[]): readonly Sent[] {
  const events = said.flatMap(({ atMs, bytes }) =>
    parseBytes(bytes).messages.map(
      (message) => ({ kind: 'message', atMs, portId: 'board-out', message }) as const,
    ),
  );
  const { messages } = play(world, [...events, { kind: 'tick', atMs: 100_000 }]);
  return messages.filter((m) => m.portId === 'out');
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
    expect(played(worldOf({ debounceMs }), pressed(debounceMs))).toHaveLength(1);
  });

  it('toggle at every touch where nobody waits: the board has to be told', () => {
    expect(played(worldOf({ debounceMs: 0 }), pressed(8))).toHaveLength(3);
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
        const sent = played(
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
    expect(played(worldOf({ jitter: 0 }), said).length).toBeGreaterThan(1);
  });
});
