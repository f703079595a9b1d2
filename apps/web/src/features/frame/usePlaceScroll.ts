import { useEffect, useRef, type RefObject } from 'react';
import { useLocation } from 'react-router-dom';

/** How long a place may take to be as long as it was, in ms: its pieces come one after the other. */
const WAIT_MS = 600;

/**
 * Each place opens at its top, and comes back to where one was in it.
 * @param room what is scrolled.
 */
export function usePlaceScroll(room: RefObject<HTMLElement | null>): void {
  const place = useLocation().pathname.split('/')[1] ?? '';
  const tops = useRef(new Map<string, number>());
  useEffect(() => {
    const element = room.current;
    if (!element) return;
    const wanted = tops.current.get(place) ?? 0;
    const untilMs = performance.now() + WAIT_MS;
    let frame = 0;
    let isBack = false;
    const goBack = () => {
      element.scrollTop = wanted;
      isBack = Math.abs(element.scrollTop - wanted) < 1;
      if (!isBack && performance.now() < untilMs) frame = requestAnimationFrame(goBack);
      else isBack = true;
    };
    goBack();
    const note = () => {
      if (isBack) tops.current.set(place, element.scrollTop);
    };
    element.addEventListener('scroll', note, { passive: true });
    return () => {
      cancelAnimationFrame(frame);
      element.removeEventListener('scroll', note);
    };
  }, [room, place]);
}
