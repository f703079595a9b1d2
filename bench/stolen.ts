import { readFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';

/** How often is looked, in ms: as fine as Linux counts. */
const LOOK_MS = 10;
/** What is counted late or in pieces belongs to the moments beside it as well, in ms. */
const MARGIN_MS = 20;

/** Hundredths of a second that the host has taken from this machine's processors: `steal` in `/proc/stat`, proc(5). */
function stolenSoFar(): number {
  try {
    return Number(readFileSync('/proc/stat', 'utf8').split('\n', 1)[0]!.split(/ +/)[8] ?? 0);
  } catch {
    return 0;
  }
}

/**
 * Watches when the host takes the processors of a shared machine away, so that what stood still then can be told from
 * what the page did. Where the system does not count it, no moment is stolen.
 */
export function watchStolen(): {
  /** Whether something was taken between two moments, in ms of the epoch. */
  isStolen(fromMs: number, toMs: number): boolean;
  stop(): void;
} {
  const moments: { readonly fromMs: number; readonly toMs: number }[] = [];
  const now = () => performance.timeOrigin + performance.now();
  let before = { atMs: now(), count: stolenSoFar() };
  const timer = setInterval(() => {
    const next = { atMs: now(), count: stolenSoFar() };
    if (next.count > before.count) moments.push({ fromMs: before.atMs, toMs: next.atMs });
    before = next;
  }, LOOK_MS);
  return {
    isStolen: (fromMs, toMs) =>
      moments.some((m) => m.fromMs < toMs + MARGIN_MS && m.toMs > fromMs - MARGIN_MS),
    stop: () => clearInterval(timer),
  };
}

/** So long the host has to leave the machine alone before it counts as calm, in ms. */
const CALM_MS = 3000;
/** Hundredths of a second that the host may take in that time. */
const CALM_TICKS = 2;
/** The longest that one bench waits, in ms: then it is measured all the same. */
const MOST_WAIT_MS = Number(process.env['BENCH_WAIT_MS'] ?? 300_000);
let waitedMs = 0;

/**
 * Waits until the host leaves the machine alone: a while in which it takes the processors away slows down also what runs
 * between. What counts are the figures of the machine, and not of who else has work on its host.
 */
export async function untilCalm(): Promise<void> {
  while (waitedMs < MOST_WAIT_MS) {
    const before = stolenSoFar();
    const beganMs = performance.now();
    while (performance.now() - beganMs < CALM_MS && stolenSoFar() - before <= CALM_TICKS)
      await new Promise((resolve) => setTimeout(resolve, 100));
    if (stolenSoFar() - before <= CALM_TICKS) return;
    waitedMs += performance.now() - beganMs;
  }
}

/** A round of a measurement, and which share of it the host disturbed, 0–1. */
export type Round<T> = { readonly figures: T; readonly disturbed: number };

/**
 * Makes rounds until so many of them were calm. Which of them count is told by what the host took away alone, never by what
 * was measured; each begins in a calm moment where one comes in time.
 *
 * @param most rounds that are made, `wanted` or more: if too few of these were calm, the least disturbed ones count.
 * @param share of a calm round that may be disturbed, 0–1.
 * @returns all rounds, at least `wanted`, the least disturbed first.
 */
export async function calmRounds<T>(
  { wanted, most, share }: { readonly wanted: number; readonly most: number; readonly share: number },
  measure: () => Promise<Round<T>> | Round<T>,
): Promise<Round<T>[]> {
  const rounds: Round<T>[] = [];
  const calm = () => rounds.filter((r) => r.disturbed <= share).length;
  while (rounds.length < wanted || (calm() < wanted && rounds.length < most)) {
    // Where every round counts as it comes, none is waited for: the short form only has to run.
    if (most > wanted) await untilCalm();
    rounds.push(await measure());
  }
  return rounds.sort((a, b) => a.disturbed - b.disturbed);
}

/** Processors that the machine has. */
const PROCESSORS = availableParallelism();

/** What something comes to, and which share of the processors' time the host took away meanwhile, 0–1. */
export async function timeStolen<T>(run: () => Promise<T> | T): Promise<Round<T>> {
  const before = stolenSoFar();
  const beganMs = performance.now();
  const figures = await run();
  const ms = performance.now() - beganMs;
  return { figures, disturbed: ((stolenSoFar() - before) * 10) / PROCESSORS / ms };
}
