import { keyNumber } from '@idle-step/core/floor';
import { useEffect } from 'react';
import { useLocation } from 'react-router-dom';
import { useLiveHost, useWorld } from '../../live/use/useLive';
import { isTyping } from '../../documents/useUndoKeys';
import { useAppSelector } from '../../store';

/** Digits in the order of the switches of the first board: 1 to 0 for the first ten. */
const DIGITS = ['1', '2', '3', '4', '5', '6', '7', '8', '9', '0'];
/** What is typed so soon after a field was left was meant for it, in ms. */
const JUST_LEFT_MS = 2000;
/** Where keys are typed, or move from cell to cell and row to row. */
const OWN_KEYS =
  'input, textarea, select, [contenteditable], [data-own-keys], [role="grid"], [role="listbox"], table';

/**
 * Keys of boards are pressed and let go as their controls; while a control is learned they are only listened to.
 * The digit keys press the switches of the first board, nearest row first, and hold them as long as they are held:
 * where that was turned on, and on the stage. What is typed into a field, a table or a list, or just behind it, never
 * presses a switch.
 */
export function useSwitchKeys(): void {
  const host = useLiveHost();
  const world = useWorld();
  const isTurnedOn = useAppSelector((s) => s.screen.keysPlay);
  const { pathname } = useLocation();
  const isOnStage = pathname.startsWith('/stage') || pathname.startsWith('/rehearse');
  const plays = isTurnedOn || isOnStage;
  useEffect(() => {
    const switches = (world.boards[0]?.board.controls ?? [])
      .filter((c) => c.kind === 'footswitch')
      .sort((a, b) => b.yMm - a.yMm || a.xMm - b.xMm);
    const held = new Map<string, () => void>();
    let leftAtMs = -Infinity;
    const left = (event: FocusEvent) => {
      if (ownsKeys(event)) leftAtMs = event.timeStamp;
    };
    const down = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event)) return;
      // A key that a board has is that board's, and does nothing else where it is heard.
      const key = keyNumber(event.code);
      if (key !== null && host.hearsKey(key) && (isOnStage || !isUsed(event))) {
        event.preventDefault();
        event.stopPropagation();
        if (event.repeat || held.has(event.code)) return;
        held.set(event.code, () => host.key(key, false));
        host.key(key, true);
        return;
      }
      if (!plays || event.repeat || ownsKeys(event) || event.timeStamp - leftAtMs < JUST_LEFT_MS) return;
      const control = switches[DIGITS.indexOf(event.key)];
      if (!control) return;
      event.preventDefault();
      held.set(event.code, () => host.boards.pressSwitch(control.id, false));
      host.boards.pressSwitch(control.id, true);
    };
    const up = (event: KeyboardEvent) => {
      const lift = held.get(event.code);
      held.delete(event.code);
      lift?.();
    };
    const letGo = () => {
      for (const lift of held.values()) lift();
      held.clear();
    };
    window.addEventListener('keydown', down, { capture: true });
    window.addEventListener('keyup', up);
    window.addEventListener('focusout', left);
    window.addEventListener('blur', letGo);
    return () => {
      letGo();
      window.removeEventListener('keydown', down, { capture: true });
      window.removeEventListener('keyup', up);
      window.removeEventListener('focusout', left);
      window.removeEventListener('blur', letGo);
    };
  }, [host, world, plays, isOnStage]);
}

/** Whether something has the focus that a key means something to: outside the stage it keeps it. */
const isUsed = (event: Event): boolean =>
  ownsKeys(event) ||
  (event.target instanceof HTMLElement && event.target.closest('button, a, [role="dialog"]') !== null);

const ownsKeys = (event: Event): boolean =>
  event.target instanceof HTMLElement && event.target.closest(OWN_KEYS) !== null;
