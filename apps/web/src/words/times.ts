/** A moment as people write the time of day. Example: `14:07`. */
export const timeOfDay = (iso: string, seconds = false): string =>
  new Date(iso).toLocaleTimeString('en-GB', {
    hour: '2-digit',
    minute: '2-digit',
    ...(seconds ? { second: '2-digit' as const } : {}),
  });

/** Example: `3 May`. */
export const dayOf = (iso: string): string =>
  new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' });

/** Minutes and seconds. Example: `4:05`; hours before them from one on: `1:02:05`. */
export function minutes(seconds: number): string {
  const whole = Math.max(0, Math.round(seconds));
  const two = (n: number) => String(n).padStart(2, '0');
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
