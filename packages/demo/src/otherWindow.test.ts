import {
  compileWorld,
  followedOf,
  followedState,
  initialState,
  isUnsent,
  lampTold,
  lineBeat,
  placeOf,
  setClock,
  showOfSet,
  step,
  type Command,
  type LiveState,
  type World,
} from '@idle-step/core/engine';
import type { Scene, Song } from '@idle-step/core/show';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoPresets, demoRig, demoSets, demoSongs } from './index';

const worldOf = (songs: readonly Song[]): World =>
  compileWorld({ rig: demoRig, presets: demoPresets, ...showOfSet(demoSets[0]!, songs) });
const world = worldOf(demoSongs);
const switches = world.boards.flatMap((b) => b.board.controls.map((c) => c.id));

const anyCommand: fc.Arbitrary<Command> = fc.oneof(
  fc.constantFrom<Command>(
    { kind: 'show', to: 'next' },
    { kind: 'scene', to: 'next' },
    { kind: 'song', to: 'next' },
    { kind: 'line', to: 'start' },
    { kind: 'tap' },
    { kind: 'view', to: 'next' },
  ),
  fc.record({
    kind: fc.constant('switch' as const),
    controlId: fc.constantFrom(...switches),
    velocity: fc.constantFrom(0, 100),
  }),
);

describe('a window that follows another one', () => {
  it('shows what that one shows at every moment, on its own clock', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(anyCommand, fc.integer({ min: 1, max: 4000 })), { maxLength: 30 }),
        fc.integer({ min: -1e6, max: 1e6 }),
        (given, byMs) => {
          let state: LiveState = initialState(world, 2e6);
          let own: LiveState = { ...initialState(world, 2e6 + byMs), view: 'labels' };
          let atMs = 2e6;
          for (const [command, afterMs] of given) {
            atMs += afterMs;
            state = step(world, state, { kind: 'command', atMs, command }).state;
            // As it comes by a channel of the browser.
            own = followedState(world, own, structuredClone(followedOf(state)), byMs, atMs + byMs);
            const later = atMs + 700;
            expect(placeOf(world, own)).toEqual(placeOf(world, state));
            for (const id of switches) expect(lampTold(own, id)).toEqual(lampTold(state, id));
            expect(setClock(world, own, later + byMs)).toEqual(setClock(world, state, later));
            if (state.line)
              expect(lineBeat(world, own.line!, later + byMs)).toBeCloseTo(
                lineBeat(world, state.line, later),
                6,
              );
          }
          // It waits for nothing, and what it shows large is its own.
          expect([own.delayed, own.pending, own.ramps, own.sounding, own.view]).toEqual([
            [],
            [],
            [],
            [],
            'labels',
          ]);
        },
      ),
      { seed: 3315, numRuns: 60 },
    );
  });
});

describe('a scene that was edited while it plays', () => {
  const song = demoSongs.find((s) => s.name === 'Low Water')!;
  const edited = (at: number, change: (scene: Scene) => Scene): World =>
    worldOf(
      demoSongs.map((s) =>
        s === song ? { ...s, scenes: s.scenes.map((c, i) => (i === at ? change(c) : c)) } : s,
      ),
    );
  const songIndex = world.songs.findIndex((s) => s.song.id === song.id);
  /** The state in which a scene of it was recalled and everything has arrived. */
  const playing = (sceneIndex: number): LiveState => {
    let state = initialState(world, 0);
    const go = { kind: 'go', songIndex, sceneIndex } as const;
    state = step(world, state, { kind: 'command', atMs: 1, command: go }).state;
    return step(world, state, { kind: 'tick', atMs: 60_000 }).state;
  };
  const withValue = (scene: Scene): Scene => ({
    ...scene,
    values: scene.values.map((v, i) => (i === 0 ? { ...v, value: v.value === 1 ? 2 : 1 } : v)),
  });
  const first = song.scenes[0]!.values[0]!.functionId;

  it('has something unsent where a value of its own or a carried one is another', () => {
    expect(isUnsent(world, edited(0, withValue), playing(0))).toBe(true);
    const isCarried = !song.scenes[1]!.values.some((v) => v.functionId === first);
    expect(isUnsent(world, edited(0, withValue), playing(1))).toBe(isCarried);
  });

  it('has not where the rig stands so already: what was captured, or moved by hand', () => {
    const value = withValue(song.scenes[0]!).values[0]!.value;
    const command = { kind: 'set', functionId: first, value } as const;
    const moved = step(world, playing(0), { kind: 'command', atMs: 61_000, command }).state;
    const after = step(world, moved, { kind: 'tick', atMs: 90_000 }).state;
    expect(isUnsent(world, edited(0, withValue), after)).toBe(false);
  });

  it('has where its tempo or a bank is another, unless they are in force', () => {
    const faster = edited(0, (s) => ({ ...s, tempoBpm: 99 }));
    expect(isUnsent(world, faster, playing(0))).toBe(true);
    const state = playing(0);
    expect(isUnsent(world, faster, { ...state, tempo: { ...state.tempo, bpm: 99 } })).toBe(false);
    const { id: boardId } = demoRig.boards[0]!;
    const other = edited(0, (s) => ({ ...s, banks: [{ boardId, index: 2 }] }));
    expect(isUnsent(world, other, state)).toBe(true);
    const bankId = world.boardById.get(boardId)!.banks[2]!.bank.id;
    expect(isUnsent(world, other, { ...state, banks: { ...state.banks, [boardId]: bankId } })).toBe(false);
  });

  it('has not where only words are others, where it says less, where a later scene is, or where it is gone', () => {
    const state = playing(0);
    const words = edited(0, (s) => ({ ...s, name: 'Begin', remark: 'slow' }));
    const less = edited(0, (s) => ({ ...s, values: s.values.slice(1) }));
    for (const after of [words, less, edited(1, withValue), worldOf([])])
      expect(isUnsent(world, after, state)).toBe(false);
    const nowhere = { ...state, position: { ...state.position, sceneId: null } };
    expect(isUnsent(world, edited(0, withValue), nowhere)).toBe(false);
  });
});
