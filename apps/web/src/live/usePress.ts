import type { KeyboardEvent, MouseEvent, PointerEvent } from 'react';
import { useLiveHost } from './useLive';

const isPressKey = (key: string): boolean => key === ' ' || key === 'Enter';

/**
 * What makes a button a footswitch: down as long as the mouse, a finger, Space or Enter holds it down.
 * @param onDown called first, as for selecting it.
 */
export function usePress(controlId: string, onDown?: () => void) {
  const host = useLiveHost();
  const press = (down: boolean) => host.pressSwitch(controlId, down);
  const lift = () => press(false);
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
      if (!isPressKey(e.key) || e.repeat) return;
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
