import { useEffect } from 'react';
import { tinykeys } from 'tinykeys';
import { useSteps } from '../drafts/useSteps';

/** Ctrl or Cmd with Z and Shift+Z; inside a text being typed the browser's own undo is left alone. */
export function useUndoKeys(): void {
  const { undo, redo } = useSteps();
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
