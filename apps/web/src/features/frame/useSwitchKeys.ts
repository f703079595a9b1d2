import { useEffect } from 'react';
import { useLocation } from 'react-router-dom';
import { useLiveHost, useWorld } from '../../live/useLive';
import { isTyping } from '../../documents/useUndoKeys';
import { useAppSelector } from '../../store';

/** Digits in the order of the switches of the first board: 1 to 0 for the first ten. */
const DIGITS = ['1', '2', '3', '4', '5', '6', '7', '8', '9', '0'];
/** What is typed so soon after a field was left was meant for it, in ms. Our own choice. */
const JUST_LEFT_MS = 2000;
/** Where keys are typed, or move from cell to cell and row to row. */
const OWN_KEYS =
  'input, textarea, select, [contenteditable], [data-own-keys], [role="grid"], [role="listbox"], table';

/**
 * The digit keys press the switches of the first board, nearest row first, and hold them as long as they are held:
 * where that was turned on, and on the stage. What is typed into a field, a table or a list, or just behind it, never
 * presses a switch.
 */
export function useSwitchKeys(): void {
  const host = useLiveHost();
  const world = useWorld();
  const isTurnedOn = useAppSelector((s) => s.screen.keysPlay);
  const isOnStage = useLocation().pathname.startsWith('/stage');
  const plays = isTurnedOn || isOnStage;
  useEffect(() => {
    if (!plays) return;
    const switches = (world.boards[0]?.board.controls ?? [])
      .filter((c) => c.kind === 'footswitch')
      .sort((a, b) => b.yMm - a.yMm || a.xMm - b.xMm);
    const held = new Map<string, string>();
    let leftAtMs = -Infinity;
    const left = (event: FocusEvent) => {
      if (ownsKeys(event)) leftAtMs = event.timeStamp;
    };
    const down = (event: KeyboardEvent) => {
      if (event.repeat || event.ctrlKey || event.metaKey || event.altKey) return;
      if (isTyping(event) || ownsKeys(event) || event.timeStamp - leftAtMs < JUST_LEFT_MS) return;
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
    window.addEventListener('focusout', left);
    window.addEventListener('blur', letGo);
    return () => {
      letGo();
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
      window.removeEventListener('focusout', left);
      window.removeEventListener('blur', letGo);
    };
  }, [host, world, plays]);
}

const ownsKeys = (event: Event): boolean =>
  event.target instanceof HTMLElement && event.target.closest(OWN_KEYS) !== null;
