import { startTransition, useEffect, useMemo, useState } from 'react';
import { useLiveHost } from '../../live/useLive';
import type { LogLine } from '../../live/monitorLog';
import { ALL_LINES, FilteredLines, type MonitorFilter } from './monitorFilter';

/** From so many new lines a second on the list is drawn every two seconds, so that it can be read; below, with every frame. */
const BUSY_PER_SECOND = 150;
const BUSY_DRAW_MS = 2000;

export type MonitorView = {
  readonly lines: readonly LogLine[];
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
  /** New lines in the last second when drawing had to be thinned out, else `null`. */
  readonly skippedAt: number | null;
};

type Drawn = {
  readonly lines: readonly LogLine[];
  readonly timing: number;
  readonly perSecond: number;
  readonly total: number;
};
const NOTHING: Drawn = { lines: [], timing: 0, perSecond: 0, total: 0 };

/** The monitor's lines as they are drawn. Recording never depends on it. */
export function useMonitor(): MonitorView {
  const host = useLiveHost();
  const [filter, setFilter] = useState(ALL_LINES);
  const [cleared, setCleared] = useState(0);
  const [drawn, setDrawn] = useState(NOTHING);
  const [paused, setPaused] = useState<{ readonly lines: readonly LogLine[]; readonly total: number } | null>(
    null,
  );
  const source = useMemo(
    () => new FilteredLines(host.log, filter),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- clearing begins a new list
    [host, filter, cleared],
  );
  useEffect(() => {
    let frame = 0;
    let timer = 0;
    let stopWaiting = (): void => undefined;
    let drawnTotal = 0;
    let drawnAtMs = -Infinity;
    let perSecond = 0;
    let counted = { atMs: performance.now(), total: host.log.total };
    const look = (nowMs: number) => {
      const { total } = host.log;
      if (nowMs - counted.atMs >= 1000) {
        perSecond = Math.round(((total - counted.total) * 1000) / (nowMs - counted.atMs));
        counted = { atMs: nowMs, total };
      }
      const isBusy = perSecond > BUSY_PER_SECOND || total - counted.total > BUSY_PER_SECOND;
      if (total === drawnTotal) return waitForMore();
      const leftMs = isBusy ? drawnAtMs + BUSY_DRAW_MS - nowMs : 0;
      if (leftMs > 0) {
        timer = window.setTimeout(atFrame, leftMs);
        return;
      }
      drawnTotal = total;
      drawnAtMs = nowMs;
      const next = {
        lines: source.update(),
        timing: source.timing,
        perSecond: isBusy ? perSecond : 0,
        total,
      };
      // Drawn in slices between which a press is heard.
      startTransition(() => setDrawn(next));
      waitForMore();
    };
    const atFrame = () => {
      frame = requestAnimationFrame(look);
    };
    // While nothing comes no frame is asked for: each would draw the whole page.
    const waitForMore = () => {
      stopWaiting = host.log.whenAdded(atFrame);
    };
    atFrame();
    return () => {
      cancelAnimationFrame(frame);
      window.clearTimeout(timer);
      stopWaiting();
    };
  }, [host, source]);
  return {
    lines: paused?.lines ?? drawn.lines,
    filter,
    setFilter,
    timing: drawn.timing,
    recorded: drawn.total,
    waiting: paused ? host.log.total - paused.total : null,
    pause: (on) => setPaused(on ? { lines: drawn.lines, total: host.log.total } : null),
    clear: () => {
      host.clearLog();
      setPaused(null);
      setDrawn(NOTHING);
      setCleared((n) => n + 1);
    },
    skippedAt: drawn.perSecond > BUSY_PER_SECOND ? drawn.perSecond : null,
  };
}
