import type { FootPress } from '@idle-step/core/proof';
import { useCallback, useEffect, useRef, useState } from 'react';
import { useLiveHost, useLiveOf } from '../../live/use/useLive';

/** How long a foot stays on a switch, how long it is held, and how far two presses lie apart, in ms. */
const DOWN_MS = 90;
const HELD_MS = 1100;
const APART_MS = 700;
const AGAIN_MS = 140;

/**
 * Plays presses on the floor as feet would, from the beginning of the set; what is heard is heard. Not while a set runs.
 * @returns `refusal`: why it cannot now, or `null`; `at`: the press that is on its way, or `null`.
 */
export function useReplay() {
  const host = useLiveHost();
  const isRunning = useLiveOf(({ state }) => state.run !== null);
  const isFollowing = useLiveOf((live) => live.isFollowing);
  const [at, setAt] = useState<number | null>(null);
  const timers = useRef<number[]>([]);
  const down = useRef<string | null>(null);
  /** Whatever is on its way ends: a switch that is down goes up, and the set that was begun for it is over. */
  const leave = useCallback(() => {
    if (timers.current.length === 0) return;
    for (const timer of timers.current) window.clearTimeout(timer);
    timers.current = [];
    if (down.current !== null) host.boards.pressSwitch(down.current, false);
    down.current = null;
    host.command({ kind: 'show', to: 'end' });
  }, [host]);
  const stop = () => {
    leave();
    setAt(null);
  };
  useEffect(() => leave, [leave]);
  const press = (controlId: string, isDown: boolean) => {
    down.current = isDown ? controlId : null;
    host.boards.pressSwitch(controlId, isDown);
  };
  const play = (presses: readonly FootPress[]) => {
    stop();
    host.command({ kind: 'show', to: 'begin' });
    const later = (ms: number, what: () => void) => timers.current.push(window.setTimeout(what, ms));
    let ms = APART_MS;
    for (const [i, { controlId, gesture }] of presses.entries()) {
      later(ms, () => setAt(i));
      if (gesture === 'toe' || gesture === 'heel') {
        for (const [j, travel] of [64, gesture === 'toe' ? 127 : 0, 64].entries())
          later(ms + j * DOWN_MS, () => host.boards.movePedal(controlId, travel));
      } else {
        for (let again = 0; again < (gesture === 'doublePress' ? 2 : 1); again++) {
          later(ms + again * AGAIN_MS, () => press(controlId, true));
          later(ms + again * AGAIN_MS + (gesture === 'hold' ? HELD_MS : DOWN_MS), () =>
            press(controlId, false),
          );
        }
      }
      ms += APART_MS + (gesture === 'hold' ? HELD_MS : 0);
    }
    later(ms, stop);
  };
  const refusal = isFollowing
    ? 'Another window of this browser plays. Press Play here first.'
    : isRunning && at === null
      ? 'A set runs: end it on Stage first.'
      : null;
  return { play, stop, at, refusal };
}
