/** How fast the time that is played by goes against the computer's: slower than it in slow motion. */
let pace = 1;
let since = { realMs: 0, liveMs: 0 };

/** Now, in ms, on the clock that everything that is played goes by. The computer's own but for slow motion. */
export const liveNow = (): number => toLive(performance.now());

/** A stamp of a port, on the clock of `performance.now()`, as a time that is played by. */
export const toLive = (realMs: number): number => since.liveMs + (realMs - since.realMs) * pace;

/** The other way round: when a time that is played by is on the clock of `performance.now()`. */
export const toReal = (liveMs: number): number => since.realMs + (liveMs - since.liveMs) / pace;

/** How long something that is played takes on the computer's clock, in ms. */
export const realMs = (liveMs: number): number => liveMs / pace;

/** @param next above 0; 1 is as it is played. */
export function setPace(next: number): void {
  const real = performance.now();
  since = { realMs: real, liveMs: toLive(real) };
  pace = next;
}
