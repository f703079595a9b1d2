import {
  compileWorld,
  followedOf,
  followedState,
  initialState,
  lampTold,
  lineBeat,
  placeOf,
  saysTheSame,
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
  const entryId = world.songs.find((s) => s.song.id === song.id)!.entryId;
  const positionAt = (at: number) => ({ entryId, sceneId: song.scenes[at]!.id, partId: null });
  const withValue = (scene: Scene): Scene => ({
    ...scene,
    values: scene.values.map((v, i) => (i === 0 ? { ...v, value: v.value === 1 ? 2 : 1 } : v)),
  });

  it('says something else where a value of its own or a carried one is another', () => {
    expect(saysTheSame(world, edited(0, withValue), positionAt(0))).toBe(false);
    const first = song.scenes[0]!.values[0]!.functionId;
    const isCarried = !song.scenes[1]!.values.some((v) => v.functionId === first);
    expect(saysTheSame(world, edited(0, withValue), positionAt(1))).toBe(!isCarried);
  });

  it('says something else where its tempo or a bank is another', () => {
    expect(
      saysTheSame(
        world,
        edited(0, (s) => ({ ...s, tempoBpm: 99 })),
        positionAt(0),
      ),
    ).toBe(false);
    const banks = [{ boardId: demoRig.boards[0]!.id, index: 1 }];
    const other = edited(0, (s) => ({ ...s, banks: s.banks.length > 0 ? [] : (banks as never) }));
    expect(saysTheSame(world, other, positionAt(0))).toBe(false);
  });

  it('says the same where only words are others, where a later scene is, or where it is gone', () => {
    expect(
      saysTheSame(
        world,
        edited(0, (s) => ({ ...s, name: 'Begin', remark: 'slow' })),
        positionAt(0),
      ),
    ).toBe(true);
    expect(saysTheSame(world, edited(1, withValue), positionAt(0))).toBe(true);
    expect(saysTheSame(world, worldOf([]), positionAt(0))).toBe(true);
    expect(saysTheSame(world, edited(0, withValue), { entryId, sceneId: null, partId: null })).toBe(true);
  });
});
