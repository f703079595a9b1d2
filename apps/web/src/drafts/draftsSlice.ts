import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { Kept, Problem, Resource } from '@idle-step/contract';
import type { AnyDoc } from '../api/api';

/** How the text on the screen stands to the one that is kept. */
export type DraftStatus =
  | { readonly kind: 'saved'; readonly at: string }
  | { readonly kind: 'edited' }
  | { readonly kind: 'saving' }
  /** The server does not answer: kept here and tried again. */
  | { readonly kind: 'offline' }
  /** The server refused it: what is wrong, and where. */
  | { readonly kind: 'refused'; readonly problem: Problem }
  /** Saved elsewhere meanwhile: both texts are here. */
  | { readonly kind: 'conflict'; readonly theirs: Kept<AnyDoc> };

/** One step that can be undone: what it was, and the document before it. `order` counts steps over all drafts. */
export type Step = { readonly label: string; readonly before: AnyDoc; readonly order: number };

export type Draft = {
  readonly resource: Resource;
  readonly doc: AnyDoc;
  /** The version that the server keeps and this text was made from. */
  readonly version: number;
  readonly past: readonly Step[];
  readonly future: readonly Step[];
  readonly status: DraftStatus;
  /** Grows with every change of the text: tells whether it changed while it was being saved. */
  readonly changes: number;
};

export type DraftsState = { readonly byKey: Record<string, Draft>; readonly steps: number };

/** Steps that can be undone, at the most. */
export const UNDO_STEPS = 200;

export const draftKey = (resource: Resource, id: string): string => `${resource}/${id}`;

const initialState: DraftsState = { byKey: {}, steps: 0 };

type Keyed<T = object> = PayloadAction<{ key: string } & T>;

/** Documents being edited: undo, redo, and how their saving stands. */
const slice = createSlice({
  name: 'drafts',
  initialState: initialState as { byKey: Record<string, Draft>; steps: number },
  reducers: {
    edited(
      state,
      { payload }: PayloadAction<{ resource: Resource; kept: Kept<AnyDoc>; doc: AnyDoc; label: string }>,
    ) {
      const key = draftKey(payload.resource, payload.doc.id);
      const old = inForce(state.byKey[key], payload.kept);
      const before = old?.doc ?? payload.kept.doc;
      const step: Step = { label: payload.label, before, order: ++state.steps };
      state.byKey[key] = {
        resource: payload.resource,
        doc: payload.doc,
        version: old?.version ?? payload.kept.version,
        past: [...(old?.past ?? []), step].slice(-UNDO_STEPS),
        future: [],
        status: keepConflict(old, { kind: 'edited' }),
        changes: (old?.changes ?? 0) + 1,
      };
    },
    undone(state, { payload: { key } }: Keyed) {
      const draft = state.byKey[key];
      const step = draft?.past.at(-1);
      if (!draft || !step) return;
      state.byKey[key] = {
        ...draft,
        doc: step.before,
        past: draft.past.slice(0, -1),
        future: [...draft.future, { ...step, before: draft.doc }],
        status: keepConflict(draft, { kind: 'edited' }),
        changes: draft.changes + 1,
      };
    },
    redone(state, { payload: { key } }: Keyed) {
      const draft = state.byKey[key];
      const step = draft?.future.at(-1);
      if (!draft || !step) return;
      state.byKey[key] = {
        ...draft,
        doc: step.before,
        past: [...draft.past, { ...step, before: draft.doc, order: ++state.steps }],
        future: draft.future.slice(0, -1),
        status: keepConflict(draft, { kind: 'edited' }),
        changes: draft.changes + 1,
      };
    },
    statusChanged(state, { payload: { key, status } }: Keyed<{ status: DraftStatus }>) {
      const draft = state.byKey[key];
      if (draft) state.byKey[key] = { ...draft, status };
    },
    /** The server kept the text of that many changes; what was typed since is still to be saved. */
    saved(state, { payload: { key, kept, changes } }: Keyed<{ kept: Kept<AnyDoc>; changes: number }>) {
      const draft = state.byKey[key];
      if (!draft) return;
      state.byKey[key] = {
        ...draft,
        version: kept.version,
        status: draft.changes === changes ? { kind: 'saved', at: kept.savedAt } : { kind: 'edited' },
      };
    },
    /** Of two texts mine is wanted: it is saved over theirs. */
    mineKept(state, { payload: { key } }: Keyed) {
      const draft = state.byKey[key];
      if (draft?.status.kind !== 'conflict') return;
      state.byKey[key] = { ...draft, version: draft.status.theirs.version, status: { kind: 'edited' } };
    },
    /** Of two texts theirs is wanted; mine can still be had back with undo. */
    theirsKept(state, { payload: { key } }: Keyed) {
      const draft = state.byKey[key];
      if (draft?.status.kind !== 'conflict') return;
      const { theirs } = draft.status;
      const step: Step = { label: 'take the other text', before: draft.doc, order: ++state.steps };
      state.byKey[key] = {
        ...draft,
        doc: theirs.doc,
        version: theirs.version,
        past: [...draft.past, step].slice(-UNDO_STEPS),
        future: [],
        status: { kind: 'saved', at: theirs.savedAt },
      };
    },
    /** Forgets an edited document: it was deleted, or a newer one came from the server. */
    dropped(state, { payload: { key } }: Keyed) {
      state.byKey = Object.fromEntries(Object.entries(state.byKey).filter(([k]) => k !== key));
    },
  },
});

/** A draft that is saved and older than what the server keeps has been overtaken: another window saved since. */
export const inForce = (draft: Draft | undefined, kept: Kept<AnyDoc>): Draft | undefined =>
  draft?.status.kind === 'saved' && draft.version < kept.version ? undefined : draft;

/** A conflict stays until it is settled, whatever is typed meanwhile. */
const keepConflict = (draft: Draft | undefined, status: DraftStatus): DraftStatus =>
  draft?.status.kind === 'conflict' ? draft.status : status;

export const draftsReducer = slice.reducer;
export const { edited, undone, redone, statusChanged, saved, mineKept, theirsKept, dropped } = slice.actions;

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
