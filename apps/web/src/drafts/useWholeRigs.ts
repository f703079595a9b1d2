import type { Kept, Resource, RigDoc, RigFile } from '@idle-step/contract';
import { useMemo } from 'react';
import { api } from '../api/api';
import { failureOf, type Failure } from '../api/problem';
import { useAppDispatch, type AppDispatch, type RootState } from '../store';
import { rememberKept } from './autosave';
import { draftKey, dropped } from './draftsSlice';
import { refusedBy, type Refused } from './useDocChanges';
import { createWhole, removeWhole, type Answer, type Asks } from './wholeRigs';

/** A text that is not stored by then is told, in ms. */
const STORED_WITHIN_MS = 8000;
const LOOK_EVERY_MS = 50;
const PARTS = ['presets', 'songs', 'sets'] as const satisfies readonly Resource[];

const NOT_STORED: Refused = {
  sentence: 'The last changes of this rig are not stored yet; see what its places say, and try again.',
  problem: null,
};

export type WholeRigs = {
  /** Keeps a new rig with all that belongs to it. Resolves to `null`, or to why it was refused. */
  create(file: RigFile): Promise<Refused | null>;
  /** The rig as it is now, with all that belongs to it. */
  get(rigId: string): Promise<{ readonly file: RigFile } | Refused>;
  /** Deletes it with all that belongs to it; resolves to the way back. */
  remove(rigId: string): Promise<{ bringBack(): Promise<Refused | null> } | Refused>;
};

/** Rigs as a whole: duplicated, given away, deleted and brought back. What was typed just before is part of it. */
export function useWholeRigs(): WholeRigs {
  const dispatch = useAppDispatch();
  return useMemo(() => {
    const asks: Asks = {
      create: async (file) => answerOf(await dispatch(api.endpoints.createWhole.initiate(file))),
      get: async (id) => answerOf(await dispatch(api.endpoints.whole.initiate(id, { forceRefetch: true }))),
      remove: async (id, version) =>
        answerOf(await dispatch(api.endpoints.deleteWhole.initiate({ id, version }))),
    };
    const create = async (file: RigFile): Promise<Refused | null> => {
      const result = await createWhole(asks, file);
      if (!('done' in result)) return refused(result);
      rememberKept(dispatch, 'rigs', result.done);
      // What was fetched of it before it was deleted is fetched again.
      const again = { forceRefetch: true, subscribe: false };
      void dispatch(api.endpoints.presets.initiate(file.rig.id, again));
      void dispatch(api.endpoints.songList.initiate(file.rig.id, again));
      void dispatch(api.endpoints.setList.initiate(file.rig.id, again));
      void dispatch(api.endpoints.songs.initiate(file.rig.id, again));
      void dispatch(api.endpoints.sets.initiate(file.rig.id, again));
      return null;
    };
    return {
      create,
      get: async (rigId) => {
        if (!(await dispatch(stored(rigId)))) return NOT_STORED;
        const answer = await asks.get(rigId);
        return 'data' in answer ? { file: answer.data } : refused(answer);
      },
      remove: async (rigId) => {
        if (!(await dispatch(stored(rigId)))) return NOT_STORED;
        const version = dispatch(versionOf(rigId));
        if (version === null) return { sentence: 'It is gone already.', problem: null };
        const result = await removeWhole(asks, rigId, version);
        if (!('done' in result)) return refused(result);
        const file = result.done;
        dispatch(forgotten(file));
        return { bringBack: () => create(file) };
      },
    };
  }, [dispatch]);
}

const answerOf = <T>({ data, error }: { data?: T; error?: Parameters<typeof failureOf>[0] }): Answer<T> =>
  data === undefined ? { failure: failureOf(error) } : { data };

const refused = (result: { failure: Failure } | { sentence: string }): Refused =>
  'failure' in result ? refusedBy(result.failure) : { sentence: result.sentence, problem: null };

/** Waits until every text of a rig is stored. @returns whether it is. */
const stored =
  (rigId: string) =>
  async (_: AppDispatch, getState: () => RootState): Promise<boolean> => {
    const isOpen = () =>
      Object.values(getState().drafts.byKey).some(
        ({ doc, status }) => ('rigId' in doc ? doc.rigId : doc.id) === rigId && status.kind !== 'saved',
      );
    for (let waited = 0; isOpen(); waited += LOOK_EVERY_MS) {
      if (waited >= STORED_WITHIN_MS) return false;
      await new Promise((resolve) => setTimeout(resolve, LOOK_EVERY_MS));
    }
    return true;
  };

const versionOf =
  (rigId: string) =>
  (_: AppDispatch, getState: () => RootState): number | null => {
    const state = getState();
    const kept = api.endpoints.rigs
      .select()(state)
      .data?.find((k) => k.doc.id === rigId);
    const draft = state.drafts.byKey[draftKey('rigs', rigId)];
    return kept ? Math.max(kept.version, draft?.version ?? 0) : null;
  };

const forgotten =
  ({ rig, ...parts }: RigFile) =>
  (dispatch: AppDispatch): void => {
    for (const part of PARTS) {
      for (const { id } of parts[part]) dispatch(dropped({ key: draftKey(part, id) }));
      dispatch(api.util.updateQueryData(part, rig.id, () => []));
    }
    dispatch(api.util.updateQueryData('songList', rig.id, () => ({ total: 0, items: [] })));
    dispatch(api.util.updateQueryData('setList', rig.id, () => ({ total: 0, items: [] })));
    dispatch(dropped({ key: draftKey('rigs', rig.id) }));
    dispatch(
      api.util.updateQueryData('rigs', undefined, (list: Kept<RigDoc>[]) =>
        list.filter((k) => k.doc.id !== rig.id),
      ),
    );
  };
