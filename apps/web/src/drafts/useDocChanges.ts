import { useCallback } from 'react';
import type { Problem, Resource } from '@idle-step/contract';
import { api, type DocOf } from '../api/api';
import { failureOf, type Failure } from '../api/problem';
import { useAppDispatch } from '../store';
import { rememberKept } from './saving/autosave';

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

/** Why the server did not do it. */
export const refusedBy = (failure: Failure): Refused =>
  failure.kind === 'unreachable'
    ? { sentence: UNREACHABLE, problem: null }
    : { sentence: failure.problem.detail, problem: failure.problem };
