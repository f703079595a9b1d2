import { useCallback } from 'react';
import type { Problem, Resource } from '@idle-step/contract';
import { api, type DocOf } from '../api/api';
import { failureOf, type Failure } from '../api/problem';
import { useAppDispatch, type AppDispatch, type RootState } from '../store';
import { rememberKept } from './autosave';
import { draftKey, dropped } from './draftsSlice';
import { upToDate } from './saving';
import { findKept } from './useDocs';

/** What went wrong, as a sentence, with the server's own problem where there is one. */
export type Refused = { readonly sentence: string; readonly problem: Problem | null };

const UNREACHABLE = 'The server does not answer, so nothing was stored.';

/** Keeps a new document. Resolves to `null`, or to why it was refused. */
export function useCreateDoc(): <R extends Resource>(resource: R, doc: DocOf[R]) => Promise<Refused | null> {
  const dispatch = useAppDispatch();
  return useCallback(
    async (resource, doc) => {
      const result = await dispatch(api.endpoints.createDoc.initiate({ resource, doc }));
      if (result.data) {
        rememberKept(dispatch, resource, result.data);
        return null;
      }
      return refusedBy(failureOf(result.error));
    },
    [dispatch],
  );
}

/**
 * Deletes a document. Resolves to a function that brings it back as it was, or to why it was refused.
 * Unsaved text goes with it and comes back with it.
 */
export function useDeleteDoc(): (
  resource: Resource,
  id: string,
) => Promise<{ bringBack(): Promise<Refused | null> } | Refused> {
  const dispatch = useAppDispatch();
  const create = useCreateDoc();
  return useCallback(
    async (resource, id) => {
      const found = dispatch(textOf(resource, id));
      if (!found) return { sentence: 'It is gone already.', problem: null };
      const { doc, version } = found;
      const result = await dispatch(api.endpoints.deleteDoc.initiate({ resource, id, version }));
      if (result.error) return refusedBy(failureOf(result.error));
      dispatch(dropped({ key: draftKey(resource, id) }));
      forget(dispatch, resource, doc);
      return { bringBack: () => create(resource, doc) };
    },
    [dispatch, create],
  );
}

/** The text on the screen and the version that it stands on. */
const textOf =
  (resource: Resource, id: string) =>
  (_: AppDispatch, getState: () => RootState): { doc: DocOf[Resource]; version: number } | null => {
    const state = getState();
    const kept = findKept(state.api, resource, id);
    if (!kept) return null;
    const draft = upToDate(state.drafts.byKey[draftKey(resource, id)], kept);
    return { doc: draft?.doc ?? kept.doc, version: draft?.version ?? kept.version };
  };

/** Why the server did not do it. */
export const refusedBy = (failure: Failure): Refused =>
  failure.kind === 'unreachable'
    ? { sentence: UNREACHABLE, problem: null }
    : { sentence: failure.problem.detail, problem: failure.problem };

function forget(dispatch: AppDispatch, resource: Resource, doc: DocOf[Resource]): void {
  const remove = (list: { doc: { id: string } }[]) => {
    const index = list.findIndex((k) => k.doc.id === doc.id);
    if (index >= 0) list.splice(index, 1);
  };
  const args = 'rigId' in doc ? doc.rigId : undefined;
  dispatch(api.util.updateQueryData(resource, args as never, remove as never));
}
