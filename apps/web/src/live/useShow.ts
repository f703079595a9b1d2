import { entriesInOrder } from '@idle-step/core/show';
import { useEffect } from 'react';
import { useIsFetched, usePresets, useRig, useSets, useSongs } from '../drafts/useDocs';
import { useAppSelector } from '../store';
import type { DocOf } from '../api/api';
import { useLiveHost } from './useLive';

/** The set in play: the one chosen, or the first; `null` when there is none. */
export function useChosenSet(sets: readonly DocOf['sets'][]): DocOf['sets'] | null {
  const setId = useAppSelector((s) => s.screen.setId);
  return sets.find((s) => s.id === setId) ?? sets[0] ?? null;
}

/** Hands every edit to the live host, so that what is on the screen is what is played. */
export function useFeedLive(): void {
  const host = useLiveHost();
  const { rig } = useRig();
  const presets = usePresets(rig?.id);
  const songs = useSongs(rig?.id);
  const set = useChosenSet(useSets(rig?.id));
  const isFetched = useIsFetched(rig?.id);
  useEffect(() => {
    if (!rig || !isFetched) return;
    const inOrder = set
      ? entriesInOrder(set).flatMap((entry) => {
          if (entry.kind !== 'song') return [];
          const song = songs.find((s) => s.id === entry.songId);
          return song ? { entryId: entry.id, song, leftOut: entry.leftOutSceneIds } : [];
        })
      : songs.map((song) => ({ entryId: song.id, song, leftOut: [] }));
    host.setShow({
      rig,
      presets,
      setName: set?.name ?? '',
      songs: inOrder.map((e) => e.song),
      entryIds: inOrder.map((e) => e.entryId),
      leftOut: inOrder.map((e) => e.leftOut),
      calls: set?.calls ?? null,
    });
  }, [host, rig, presets, songs, set, isFetched]);
}
