import { useCallback, useEffect, useMemo, useState } from 'react';
import {
  setSummary,
  songSummary,
  type Kept,
  type Page,
  type Resource,
  type SetSummary,
  type SongSummary,
} from '@idle-step/contract';
import { isSameJson } from '@idle-step/core/edits';
import {
  HEALTH_EVERY_MS,
  usePresetsQuery,
  useRigsQuery,
  useSetListQuery,
  useSetsQuery,
  useSongListQuery,
  useSongsQuery,
  type AnyDoc,
  type DocOf,
  type LoadedResource,
} from '../api/api';
import { useAppDispatch, useAppSelector } from '../store';
import { draftKey } from './draftKey';
import { edited } from './draftsSlice';
import { loadDocs, loadRest } from './loadDocs';
import { oncePerDoc, steadyList } from './saving/steady';
import { textOf, type Draft } from './saving/saving';

const NONE: readonly Kept<never>[] = [];
const summaryOfSong = oncePerDoc(songSummary);
const summaryOfSet = oncePerDoc(setSummary);

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

/** The songs of a rig that are open in the page: those of the set in play, and what else was asked for. */
export function useSongs(rigId: string | undefined): readonly DocOf['songs'][] {
  const { data = NONE } = useSongsQuery(rigId ?? '', { skip: !rigId });
  return useWithDrafts('songs', data);
}

/** The sets of a rig that are open in the page. */
export function useSets(rigId: string | undefined): readonly DocOf['sets'][] {
  const { data = NONE } = useSetsQuery(rigId ?? '', { skip: !rigId });
  return useWithDrafts('sets', data);
}

/** Every song of a rig as lists show it, with what was typed here; `isWhole` once all have come. */
export function useSongList(rigId: string | undefined): List<SongSummary> {
  const { data } = useSongListQuery(rigId ?? '', { skip: !rigId });
  const open = useSongs(rigId);
  useRest('songs', rigId, data);
  return useWithOpen(data, open, summaryOfSong);
}

export function useSetList(rigId: string | undefined): List<SetSummary> {
  const { data } = useSetListQuery(rigId ?? '', { skip: !rigId });
  const open = useSets(rigId);
  useRest('sets', rigId, data);
  return useWithOpen(data, open, summaryOfSet);
}

/** The pages of a list after its first. */
function useRest(resource: LoadedResource, rigId: string | undefined, page: Page<unknown> | undefined): void {
  const dispatch = useAppDispatch();
  const lacks = page !== undefined && page.items.length < page.total;
  useEffect(() => {
    if (!rigId || !lacks) return;
    return untilDone(async () => dispatch(loadRest(resource, rigId)));
  }, [dispatch, resource, rigId, lacks]);
}

export type List<T> = { readonly items: readonly T[]; readonly total: number; readonly isFetched: boolean };

/** A list as it was fetched, with what was typed here; the same object while it says the same. */
function useWithOpen<T extends { id: string; name: string }, D extends { id: string }>(
  page: Page<T> | undefined,
  open: readonly D[],
  summary: (doc: D) => T,
): List<T> {
  const [steady] = useState(() => steadyList<T>());
  const items = useMemo(() => {
    if (!page) return steady([]);
    const byId = new Map(open.map((doc) => [doc.id, doc]));
    return steady(
      page.items.map((item) => {
        const doc = byId.get(item.id);
        const here = doc ? summary(doc) : item;
        return isSameJson(here, item) ? item : here;
      }),
    );
  }, [page, open, summary, steady]);
  const total = page?.total ?? 0;
  const isFetched = page !== undefined;
  return useMemo(() => ({ items, total, isFetched }), [items, total, isFetched]);
}

/** Tries until it is done, also where the server is away for a while. @returns what ends it. */
function untilDone(attempt: (isOver: () => boolean) => Promise<boolean>): () => void {
  let isOver = false;
  let timer = 0;
  const go = () =>
    void attempt(() => isOver).then((isDone) => {
      if (!isDone && !isOver) timer = window.setTimeout(go, HEALTH_EVERY_MS);
    });
  go();
  return () => {
    isOver = true;
    window.clearTimeout(timer);
  };
}

/** A song or set by its identifier, fetched where it is not in the page yet; `null` where it is gone. */
export function useOpened<R extends LoadedResource>(
  resource: R,
  rigId: string | undefined,
  id: string | undefined,
): DocOf[R] | null | undefined {
  const wanted = useMemo(() => (id === undefined ? [] : [id]), [id]);
  const { docs, isLoaded } = useAllOpened(resource, rigId, wanted);
  return docs[0] ?? (id !== undefined && isLoaded ? null : undefined);
}

/**
 * Songs or sets by their identifiers, fetched where they are not in the page yet; those that are gone are left out. The
 * same list while another one is opened.
 */
export function useAllOpened<R extends LoadedResource>(
  resource: R,
  rigId: string | undefined,
  ids: readonly string[],
): { readonly docs: readonly DocOf[R][]; readonly isLoaded: boolean } {
  const dispatch = useAppDispatch();
  const songs = useSongs(resource === 'songs' ? rigId : undefined);
  const sets = useSets(resource === 'sets' ? rigId : undefined);
  // Of the two kinds the one that `resource` says.
  const open = (resource === 'songs' ? songs : sets) as readonly DocOf[R][];
  const byId = useMemo(() => new Map(open.map((d) => [d.id, d])), [open]);
  const [asked, setAsked] = useState<readonly string[] | null>(null);
  const missing = ids.some((id) => !byId.has(id));
  useEffect(() => {
    if (!rigId) return;
    return untilDone(async (isOver) => {
      const isDone = await dispatch(loadDocs(resource, rigId, ids));
      if (isDone && !isOver()) setAsked(ids);
      return isDone;
    });
  }, [dispatch, resource, rigId, ids]);
  const [steady] = useState(() => steadyList<DocOf[R]>());
  const docs = useMemo(() => steady(ids.flatMap((id) => byId.get(id) ?? [])), [ids, byId, steady]);
  return { docs, isLoaded: !missing || asked === ids };
}

/** The songs of a set, whole. */
export function useSongsOf(set: DocOf['sets'] | null): {
  readonly songs: readonly DocOf['songs'][];
  readonly isLoaded: boolean;
} {
  const key = set ? set.entries.flatMap((e) => (e.kind === 'song' ? e.songId : [])).join() : '';
  const ids = useMemo(() => [...new Set(key.split(',').filter(Boolean))], [key]);
  const { docs, isLoaded } = useAllOpened('songs', set?.rigId, ids);
  return { songs: docs, isLoaded };
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
  const editAll = useEditAll(resource);
  return useCallback((id, label, change) => editAll(label, [{ id, change }]), [editAll]);
}

/** What is to become of one document. */
type Change<R extends Resource> = { readonly id: string; readonly change: (doc: DocOf[R]) => DocOf[R] };

/** A function that changes several documents of a kind in one step, which undo takes back whole. */
export function useEditAll<R extends Resource>(
  resource: R,
): (label: string, changes: readonly Change<R>[]) => void {
  const dispatch = useAppDispatch();
  return useCallback(
    (label, changes) => {
      dispatch((_, getState) => {
        const state = getState();
        // One document may be named more than once, as a song that stands twice in a set.
        const edits = new Map<string, { kept: Kept<DocOf[R]>; doc: DocOf[R] }>();
        for (const { id, change } of changes) {
          const kept = findKept(state.api, resource, id);
          if (!kept) continue;
          const here = edits.get(id)?.doc ?? textOf(state.drafts.byKey[draftKey(resource, id)], kept);
          const doc = change(here);
          if (doc !== here) edits.set(id, { kept, doc });
        }
        if (edits.size > 0) dispatch(edited({ resource, label, edits: [...edits.values()] }));
      });
    },
    [dispatch, resource],
  );
}

/** What was typed over what is kept; the same list as long as the same texts stand in it. */
function useWithDrafts<R extends Resource>(
  resource: R,
  kept: readonly Kept<DocOf[R]>[],
): readonly DocOf[R][] {
  const [steady] = useState(() => steadyList<DocOf[R]>());
  const select = useMemo(
    () => byDrafts((drafts) => steady(kept.map((k) => textOf(drafts[draftKey(resource, k.doc.id)], k)))),
    [kept, resource, steady],
  );
  return useAppSelector((s) => select(s.drafts.byKey));
}

type Drafts = Readonly<Record<string, Draft>>;

/** A function of the drafts that works only when they have changed. */
function byDrafts<T>(work: (drafts: Drafts) => T): (drafts: Drafts) => T {
  let last: { readonly drafts: Drafts; readonly result: T } | null = null;
  return (drafts) => {
    if (last?.drafts !== drafts) last = { drafts, result: work(drafts) };
    return last.result;
  };
}

/** The kept document among everything that was fetched. */
export function findKept<R extends Resource>(
  apiState: { queries: Record<string, { endpointName?: string; data?: unknown } | undefined> },
  resource: R,
  id: string,
): Kept<DocOf[R]> | undefined {
  for (const query of Object.values(apiState.queries)) {
    if (query?.endpointName !== resource) continue;
    // The endpoint of a kind of document answers with documents of it.
    const found = (query.data as Kept<DocOf[R]>[] | undefined)?.find((k) => k.doc.id === id);
    if (found) return found;
  }
  return undefined;
}
