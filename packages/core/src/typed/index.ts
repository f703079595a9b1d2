import { nth } from '../sure';
/** What people type, read whole or not at all. */

/** A whole number, with nothing before or behind it. Example: `12`, `-3`. @returns `null` for anything else. */
export function readWhole(text: string): number | null {
  const typed = plain(text);
  return /^[-+]?\d{1,15}$/.test(typed) ? Number(typed) : null;
}

/** A number with a point or a comma. Example: `60.5`, `60,5`, `.5`. @returns `null` for anything else, `1e3` among it. */
export function readNumber(text: string): number | null {
  const typed = plain(text).replace(',', '.');
  return /^[-+]?(?:\d{1,15}(?:\.\d*)?|\.\d+)$/.test(typed) ? Number(typed) : null;
}

/** As it is typed on one keyboard or another: a minus may be the sign of its own. */
const plain = (text: string): string => text.trim().replace(/^−/, '-');

/**
 * The name that is meant: written out, whatever its case, or a part of it that only one of them has.
 * @returns its place, the places of several that have the part, or `null`.
 */
export function findName(names: readonly string[], text: string): number | readonly number[] | null {
  const typed = text.trim().toLowerCase();
  if (typed === '') return null;
  const low = names.map((n) => n.trim().toLowerCase());
  const whole = low.indexOf(typed);
  if (whole >= 0) return whole;
  const having = low.flatMap((n, i) => (n.includes(typed) ? i : []));
  // One that begins with it is meant rather than one that has it inside.
  const beginning = having.filter((i) => nth(low, i).startsWith(typed));
  const [found] = beginning.length === 1 ? beginning : having;
  if (found === undefined) return null;
  return beginning.length === 1 || having.length === 1 ? found : having;
}

/** The beginning of a text, as long as a field takes it; never half a character, which nothing can save. */
export function cutText(text: string, most: number): string {
  const cut = text.slice(0, most);
  return /[\uD800-\uDBFF]$/.test(cut) ? cut.slice(0, -1) : cut;
}

/**
 * The places of the texts that are meant while one types: every word typed is in them, in whatever order; those that begin
 * with what is typed come first, then those of which a word does. All where nothing is typed.
 */
export function matching(texts: readonly string[], typed: string): readonly number[] {
  const wanted = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const places = texts.map((_, i) => i);
  if (wanted.length === 0) return places;
  const low = texts.map((t) => t.toLowerCase());
  const rank = (text: string): number => {
    if (text.startsWith(wanted.join(' '))) return 0;
    return wanted.every((w) => text.startsWith(w) || /[^\p{L}\p{N}]/u.test(text[text.indexOf(w) - 1] ?? ''))
      ? 1
      : 2;
  };
  return places
    .filter((i) => wanted.every((w) => nth(low, i).includes(w)))
    .map((i) => ({ i, rank: rank(nth(low, i)) }))
    .sort((a, b) => a.rank - b.rank || a.i - b.i)
    .map(({ i }) => i);
}
