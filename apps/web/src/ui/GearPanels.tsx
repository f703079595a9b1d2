import {
  contentShare,
  dimmed,
  loopPosition,
  looperAt,
  mixerAt,
  shareAt,
  type LightsState,
  type LooperPhase,
  type LooperState,
  type MixerState,
} from '@idle-step/core/standins';
import { useEffect, useState } from 'react';

/** Pictures a second of something that moves by itself. */
const FRAMES_PER_S = 12;

/** The time while something moves; it stands still when nothing does. */
function useNow(isMoving: boolean): number {
  const [nowMs, setNowMs] = useState(() => performance.now());
  useEffect(() => {
    if (!isMoving) return;
    const timer = window.setInterval(() => setNowMs(performance.now()), 1000 / FRAMES_PER_S);
    return () => window.clearInterval(timer);
  }, [isMoving]);
  return nowMs;
}

const PHASE_WORDS: Record<LooperPhase, string> = {
  empty: 'empty',
  recording: 'records',
  playing: 'plays',
  overdubbing: 'overdubs',
  stopped: 'stopped',
};

const seconds = (ms: number): string => `${(ms / 1000).toFixed(2)} s`;

/** Four loops with what is in them and where they are. */
export function LooperPanel({ state }: { state: LooperState }) {
  const nowMs = useNow(state.tracks.some((t) => t.phase !== 'empty' && t.phase !== 'stopped'));
  const shown = looperAt(state, nowMs);
  return (
    <div className="stand-in-body">
      <span className="loops">
        {shown.tracks.map((track, i) => {
          const at = loopPosition(track, nowMs);
          const { loop } = track;
          const words = loop
            ? `${seconds(loop.lengthMs)}, ${Math.round(contentShare(loop) * 100)} %`
            : track.phase === 'recording'
              ? seconds(Math.max(0, nowMs - track.takenFromMs))
              : '';
          return (
            <span
              key={i}
              className={`loop ${track.phase} ${i === shown.selected ? 'selected' : ''}`}
              aria-label={`Loop ${i + 1}: ${PHASE_WORDS[track.phase]} ${words}${loop ? ' with sound' : ''}`}
            >
              <span className="loop-head">
                <b>{i + 1}</b> {PHASE_WORDS[track.phase]}
                <span className="muted small">{words}</span>
              </span>
              <span className="loop-tape">
                {loop?.content.map((s, k) => (
                  <i
                    key={k}
                    style={{
                      left: `${(s.fromMs / loop.lengthMs) * 100}%`,
                      width: `${((s.toMs - s.fromMs) / loop.lengthMs) * 100}%`,
                    }}
                  />
                ))}
                {at !== null && <u style={{ left: `${at * 100}%` }} />}
              </span>
            </span>
          );
        })}
      </span>
      <span className="small muted gear-said">
        {state.bars === 0 ? 'free length' : `${state.bars} ${state.bars === 1 ? 'bar' : 'bars'}`} at{' '}
        {state.tempo.bpm} bpm{state.said && `; ${state.said}`}
      </span>
    </div>
  );
}

/** Sixteen strips as they stand, also on the way between two mixes. */
export function MixerPanel({ state }: { state: MixerState }) {
  const nowMs = useNow(state.fade !== null);
  const shown = mixerAt(state, nowMs);
  const share = shown.fade ? Math.round(shareAt(shown.fade, nowMs) * 100) : null;
  return (
    <div className="stand-in-body">
      <span className="mix-strips">
        {shown.strips.map((strip, i) => (
          <span
            key={i}
            className={`mix-strip ${strip.muted ? 'muted-strip' : ''} ${strip.solo ? 'solo' : ''}`}
            aria-label={`Strip ${i + 1}: level ${Math.round(strip.level)}, pan ${Math.round(strip.pan) - 64}${strip.muted ? ', muted' : ''}${strip.solo ? ', solo' : ''}`}
          >
            <span className="strip-level">
              <b style={{ height: `${(strip.level / 127) * 100}%` }} />
            </span>
            <span className="strip-pan">
              <i style={{ left: `${(strip.pan / 127) * 100}%` }} />
            </span>
            <span className="num small">{i + 1}</span>
          </span>
        ))}
      </span>
      <span className="small muted gear-said">
        {state.current === null ? 'no mix chosen' : `mix ${state.current + 1}`}
        {share !== null && `, ${share} % of the way`}
        {state.said && `; ${state.said}`}
      </span>
    </div>
  );
}

/** Twelve lamps as bright as they are. */
export function LightsPanel({ state, lookName }: { state: LightsState; lookName: string }) {
  return (
    <div className="stand-in-body">
      <span className="bulbs">
        {state.dimmers.map((level, i) => {
          const out = dimmed(state, level);
          return (
            <span key={i} className="bulb" aria-label={`Dimmer ${i + 1}: ${out}`}>
              <i style={{ opacity: out / 127 }} />
              <span className="num small">{i + 1}</span>
            </span>
          );
        })}
      </span>
      <span className="small muted gear-said">
        {state.isBlackout ? 'blackout' : state.look === null ? 'by hand' : lookName}, master {state.master}
      </span>
    </div>
  );
}
