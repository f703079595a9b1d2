import { assign, createMachine, getInitialSnapshot, transition } from 'xstate';

/** Regions of the machine that a step is held against: as many things as a press looks at, each with one assignment. */
const REGIONS = 10;

const machine = createMachine({
  type: 'parallel',
  context: Object.fromEntries(Array.from({ length: REGIONS }, (_, i) => [`n${i}`, 0])) as Record<
    string,
    number
  >,
  states: Object.fromEntries(
    Array.from({ length: REGIONS }, (_, i) => [
      `region${i}`,
      {
        initial: 'up',
        states: {
          up: { on: { PRESS: { target: 'down', actions: count(i) } } },
          down: { on: { PRESS: { target: 'up', actions: count(i) } } },
        },
      },
    ]),
  ),
});

function count(i: number) {
  return assign(({ context }: { context: Record<string, number> }) => ({ [`n${i}`]: context[`n${i}`]! + 1 }));
}

/** Mean time of one pure transition of a general state machine library, in µs. */
export function timeTransition(times: number): number {
  let snapshot = getInitialSnapshot(machine);
  const run = (n: number) => {
    for (let i = 0; i < n; i++) [snapshot] = transition(machine, snapshot, { type: 'PRESS' });
  };
  run(200);
  const start = performance.now();
  run(times);
  return ((performance.now() - start) * 1000) / times;
}
