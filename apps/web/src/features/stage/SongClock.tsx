import { useEffect, useState } from 'react';
import { liveNow } from '../../live/liveTime';
import { minutes } from '../../words/times';

/** Time since the song began and what is left of its planned length, with a line of the two. */
export function SongClock({ startedAtMs, lengthS }: { startedAtMs: number | null; lengthS: number }) {
  const [nowMs, setNowMs] = useState(() => liveNow());
  useEffect(() => {
    const timer = window.setInterval(() => setNowMs(liveNow()), 500);
    return () => window.clearInterval(timer);
  }, [startedAtMs]);
  const elapsedS = startedAtMs === null ? 0 : Math.max(0, (nowMs - startedAtMs) / 1000);
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
