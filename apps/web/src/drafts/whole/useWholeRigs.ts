import type { FullRig } from '@idle-step/core/routing';
import type { Kept, Resource, RigFile } from '@idle-step/contract';
import { useMemo } from 'react';
import { api } from '../../api/api';
import { progressAt } from '../../api/progress';
import { failureOf, type Failure } from '../../api/problem';
import { useAppDispatch, type AppDispatch, type RootState } from '../../store';
import { rememberKept } from '../saving/autosave';
import { draftKey } from '../draftKey';
import { dropped } from '../draftsSlice';
import { refusedBy, type Refused } from '../useDocChanges';
import { askWorker } from '../../ui/hooks/useWorker';
import type { RigFileRead, RigFileWish } from './rigFile.worker';
import { bringWholeBack, createInParts, createWhole, removeWhole, type Answer, type Asks } from './wholeRigs';
import { there } from '@idle-step/core/sure';

/** A text that is not stored by then is told, in ms. */
const STORED_WITHIN_MS = 8000;
const LOOK_EVERY_MS = 50;
/** How often it is asked how far long work is, in ms. */
const PROGRESS_EVERY_MS = 1000;
/** Whose text is longer is told how far it is, in bytes. */
const TOLD_FROM_BYTES = 2_000_000;
const PARTS = ['presets', 'songs', 'sets'] as const satisfies readonly Resource[];

const NOT_STORED: Refused = {
  sentence: 'The last changes of this rig are not stored yet; see what its places say, and try again.',
  problem: null,
};

/** Is told in words how far long work is. */
type Tell = (words: string) => void;

export type WholeRigs = {
  /** Keeps a new rig with all that belongs to it. Resolves to `null`, or to why it was refused. */
  create(file: RigFile): Promise<Refused | null>;
  /** The text of a rig file of the rig as it is now, with all that belongs to it. @param tell how far it is. */
  text(rigId: string, tell: Tell): Promise<{ readonly file: Blob } | Refused>;
  /** Keeps what a rig file has as a new rig, large ones in parts. @param tell how far it is. */
  createFrom(
    wish: RigFileWish,
    tell: Tell,
  ): Promise<{ readonly id: string; readonly name: string } | Refused>;
  /** Deletes it with all that belongs to it; resolves to the way back. @param tell how far it is. */
  remove(rigId: string, tell: Tell): Promise<{ bringBack(): Promise<Refused | null> } | Refused>;
};

/** Rigs as a whole: duplicated, given away, deleted and brought back. What was typed just before is part of it. */
export function useWholeRigs(): WholeRigs {
  const dispatch = useAppDispatch();
  return useMemo(() => {
    const asks: Asks = {
      create: async (file) => answerOf(await dispatch(api.endpoints.createWhole.initiate(file))),
      look: async (id) => answerOf(await dispatch(api.endpoints.rig.initiate(id, { forceRefetch: true }))),
      remove: async (id, version) => {
        const { error } = await dispatch(api.endpoints.deleteWhole.initiate({ id, version }));
        return error ? { failure: failureOf(error) } : { data: null };
      },
      bringBack: async (id) =>
        answerOf(await dispatch(api.endpoints.bringBack.initiate({ resource: 'rigs', id }))),
    };
    return {
      create: async (file) => {
        const result = await createWhole(asks, file);
        if (!('done' in result)) return refused(result);
        rememberKept(dispatch, 'rigs', result.done);
        await dispatch(fetchedAgain(file.rig.id));
        return null;
      },
      text: async (rigId, tell) => {
        if (!(await dispatch(stored(rigId)))) return NOT_STORED;
        return fetchedText(rigId, tell);
      },
      createFrom: async (wish, tell) => {
        const read = await askWorker<RigFileWish, RigFileRead>(newRigReader, wish).catch(() => UNREADABLE);
        if (read.error !== undefined) return { sentence: read.error, problem: null };
        const result = await createInParts(
          {
            look: asks.look,
            part: (id, body) => posted<null>(`${id}/parts`, body),
            rig: (id, body) =>
              withProgress(
                id,
                (how) => tell(`Keeping ${read.name}: ${how}`),
                posted<Kept<FullRig>>(id, body),
              ),
            leave: (id) => fetch(`${WHOLE_PATH}/${id}/parts`, { method: 'DELETE' }).catch(() => undefined),
          },
          read,
          (sent, of) =>
            tell(sent < of ? `Sending ${read.name}: part ${sent + 1} of ${of} …` : `Keeping ${read.name} …`),
        );
        if (!('done' in result)) return refused(result);
        rememberKept(dispatch, 'rigs', result.done);
        await dispatch(fetchedAgain(read.id));
        return { id: read.id, name: read.name };
      },
      remove: async (rigId, tell) => {
        if (!(await dispatch(stored(rigId)))) return NOT_STORED;
        const version = dispatch(versionOf(rigId));
        if (version === null) return { sentence: 'It is gone already.', problem: null };
        const result = await withProgress(rigId, tell, removeWhole(asks, rigId, version));
        if (!('done' in result)) return refused(result);
        dispatch(forgotten(rigId));
        return {
          bringBack: async () => {
            const back = await bringWholeBack(asks, rigId);
            if (!('done' in back)) return refused(back);
            await dispatch(fetchedAgain(rigId));
            return null;
          },
        };
      },
    };
  }, [dispatch]);
}

/** Fetches a rig and its lists: what was known of them from before it was deleted no longer counts. */
export const fetchedAgain =
  (rigId: string) =>
  async (dispatch: AppDispatch): Promise<void> => {
    const again = { forceRefetch: true, subscribe: false };
    const lists = Promise.all([
      dispatch(api.endpoints.presets.initiate(rigId, again)),
      dispatch(api.endpoints.songList.initiate(rigId, again)),
      dispatch(api.endpoints.setList.initiate(rigId, again)),
      dispatch(api.endpoints.songs.initiate(rigId, again)),
      dispatch(api.endpoints.sets.initiate(rigId, again)),
    ]);
    await dispatch(api.endpoints.rigs.initiate(undefined, again));
    await lists;
  };

const WHOLE_PATH = '/api/whole-rigs';
const UNREADABLE = {
  error: 'The part of the page that reads rig files could not be loaded. Load the page anew, and try again.',
};
const UNREACHABLE: Refused = { sentence: 'The server does not answer.', problem: null };

const newRigReader = () => new Worker(new URL('./rigFile.worker.ts', import.meta.url), { type: 'module' });

/** The body of an answer, or its problem; what is lost on the way is no answer. */
async function posted<T>(path: string, body: string): Promise<Answer<T>> {
  try {
    const answer = await fetch(`${WHOLE_PATH}/${path}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body,
    });
    const text = await answer.text();
    if (answer.ok) return { data: text === '' ? null : JSON.parse(text) };
    return { failure: failureOf({ status: answer.status, data: text }) };
  } catch {
    return { failure: { kind: 'unreachable' } };
  }
}

/** Tells how many songs are through while the server works on a rig. */
export async function withProgress<T>(rigId: string, tell: Tell, work: Promise<T>): Promise<T> {
  let isOver = false;
  const look = async () => {
    while (!isOver) {
      await new Promise((resolve) => setTimeout(resolve, PROGRESS_EVERY_MS));
      const { done, of } = await progressAt(`${WHOLE_PATH}/${rigId}/progress`);
      if (!isOver && of > 0) tell(`${done} of ${of} songs …`);
    }
  };
  void look();
  return work.finally(() => (isOver = true));
}

async function fetchedText(rigId: string, tell: Tell): Promise<{ readonly file: Blob } | Refused> {
  try {
    const answer = await fetch(`${WHOLE_PATH}/${rigId}`);
    if (!answer.ok) return refusedBy(failureOf({ status: answer.status, data: await answer.text() }));
    const pieces: Uint8Array<ArrayBuffer>[] = [];
    let bytes = 0;
    const reader = there(answer.body).getReader();
    for (let next = await reader.read(); !next.done; next = await reader.read()) {
      pieces.push(next.value);
      bytes += next.value.length;
      if (bytes > TOLD_FROM_BYTES) tell(`${(bytes / 1_000_000).toFixed(0)} MB fetched …`);
    }
    return { file: new Blob(pieces, { type: 'application/json' }) };
  } catch {
    return UNREACHABLE;
  }
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
  (rigId: string) =>
  (dispatch: AppDispatch, getState: () => RootState): void => {
    for (const [key, { doc }] of Object.entries(getState().drafts.byKey))
      if (('rigId' in doc ? doc.rigId : doc.id) === rigId) dispatch(dropped({ key }));
    for (const part of PARTS) dispatch(api.util.updateQueryData(part, rigId, () => []));
    dispatch(api.util.updateQueryData('songList', rigId, () => ({ total: 0, items: [] })));
    dispatch(api.util.updateQueryData('setList', rigId, () => ({ total: 0, items: [] })));
    dispatch(
      api.util.updateQueryData('rigs', undefined, (list: Kept<FullRig>[]) =>
        list.filter((k) => k.doc.id !== rigId),
      ),
    );
  };
