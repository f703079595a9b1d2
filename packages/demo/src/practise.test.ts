import { answerPractise, beginPractise, type Practise } from '@idle-step/core/proof';
import { compileWorld, initialState, placeOf, step, type LiveState } from '@idle-step/core/engine';
import { describe, expect, it } from 'vitest';
import { demoControl, demoPresets, demoRig, demoSets, demoSongs } from './index';

const songs = demoSets[0]!.entries.flatMap((e) =>
  e.kind === 'song' ? demoSongs.find((s) => s.id === e.songId)! : [],
);
const world = compileWorld({ rig: demoRig, presets: demoPresets, setName: 'Set', songs });
const partCount = world.songs.reduce((n, s) => n + s.parts.length, 0);

describe('practising which switch leads where', () => {
  it('asks for every part of the set but the first, and "next" answers each', () => {
    let practise = beginPractise(world, 0);
    expect(practise.questions).toHaveLength(partCount - 1);
    for (let i = 0; i < partCount - 1; i++) {
      const done = answerPractise(world, practise, demoControl('near 5'), (i + 1) * 2000);
      expect(done.answer).toBe('right');
      practise = done.practise;
    }
    expect(practise.at).toBe(practise.questions.length);
    expect(practise.counts.map((c) => [c.asked, c.right, c.totalMs / c.asked])).toEqual(
      world.songs.map(({ parts }, i) => {
        const asked = parts.length - (i === 0 ? 1 : 0);
        return [asked, asked, 2000];
      }),
    );
  });

  it('a miss changes nothing and is counted; a bank on the way is turned and is none', () => {
    const asked = beginPractise(world, 0);
    const after = (practise: Practise, name: string) =>
      answerPractise(world, practise, demoControl(name), 500);
    const missed = after(asked, 'far 2');
    expect([missed.answer, missed.practise.misses, missed.practise.state]).toEqual(['wrong', 1, asked.state]);
    const turned = after(missed.practise, 'far 5');
    expect([turned.answer, turned.practise.misses]).toEqual(['on-the-way', 1]);
    expect(turned.practise.state.banks).not.toEqual(asked.state.banks);
    const right = after(turned.practise, 'near 5');
    expect(right.answer).toBe('right');
    expect(right.practise.counts).toEqual([{ songIndex: 0, asked: 1, right: 0, totalMs: 500 }]);
  });
});

describe('mistakes in mid-air', () => {
  /** Presses of one switch of the first two boards, and where they lead. */
  const press = (state: LiveState, controlId: string): LiveState => {
    const down = step(world, state, {
      kind: 'command',
      atMs: state.atMs + 1000,
      command: { kind: 'switch', controlId, velocity: 127 },
    });
    return step(world, down.state, {
      kind: 'command',
      atMs: state.atMs + 1060,
      command: { kind: 'switch', controlId, velocity: 0 },
    }).state;
  };
  const controls = world.boards.flatMap((b) =>
    b.board.controls.filter((c) => c.kind === 'footswitch').map((c) => c.id),
  );

  it.each(world.songs.map(({ song }, i) => [song.name, i] as const))(
    'any scene of %s is reached from any other in at most three presses',
    (_name, songIndex) => {
      const { song } = world.songs[songIndex]!;
      for (const from of song.scenes.keys()) {
        const start = step(world, initialState(world, 0), {
          kind: 'command',
          atMs: 0,
          command: { kind: 'go', songIndex, sceneIndex: from },
        }).state;
        const reached = new Set<number>();
        let edge = [start];
        for (let presses = 0; presses < 3; presses++) {
          edge = edge.flatMap((state) => controls.map((id) => press(state, id)));
          for (const state of edge) {
            const place = placeOf(world, state);
            if (place.songIndex === songIndex && place.sceneIndex !== null) reached.add(place.sceneIndex);
          }
          // Only what has led to another place or page is gone on from.
          const seen = new Set<string>();
          edge = edge.filter((s) => {
            const key = JSON.stringify([s.position, s.banks, s.pages]);
            return !seen.has(key) && seen.add(key);
          });
        }
        expect([...song.scenes.keys()].filter((to) => to !== from && !reached.has(to))).toEqual([]);
      }
    },
  );
});
