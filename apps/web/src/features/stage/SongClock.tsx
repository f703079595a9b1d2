import { useEffect, useState } from 'react';
import { liveNow, realMs } from '../../live/liveTime';
import { minutes } from '../../words/times';

/**
 * Whole seconds since a moment of the live clock, 0 where there is none. Drawn anew once a second, when they change:
 * a stage that is drawn for nothing may be in the way of a foot.
 */
function useSecondsSince(startedAtMs: number | null): number {
  const passed = () => (startedAtMs === null ? 0 : Math.max(0, liveNow() - startedAtMs));
  const [seconds, setSeconds] = useState(() => Math.floor(passed() / 1000));
  useEffect(() => {
    let timer = 0;
    const look = () => {
      setSeconds(Math.floor(passed() / 1000));
      if (startedAtMs !== null) timer = window.setTimeout(look, realMs(1000 - (passed() % 1000)) + 1);
    };
    look();
    return () => window.clearTimeout(timer);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- passed follows from this one
  }, [startedAtMs]);
  return seconds;
}

/** Time since the song began and what is left of its planned length, with a line of the two. */
export function SongClock({ startedAtMs, lengthS }: { startedAtMs: number | null; lengthS: number }) {
  const elapsedS = useSecondsSince(startedAtMs);
  const leftS = lengthS - elapsedS;
  const share = lengthS > 0 ? Math.min(1, elapsedS / lengthS) : 0;
  return (
    <>
      <span className="stage-time">
        <small>elapsed</small>
        <span className="num">{minutes(elapsedS)}</span>
      </span>
      <span className="stage-time">
        <small>{leftS >= 0 ? 'remaining' : 'over by'}</small>
        <span className="num">{minutes(Math.abs(leftS))}</span>
      </span>
      <span className="stage-progress" aria-hidden="true">
        <i style={{ width: `${share * 100}%` }} />
      </span>
    </>
  );
}
