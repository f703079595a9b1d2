import { timeTransition } from './parallelMachine';

/**
 * How fast the machine goes while a bench runs: one fixed piece of work, looked at now and then. Who shares a processor's core
 * or its memory slows down every piece of work and is counted nowhere.
 */
export class Pace {
  private readonly taken: number[] = [];

  /** @param times transitions, 300 where the figure is to say something. */
  constructor(private readonly times = Number(process.env['BENCH_TRANSITIONS'] ?? 300)) {}

  /** Looks once more, which takes about a quarter of a second. */
  look(): void {
    this.taken.push(timeTransition(this.times));
  }

  /** The median of the looks, in µs a transition. */
  get us(): number {
    return this.taken.toSorted((a, b) => a - b)[Math.floor(this.taken.length / 2)]!;
  }
}
