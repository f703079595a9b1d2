import { got } from '@idle-step/core/sure';
const wordsOf = (text: string): string[] => text.split(/\s+/).filter(Boolean);

/**
 * How many first words each text has in common with another one of the list, never all of them: what may give way where
 * there is little room. Example: `Record 1, Record 2, Stop` gives `1, 1, 0`.
 */
export function sharedWords(texts: readonly string[]): number[] {
  const users = new Map<string, number>();
  const headOf = (words: readonly string[], count: number) => words.slice(0, count).join(' ');
  const all = texts.map(wordsOf);
  for (const words of all)
    for (let count = 1; count < words.length; count++) {
      const head = headOf(words, count);
      users.set(head, (users.get(head) ?? 0) + 1);
    }
  return all.map((words) => {
    let shared = 0;
    while (shared + 1 < words.length && got(users, headOf(words, shared + 1)) > 1) shared++;
    return shared;
  });
}
