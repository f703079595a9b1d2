import type { Tempo } from '@idle-step/core/engine';
import { useEffect, useRef } from 'react';
import { realMs, toReal } from '../live/liveTime';

/** How often the lights are held against the clock, in ms: time may go at another pace, or the laptop have slept. */
const LOOK_MS = 1000;

/** When the light of a beat shines within a bar that lasts from 0 to 1. */
const shining = (beat: number, beatsPerBar: number): Keyframe[] => {
  const [from, to] = [beat / beatsPerBar, (beat + 1) / beatsPerBar];
  const frames: Keyframe[] = [];
  if (from > 0) frames.push({ offset: 0, opacity: 0 }, { offset: from, opacity: 0 });
  frames.push({ offset: from, opacity: 1 }, { offset: to, opacity: 1 });
  if (to < 1) frames.push({ offset: to, opacity: 0 }, { offset: 1, opacity: 0 });
  return frames;
};

/**
 * The beats of a bar, the one that it is lit. The lights run by themselves, beside the page: that a beat goes by takes
 * nothing from whatever comes in meanwhile.
 */
export function Beats({ tempo, className = 'beats' }: { tempo: Tempo; className?: string }) {
  const { bpm, beatsPerBar, originMs } = tempo;
  const row = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    const lights = [...row.current!.querySelectorAll('b')].map((light, beat) =>
      light.animate(shining(beat, beatsPerBar), {
        duration: (beatsPerBar * 60_000) / bpm,
        iterations: Infinity,
        // Before the first beat it is the first beat.
        fill: 'backwards',
      }),
    );
    const follow = () => {
      const startMs = toReal(originMs);
      const pace = 1 / realMs(1);
      for (const light of lights) {
        if (light.playbackRate !== pace) light.playbackRate = pace;
        if (Math.abs(Number(light.startTime ?? Infinity) - startMs) > 1) light.startTime = startMs;
      }
    };
    follow();
    const timer = window.setInterval(follow, LOOK_MS);
    return () => {
      window.clearInterval(timer);
      for (const light of lights) light.cancel();
    };
  }, [bpm, beatsPerBar, originMs]);
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
