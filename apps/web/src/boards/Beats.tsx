import { beatMsOf, type Tempo } from '@idle-step/core/engine';
import { useEffect, useRef } from 'react';
import { liveNow, realMs } from '../live/liveTime';

/** How often the lights are held against the clock at least, in ms: time may go at another pace, or the laptop have slept. */
const LOOK_MS = 1000;
/** All but whole, as what is not seen is all but nothing: from and to 0 or 1 a browser puts all layers together anew. */
const SEEN = '0.999';

/**
 * The beats of a bar, the one that it is lit. Each light lies on a layer of its own, so that a beat draws nothing; lights
 * that an animation of the browser lit would have every frame made, those in which nothing changes as well.
 */
export function Beats({ tempo, className = 'beats' }: { tempo: Tempo; className?: string }) {
  const { beatsPerBar, originMs } = tempo;
  const beatMs = beatMsOf(tempo);
  const row = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    const lights = [...row.current!.querySelectorAll('b')];
    let timer = 0;
    let lit: HTMLElement | undefined;
    const follow = () => {
      const beats = (liveNow() - originMs) / beatMs;
      // Before the first beat it is the first beat.
      const light = lights[Math.floor(Math.max(0, beats)) % beatsPerBar];
      if (light !== lit) {
        lit?.style.removeProperty('opacity');
        light?.style.setProperty('opacity', SEEN);
        lit = light;
      }
      const leftMs = realMs((1 - (beats - Math.floor(beats))) * beatMs);
      timer = window.setTimeout(follow, Math.min(LOOK_MS, Math.ceil(leftMs)));
    };
    follow();
    return () => {
      window.clearTimeout(timer);
      lit?.style.removeProperty('opacity');
    };
  }, [beatMs, beatsPerBar, originMs]);
  return (
    <span className={className} aria-hidden="true" ref={row}>
      {Array.from({ length: beatsPerBar }, (_, i) => (
        <i key={i}>
          <b />
        </i>
      ))}
    </span>
  );
}
