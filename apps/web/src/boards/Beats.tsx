import type { Tempo } from '@idle-step/core/engine';
import { useEffect, useState } from 'react';
import { liveNow, realMs } from '../live/liveTime';

/** Which beat of the bar it is, drawn anew at each beat only. */
export function useBeat({ bpm, beatsPerBar, originMs }: Tempo): number {
  const beatMs = 60_000 / bpm;
  const beatNow = () => Math.floor(Math.max(0, liveNow() - originMs) / beatMs) % beatsPerBar;
  const [beat, setBeat] = useState(0);
  useEffect(() => {
    let timer = 0;
    const turn = () => {
      setBeat(beatNow());
      const intoBeat = Math.max(0, liveNow() - originMs) % beatMs;
      timer = window.setTimeout(turn, realMs(beatMs - intoBeat) + 1);
    };
    turn();
    return () => window.clearTimeout(timer);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- beatNow follows from these three
  }, [bpm, beatsPerBar, originMs]);
  return beat;
}

export function Beats({ tempo, className = 'beats' }: { tempo: Tempo; className?: string }) {
  const beat = useBeat(tempo);
  return (
    <span className={className} aria-hidden="true">
      {Array.from({ length: tempo.beatsPerBar }, (_, i) => (
        <i key={i} className={i === beat ? 'on' : ''} />
      ))}
    </span>
  );
}
