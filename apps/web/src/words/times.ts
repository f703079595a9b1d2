import { readBar, type BarBeat, type BarShape } from '@idle-step/core/show';

const two = (n: number): string => String(n).padStart(2, '0');

/**
 * A moment as people write the time of day. Example: `14:07`, `14:07:09`. Put together by hand: a browser takes a third of
 * a millisecond for one in the words of a country, and one is drawn with each press.
 *
 * @param at as `Date` reads it: ISO 8601, or ms since 1970.
 */
export function timeOfDay(at: string | number | Date, seconds = false): string {
  const date = new Date(at);
  const minutes = `${two(date.getHours())}:${two(date.getMinutes())}`;
  return seconds ? `${minutes}:${two(date.getSeconds())}` : minutes;
}

/**
 * The time of day so many seconds after the start of a set, on the clock of its day: two nights a year have an hour more
 * or less. Without a date every hour has sixty minutes; without a start it is minutes and seconds since.
 * @param set its date as `2026-11-26`, or empty, and its start in minutes after midnight.
 */
export function timeInSet(
  { date, startMin }: { readonly date: string; readonly startMin: number | null },
  afterS: number,
): string {
  if (startMin === null) return minutes(afterS);
  const [year, month, day] = date.split('-').map(Number);
  if (year && month && day)
    return timeOfDay(new Date(year, month - 1, day, 0, startMin).getTime() + afterS * 1000);
  const min = Math.floor(startMin + afterS / 60) % 1440;
  return `${two(Math.floor(min / 60))}:${two(min % 60)}`;
}

/** A moment to the millisecond, without the hour. Example: `14:09.904`. @param wallMs ms since 1970. */
export function minuteOfDay(wallMs: number): string {
  const date = new Date(wallMs);
  const ms = String(date.getMilliseconds()).padStart(3, '0');
  return `${two(date.getMinutes())}:${two(date.getSeconds())}.${ms}`;
}

/** Example: `3 May`. */
export const dayOf = (iso: string): string =>
  new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' });

/** Minutes and seconds. Example: `4:05`; hours before them from one on: `1:02:05`. */
export function minutes(seconds: number): string {
  const whole = Math.max(0, Math.round(seconds));
  const hours = Math.floor(whole / 3600);
  const rest = `${hours > 0 ? two(Math.floor((whole % 3600) / 60)) : Math.floor(whole / 60)}:${two(whole % 60)}`;
  return hours > 0 ? `${hours}:${rest}` : rest;
}

/** Reads `4:05`, `1:02:05` or `4` (minutes). */
export function parseMinutes(text: string): { value: number; error?: undefined } | { error: string } {
  const clock = /^(?:(\d{1,2}):)?(\d{1,3}):(\d{2})$/.exec(text.trim());
  const alone = /^(\d{1,3})$/.exec(text.trim());
  const seconds = clock
    ? Number(clock[1] ?? 0) * 3600 + Number(clock[2]) * 60 + Number(clock[3])
    : alone
      ? Number(alone[1]) * 60
      : NaN;
  if (!(seconds <= 36_000))
    return { error: `“${text}” is no length; minutes and seconds like 4:05 would be right.` };
  return { value: seconds };
}

/** Reads a time of day, `20:00` or `20`, as minutes after midnight; nothing is no time. */
export function parseClock(text: string): { value: number | null; error?: undefined } | { error: string } {
  if (text.trim() === '') return { value: null };
  const match = /^(\d{1,2})(?:[:.](\d{2}))?$/.exec(text.trim());
  const [hours, min] = [Number(match?.[1]), Number(match?.[2] ?? 0)];
  return match && hours < 24 && min < 60
    ? { value: hours * 60 + min }
    : { error: `“${text}” is no time of day; 20:00 would be right.` };
}

/** A bar, with the beat where it is not its first. Example: `33`, `33.2`, `33.2.50`. */
export function barBeatText({ bar, beat }: BarBeat): string {
  const whole = Math.floor(beat + 1e-6);
  const hundredths = Math.round((beat - whole) * 100);
  if (hundredths > 0) return `${bar}.${whole}.${String(hundredths).padStart(2, '0')}`;
  return whole === 1 ? String(bar) : `${bar}.${whole}`;
}

/** A tempo, to a hundredth at the most. Example: `92`, `92.5`. */
export const bpmText = (bpm: number): string => amountText(bpm);

/** A number to a hundredth at the most. Example: `8`, `8.33`. */
export const amountText = (amount: number): string => String(Math.round(amount * 100) / 100);

/** Reads `4/4`, `6/8`, or `3` for quarters. */
export function parseBar(text: string): { value: BarShape; error?: undefined } | { error: string } {
  const value = readBar(text);
  return value ? { value } : { error: `“${text}” is no bar; 4/4, 6/8 or 3 would be right.` };
}

/** Reads `33`, `33.2` or `33.2.50`: bar, beat, hundredths of a beat. */
export function parseBarBeat(text: string): { value: BarBeat; error?: undefined } | { error: string } {
  const match = /^(\d{1,4})(?:[.:](\d{1,2})(?:[.:](\d{1,2}))?)?$/.exec(text.trim());
  const [bar, beat] = [Number(match?.[1]), Number(match?.[2] ?? 1)];
  const part = match?.[3] ?? '';
  if (!match || bar < 1 || beat < 1 || beat > 32)
    return { error: `“${text}” is no place in a song; bar and beat like 33.2 would be right.` };
  return { value: { bar, beat: beat + Number(part.padEnd(2, '0')) / 100 } };
}
