import { afterPress } from '../../live/use/afterPress';
import type { LiveHost } from '../../live/LiveHost';
import { DrawPace } from './drawPace';

/** What the drawing of lines follows: lines as they come, and presses. */
type Followed = Pick<LiveHost, 'subscribe' | 'getSnapshot'> & {
  readonly log: Pick<LiveHost['log'], 'total' | 'whenAdded'>;
};

/**
 * Draws lines when it is time to, as `DrawPace` says: in a frame, or right after a press in a flood.
 *
 * @param draw called for each drawing, with the lines so far; `pace` then tells of a flood.
 * @returns what ends it.
 */
export function drawInPace(host: Followed, draw: (total: number, pace: DrawPace) => void): () => void {
  let frame = 0;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let stopWaiting = (): void => undefined;
  const pace = new DrawPace();
  const look = (nowMs: number, isAfterPress: boolean) => {
    const { total } = host.log;
    // Once more after a flood, too, so that nothing speaks of one that is over.
    if (!pace.hasMore(total) && !pace.isThinned) return waitForMore();
    if (pace.leftMs(nowMs) > 0) return lookAgain(pace.leftMs(nowMs));
    if (!isAfterPress && pace.mayWaitMs(nowMs) > 0) return waitForPress(pace.mayWaitMs(nowMs));
    pace.drawn(nowMs, total);
    draw(total, pace);
    if (pace.isThinned) lookAgain(pace.leftMs(nowMs));
    else waitForMore();
  };
  const atFrame = () => {
    frame = requestAnimationFrame((nowMs) => look(nowMs, false));
  };
  const lookAgain = (inMs: number) => {
    timer = setTimeout(atFrame, inMs);
  };
  const waitForPress = (atMostMs: number) => {
    stopWaiting = afterPress(host, atMostMs, (isAfterPress) =>
      isAfterPress ? look(performance.now(), true) : atFrame(),
    );
  };
  // While nothing comes no frame is asked for: each would draw the whole page.
  const waitForMore = () => {
    stopWaiting = host.log.whenAdded(atFrame);
  };
  atFrame();
  return () => {
    cancelAnimationFrame(frame);
    clearTimeout(timer);
    stopWaiting();
  };
}
