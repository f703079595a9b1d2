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
  BACKING_LENGTHS_S,
  backingAt,
  backingGains,
  padsAt,
  PATTERN_STEPS,
  patternStep,
  type BackingPlayerState,
  type MixerState,
  type PadInstrumentState,
} from '@idle-step/core/standins';
import { useEffect, useState } from 'react';
import { liveNow } from '../live/liveTime';
import { nth, there } from '@idle-step/core/sure';

/** Pictures a second of something that moves by itself. */
const FRAMES_PER_S = 12;

/** The time while something moves; it stands still when nothing does. */
function useNow(isMoving: boolean): number {
  const [nowMs, setNowMs] = useState(() => liveNow());
  useEffect(() => {
    if (!isMoving) return;
    const timer = window.setInterval(() => setNowMs(liveNow()), 1000 / FRAMES_PER_S);
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

/** Sixteen pads as hard as they are struck, and where both patterns are. */
export function PadsPanel({ state }: { state: PadInstrumentState }) {
  const nowMs = useNow(state.patterns.some((p) => p !== null));
  const pads = padsAt(state, nowMs);
  return (
    <div className="stand-in-body">
      <span className="pad-grid">
        {pads.map((velocity, i) => (
          <span key={i} className="pad-place" aria-label={`Pad ${i + 1}: ${velocity}`}>
            <i style={{ width: `${(velocity / 127) * 100}%` }} />
            <span className="num small">{i + 1}</span>
          </span>
        ))}
      </span>
      <span className="pad-patterns">
        {state.patterns.map((pattern, i) => {
          const at = patternStep(pattern, nowMs);
          return (
            <span
              key={i}
              className="pad-steps"
              aria-label={`Pattern ${i + 1} ${at === null ? 'is still' : `plays ${there(pattern).isRound ? 'round' : 'once'}`}`}
            >
              {Array.from({ length: PATTERN_STEPS }, (_, k) => (
                <i key={k} className={k === at ? 'on' : ''} />
              ))}
            </span>
          );
        })}
      </span>
      <span className="small muted gear-said">
        cutoff {state.cutoff}, pressure {state.pressure}, level {state.level}
        {state.said && `; ${state.said}`}
      </span>
    </div>
  );
}

/** The order of the songs, which one plays and how far it is, and how loud it and the next one are. */
export function BackingPanel({ state }: { state: BackingPlayerState }) {
  const nowMs = useNow(state.playing !== null);
  const shown = backingAt(state, nowMs);
  const { playing } = shown;
  const share = playing ? (nowMs - playing.sinceMs) / (nth(BACKING_LENGTHS_S, playing.song) * 1000) : 0;
  const [now, next] = backingGains(shown);
  return (
    <div className="stand-in-body">
      <span className="backing-order">
        {BACKING_LENGTHS_S.map((length, i) => (
          <span
            key={i}
            className={`backing-song ${playing?.song === i ? 'plays' : ''} ${shown.cued === i ? 'cued' : ''}`}
            aria-label={`Song ${i + 1}, ${length} s${playing?.song === i ? ', plays' : ''}${shown.cued === i ? ', cued' : ''}`}
          >
            <span className="num small">{i + 1}</span>
            {playing?.song === i && <i style={{ width: `${Math.min(1, share) * 100}%` }} />}
          </span>
        ))}
      </span>
      <span className="backing-fade" aria-label={`This song ${percent(now)}, the next ${percent(next)}`}>
        <span className="small muted">this</span>
        <span className="bar-room">
          <b style={{ width: `${now * 100}%` }} />
        </span>
        <span className="small muted">next</span>
        <span className="bar-room">
          <b style={{ width: `${next * 100}%` }} />
        </span>
      </span>
      <span className="small muted gear-said">
        {playing ? 'playing' : 'waiting'}; filters {shown.lowFilter} and {shown.highFilter}, reverb{' '}
        {shown.reverb}, level {shown.level}
        {shown.said && `; ${shown.said}`}
      </span>
    </div>
  );
}

const percent = (share: number): string => `${Math.round(share * 100)} %`;
