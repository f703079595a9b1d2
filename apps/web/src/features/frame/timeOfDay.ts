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
