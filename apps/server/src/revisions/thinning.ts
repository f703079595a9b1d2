import { nth } from '@idle-step/core/sure';
const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;

/** One save, as far as its age decides. */
export type Save = { readonly version: number; readonly savedAt: Date; readonly name: string | null };

/**
 * How long saves stay, by their age: all of the last two days, at most the newest 200 of them; then the last one of
 * each hour for two weeks; then the last one of each day for a year; then the last one of each 30 days. The first, the
 * newest and named ones stay.
 */
const STAGES = [
  { untilMs: 2 * DAY_MS, everyMs: 0 },
  { untilMs: 14 * DAY_MS, everyMs: HOUR_MS },
  { untilMs: 365 * DAY_MS, everyMs: DAY_MS },
  { untilMs: Infinity, everyMs: 30 * DAY_MS },
] as const;
const NEWEST = 200;

/** Versions that go. @param saves oldest first. */
export function savesThatGo(saves: readonly Save[], now: Date): ReadonlySet<number> {
  const goes = new Set<number>();
  const slots = new Set<string>();
  for (let i = saves.length - 2; i >= 1; i--) {
    const { version, savedAt, name } = nth(saves, i);
    const ageMs = now.getTime() - savedAt.getTime();
    const stage = STAGES.findIndex((s) => ageMs < s.untilMs);
    // What is too many of the newest is thinned out like the next older ones.
    const isCrowded = stage === 0 && saves.length - i > NEWEST;
    const { everyMs } = nth(STAGES, isCrowded ? 1 : stage);
    if (everyMs === 0) continue;
    const slot = `${everyMs} ${Math.floor(savedAt.getTime() / everyMs)}`;
    if (slots.has(slot) && name === null) goes.add(version);
    slots.add(slot);
  }
  return goes;
}
