import { useCallback, useEffect } from 'react';
import { tinykeys } from 'tinykeys';
import { lastEdited, lastUndone, redone, undone } from '../drafts/draftsSlice';
import { useAppDispatch } from '../store';

/** Undo and redo over everything that was edited, the newest step first. */
export function useUndo(): { undo(): void; redo(): void } {
  const dispatch = useAppDispatch();
  const undo = useCallback(() => {
    dispatch((_, getState) => {
      const step = lastEdited(getState().drafts);
      if (step) dispatch(undone({ key: step.key }));
    });
  }, [dispatch]);
  const redo = useCallback(() => {
    dispatch((_, getState) => {
      const step = lastUndone(getState().drafts);
      if (step) dispatch(redone({ key: step.key }));
    });
  }, [dispatch]);
  return { undo, redo };
}

/** Ctrl or Cmd with Z and Shift+Z; inside a text being typed the browser's own undo is left alone. */
export function useUndoKeys(): void {
  const { undo, redo } = useUndo();
  useEffect(() => {
    const unlessTyping = (run: () => void) => (event: KeyboardEvent) => {
      if (isTyping(event)) return;
      event.preventDefault();
      run();
    };
    return tinykeys(window, { '$mod+z': unlessTyping(undo), '$mod+Shift+z': unlessTyping(redo) });
  }, [undo, redo]);
}

/** Whether a key belongs to a text field. */
export const isTyping = (event: KeyboardEvent): boolean =>
  event.target instanceof HTMLElement &&
  event.target.closest('input, textarea, select, [contenteditable]') !== null;
