import { lineBeat } from '@idle-step/core/engine';
import { liveNow } from '../liveTime';
import { useEffect } from 'react';
import { useLiveHost, useLiveState } from './useLive';

/** Calls back with the beat of the time line, once a picture while it runs. */
export function useLineBeat(isInPlay: boolean, show: (beat: number) => void): void {
  const host = useLiveHost();
  const { line } = useLiveState('line');
  useEffect(() => {
    const now = () => {
      const { world, state } = host.getSnapshot();
      // While it is counted in, the song stands at its beginning.
      show(isInPlay && state.line ? Math.max(0, lineBeat(world, state.line, liveNow())) : 0);
    };
    now();
    if (!isInPlay || !line?.isRunning) return;
    let frame = requestAnimationFrame(function next() {
      now();
      frame = requestAnimationFrame(next);
    });
    return () => cancelAnimationFrame(frame);
  }, [host, isInPlay, line, show]);
}
