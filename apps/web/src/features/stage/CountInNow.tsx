import { countInNow, type CountIn } from '@idle-step/core/engine';
import { useEffect, useMemo, useState } from 'react';
import { isSame } from '../../live/snapshot';
import { liveNow } from '../../live/liveTime';
import { Metronome } from '../../live/sound/metronome';
import { useLiveHost, useLiveOf, useLiveState, useWorld } from '../../live/use/useLive';
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
  const world = useWorld();
  // A click that goes on anyway is not heard twice.
  const isClicking = useLiveOf(({ state }) => state.here.click);
  const isWanted = isHeard && !isClicking && world.songs.some((s) => s.song.countInBars > 0);
  const metronome = useMemo(() => new Metronome(() => host.now().state.tempo), [host]);
  useEffect(() => {
    if (isWanted) metronome.prepare();
    return () => metronome.close();
  }, [metronome, isWanted]);
  const bars = isWanted ? (count?.bars ?? 0) : 0;
  useEffect(() => {
    if (bars === 0) return;
    metronome.start(bars * host.now().state.tempo.beatsPerBar);
    return () => metronome.stop();
  }, [host, metronome, bars]);
  if (!count) return null;
  return (
    <p className="count-in">
      <span className="num">{count.beat}</span>
      <small>
        count-in {count.bar} of {count.bars}
      </small>
    </p>
  );
}
