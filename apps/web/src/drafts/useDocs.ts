import { useCallback, useMemo } from 'react';
import type { Kept, Resource } from '@idle-step/contract';
import {
  usePresetsQuery,
  useRigsQuery,
  useSetsQuery,
  useSongsQuery,
  type AnyDoc,
  type DocOf,
} from '../api/api';
import { useAppDispatch, useAppSelector } from '../store';
import { draftKey, edited } from './draftsSlice';
import { textOf, type Draft } from './saving';

const NONE: readonly Kept<never>[] = [];

/** The rig in hand: the one chosen, or the first there is. */
export function useRig(): {
  rig: DocOf['rigs'] | null;
  rigs: readonly DocOf['rigs'][];
  isLoading: boolean;
  isError: boolean;
} {
  const { data = NONE, isLoading, isError } = useRigsQuery();
  const chosen = useAppSelector((s) => s.screen.rigId);
  const rigs = useWithDrafts('rigs', data);
  return {
    rig: rigs.find((r) => r.id === chosen) ?? rigs[0] ?? null,
    rigs,
    isLoading,
    isError: isError && data === NONE,
  };
}

export function usePresets(rigId: string | undefined): readonly DocOf['presets'][] {
  const { data = NONE } = usePresetsQuery(rigId ?? '', { skip: !rigId });
  return useWithDrafts('presets', data);
}

export function useSongs(rigId: string | undefined): readonly DocOf['songs'][] {
  const { data = NONE } = useSongsQuery(rigId ?? '', { skip: !rigId });
  return useWithDrafts('songs', data);
}

export function useSets(rigId: string | undefined): readonly DocOf['sets'][] {
  const { data = NONE } = useSetsQuery(rigId ?? '', { skip: !rigId });
  return useWithDrafts('sets', data);
}

/** Whether everything that belongs to a rig has arrived, so that nothing is played from half of it. */
export function useIsFetched(rigId: string | undefined): boolean {
  const options = { skip: !rigId };
  const presets = usePresetsQuery(rigId ?? '', options);
  const songs = useSongsQuery(rigId ?? '', options);
  const sets = useSetsQuery(rigId ?? '', options);
  return [presets, songs, sets].every((q) => q.data !== undefined);
}

export function useDraft(resource: Resource, id: string | undefined): Draft | undefined {
  return useAppSelector((s) => (id ? s.drafts.byKey[draftKey(resource, id)] : undefined));
}

/** The text of a document as it is on the screen, `null` before it was fetched. */
export function useDocText(resource: Resource, id: string): AnyDoc | null {
  return useAppSelector((state) => {
    const kept = findKept(state.api, resource, id);
    return kept ? textOf(state.drafts.byKey[draftKey(resource, id)], kept) : null;
  });
}

/**
 * A function that changes a document: `change` gets it and returns the new one, `label` says what the step was.
 * The first edit starts from what the server keeps.
 */
export function useEdit<R extends Resource>(
  resource: R,
): (id: string, label: string, change: (doc: DocOf[R]) => DocOf[R]) => void {
  const dispatch = useAppDispatch();
  return useCallback(
    (id, label, change) => {
      dispatch((_, getState) => {
        const state = getState();
        const kept = findKept(state.api, resource, id);
        if (!kept) return;
        const doc = textOf(state.drafts.byKey[draftKey(resource, id)], kept) as DocOf[R];
        const next = change(doc);
        if (next !== doc) dispatch(edited({ resource, kept, doc: next, label }));
      });
    },
    [dispatch, resource],
  );
}

function useWithDrafts<R extends Resource>(
  resource: R,
  kept: readonly Kept<DocOf[R]>[],
): readonly DocOf[R][] {
  const drafts = useAppSelector((s) => s.drafts.byKey);
  return useMemo(
    () => kept.map((k) => textOf(drafts[draftKey(resource, k.doc.id)], k) as DocOf[R]),
    [kept, drafts, resource],
  );
}

/** The kept document among everything that was fetched. */
export function findKept(
  apiState: { queries: Record<string, { endpointName?: string; data?: unknown } | undefined> },
  resource: Resource,
  id: string,
): Kept<DocOf[Resource]> | undefined {
  for (const query of Object.values(apiState.queries)) {
    if (query?.endpointName !== resource) continue;
    const found = (query.data as Kept<DocOf[Resource]>[] | undefined)?.find((k) => k.doc.id === id);
    if (found) return found;
  }
  return undefined;
}
