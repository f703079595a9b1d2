/** `name`, or with a number behind it where that is taken. */
export function freeName(taken: readonly string[], name: string): string {
  const lower = new Set(taken.map((t) => t.toLowerCase()));
  for (let i = 1; ; i++) {
    const tried = i === 1 ? name : `${name} ${i}`;
    if (!lower.has(tried.toLowerCase())) return tried;
  }
}
