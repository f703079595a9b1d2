import {
  compileWorld,
  initialState,
  pauseNow,
  showOfSet,
  step,
  type LiveState,
} from '@idle-step/core/engine';
import { PLAIN_ENTRY, type SetEntry, type Setlist } from '@idle-step/core/show';
import { describe, expect, it } from 'vitest';
import { demoPresets, demoRig, demoSets, demoSongs } from './index';

const entry = (name: string, part: Partial<SetEntry> = {}): SetEntry =>
  ({
    ...PLAIN_ENTRY,
    id: `e/${name}`,
    kind: 'song',
    songId: demoSongs.find((s) => s.name === name)!.id,
    lengthS: null,
    leftOutSceneIds: [],
    ...part,
  }) as SetEntry;
const setOf = (entries: readonly SetEntry[]): Setlist => ({ ...demoSets[0]!, entries });

/** What is played, walked by “on” until the set is over: songs by name, stops by theirs. */
function walked(set: Setlist): readonly string[] {
  const show = { rig: demoRig, presets: demoPresets, ...showOfSet(set, demoSongs) };
  const world = compileWorld(show);
  let state: LiveState = initialState(world, 0);
  const names: string[] = [];
  for (let n = 1; n < 100; n++) {
    state = step(world, state, {
      kind: 'command',
      atMs: n * 60_000,
      command: { kind: 'show', to: 'next' },
    }).state;
    if (state.isOver || (n > 1 && state.run === null)) break;
    const song = world.songs.find((s) => s.entryId === state.position.entryId)?.song.name ?? '';
    const name = pauseNow(world, state.run)?.name ?? song;
    if (names.at(-1) !== name) names.push(name);
  }
  return names;
}

describe('what of a set is played', () => {
  it('songs that are not played tonight are left out, wherever they stand', () => {
    const set = setOf([
      entry('Low Water', { notTonight: true }),
      entry('Slow Ferry'),
      entry('Tin Lantern', { notTonight: true }),
      entry('Rope and Bell'),
    ]);
    expect(walked(set)).toEqual(['Slow Ferry', 'Rope and Bell']);
    expect(showOfSet(set, demoSongs).entryIds).toEqual(['e/Slow Ferry', 'e/Rope and Bell']);
  });

  it('stops once before the encores, and not where there are none or nothing else', () => {
    const [ferry, rope, tin] = [
      entry('Slow Ferry'),
      entry('Rope and Bell', { isEncore: true }),
      entry('Tin Lantern', { isEncore: true }),
    ];
    expect(walked(setOf([rope, ferry, tin]))).toEqual([
      'Slow Ferry',
      'Encore',
      'Rope and Bell',
      'Tin Lantern',
    ]);
    expect(walked(setOf([ferry]))).toEqual(['Slow Ferry']);
    expect(walked(setOf([rope]))).toEqual(['Rope and Bell']);
    // An encore that is not played tonight is no reason to stop.
    expect(walked(setOf([ferry, { ...rope, notTonight: true }]))).toEqual(['Slow Ferry']);
  });

  it('songs that are gone are left out; without a set all are played', () => {
    const set = setOf([entry('Slow Ferry', { songId: 'gone' } as never), entry('Rope and Bell')]);
    expect(showOfSet(set, demoSongs).songs.map((s) => s.name)).toEqual(['Rope and Bell']);
    expect(showOfSet(null, demoSongs)).toMatchObject({ setId: null, songs: demoSongs, pauses: [] });
  });

  it('an encore is gone to from anywhere, and told where there is none', () => {
    const played = (set: Setlist) => {
      const world = compileWorld({ rig: demoRig, presets: demoPresets, ...showOfSet(set, demoSongs) });
      const command = { kind: 'show', to: 'encore' } as const;
      const { state, effects } = step(world, initialState(world, 0), { kind: 'command', atMs: 1, command });
      const notes = effects.flatMap((e) => (e.kind === 'note' ? e.note.code : []));
      return { at: state.position.entryId, notes };
    };
    const [ferry, rope] = [entry('Slow Ferry'), entry('Rope and Bell', { isEncore: true })];
    expect(played(setOf([ferry, rope])).at).toBe('e/Rope and Bell');
    expect(played(setOf([ferry]))).toEqual({ at: null, notes: ['no-encore'] });
  });
});
