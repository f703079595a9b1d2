/**
 * `name` where nothing is called so, else with the next number behind it that is free: a copy of `Verse` is `Verse 2`, and
 * one of that `Verse 3`.
 */
export function freeName(taken: readonly string[], name: string): string {
  const lower = new Set(taken.map((t) => t.toLowerCase()));
  if (!lower.has(name.toLowerCase())) return name;
  const [, bare = name, number = '1'] = /^(.+?)(?: (\d{1,4}))?$/.exec(name) ?? [];
  for (let i = Number(number) + 1; ; i++) if (!lower.has(`${bare} ${i}`.toLowerCase())) return `${bare} ${i}`;
}
