/** A number of things in words. Example: `1 function`, `3 functions`. */
export const counted = (count: number, thing: string, things = `${thing}s`): string =>
  `${count} ${count === 1 ? thing : things}`;
