import type { SetSummary } from '@idle-step/contract';
import { showOfSet } from '@idle-step/core/engine';
import { useEffect, useMemo } from 'react';
import { type DocOf, usePresetsQuery } from '../../api/api';
import { useAllOpened, useOpened, usePresets, useRig, useSetList, useSongList } from '../../drafts/useDocs';
import { useAppSelector } from '../../store';
import { useLiveHost } from './useLive';
import { warmUpOnce } from '../warmUp';

/** The set in play among those of a list: the one chosen, or the first; `null` when there is none. */
export function useChosenSet(sets: readonly SetSummary[]): SetSummary | null {
  const setId = useAppSelector((s) => s.screen.setId);
  return sets.find((s) => s.id === setId) ?? sets[0] ?? null;
}

/** Songs that are played where there is no set, at the most: the first ones by name. */
const SONGS_WITHOUT_SET = 60;

/** The set in play with its songs, whole. `isFetched` once nothing of it is missing. */
export function useInPlay(rigId: string | undefined): {
  readonly set: DocOf['sets'] | null;
  readonly songs: readonly DocOf['songs'][];
  readonly isFetched: boolean;
} {
  const sets = useSetList(rigId);
  const chosen = useChosenSet(sets.items);
  const set = useOpened('sets', rigId, chosen?.id);
  const hasSets = sets.total > 0;
  // The list of all songs is not needed to play a set.
  const needsList = sets.isFetched && !hasSets;
  const list = useSongList(needsList ? rigId : undefined);
  const wanted = useSteadyIds(
    set
      ? set.entries.flatMap((e) => (e.kind === 'song' ? e.songId : []))
      : hasSets
        ? []
        : list.items.slice(0, SONGS_WITHOUT_SET).map((s) => s.id),
  );
  const { docs, isLoaded } = useAllOpened('songs', rigId, wanted);
  const isFetched =
    sets.isFetched && (hasSets || list.isFetched) && isLoaded && (!chosen || set !== undefined);
  return { set: set ?? null, songs: docs, isFetched };
}

/** The same list as long as the same identifiers stand in it. */
function useSteadyIds(ids: readonly string[]): readonly string[] {
  const key = ids.join();
  // eslint-disable-next-line react-hooks/exhaustive-deps -- the key says all of them
  return useMemo(() => [...new Set(ids)], [key]);
}

/** Hands every edit to the live host, so that what is on the screen is what is played. */
export function useFeedLive(): void {
  const host = useLiveHost();
  const { rig } = useRig();
  const presets = usePresets(rig?.id);
  const { data: fetchedPresets } = usePresetsQuery(rig?.id ?? '', { skip: !rig });
  const { set, songs, isFetched } = useInPlay(rig?.id);
  useEffect(() => {
    if (!rig || !isFetched || !fetchedPresets) return;
    host.setShow({ rig, presets, ...showOfSet(set, songs) });
    warmUpOnce(host.now().world);
  }, [host, rig, presets, fetchedPresets, songs, set, isFetched]);
}
