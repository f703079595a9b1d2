import { showOfSet } from '@idle-step/core/engine';
import { it } from 'vitest';
import { demoPresets, demoRig, demoSets, demoSongs } from './index';
import { begunEvening, worldOfFeet } from '../../core/src/proof/feet/evening';
import { footGraph } from '../../core/src/proof/feet/graph';
import { reachOf } from '../../core/src/proof/reach/reach';
import { pressPlan, pressWords } from '../../core/src/proof/plan/pressPlan';
it('x', () => {
  for (const set of demoSets) {
    const t0 = performance.now();
    const world = worldOfFeet({ rig: demoRig, presets: demoPresets, ...showOfSet(set, demoSongs) });
    const run = footGraph(world, begunEvening(world));
    let r = run.next();
    while (!r.done) r = run.next();
    const g = r.value;
    const t1 = performance.now();
    const reach = reachOf(world, g);
    const t2 = performance.now(); const plan = pressPlan(world, g); console.log('plan', performance.now() - t2, plan.presses, plan.takesS, plan.tight, plan.open, plan.isProven, plan.parts.map((p) => world.songs[p.songIndex]!.song.name + ' ' + p.partIndex + ': ' + p.presses.map((x) => x.foot + ' ' + pressWords(world, x) + ' ' + x.takesS.toFixed(2)).join(', ') + ' of ' + p.leavesS).join('\n'));
    console.log(t1 - t0, performance.now() - t1, g.nodes.length, g.tried, g.isExact, g.isWhole);
  }
});
