import type { TimerWish } from './clock';

/** Waits in place of the page: timers of a hidden page are held back to one a second, those of a worker are not. */
let timer: ReturnType<typeof setTimeout> | undefined;

self.onmessage = ({ data: { wish, afterMs } }: MessageEvent<TimerWish>) => {
  clearTimeout(timer);
  if (afterMs !== null) timer = setTimeout(() => self.postMessage(wish), afterMs);
};
