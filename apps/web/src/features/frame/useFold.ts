import { useEffect, useRef, useState, type RefObject } from 'react';
import type { LogLine } from '../../live/log/logLine';
import { useLiveHost } from '../../live/use/useLive';
import { screenChanged } from '../../screen/screenSlice';
import { useAppDispatch, useAppSelector } from '../../store';
import type { Folding } from '../../ui/ByItself';
import { watchComing } from './coming';

/**
 * The floor or the monitor: folded until something comes that is worth it, or as one left it.
 *
 * @param matters whether a line of the log is worth opening for; the same function each time. `null` where it never opens by
 * itself.
 * @param isWorth it is worth its room now, whatever comes.
 */
export function useFold(
  part: 'dock' | 'monitor',
  matters: ((line: LogLine) => boolean) | null,
  isWorth: boolean,
): Folding {
  const { log } = useLiveHost();
  const dispatch = useAppDispatch();
  const choice = useAppSelector((s) => s.screen[part]);
  const [hasCome, setHasCome] = useState(false);
  const ref = useRef<HTMLElement>(null);
  const isByItself = choice === 'auto';
  useEffect(() => {
    if (!isByItself || !matters) return undefined;
    const { hand, stop } = watchHand(ref);
    const end = watchComing(log, matters, hand, setHasCome);
    return () => {
      end();
      stop();
      setHasCome(false);
    };
  }, [isByItself, log, matters]);
  const isFolded = isByItself ? !hasCome && !isWorth : choice === 'folded';
  const isOpenByItself = isByItself && hasCome;
  useEffect(() => {
    // What one works at stays in sight where the room got smaller.
    if (isOpenByItself)
      document.querySelector(':focus')?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }, [isOpenByItself]);
  const choose = (next: 'auto' | 'open' | 'folded') => dispatch(screenChanged({ [part]: next }));
  return {
    isFolded,
    isByItself: matters && isByItself,
    fold: (next) => choose(next ? 'folded' : 'open'),
    byItself: (on) => choose(on ? 'auto' : isFolded ? 'folded' : 'open'),
    ref,
  };
}

/** Where the hand is, for as long as it is asked. */
function watchHand(ref: RefObject<HTMLElement | null>) {
  let isDown = false;
  let movedMs = -Infinity;
  const ended = new AbortController();
  const on = (kind: keyof WindowEventMap, does?: () => void) =>
    window.addEventListener(
      kind,
      () => {
        movedMs = performance.now();
        does?.();
      },
      { signal: ended.signal, capture: true, passive: true },
    );
  on('pointerdown', () => (isDown = true));
  on('pointerup', () => (isDown = false));
  on('pointercancel', () => (isDown = false));
  // A button that was let go of outside the window was heard by nobody.
  on('blur', () => (isDown = false));
  on('pointermove');
  on('keydown');
  const isInside = () => {
    const element = ref.current;
    return !!element && (element.matches(':hover') || element.contains(document.activeElement));
  };
  return { hand: () => ({ isDown, movedMs, isInside: isInside() }), stop: () => ended.abort() };
}
