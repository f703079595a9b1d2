import { useEffect, useMemo, useRef } from 'react';
import { useAppDispatch } from '../store';
import { viewDone, viewsLeft } from './draftsSlice';

type ViewDeed = { readonly redo: () => void; readonly undo: () => void };

/** How what is shown is changed back and again, by the id of its step, for as long as it is shown. */
const deeds = new Map<string, ViewDeed>();

/** Changes what is shown as a step before took it back, or as it was. */
export const takeViewStep = (way: keyof ViewDeed, id: string): void => deeds.get(id)?.[way]();

/**
 * Changes what is shown, as a step that undo takes back in its turn; its steps are forgotten when `of` is shown no more.
 * @returns what does it: its label, and how it is done and undone.
 */
export function useViewStep(of: string): (label: string, deed: ViewDeed) => void {
  const dispatch = useAppDispatch();
  const own = useRef<string[]>([]);
  useEffect(
    () => () => {
      const ids = own.current;
      own.current = [];
      for (const id of ids) deeds.delete(id);
      if (ids.length > 0) dispatch(viewsLeft({ ids }));
    },
    [dispatch, of],
  );
  return useMemo(
    () => (label, deed) => {
      const id = crypto.randomUUID();
      deeds.set(id, deed);
      own.current.push(id);
      deed.redo();
      dispatch(viewDone({ id, label }));
    },
    [dispatch],
  );
}
