import { entriesTonight, entryLengthS, type Setlist, type Song } from '../../show';
import type { Pause, Show } from '../world/world';

type SetShow = Pick<
  Show,
  'setId' | 'setName' | 'pauses' | 'songs' | 'entryIds' | 'leftOut' | 'lengthsS' | 'calls'
>;

/**
 * What of a set is played this evening: its songs in order, what lies between them, and a stop before the first encore.
 * Songs that are gone are left out.
 * @param songs of the set, whole; without a set all of them, in their order.
 */
export function showOfSet(set: Setlist | null, songs: readonly Song[]): SetShow {
  if (!set)
    return {
      setId: null,
      setName: '',
      pauses: [],
      songs,
      entryIds: songs.map((s) => s.id),
      leftOut: songs.map(() => []),
      lengthsS: songs.map((s) => s.lengthS),
      calls: null,
    };
  const byId = new Map(songs.map((s) => [s.id, s]));
  const pauses: Pause[] = [];
  const played: { entryId: string; song: Song; leftOut: readonly string[]; lengthS: number }[] = [];
  for (const entry of entriesTonight(set)) {
    const before = played.length;
    // The planned end: whoever plays decides there whether to go on.
    if (entry.isEncore && before > 0 && !pauses.some((p) => p.kind === 'encore'))
      pauses.push({ id: `encore/${entry.id}`, kind: 'encore', name: 'Encore', lengthS: 0, before });
    if (entry.kind !== 'song') {
      const { id, kind, name, lengthS } = entry;
      pauses.push({ id, kind, name, lengthS, before });
      continue;
    }
    const song = byId.get(entry.songId);
    if (song)
      played.push({
        entryId: entry.id,
        song,
        leftOut: entry.leftOutSceneIds,
        lengthS: entryLengthS(entry, song),
      });
  }
  return {
    setId: set.id,
    setName: set.name,
    pauses,
    songs: played.map((e) => e.song),
    entryIds: played.map((e) => e.entryId),
    leftOut: played.map((e) => e.leftOut),
    lengthsS: played.map((e) => e.lengthS),
    calls: set.calls,
  };
}
