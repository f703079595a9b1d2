import { barBeatAt, secondsAt, type SongLine } from '@idle-step/core/show';
import { useCallback, useRef } from 'react';
import { useLineBeat } from '../../../live/use/useLineBeat';
import { minutes } from '../../../words/times';

/** The moving line. */
export function NowLine({ isInPlay, total }: { isInPlay: boolean; total: number }) {
  const mark = useRef<HTMLSpanElement>(null);
  const show = useCallback(
    (beat: number) => {
      if (mark.current) mark.current.style.left = `${Math.min(100, (beat / total) * 100)}%`;
    },
    [total],
  );
  useLineBeat(isInPlay, show);
  return <span ref={mark} className="now-line" aria-hidden="true" />;
}

/** Bar, beat and time of the line, as figures. */
export function NowFigures({ isInPlay, line }: { isInPlay: boolean; line: SongLine }) {
  const figures = useRef<HTMLSpanElement>(null);
  const show = useCallback(
    (beat: number) => {
      const { bar, beat: inBar } = barBeatAt(line, beat);
      const text = `${bar}.${Math.floor(inBar)}  ${minutes(secondsAt(line, beat))}`;
      if (figures.current && figures.current.textContent !== text) figures.current.textContent = text;
    },
    [line],
  );
  useLineBeat(isInPlay, show);
  return <span ref={figures} className="num line-figures" title="Bar and beat, and time" />;
}
