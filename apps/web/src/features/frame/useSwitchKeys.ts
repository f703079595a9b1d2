import { useEffect } from 'react';
import { useLiveHost, useWorld } from '../../live/useLive';
import { isTyping } from '../../documents/useUndoKeys';

/** Digits in the order of the switches of the first board: 1 to 0 for the first ten. */
const DIGITS = ['1', '2', '3', '4', '5', '6', '7', '8', '9', '0'];

/**
 * The digit keys press the switches of the first board, nearest row first, and hold them as long as they are held.
 * Grids that take digits keep them for themselves by marking themselves with `data-own-keys`.
 */
export function useSwitchKeys(): void {
  const host = useLiveHost();
  const world = useWorld();
  useEffect(() => {
    const switches = (world.boards[0]?.board.controls ?? [])
      .filter((c) => c.kind === 'footswitch')
      .sort((a, b) => b.yMm - a.yMm || a.xMm - b.xMm);
    const held = new Map<string, string>();
    const down = (event: KeyboardEvent) => {
      if (
        event.repeat ||
        event.ctrlKey ||
        event.metaKey ||
        event.altKey ||
        isTyping(event) ||
        ownsKeys(event)
      )
        return;
      const control = switches[DIGITS.indexOf(event.key)];
      if (!control) return;
      event.preventDefault();
      held.set(event.code, control.id);
      host.boards.pressSwitch(control.id, true);
    };
    const up = (event: KeyboardEvent) => {
      const controlId = held.get(event.code);
      if (controlId === undefined) return;
      held.delete(event.code);
      host.boards.pressSwitch(controlId, false);
    };
    const letGo = () => {
      for (const controlId of held.values()) host.boards.pressSwitch(controlId, false);
      held.clear();
    };
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    window.addEventListener('blur', letGo);
    return () => {
      letGo();
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
      window.removeEventListener('blur', letGo);
    };
  }, [host, world]);
}

const ownsKeys = (event: KeyboardEvent): boolean =>
  event.target instanceof HTMLElement && event.target.closest('[data-own-keys]') !== null;
