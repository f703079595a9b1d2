import { type Setlist, entriesInOrder } from '@idle-step/core/show';
import type { SongSummary } from '@idle-step/contract';

/** Orders in which songs are listed. */
export const SONG_ORDERS = ['set', 'title', 'tempo', 'key', 'length'] as const;
export type SongOrder = (typeof SONG_ORDERS)[number];

/** What lists show of a song. */
type Listed = Pick<SongSummary, 'id' | 'name' | 'tempoBpm' | 'lengthS' | 'key' | 'remark' | 'tags'>;

/** A line of the list: a song with its number in the set in play, or the head of those that are not in it. */
export type SongLine =
  | { readonly kind: 'song'; readonly song: Listed; readonly number: number | null }
  | { readonly kind: 'head'; readonly text: string };

/** The songs as they are listed: found by words in title, key, remark and tags, and put in order. */
export function songLines(
  songs: readonly Listed[],
  set: Setlist | null,
  wanted: string,
  order: SongOrder,
): readonly SongLine[] {
  const found = wanted.trim() === '' ? songs : songs.filter((s) => isLike(s, wanted));
  if (order !== 'set' || !set || wanted.trim() !== '')
    return sorted(found, order).map((song) => ({ kind: 'song', song, number: null }));
  const byId = new Map(found.map((s) => [s.id, s]));
  let number = 0;
  const inSet = entriesInOrder(set).flatMap((e): SongLine[] => {
    if (e.kind !== 'song') return [];
    const song = byId.get(e.songId);
    if (!e.notTonight) number++;
    return song ? [{ kind: 'song', song, number: e.notTonight ? null : number }] : [];
  });
  const used = new Set(inSet.flatMap((l) => (l.kind === 'song' ? l.song.id : [])));
  const rest = found.filter((s) => !used.has(s.id));
  return [
    ...inSet,
    ...(rest.length > 0 ? [{ kind: 'head' as const, text: 'not in this set' }] : []),
    ...sorted(rest, 'title').map((song): SongLine => ({ kind: 'song', song, number: null })),
  ];
}

/** Whether every word that was typed stands in the title, the key, the remark or a tag. */
function isLike({ name, key, remark, tags }: Listed, wanted: string): boolean {
  const text = [name, key, remark, ...tags].join(' ').toLowerCase();
  return wanted
    .toLowerCase()
    .trim()
    .split(/\s+/)
    .every((word) => text.includes(word));
}

const words = new Intl.Collator('en', { numeric: true });

function sorted(songs: readonly Listed[], order: SongOrder): readonly Listed[] {
  const byTitle = (a: Listed, b: Listed) => words.compare(a.name, b.name);
  switch (order) {
    case 'tempo':
      return songs.toSorted((a, b) => a.tempoBpm - b.tempoBpm || byTitle(a, b));
    case 'length':
      return songs.toSorted((a, b) => a.lengthS - b.lengthS || byTitle(a, b));
    case 'key':
      // Songs without a key come last.
      return songs.toSorted(
        (a, b) => Number(a.key === '') - Number(b.key === '') || words.compare(a.key, b.key) || byTitle(a, b),
      );
    default:
      return songs.toSorted(byTitle);
  }
}
