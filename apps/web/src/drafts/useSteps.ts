import type { FullRig } from '@idle-step/core/routing';
import { useMemo } from 'react';
import type { Resource } from '@idle-step/contract';
import { useAppDispatch, type AppDispatch, type RootState } from '../store';
import { useUndoNotice } from '../ui/hooks/useUndoNotice';
import { lastEdited, lastUndone, redone, undone, viewStepped, wholeDone, wholeStepped } from './draftsSlice';
import { inReach } from './saving/inReach';
import { bringBack, bringDocBack, deleteDoc, sendBack, takeIn, takeOut } from './whole/wholeChanges';
import { placeOfStep } from './placeOfStep';
import { findKept } from './useDocs';
import { takeViewStep } from './useViewStep';
import type { WholeChange, WholeStep } from './whole/wholeStep';
import { lastOf } from '@idle-step/core/sure';

type Thunk<T> = (dispatch: AppDispatch, getState: () => RootState) => T;

type Steps = {
  /** Takes back the newest step of the rig in hand; several at once wait for each other. */
  undo(): void;
  redo(): void;
  /**
   * Removes parts of a rig with everything that points at them, says so with the way back, and makes a step of it.
   * Resolves to why nothing was removed, or `null`.
   */
  remove(rigId: string, said: string, change: (rig: FullRig) => FullRig): Promise<string | null>;
  /** Takes documents of another rig in, says so with the way back, and makes a step of it. Resolves to why not, or `null`. */
  takeIn(said: string, change: WholeChange & { readonly kind: 'take-in' }): Promise<string | null>;
  /** Deletes a document in the same way. Where it is in use, that is said, and it stays. */
  deleteDoc(resource: Resource, id: string, name: string, onGone: () => void): Promise<void>;
};

/** One step after the other: the next one waits until the server has answered to the one before. */
let before: Promise<unknown> = Promise.resolve();
const inTurn = <T>(step: () => Promise<T>): Promise<T> => {
  const done = before.then(step);
  before = done.catch(() => undefined);
  return done;
};

/** Undo and redo over everything, and the steps that are more than an edit of one document. */
export function useSteps(): Steps {
  const dispatch = useAppDispatch();
  const notice = useUndoNotice();
  return useMemo(() => {
    const tell = (refused: string | null) => {
      if (refused) notice.tell(refused);
    };
    const back = (order: number) => () => inTurn(() => dispatch(stepWhole('undo', order)));
    const go = (way: Way) => void inTurn(() => dispatch(step(way))).then(tell);
    return {
      undo: () => go('undo'),
      redo: () => go('redo'),
      remove: async (rigId, said, change) => {
        const done = await inTurn(() => dispatch(takeOut(rigId, change)));
        if ('sentence' in done) return done.sentence;
        const { order } = dispatch(keepStep(said, done));
        notice.tell(`${said}.`, back(order), isWaiting(order));
        return null;
      },
      takeIn: async (said, change) => {
        const done = await inTurn(() => dispatch(takeIn(change)));
        if ('sentence' in done) return done.sentence;
        const { order } = dispatch(keepStep(said, done));
        notice.tell(`${said}.`, back(order), isWaiting(order));
        return null;
      },
      deleteDoc: async (resource, id, name, onGone) => {
        const done = await inTurn(() => dispatch(deleteDoc(resource, id)));
        if ('sentence' in done) {
          notice.tell(done.sentence);
          return;
        }
        onGone();
        const { order } = dispatch(keepStep(`${name} was deleted`, done));
        notice.tell(`${name} was deleted.`, back(order), isWaiting(order));
      },
    };
  }, [dispatch, notice]);
}

/** Whether a step can still be taken back: undo may have done that already. */
const isWaiting =
  (order: number) =>
  (state: unknown): boolean =>
    // A notice is given the state of the store that it stands in.
    (state as RootState).drafts.whole.past.some((step) => step.order === order);

const keepStep =
  (label: string, change: WholeChange): Thunk<WholeStep> =>
  (dispatch, getState) => {
    dispatch(wholeDone({ label, change }));
    return lastOf(getState().drafts.whole.past);
  };

type Way = 'undo' | 'redo';

/** The newest step taken back, or the one that was taken back last done again. */
const step =
  (way: Way): Thunk<Promise<string | null>> =>
  async (dispatch, getState) => {
    const state = getState();
    const last = (way === 'undo' ? lastEdited : lastUndone)(state.drafts, inReach(state));
    if (last?.kind === 'whole') return dispatch(stepWhole(way, last.order));
    if (last?.kind === 'view') {
      takeViewStep(way, last.id);
      dispatch(viewStepped({ way, id: last.id }));
      return null;
    }
    if (!last) return null;
    dispatch((way === 'undo' ? undone : redone)({ keys: last.keys }));
    const nameOf = (resource: Resource, id: string) => findKept(state.api, resource, id)?.doc.name;
    const place = placeOfStep(nameOf, last.keys, window.location.pathname);
    return place.isInView
      ? null
      : `${way === 'undo' ? 'Undone' : 'Done again'} in ${place.names.join(', ')}: ${last.label}.`;
  };

/** Takes a whole step back, or does it again. One that was taken back already stays so. */
const stepWhole =
  (way: Way, order: number): Thunk<Promise<string | null>> =>
  async (dispatch, getState) => {
    const { past, future } = getState().drafts.whole;
    const found = (way === 'undo' ? past : future).find((s) => s.order === order);
    if (!found) return null;
    const done = await dispatch(way === 'undo' ? takeBack(found.change) : doAgain(found.change));
    if ('sentence' in done) return done.sentence;
    dispatch(wholeStepped({ way, order, change: done }));
    return null;
  };

type Done = WholeChange | { readonly sentence: string };

const takeBack =
  (change: WholeChange): Thunk<Promise<Done>> =>
  async (dispatch) => {
    const refused = await dispatch(backOf(change));
    return refused === null ? change : { sentence: refused };
  };

function backOf(change: WholeChange): Thunk<Promise<string | null>> {
  switch (change.kind) {
    case 'take-out':
      return bringBack(change);
    case 'take-in':
      return sendBack(change);
    case 'delete':
      return bringDocBack(change);
  }
}

function doAgain(change: WholeChange): Thunk<Promise<Done>> {
  switch (change.kind) {
    case 'take-out':
      return takeOut(change.rigId, change.rig);
    case 'take-in':
      return takeIn(change);
    case 'delete':
      return (dispatch) => dispatch(deleteDoc(change.resource, change.doc.id));
  }
}
