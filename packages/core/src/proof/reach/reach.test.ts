import { describe, expect, it } from 'vitest';
import { compileWorld } from '../../engine';
import { seeded } from '../../seeded.test-support';
import { PLAIN_BANK, type Preset } from '../../floor';
import type { Song } from '../../show';
import {
  assign,
  cable,
  makeBoard,
  makeDevice,
  makeFunction,
  makePort,
  makeRig,
  makeSong,
} from '../../testing.test-support';
import { drained } from '../feet/drained';
import { begunEvening } from '../feet/evening';
import { everySequence, randomEvening, replayed, sceneKeyOf } from '../feet/footRuns.test-support';
import { footGraph } from '../feet/graph';
import { pressed, pressesAt } from '../feet/press';
import { standsOtherwise } from '../feet/stands';
import { BACK_WITHIN, reachOf } from './reach';
import { LENGTH, reachFault } from './reachRuns.test-support';

/** Rigs by chance; the long run tries 500. */
const RIGS = 20;
const WIDE = { exactPresses: 20_000, presses: 20_000 };

describe('what feet can bring about', () => {
  it(`is what every sequence of up to ${LENGTH} presses brings about (${RIGS} rigs)`, () => {
    for (let seed = 1; seed <= RIGS; seed++) expect(reachFault(seed)).toBeNull();
  });

  it(`names each press after which nothing leads back in ${BACK_WITHIN} (${RIGS} rigs)`, () => {
    for (let seed = 1; seed <= RIGS; seed++) {
      const { world } = randomEvening(seeded(seed));
      const { traps } = reachOf(world, drained(footGraph(world, begunEvening(world), WIDE)));
      const told = new Set(traps.map((t) => `${t.entryId} ${t.sceneId} ${t.controlId} ${t.gesture}`));
      const found = new Set<string>();
      for (const { state } of everySequence(world, 2))
        for (const { controlId, gesture } of pressesAt(world, state)) {
          const after = pressed(world, state, { controlId, gesture }).state;
          if (sceneKeyOf(after) === sceneKeyOf(state)) continue;
          let wave = [after];
          let isBack = false;
          for (let i = 0; i < BACK_WITHIN && !isBack; i++) {
            wave = wave.flatMap((s) => pressesAt(world, s).map((p) => pressed(world, s, p).state));
            isBack = wave.some((s) => sceneKeyOf(s) === sceneKeyOf(state));
          }
          if (!isBack) found.add(`${sceneKeyOf(state)} ${controlId} ${gesture}`);
        }
      for (const key of found) expect([seed, told.has(key)]).toEqual([seed, true]);
      for (const trap of traps) {
        const key = `${trap.entryId} ${trap.sceneId} ${trap.controlId} ${trap.gesture}`;
        if (trap.presses.length <= 3) expect([seed, key, found.has(key)]).toEqual([seed, key, true]);
        const leadsTo = trap.leadsTo ? `${trap.leadsTo.entryId} ${trap.leadsTo.sceneId}` : 'null null';
        expect(sceneKeyOf(replayed(world, trap.presses))).toBe(leadsTo);
      }
    }
  });

  it.each([1, 2] as const)(
    'finds the same places where states are merged (24 rigs, boards: %d)',
    (boards) => {
      let compared = 0;
      for (let seed = 1; seed <= 24; seed++) {
        const { world } = randomEvening(seeded(seed), boards);
        const exact = reachOf(world, drained(footGraph(world, begunEvening(world), WIDE)));
        const merged = reachOf(
          world,
          drained(footGraph(world, begunEvening(world), { exactPresses: 0, presses: 20_000 })),
        );
        // Two boards at once have too many states in some rigs to try them all.
        if (!exact.isWhole) continue;
        compared++;
        const told = (of: typeof exact) =>
          of.scenes.map((s) => [s.presses?.length, s.fromBefore, s.fromAnywhere]);
        expect([seed, merged.isExact, told(merged)]).toEqual([seed, false, told(exact)]);
        expect(merged.unseenBanks).toEqual(exact.unseenBanks);
        // What it says of the gear is so, though it does not see all of it.
        for (const [i, { differs }] of merged.scenes.entries())
          if (differs) {
            expect([seed, exact.scenes[i]?.differs === null]).toEqual([seed, false]);
            expect(standsOtherwise(world, replayed(world, differs.presses))).toEqual(differs.functionIds);
          }
      }
      expect(compared).toBeGreaterThan(18);
    },
  );

  it('says where it had to stop', () => {
    const { world } = randomEvening(seeded(2));
    const graph = drained(footGraph(world, begunEvening(world), { exactPresses: 0, presses: 1 }));
    expect([graph.isWhole, graph.tried]).toEqual([false, 1]);
    expect(reachOf(world, graph).isWhole).toBe(false);
  });
});

describe('presses between scenes', () => {
  const { device, board, preset } = makeBoard(2, 0, [
    [
      assign('s0', [{ kind: 'scene', to: { kind: 'next' } }]),
      assign('s1', [{ kind: 'scene', to: { kind: 'previous' } }]),
    ],
  ]);
  const song = makeSong('Song', [
    ['One', {}],
    ['Two', {}],
    ['Three', {}],
  ]);
  const world = compileWorld({
    rig: makeRig([device], [], [board]),
    presets: [preset],
    setName: 'Set',
    songs: [song],
  });
  const next = { controlId: 's0', gesture: 'press' };

  it('are told from the beginning, from the scene before, and from anywhere', () => {
    const { scenes, traps, isWhole } = reachOf(world, drained(footGraph(world, begunEvening(world))));
    expect(scenes.map((s) => [s.presses, s.fromBefore, s.fromAnywhere, s.differs])).toEqual([
      [[], null, 2, null],
      [[next], { fewest: 1, most: 1 }, 1, null],
      [[next, next], { fewest: 1, most: 1 }, 2, null],
    ]);
    expect([traps, isWhole]).toEqual([[], true]);
  });

  it('that there are none of are told where the switch back is gone', () => {
    const onward = {
      ...preset,
      banks: preset.banks.map((b) => ({ ...b, assignments: [b.assignments[0]!] })),
    };
    const oneWay = compileWorld({ ...world.show, presets: [onward] });
    const { scenes, traps, idleControls } = reachOf(oneWay, drained(footGraph(oneWay, begunEvening(oneWay))));
    expect(scenes.map((s) => s.fromAnywhere)).toEqual([null, null, 2]);
    expect(traps.map((t) => [t.sceneId, t.leadsTo?.sceneId, t.back])).toEqual([
      [song.scenes[0]!.id, song.scenes[1]!.id, null],
      [song.scenes[1]!.id, song.scenes[2]!.id, null],
    ]);
    expect(idleControls).toEqual(['s1']);
  });
});

describe('an evening that is worked out by hand', () => {
  const effect = makeFunction({
    id: 'a',
    name: 'Effect',
    shape: { kind: 'switch', off: 0, on: 127 },
  });
  const input = makePort({ id: 'in' });
  const output = makePort({ id: 'out', direction: 'out', atComputer: true });
  const fx = makeDevice({ id: 'fx', ports: [input], chart: [effect] });
  const computer = makeDevice({ id: 'computer', role: 'carrier', ports: [output] });
  /** Each list is what the switches of a bank do when they are pressed. */
  const reachWith = (
    banks: readonly Parameters<typeof assign>[1][][],
    songs: Song[],
    change: (preset: Preset) => Preset = (same) => same,
  ) => {
    const made = banks.map((bank) => bank.map((actions, i) => assign(`s${i}`, actions)));
    const { device, board, preset } = makeBoard(4, 0, made);
    const rig = makeRig([device, fx, computer], [cable(output, input)], [board]);
    const world = compileWorld({ rig, presets: [change(preset)], setName: 'Set', songs });
    return reachOf(world, drained(footGraph(world, begunEvening(world))));
  };
  const five = makeSong('Five', [
    ['1', {}],
    ['2', {}],
    ['3', {}],
    ['4', {}],
    ['5', {}],
  ]);
  const next = { kind: 'scene', to: { kind: 'next' } } as const;
  const first = { kind: 'scene', to: { kind: 'at', index: 0 } } as const;

  it('three presses back are a way back, four are none', () => {
    const { traps, scenes } = reachWith([[[next], [first]]], [five]);
    const [one, , , four, last] = five.scenes;
    const entryId = scenes[0]?.entryId;
    const on = { controlId: 's0', gesture: 'press' };
    const home = { controlId: 's1', gesture: 'press' };
    // From the fourth scene home three lead back; from the fifth to either side four do.
    expect(traps).toEqual([
      {
        ...on,
        entryId,
        sceneId: four!.id,
        leadsTo: { entryId, sceneId: last!.id },
        back: 4,
        presses: [on, on, on, on],
      },
      {
        ...home,
        entryId,
        sceneId: last!.id,
        leadsTo: { entryId, sceneId: one!.id },
        back: 4,
        presses: [on, on, on, on, home],
      },
    ]);
    expect(scenes.map((s) => [s.songIndex, s.sceneIndex, s.fromAnywhere])).toEqual([
      [0, 0, 1],
      [0, 1, 2],
      [0, 2, 3],
      [0, 3, 4],
      [0, 4, 4],
    ]);
  });

  it('a scene that no press leads to has no presses, and none from the one before it', () => {
    const { scenes } = reachWith([[[{ kind: 'scene', to: { kind: 'at', index: 2 } }], [first]]], [five]);
    const one = (controlId: string) => [{ controlId, gesture: 'press' }];
    expect(scenes.map((s) => [s.presses, s.fromBefore])).toEqual([
      [[], null],
      [null, null],
      [one('s0'), null],
      [null, null],
      [null, null],
    ]);
  });

  it('banks that nothing turns to are named, those that are turned to are not', () => {
    const to = (bankId: string) => [{ kind: 'bank', to: { kind: 'bank', bankId } } as const];
    const { unseenBanks, isExact } = reachWith([[to('bank-2')], [to('bank-0')], [[]], [[]]], [five]);
    expect(unseenBanks).toEqual(['bank-1', 'bank-3']);
    expect(isExact).toBe(true);
  });

  it('a control that some page or some scene uses is not idle', () => {
    const grouped = (preset: Preset): Preset => ({
      ...preset,
      groups: [
        {
          id: 'group',
          name: 'Group',
          controlIds: ['s1'],
          pages: [{ ...PLAIN_BANK, id: 'page', name: 'Page', assignments: [assign('s1', [first])] }],
        },
      ],
    });
    const song = {
      ...five,
      scenes: five.scenes.map((s, i) => ({
        ...s,
        controls:
          i === 3 ? [{ kind: 'toggle', boardId: 'board', controlId: 's2', functionId: 'a' } as const] : [],
      })),
    };
    expect(reachWith([[[next]]], [five]).idleControls).toEqual(['s1', 's2', 's3']);
    expect(reachWith([[[next]]], [song], grouped).idleControls).toEqual(['s3']);
    // A switch that has only a name is used for something.
    const named = (preset: Preset): Preset => ({
      ...preset,
      banks: preset.banks.map((b) => ({
        ...b,
        assignments: [...b.assignments, { ...assign('s3', []), label: 'spare' }],
      })),
    });
    expect(reachWith([[[next]]], [song], named).idleControls).toEqual(['s1']);
  });

  it('scenes that stand in no part are told once, however often the song is played', () => {
    const [one, two, three] = five.scenes;
    const part = { name: '', remark: '', length: null };
    const song = {
      ...five,
      parts: [
        { ...part, id: 'p1', sceneId: two!.id },
        { ...part, id: 'p2', sceneId: one!.id },
        { ...part, id: 'p3', sceneId: two!.id },
      ],
    };
    const { scenes, unplayedScenes } = reachWith([[[next]]], [song, song]);
    expect(scenes.map((s) => [s.songIndex, s.sceneIndex])).toEqual([
      [0, 1],
      [0, 0],
      [1, 1],
      [1, 0],
    ]);
    expect(unplayedScenes).toEqual(
      [three!, five.scenes[3]!, five.scenes[4]!].map((s) => ({ songId: song.id, sceneId: s.id })),
    );
  });

  it.each([
    ['recalls a scene and then switches off what it switched on', 0, ['a']],
    ['recalls a scene and switches the same on once more', 1, undefined],
  ])('a press that %s', (_, value, functionIds) => {
    const song = makeSong('Song', [
      ['Off', { a: 0 }],
      ['On', { a: 1 }],
    ]);
    const after = { kind: 'set', functionId: 'a', value } as const;
    const { scenes } = reachWith([[[next, after], [first]]], [song]);
    expect(scenes.map((s) => s.differs?.functionIds)).toEqual([undefined, functionIds]);
    if (functionIds) expect(scenes[1]?.differs?.presses).toEqual([{ controlId: 's0', gesture: 'press' }]);
  });
});
