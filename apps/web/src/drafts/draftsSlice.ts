import { draftKey } from './draftKey';
import { createSlice, original, type PayloadAction, type WritableDraft } from '@reduxjs/toolkit';
import type { Kept, Resource } from '@idle-step/contract';
import type { AnyDoc } from '../api/api';
import { keepMine, keepTheirs, stepped, typed, UNDO_STEPS, type Draft, type Step } from './saving/saving';
import type { WholeStep } from './whole/wholeStep';
import { nth } from '@idle-step/core/sure';

export type DraftsState = {
  readonly byKey: Record<string, Draft>;
  /** Steps over several documents that can be undone, and those that can be redone. */
  readonly whole: { readonly past: readonly WholeStep[]; readonly future: readonly WholeStep[] };
  /** Steps that change only what is shown, like a line brought into a sheet. */
  readonly views: { readonly past: readonly ViewStep[]; readonly future: readonly ViewStep[] };
  readonly steps: number;
};

/** What was done to what is shown; how it is taken back is known where it is shown (`useViewStep`). */
export type ViewStep = { readonly id: string; readonly label: string; readonly order: number };

const NO_STEPS: DraftsState['whole'] = { past: [], future: [] };
const NO_VIEWS: DraftsState['views'] = { past: [], future: [] };
const initialState: DraftsState = { byKey: {}, whole: NO_STEPS, views: NO_VIEWS, steps: 0 };

/** After something new nothing can be done again, wherever it was taken back. */
function withoutFuture(state: DraftsState): DraftsState {
  const waiting = Object.entries(state.byKey).filter(([, draft]) => draft.future.length > 0);
  return {
    ...state,
    byKey:
      waiting.length === 0
        ? state.byKey
        : {
            ...state.byKey,
            ...Object.fromEntries(waiting.map(([key, draft]) => [key, { ...draft, future: [] }])),
          },
    whole: { ...state.whole, future: [] },
    views: { ...state.views, future: [] },
  };
}

type Keyed<T = object> = PayloadAction<{ key: string } & T>;

/** The state with some drafts as they are made; steps are counted on by one, however many drafts the step is over. */
function changed(
  state: WritableDraft<DraftsState>,
  keys: readonly string[],
  change: (draft: Draft | undefined, order: number, index: number) => Draft | undefined,
): DraftsState {
  // Documents are compared and put together as they are, without a watcher around each of their parts.
  const before = original(state) as DraftsState;
  const order = before.steps + 1;
  const byKey = { ...before.byKey };
  let isChanged = false;
  keys.forEach((key, i) => {
    const next = change(byKey[key], order, i);
    if (next === undefined || next === byKey[key]) return;
    byKey[key] = next;
    isChanged = true;
  });
  return isChanged ? { ...before, byKey, steps: order } : before;
}

type Edited = {
  readonly resource: Resource;
  readonly label: string;
  readonly edits: readonly { readonly kept: Kept<AnyDoc>; readonly doc: AnyDoc }[];
};

/** Documents being edited: undo, redo, and how their saving stands. */
const slice = createSlice({
  name: 'drafts',
  initialState,
  reducers: {
    /** Texts of one or of several documents were typed; they are one step together. */
    edited: (state, { payload }: PayloadAction<Edited>) => {
      const { resource, label, edits } = payload;
      const keys = edits.map((e) => draftKey(resource, e.doc.id));
      const next = changed(state, keys, (draft, order, i) =>
        typed(draft, resource, nth(edits, i).kept, nth(edits, i).doc, { label, order }),
      );
      return withoutFuture(next);
    },
    /** What is shown was changed. */
    viewDone: (state, { payload }: PayloadAction<Omit<ViewStep, 'order'>>) => {
      const before = withoutFuture(original(state));
      const step = { ...payload, order: before.steps + 1 };
      const past = [...before.views.past, step].slice(-UNDO_STEPS);
      return { ...before, views: { past, future: [] }, steps: step.order };
    },
    /** It was taken back, or done again. */
    viewStepped: (state, { payload: { way, id } }: PayloadAction<{ way: 'undo' | 'redo'; id: string }>) => {
      const before = original(state);
      const { past, future } = before.views;
      const step = (way === 'undo' ? past : future).find((s) => s.id === id);
      if (!step) return before;
      const others = (list: readonly ViewStep[]) => list.filter((s) => s.id !== id);
      const order = before.steps + 1;
      return way === 'undo'
        ? { ...before, views: { past: others(past), future: [...future, step] } }
        : { ...before, views: { past: [...past, { ...step, order }], future: others(future) }, steps: order };
    },
    /** It is shown no more. */
    viewsLeft: (state, { payload: { ids } }: PayloadAction<{ ids: readonly string[] }>) => {
      const before = original(state);
      const staying = (list: readonly ViewStep[]) => list.filter((s) => !ids.includes(s.id));
      return { ...before, views: { past: staying(before.views.past), future: staying(before.views.future) } };
    },
    undone: (state, { payload: { keys } }: PayloadAction<{ keys: readonly string[] }>) =>
      changed(state, keys, (draft, order) => draft && stepped(draft, 'undo', order)),
    redone: (state, { payload: { keys } }: PayloadAction<{ keys: readonly string[] }>) =>
      changed(state, keys, (draft, order) => draft && stepped(draft, 'redo', order)),
    /** The saver took a draft a step further. */
    savingWentOn: (state, { payload: { key, draft } }: Keyed<{ draft: Draft }>) =>
      changed(state, [key], (before) => before && draft),
    /** What a window left unsaved is taken up again, unless something else is unsaved here by now. */
    takenUp: (state, { payload: { key, draft } }: Keyed<{ draft: Draft }>) =>
      changed(state, [key], (before) => (before && before.status.kind !== 'saved' ? before : draft)),
    /** Of two texts mine is wanted: it is saved over theirs. */
    mineKept: (state, { payload: { key } }: Keyed) =>
      changed(state, [key], (draft) => draft && keepMine(draft)),
    /** Of two texts theirs is wanted; mine can still be had back with undo. */
    theirsKept: (state, { payload: { key } }: Keyed) =>
      changed(state, [key], (draft, order) => draft && keepTheirs(draft, order)),
    /** The server changed an edited document itself, or has it again: its steps stay, and go on from there. */
    rebased: (state, { payload: { key, kept } }: Keyed<{ kept: Kept<AnyDoc> }>) =>
      changed(
        state,
        [key],
        (draft) =>
          draft && {
            ...draft,
            doc: kept.doc,
            base: kept.doc,
            version: kept.version,
            sent: [],
            status: { kind: 'saved', at: kept.savedAt },
          },
      ),
    /** A step over several documents was done. */
    wholeDone: (state, { payload }: PayloadAction<Omit<WholeStep, 'order'>>) => {
      const before = withoutFuture(original(state));
      const step = { ...payload, order: before.steps + 1 };
      const past = [...before.whole.past, step].slice(-UNDO_STEPS);
      return { ...before, whole: { past, future: [] }, steps: step.order };
    },
    /** One of them was taken back, or done again: `change` is what it then did. */
    wholeStepped: (
      state,
      {
        payload: { way, order, change },
      }: PayloadAction<{
        way: 'undo' | 'redo';
        order: number;
        change: WholeStep['change'];
      }>,
    ) => {
      const before = original(state);
      const { past, future } = before.whole;
      const step = [...past, ...future].find((s) => s.order === order);
      if (!step) return before;
      const others = (list: readonly WholeStep[]) => list.filter((s) => s.order !== order);
      return way === 'undo'
        ? { ...before, whole: { past: others(past), future: [...others(future), { ...step, change }] } }
        : {
            ...before,
            whole: {
              past: [...others(past), { ...step, change, order: before.steps + 1 }],
              future: others(future),
            },
            steps: before.steps + 1,
          };
    },
    /** A document came back from the bin: that it was deleted is no step that could be taken back any more. */
    cameBack: (state, { payload: { resource, id } }: PayloadAction<{ resource: Resource; id: string }>) => {
      const before = original(state);
      const others = (list: readonly WholeStep[]) =>
        list.filter(
          ({ change }) => change.kind !== 'delete' || change.resource !== resource || change.doc.id !== id,
        );
      const { past, future } = before.whole;
      return { ...before, whole: { past: others(past), future: others(future) } };
    },
    /** Forgets a document with its steps: its rig was deleted. */
    dropped: (state, { payload: { key } }: Keyed) => {
      const before = original(state);
      return {
        ...before,
        byKey: Object.fromEntries(Object.entries(before.byKey).filter(([k]) => k !== key)),
      };
    },
  },
});

export const draftsReducer = slice.reducer;
export const {
  edited,
  undone,
  redone,
  savingWentOn,
  takenUp,
  mineKept,
  theirsKept,
  rebased,
  wholeDone,
  wholeStepped,
  viewDone,
  viewStepped,
  viewsLeft,
  cameBack,
  dropped,
} = slice.actions;

/** What a step did: edits of documents, by their keys, or something that the server did over several. */
type Deed<Drafts> =
  | ({ readonly kind: 'draft' } & Drafts)
  | { readonly kind: 'whole'; readonly step: WholeStep }
  | { readonly kind: 'view'; readonly id: string };
type OneStep = Deed<{ readonly key: string }> & Pick<Step, 'label' | 'order'>;

/** A step that waits to be undone or redone; all documents that were edited in it go together. */
export type WaitingStep = Deed<{ readonly keys: readonly string[] }> & Pick<Step, 'label' | 'order'>;

/** Which steps undo may take back: those of documents that are there and belong to the rig in hand. */
export type InReach = (step: Deed<{ readonly key: string }>) => boolean;
const ALL: InReach = () => true;

/** What undo takes back: the newest step of all, or `null`. */
export const lastEdited = (state: DraftsState, isInReach: InReach = ALL): WaitingStep | null =>
  pastSteps(state, isInReach)[0] ?? null;

/** What redo brings back, or `null`. Steps are undone newest first, so the one undone last is the oldest waiting. */
export const lastUndone = (state: DraftsState, isInReach: InReach = ALL): WaitingStep | null =>
  together(
    [
      ...Object.entries(state.byKey).flatMap(([key, draft]) => draft.future.slice(-1).map(ofDraft(key))),
      ...state.whole.future.map(ofWhole),
      ...state.views.future.map(ofView),
    ].filter(isInReach),
  ).sort((a, b) => a.order - b.order)[0] ?? null;

/** Every step that can be undone, the newest first: over everything, in the order in which undo takes them. */
export const pastSteps = (state: DraftsState, isInReach: InReach = ALL): WaitingStep[] =>
  together(
    [
      ...Object.entries(state.byKey).flatMap(([key, draft]) => draft.past.map(ofDraft(key))),
      ...state.whole.past.map(ofWhole),
      ...state.views.past.map(ofView),
    ].filter(isInReach),
  ).sort((a, b) => b.order - a.order);

const ofDraft =
  (key: string) =>
  ({ label, order }: Step): OneStep => ({ kind: 'draft', key, label, order });
const ofWhole = (step: WholeStep): OneStep => ({
  kind: 'whole',
  step,
  label: step.label,
  order: step.order,
});

const ofView = ({ id, label, order }: ViewStep): OneStep => ({ kind: 'view', id, label, order });

/** Edits that were counted as one step are one. */
function together(steps: readonly OneStep[]): WaitingStep[] {
  const keysAt = new Map<number, string[]>();
  return steps.flatMap((one): WaitingStep[] => {
    if (one.kind !== 'draft') return [one];
    const { key, label, order } = one;
    const keys = keysAt.get(order);
    keys?.push(key);
    if (keys) return [];
    const first = [key];
    keysAt.set(order, first);
    return [{ kind: 'draft', keys: first, label, order }];
  });
}
