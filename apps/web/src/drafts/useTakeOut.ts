import { useCallback } from 'react';
import type { Kept, PresetDoc, RigDoc, SongDoc } from '@idle-step/contract';
import { api, type AnyDoc } from '../api/api';
import { failureOf } from '../api/problem';
import { useAppDispatch, type AppDispatch, type RootState } from '../store';
import { rememberKept } from './autosave';
import { draftKey, dropped } from './draftsSlice';
import { upToDate } from './saving';
import { findKept } from './useDocs';

type Outcome = { readonly bringBack: () => Promise<string | null> } | { readonly sentence: string };

const WAIT_MS = 100;
const WAIT_ROUNDS = 40;
const UNREACHABLE = 'The server does not answer, so nothing was removed.';

/**
 * Removes parts of a rig together with everything that points at them in songs and presets, in one save of the server.
 * Resolves to the way back, or to why nothing was removed.
 */
export function useTakeOut(): (rigId: string, change: (rig: RigDoc) => RigDoc) => Promise<Outcome> {
  const dispatch = useAppDispatch();
  return useCallback(
    async (rigId, change) => {
      if (!(await dispatch(allSaved())))
        return {
          sentence: 'Something typed before is not saved yet; settle that first. Nothing was removed.',
        };
      const before = dispatch(keptTexts(rigId));
      if (!before) return { sentence: 'The rig is gone.' };
      const result = await dispatch(
        api.endpoints.saveDoc.initiate({
          resource: 'rigs',
          doc: change(before.rig.doc),
          version: before.rig.version,
          takeOut: true,
        }),
      );
      if (!result.data) return { sentence: sentenceOf(result.error) };
      dispatch(dropped({ key: draftKey('rigs', rigId) }));
      rememberKept(dispatch, 'rigs', result.data);
      await dispatch(fetchUsers(rigId));
      return { bringBack: () => dispatch(bringBack(before)) };
    },
    [dispatch],
  );
}

type Texts = {
  readonly rig: Kept<RigDoc>;
  readonly songs: readonly Kept<SongDoc>[];
  readonly presets: readonly Kept<PresetDoc>[];
};
type Thunk<T> = (dispatch: AppDispatch, getState: () => RootState) => T;

/** Whether everything typed is saved; waits a few seconds for it. */
const allSaved = (): Thunk<Promise<boolean>> => async (_, getState) => {
  for (let round = 0; round < WAIT_ROUNDS; round++) {
    if (Object.values(getState().drafts.byKey).every((d) => d.status.kind === 'saved')) return true;
    await new Promise((resolve) => setTimeout(resolve, WAIT_MS));
  }
  return false;
};

const keptTexts =
  (rigId: string): Thunk<Texts | null> =>
  (_, getState) => {
    const state = getState();
    const rig = findKept(state.api, 'rigs', rigId) as Kept<RigDoc> | undefined;
    if (!rig) return null;
    const draft = upToDate(state.drafts.byKey[draftKey('rigs', rigId)], rig);
    return {
      rig: draft ? { ...rig, doc: draft.doc as RigDoc, version: draft.version } : rig,
      songs: api.endpoints.songs.select(rigId)(state).data ?? [],
      presets: api.endpoints.presets.select(rigId)(state).data ?? [],
    };
  };

const fetchUsers =
  (rigId: string): Thunk<Promise<{ songs: Kept<SongDoc>[]; presets: Kept<PresetDoc>[] }>> =>
  async (dispatch) => {
    const fresh = { forceRefetch: true, subscribe: false } as const;
    const [songs, presets] = await Promise.all([
      dispatch(api.endpoints.songs.initiate(rigId, fresh)),
      dispatch(api.endpoints.presets.initiate(rigId, fresh)),
    ]);
    return { songs: songs.data ?? [], presets: presets.data ?? [] };
  };

/** Puts back the parts first, then what pointed at them, then which preset is in force. */
const bringBack =
  (before: Texts): Thunk<Promise<string | null>> =>
  async (dispatch, getState) => {
    const rigId = before.rig.doc.id;
    const now = await dispatch(fetchUsers(rigId));
    const there = new Set(now.presets.map((k) => k.doc.id));
    const parts: RigDoc = {
      ...before.rig.doc,
      boards: before.rig.doc.boards.map((b) =>
        b.presetId !== null && !there.has(b.presetId) ? { ...b, presetId: null } : b,
      ),
    };
    const put = async (resource: 'rigs' | 'songs' | 'presets', doc: AnyDoc, version: number) => {
      const saved = await dispatch(api.endpoints.saveDoc.initiate({ resource, doc, version }));
      if (!saved.data) throw new Error(sentenceOf(saved.error));
      dispatch(dropped({ key: draftKey(resource, doc.id) }));
      rememberKept(dispatch, resource, saved.data);
      return saved.data;
    };
    try {
      const rig = findKept(getState().api, 'rigs', rigId);
      const kept = await put('rigs', parts, rig?.version ?? before.rig.version);
      for (const song of before.songs) {
        const other = now.songs.find((k) => k.doc.id === song.doc.id);
        if (other && other.version !== song.version) await put('songs', song.doc, other.version);
      }
      for (const preset of before.presets) {
        const other = now.presets.find((k) => k.doc.id === preset.doc.id);
        if (other && other.version !== preset.version) await put('presets', preset.doc, other.version);
        if (other) continue;
        const created = await dispatch(
          api.endpoints.createDoc.initiate({ resource: 'presets', doc: preset.doc }),
        );
        if (!created.data) throw new Error(sentenceOf(created.error));
      }
      if (JSON.stringify(parts) !== JSON.stringify(before.rig.doc))
        await put('rigs', before.rig.doc, kept.version);
      await dispatch(fetchUsers(rigId));
      return null;
    } catch (error) {
      return error instanceof Error ? error.message : UNREACHABLE;
    }
  };

function sentenceOf(error: Parameters<typeof failureOf>[0]): string {
  const failure = failureOf(error);
  return failure.kind === 'unreachable' ? UNREACHABLE : failure.problem.detail;
}
