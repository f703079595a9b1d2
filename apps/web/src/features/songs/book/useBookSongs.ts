import { entriesInOrder, type Setlist } from '@idle-step/core/show';
import type { SongSummary } from '@idle-step/contract';
import { useDeferredValue, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router-dom';
import { useAllOpened, useOpened, useSetList, useSongList } from '../../../drafts/useDocs';
import { songLines, type SongOrder } from '../../../edits/songList';
import { useChosenSet } from '../../../live/use/useShow';

/** Songs that the book shows at the most; more are found by title, key or tag. */
export const SONGS_SHOWN = 200;
/** In place of a set: all songs. */
export const ALL_SONGS = 'all';

/** Which songs are shown: those of a set, or all, found by what is typed, in an order. */
export function useBookSongs(rigId: string) {
  const list = useSongList(rigId);
  const sets = useSetList(rigId);
  const chosen = useChosenSet(sets.items);
  const [params, setParams] = useSearchParams();
  const askedFor = params.get('song');
  const first = params.get('set') ?? chosen?.id ?? ALL_SONGS;
  const firstSet = useOpened('sets', rigId, first === ALL_SONGS ? undefined : first) ?? null;
  // A song that one comes from is shown, also where it stands in no set.
  const isOutside =
    params.get('set') === null &&
    askedFor !== null &&
    firstSet !== null &&
    !firstSet.entries.some((e) => e.kind === 'song' && e.songId === askedFor);
  const scope = isOutside ? ALL_SONGS : first;
  const set = isOutside ? null : firstSet;
  const [wanted, setWanted] = useState('');
  const [order, setOrder] = useState<SongOrder>('set');
  const search = useDeferredValue(wanted);
  const found = useMemo(() => songsFound(list.items, set, search, order), [list.items, set, search, order]);
  const ids = useMemo(
    () => [...found.keys()].filter((id, i) => i < SONGS_SHOWN || id === askedFor),
    [found, askedFor],
  );
  const { docs: songs, isLoaded } = useAllOpened('songs', rigId, ids);
  return {
    askedFor,
    lineAskedFor: params.get('line'),
    list,
    sets: sets.items,
    set,
    scope,
    setScope: (id: string) => setParams({ set: id }, { replace: true }),
    wanted,
    setWanted,
    order,
    setOrder,
    songs,
    numbers: found,
    count: found.size,
    isLoaded: isLoaded && list.isFetched && sets.isFetched && (scope === ALL_SONGS || set !== null),
  };
}

/** The songs of a set, or of all, that are like what is typed, with their numbers in the set. */
function songsFound(
  songs: readonly SongSummary[],
  set: Setlist | null,
  wanted: string,
  order: SongOrder,
): ReadonlyMap<string, number | null> {
  const inSet = set && new Set(entriesInOrder(set).flatMap((e) => (e.kind === 'song' ? e.songId : [])));
  const among = inSet && wanted.trim() === '' ? songs.filter((s) => inSet.has(s.id)) : songs;
  const found = new Map<string, number | null>();
  for (const line of songLines(among, set, wanted, order))
    if (line.kind === 'song' && !found.has(line.song.id)) found.set(line.song.id, line.number);
  return found;
}
