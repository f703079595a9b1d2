import { countInNow, type CountIn } from '@idle-step/core/engine';
import { useEffect, useState } from 'react';
import { isSame } from '../../live/snapshot';
import { liveNow } from '../../live/liveTime';
import { Metronome } from '../../live/sound/metronome';
import { useLiveHost, useLiveState } from '../../live/use/useLive';
import { useAppSelector } from '../../store';

/** How often the count is held against the clock, in ms. */
const LOOK_MS = 25;

/** The count-in of the song in play, while there is one. */
function useCountIn(): CountIn | null {
  const host = useLiveHost();
  const { line, songStartedAtMs, tempo, position } = useLiveState(
    'line',
    'songStartedAtMs',
    'tempo',
    'position',
  );
  const [count, setCount] = useState<CountIn | null>(null);
  useEffect(() => {
    let timer = 0;
    const look = () => {
      const { world, state } = host.getSnapshot();
      const now = countInNow(world, state, liveNow());
      setCount((before) => (before && now && isSame(before, now) ? before : now));
      if (now) timer = window.setTimeout(look, LOOK_MS);
    };
    look();
    return () => window.clearTimeout(timer);
  }, [host, line, songStartedAtMs, tempo, position]);
  return count;
}

/** The count-in, large, and heard as clicks where that is wanted. */
export function CountInNow() {
  const host = useLiveHost();
  const count = useCountIn();
  const isHeard = useAppSelector((s) => s.screen.countInHeard);
  const clicks = count !== null && isHeard;
  useEffect(() => {
    if (!clicks) return;
    const metronome = new Metronome(() => host.now().state.tempo);
    metronome.start();
    return () => metronome.stop();
  }, [host, clicks]);
  if (!count) return null;
  return (
    <p className="count-in">
      <span className="num">{count.beat}</span>
      <small>
        count-in, bar {count.bar} of {count.bars}
      </small>
    </p>
  );
}
