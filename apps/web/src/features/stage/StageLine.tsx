import { barBeatAt } from '@idle-step/core/show';
import type { Place, World } from '@idle-step/core/engine';
import { useCallback, useRef } from 'react';
import { useLineBeat } from '../../live/use/useLineBeat';
import { useLiveState } from '../../live/use/useLive';
import { nth } from '@idle-step/core/sure';

/** Writes a text that follows the time line into an element, only when it changes. */
function useLineText(words: (beat: number) => string) {
  const element = useRef<HTMLElement>(null);
  const show = useCallback(
    (beat: number) => {
      const text = words(beat);
      if (element.current && element.current.textContent !== text) element.current.textContent = text;
    },
    [words],
  );
  useLineBeat(true, show);
  return element;
}

/** The bar that the time line stands in, while it runs or was stopped on the way. */
export function StageBar({ world, songIndex }: { world: World; songIndex: number }) {
  const { line } = useLiveState('line');
  const layout = nth(world.songs, songIndex).line;
  const words = useCallback((beat: number) => String(barBeatAt(layout, beat).bar), [layout]);
  const text = useLineText(words);
  if (!line) return null;
  return (
    <span className="stage-bar">
      <small>bar</small> <span className="num" ref={text} />
    </span>
  );
}

/** In how many bars the next part begins, where the time line runs and its place is known. */
export function InBars({ world, place }: { world: World; place: Place }) {
  const { line } = useLiveState('line');
  const { line: layout } = nth(world.songs, place.songIndex);
  const next = layout.parts[place.partIndex === null ? 0 : place.partIndex + 1]?.atBeat ?? null;
  const words = useCallback(
    (beat: number) => {
      if (next === null || beat >= next) return '';
      const [now, then] = [barBeatAt(layout, beat), barBeatAt(layout, next)];
      const bars = then.bar - now.bar;
      if (bars > 1) return ` in ${bars} bars`;
      const beats = Math.ceil(next - beat);
      return ` in ${beats} ${beats === 1 ? 'beat' : 'beats'}`;
    },
    [layout, next],
  );
  const text = useLineText(words);
  return line?.isRunning ? <span ref={text} /> : null;
}
