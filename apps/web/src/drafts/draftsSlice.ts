import { createSlice, original, type PayloadAction, type WritableDraft } from '@reduxjs/toolkit';
import type { Kept, Resource } from '@idle-step/contract';
import type { AnyDoc } from '../api/api';
import { keepMine, keepTheirs, stepped, typed, type Draft, type Step } from './saving';

export type DraftsState = { readonly byKey: Record<string, Draft>; readonly steps: number };

export const draftKey = (resource: Resource, id: string): string => `${resource}/${id}`;

const initialState: DraftsState = { byKey: {}, steps: 0 };

type Keyed<T = object> = PayloadAction<{ key: string } & T>;

/** The state with one draft as it is made; steps are counted on where the change is a step. */
function changed(
  state: WritableDraft<DraftsState>,
  key: string,
  change: (draft: Draft | undefined, order: number) => Draft | undefined,
): DraftsState {
  // Documents are compared and put together as they are, without a watcher around each of their parts.
  const before = original(state) as DraftsState;
  const order = before.steps + 1;
  const next = change(before.byKey[key], order);
  return next === undefined || next === before.byKey[key]
    ? before
    : { byKey: { ...before.byKey, [key]: next }, steps: order };
}

/** Documents being edited: undo, redo, and how their saving stands. */
const slice = createSlice({
  name: 'drafts',
  initialState,
  reducers: {
    edited: (
      state,
      { payload }: PayloadAction<{ resource: Resource; kept: Kept<AnyDoc>; doc: AnyDoc; label: string }>,
    ) => {
      const { resource, kept, doc, label } = payload;
      return changed(state, draftKey(resource, doc.id), (draft, order) =>
        typed(draft, resource, kept, doc, { label, order }),
      );
    },
    undone: (state, { payload: { key } }: Keyed) =>
      changed(state, key, (draft, order) => draft && stepped(draft, 'undo', order)),
    redone: (state, { payload: { key } }: Keyed) =>
      changed(state, key, (draft, order) => draft && stepped(draft, 'redo', order)),
    /** The saver took a draft a step further. */
    savingWentOn: (state, { payload: { key, draft } }: Keyed<{ draft: Draft }>) =>
      changed(state, key, (before) => before && draft),
    /** What a window left unsaved is taken up again. */
    takenUp: (state, { payload: { key, draft } }: Keyed<{ draft: Draft }>) =>
      changed(state, key, (before) => before ?? draft),
    /** Of two texts mine is wanted: it is saved over theirs. */
    mineKept: (state, { payload: { key } }: Keyed) =>
      changed(state, key, (draft) => draft && keepMine(draft)),
    /** Of two texts theirs is wanted; mine can still be had back with undo. */
    theirsKept: (state, { payload: { key } }: Keyed) =>
      changed(state, key, (draft, order) => draft && keepTheirs(draft, order)),
    /** Forgets an edited document: it was deleted, or a newer one came from the server. */
    dropped: (state, { payload: { key } }: Keyed) => {
      const { byKey, steps } = original(state) as DraftsState;
      return { byKey: Object.fromEntries(Object.entries(byKey).filter(([k]) => k !== key)), steps };
    },
  },
});

export const draftsReducer = slice.reducer;
export const { edited, undone, redone, savingWentOn, takenUp, mineKept, theirsKept, dropped } = slice.actions;

/** The draft whose last step is the newest of all, or `null`: what undo takes back. */
export const lastEdited = (state: DraftsState): WaitingStep | null =>
  waitingSteps(state, (d) => d.past).sort((a, b) => b.order - a.order)[0] ?? null;

/** What redo brings back, or `null`. Steps are undone newest first, so the one undone last is the oldest waiting. */
export const lastUndone = (state: DraftsState): WaitingStep | null =>
  waitingSteps(state, (d) => d.future).sort((a, b) => a.order - b.order)[0] ?? null;

/** Every step that can be undone, the newest first: over all documents, in the order in which undo takes them. */
export const pastSteps = (state: DraftsState): WaitingStep[] =>
  Object.entries(state.byKey)
    .flatMap(([key, draft]) => draft.past.map(({ label, order }) => ({ key, label, order })))
    .sort((a, b) => b.order - a.order);

type WaitingStep = { readonly key: string; readonly label: string; readonly order: number };

const waitingSteps = (state: DraftsState, side: (draft: Draft) => readonly Step[]): WaitingStep[] =>
  Object.entries(state.byKey).flatMap(([key, draft]) => {
    const step = side(draft).at(-1);
    return step ? [{ key, label: step.label, order: step.order }] : [];
  });
