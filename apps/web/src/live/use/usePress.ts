import { useEffect, useRef, type KeyboardEvent, type MouseEvent, type PointerEvent } from 'react';
import { useLiveHost } from './useLive';

const isPressKey = (key: string): boolean => key === ' ' || key === 'Enter';

/**
 * What makes a button a footswitch: down as long as the mouse, a finger, Space or Enter holds it down.
 * @param onDown called first, as for selecting it.
 * @param plays whether it is pressed at all, or only selected.
 */
export function usePress(controlId: string, onDown?: () => void, plays = true) {
  const host = useLiveHost();
  const isDown = useRef(false);
  const press = (down: boolean) => {
    // One foot can only lift once, whichever of the ways of letting go comes first.
    if (isDown.current === down || (down && !plays)) return;
    isDown.current = down;
    host.boards.pressSwitch(controlId, down);
  };
  const lift = () => press(false);
  // A page that is left with a foot down would hold it for ever.
  useEffect(
    () => () => {
      if (isDown.current) host.boards.pressSwitch(controlId, false);
      isDown.current = false;
    },
    [host, controlId, plays],
  );
  return {
    onPointerDown: (e: PointerEvent<HTMLElement>) => {
      if (e.button !== 0) return;
      e.currentTarget.setPointerCapture(e.pointerId);
      onDown?.();
      press(true);
    },
    onPointerUp: lift,
    onPointerCancel: lift,
    onKeyDown: (e: KeyboardEvent) => {
      if (!plays || !isPressKey(e.key) || e.repeat) return;
      e.preventDefault();
      press(true);
    },
    onKeyUp: (e: KeyboardEvent) => {
      if (isPressKey(e.key)) lift();
    },
    onBlur: lift,
    onContextMenu: (e: MouseEvent) => e.preventDefault(),
  };
}
