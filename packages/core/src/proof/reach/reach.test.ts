import { describe, expect, it } from 'vitest';
import { compileWorld } from '../../engine';
import { seeded } from '../../seeded.test-support';
import { assign, makeBoard, makeRig, makeSong } from '../../testing.test-support';
import { drained } from '../feet/drained';
import { begunEvening } from '../feet/evening';
import { everySequence, randomEvening, replayed, sceneKeyOf } from '../feet/footRuns.test-support';
import { footGraph } from '../feet/graph';
import { pressed, pressesAt } from '../feet/press';
import { standsOtherwise } from '../feet/stands';
import { BACK_WITHIN, reachOf } from './reach';
import { LENGTH, reachFault } from './reachRuns.test-support';

/** Rigs by chance; the long run tries 500. */
const RIGS = 40;
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
    'finds the same places where states are merged (40 rigs, boards: %d)',
    (boards) => {
      let compared = 0;
      for (let seed = 1; seed <= 40; seed++) {
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
      expect(compared).toBeGreaterThan(30);
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
