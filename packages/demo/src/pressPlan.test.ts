import { showOfSet } from '@idle-step/core/engine';
import { begunEvening, drained, footGraph, pressPlan, reachOf, worldOfFeet } from '@idle-step/core/proof';
import { describe, expect, it } from 'vitest';
import { demoPresets, demoRig, demoSets, demoSongs } from './index';

describe.each(demoSets.map((set) => ({ name: set.name, set })))('the plan of $name', ({ set }) => {
  const world = worldOfFeet({ rig: demoRig, presets: demoPresets, ...showOfSet(set, demoSongs) });
  const graph = drained(footGraph(world, begunEvening(world)));
  const plan = pressPlan(world, graph);
  const parts = world.songs.reduce((n, s) => n + s.parts.length, 0);

  it('takes no more presses than going on by Next, and that is proven', () => {
    expect([plan.open, plan.tight, plan.isProven]).toEqual([0, 0, true]);
    expect(plan.presses).toBeLessThanOrEqual(parts - 1);
    expect(plan.parts).toHaveLength(parts);
  });

  it('is one of scenes that feet bring about, all of which stand as they say', () => {
    const reach = reachOf(world, graph);
    expect(reach.isWhole).toBe(true);
    expect(reach.scenes.filter((s) => s.presses === null || s.differs !== null)).toEqual([]);
    // Four presses lead back from the next song where a bank without scenes is in force.
    expect(new Set(reach.traps.map((t) => t.back))).toEqual(new Set([4]));
  });
});
