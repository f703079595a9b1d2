/** So many of something. Example: `1 function`, `3 functions`; another plural where an s does not make it. */
export const counted = (count: number, one: string, many = `${one}s`): string =>
  `${count} ${count === 1 ? one : many}`;
