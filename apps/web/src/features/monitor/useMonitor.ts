import { startTransition, useEffect, useMemo, useState } from 'react';
import { useLiveHost } from '../../live/use/useLive';
import { drawInPace } from './drawInPace';
import { ALL_LINES, FilteredLines, frozen, NO_LINES, type Lines, type MonitorFilter } from './monitorFilter';

export type MonitorView = {
  readonly lines: Lines;
  readonly filter: MonitorFilter;
  setFilter(filter: MonitorFilter): void;
  /** Clock and active sensing held back. */
  readonly timing: number;
  /** Lines recorded since pausing; `null` while it runs. */
  readonly waiting: number | null;
  pause(on: boolean): void;
  clear(): void;
  /** Lines recorded since the page was opened, as of the last drawing. */
  readonly recorded: number;
  /** Whether lines come faster than they are drawn. */
  readonly isThinned: boolean;
  /** New lines a second in a flood, else `null`. */
  readonly floodPerSecond: number | null;
};

type Drawn = {
  readonly lines: Lines;
  readonly timing: number;
  readonly isThinned: boolean;
  readonly floodPerSecond: number | null;
  readonly total: number;
};
const NOTHING: Drawn = { lines: NO_LINES, timing: 0, isThinned: false, floodPerSecond: null, total: 0 };

/** The monitor's lines as they are drawn. Recording never depends on it. */
export function useMonitor(): MonitorView {
  const host = useLiveHost();
  const [filter, setFilter] = useState(ALL_LINES);
  const [cleared, setCleared] = useState(0);
  const [drawn, setDrawn] = useState(NOTHING);
  const [paused, setPaused] = useState<{ readonly lines: Lines; readonly total: number } | null>(null);
  const source = useMemo(
    () => new FilteredLines(host.log, filter),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- clearing begins a new list
    [host, filter, cleared],
  );
  useEffect(
    () =>
      drawInPace(host, (total, { isThinned, floodPerSecond }) => {
        const next = { lines: source.update(), timing: source.timing, isThinned, floodPerSecond, total };
        // Drawn in slices between which a press is heard.
        startTransition(() => setDrawn(next));
      }),
    [host, source],
  );
  return {
    lines: paused?.lines ?? drawn.lines,
    filter,
    setFilter,
    timing: drawn.timing,
    recorded: drawn.total,
    waiting: paused ? host.log.total - paused.total : null,
    pause: (on) => setPaused(on ? { lines: frozen(drawn.lines), total: host.log.total } : null),
    clear: () => {
      host.clearLog();
      setPaused(null);
      setDrawn(NOTHING);
      setCleared((n) => n + 1);
    },
    isThinned: drawn.isThinned,
    floodPerSecond: drawn.floodPerSecond,
  };
}
