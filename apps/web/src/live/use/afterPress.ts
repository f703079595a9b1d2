import type { LiveHost } from '../LiveHost';

/** So long a drawing that is in no hurry waits for a press, in ms. */
export const AWAITS_PRESS_MS = 500;

/**
 * Calls once: in the frame in which the next press is drawn, or after some ms without one. Who has just pressed does not
 * press within the next frames, so what is drawn then holds up no press.
 *
 * @param atMostMs more than 0.
 * @returns what takes it back.
 */
export function afterPress(
  host: Pick<LiveHost, 'subscribe' | 'getSnapshot'>,
  atMostMs: number,
  act: (isAfterPress: boolean) => void,
): () => void {
  const { lastPress } = host.getSnapshot();
  const stop = () => {
    unsubscribe();
    clearTimeout(timer);
  };
  const go = (isAfterPress: boolean) => {
    stop();
    act(isAfterPress);
  };
  const unsubscribe = host.subscribe(() => {
    if (host.getSnapshot().lastPress !== lastPress) go(true);
  });
  const timer = setTimeout(() => go(false), atMostMs);
  return stop;
}
