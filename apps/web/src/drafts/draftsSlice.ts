import { createSlice, original, type PayloadAction, type WritableDraft } from '@reduxjs/toolkit';
import type { Kept, Resource } from '@idle-step/contract';
import type { AnyDoc } from '../api/api';
import { keepMine, keepTheirs, stepped, typed, UNDO_STEPS, type Draft, type Step } from './saving';
import type { WholeStep } from './wholeStep';

export type DraftsState = {
  readonly byKey: Record<string, Draft>;
  /** Steps over several documents that can be undone, and those that can be redone. */
  readonly whole: { readonly past: readonly WholeStep[]; readonly future: readonly WholeStep[] };
  readonly steps: number;
};

export const draftKey = (resource: Resource, id: string): string => `${resource}/${id}`;

const NO_STEPS: DraftsState['whole'] = { past: [], future: [] };
const initialState: DraftsState = { byKey: {}, whole: NO_STEPS, steps: 0 };

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
    : { ...before, byKey: { ...before.byKey, [key]: next }, steps: order };
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
      const next = changed(state, draftKey(resource, doc.id), (draft, order) =>
        typed(draft, resource, kept, doc, { label, order }),
      );
      return { ...next, whole: { ...next.whole, future: [] } };
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
    /** The server changed an edited document itself, or has it again: its steps stay, and go on from there. */
    rebased: (state, { payload: { key, kept } }: Keyed<{ kept: Kept<AnyDoc> }>) =>
      changed(
        state,
        key,
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
      const before = original(state) as DraftsState;
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
      const before = original(state) as DraftsState;
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
    /** Forgets a document with its steps: its rig was deleted. */
    dropped: (state, { payload: { key } }: Keyed) => {
      const before = original(state) as DraftsState;
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
  dropped,
} = slice.actions;

/** A step that waits to be undone or redone: of one document, or over several. */
export type WaitingStep = { readonly label: string; readonly order: number } & (
  { readonly kind: 'draft'; readonly key: string } | { readonly kind: 'whole'; readonly step: WholeStep }
);

/** Which steps undo may take back: those of documents that are there and belong to the rig in hand. */
export type InReach = (step: WaitingStep) => boolean;
const ALL: InReach = () => true;

/** What undo takes back: the newest step of all, or `null`. */
export const lastEdited = (state: DraftsState, isInReach: InReach = ALL): WaitingStep | null =>
  pastSteps(state, isInReach)[0] ?? null;

/** What redo brings back, or `null`. Steps are undone newest first, so the one undone last is the oldest waiting. */
export const lastUndone = (state: DraftsState, isInReach: InReach = ALL): WaitingStep | null =>
  [
    ...Object.entries(state.byKey).flatMap(([key, draft]) => draft.future.slice(-1).map(ofDraft(key))),
    ...state.whole.future.map(ofWhole),
  ]
    .filter(isInReach)
    .sort((a, b) => a.order - b.order)[0] ?? null;

/** Every step that can be undone, the newest first: over everything, in the order in which undo takes them. */
export const pastSteps = (state: DraftsState, isInReach: InReach = ALL): WaitingStep[] =>
  [
    ...Object.entries(state.byKey).flatMap(([key, draft]) => draft.past.map(ofDraft(key))),
    ...state.whole.past.map(ofWhole),
  ]
    .filter(isInReach)
    .sort((a, b) => b.order - a.order);

const ofDraft =
  (key: string) =>
  ({ label, order }: Step): WaitingStep => ({ kind: 'draft', key, label, order });
const ofWhole = (step: WholeStep): WaitingStep => ({
  kind: 'whole',
  step,
  label: step.label,
  order: step.order,
});
