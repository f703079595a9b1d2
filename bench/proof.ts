import { compileWorld } from '@idle-step/core/engine';
import {
  begunEvening,
  drained,
  findingsOf,
  footGraph,
  NOTHING_KNOWN,
  pressPlan,
  reachOf,
  worldOfFeet,
} from '@idle-step/core/proof';
import { bigEvening, type BigEvening } from './bigEvening';

type Figure = { name: string; value: number; unit: string; aim: string; holds: boolean | null };

const findings = ({ show, set }: BigEvening): number =>
  findingsOf({ world: compileWorld(show), show, set, known: NOTHING_KNOWN }).length;

/** All that the place Proof tries of feet: what they reach, and the plan. @returns what it found, and ms. */
function proof({ show }: BigEvening) {
  const began = performance.now();
  const world = worldOfFeet(show);
  const graph = drained(footGraph(world, begunEvening(world)));
  const reach = reachOf(world, graph);
  const plan = pressPlan(world, graph);
  return { ms: performance.now() - began, reach, plan, graph };
}

function median(times: number, run: () => void): number {
  const all = Array.from({ length: times }, () => {
    const began = performance.now();
    run();
    return performance.now() - began;
  }).sort((a, b) => a - b);
  return all[Math.floor(times / 2)]!;
}

const ms = (name: string, value: number, most: number): Figure => ({
  name,
  value,
  unit: 'ms',
  aim: `${most} or less`,
  holds: value <= most,
});
const told = (name: string, value: number): Figure => ({ name, value, unit: '', aim: '', holds: null });

/** Figures of the proof: findings after an edit, and what feet can do. @param isShort only that it still runs. */
export function proofFigures(isShort: boolean): Figure[] {
  if (isShort) return [told('proof: findings of the demo', findings(bigEvening(11, 2, 10)))];
  const twelve = bigEvening(12, 2, 10);
  const wide = bigEvening(60, 5, 60);
  const long = bigEvening(60, 3, 10);
  const small = proof(twelve);
  const large = proof(long);
  return [
    ms(
      'proof: findings of the demo',
      median(15, () => findings(bigEvening(11, 2, 10))),
      100,
    ),
    ms(
      'proof: findings of 5 boards, 60 devices, 60 songs',
      median(7, () => findings(wide)),
      500,
    ),
    ms(
      'proof: what feet do in 12 songs',
      median(3, () => proof(twelve)),
      1000,
    ),
    told('proof: presses of its plan', small.plan.presses),
    ms('proof: what feet do in 60 songs on 3 boards', large.ms, 10_000),
    told('proof: presses tried there', large.graph.tried),
    told('proof: everything was seen there', Number(large.reach.isWhole)),
  ];
}
