import { createListenerMiddleware, isAnyOf } from '@reduxjs/toolkit';
import { PROBLEM, type Kept } from '@idle-step/contract';
import { api, type AnyDoc } from '../api/api';
import { failureOf } from '../api/problem';
import {
  draftKey,
  edited,
  mineKept,
  redone,
  saved,
  statusChanged,
  undone,
  type DraftsState,
} from './draftsSlice';

/** How long after the last keystroke a text is saved, in ms: within a second, but not letter by letter. */
const SAVE_AFTER_MS = 500;
/** How long until the next try when the server did not answer, in ms. */
const TRY_AGAIN_MS = 2000;

/** Saves every edited document by itself, one request at a time for each. */
export const autosave = createListenerMiddleware<{ drafts: DraftsState }>();

autosave.startListening({
  matcher: isAnyOf(edited, undone, redone, mineKept),
  effect: async (action, listener) => {
    const key = edited.match(action)
      ? draftKey(action.payload.resource, action.payload.doc.id)
      : keyOf(action);
    await listener.delay(SAVE_AFTER_MS);
    // A later edit of any document wakes a listener of its own, so this one only has to look whether work is left.
    let draft = listener.getState().drafts.byKey[key];
    while (draft && (draft.status.kind === 'edited' || draft.status.kind === 'offline')) {
      const { resource, doc, version, changes } = draft;
      listener.dispatch(statusChanged({ key, status: { kind: 'saving' } }));
      const result = await listener.dispatch(api.endpoints.saveDoc.initiate({ resource, doc, version }));
      if (result.data) {
        rememberKept(listener.dispatch, resource, result.data);
        listener.dispatch(saved({ key, kept: result.data, changes }));
      } else {
        const failure = failureOf(result.error);
        if (failure.kind === 'unreachable' || failure.problem.status >= 500) {
          listener.dispatch(statusChanged({ key, status: { kind: 'offline' } }));
          await listener.delay(TRY_AGAIN_MS);
        } else if (failure.problem.type === PROBLEM.stale) {
          const theirs = failure.problem.current as Kept<AnyDoc>;
          listener.dispatch(statusChanged({ key, status: { kind: 'conflict', theirs } }));
        } else {
          listener.dispatch(statusChanged({ key, status: { kind: 'refused', problem: failure.problem } }));
        }
      }
      draft = listener.getState().drafts.byKey[key];
    }
  },
});

const keyOf = (action: { type: string }): string =>
  (action as unknown as { payload: { key: string } }).payload.key;

/** Puts a document that the server just kept into the cached lists. */
export function rememberKept(
  dispatch: (action: never) => unknown,
  resource: 'rigs' | 'presets' | 'songs' | 'sets',
  kept: Kept<AnyDoc>,
): void {
  const put = (list: Kept<AnyDoc>[]) => {
    const index = list.findIndex((k) => k.doc.id === kept.doc.id);
    if (index < 0) list.push(kept);
    else if (list[index]!.version < kept.version) list[index] = kept;
  };
  const rigId = 'rigId' in kept.doc ? kept.doc.rigId : '';
  const args = resource === 'rigs' ? undefined : rigId;
  dispatch(api.util.updateQueryData(resource, args as never, put as never) as never);
}
