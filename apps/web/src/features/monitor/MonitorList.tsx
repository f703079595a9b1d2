import { useVirtualizer } from '@tanstack/react-virtual';
import { ArrowDownLeft, ArrowRightLeft, ArrowUpRight, CircleSlash, TriangleAlert, Usb } from 'lucide-react';
import { memo, useLayoutEffect, useRef, useState } from 'react';
import { flushSync } from 'react-dom';
import { isMessage, type LogLine } from '../../live/log/logLine';
import { mayOverrun } from '../../ui/mayOverrun';
import { TapeMark } from '../../ui/TapeMark';
import { minuteOfDay } from '../../words/times';
import { wordsOf, type LineWords } from './lineWords';
import { directionOf, type Lines } from './monitorFilter';

const SIGNS = { in: ArrowDownLeft, out: ArrowUpRight, inside: ArrowRightLeft } as const;
const DRAWER_ROW_PX = 42;
const WIDE_ROW_PX = 26;
/** The least room for texts, in the drawer and in the wide list. */
const DRAWER_PX = { raw: 86, words: 140 } as const;
const WIDE_PX = { port: 90, words: 150, raw: 80 } as const;

/**
 * Rows drawn anew in one frame of a flood: so few that a press in between hardly waits, and not fewer, since every frame
 * that is drawn costs as much as a few rows.
 */
const FLOOD_ROWS_A_FRAME = 12;

type Props = {
  lines: Lines;
  isWide: boolean;
  /** So much comes that the rows are drawn anew one after the other. */
  isFlood: boolean;
};

/** Lines, the newest on top; only those in sight are drawn. */
export function MonitorList({ lines, isWide, isFlood }: Props) {
  const scroll = useRef<HTMLDivElement>(null);
  const rowPx = isWide ? WIDE_ROW_PX : DRAWER_ROW_PX;
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroll.current,
    estimateSize: () => rowPx,
    overscan: 4,
    initialRect: { width: 264, height: 500 },
  });
  const rows = virtual.getVirtualItems();
  const { before, upTo, head } = useFromTheTop(lines, isFlood, rows.length);
  const MonitorLine = isWide ? WideLine : DrawerLine;
  return (
    <div className="messages-room">
      <div className="messages" role="group" aria-label="Messages, newest first" tabIndex={0} ref={scroll}>
        <div style={{ height: virtual.getTotalSize() }} />
        <ol style={{ transform: `translateY(${head * rowPx}px)` }}>
          {rows.map((item, i) => {
            const source = i < upTo || item.index >= before.length ? lines : before;
            const at = source.length - 1 - item.index;
            const line = source.at(at);
            const row = head - item.index;
            return (
              <MonitorLine
                key={row}
                line={line}
                top={-row * rowPx}
                sinceMs={at > 0 ? line.atMs - source.at(at - 1).atMs : null}
              />
            );
          })}
        </ol>
      </div>
    </div>
  );
}

/** So much longer than new lines is the list of rows in sight where rows are made for them. */
const MADE_SHARE = 3;
/** After so many rows that were made they are counted from 0 again: far down, browsers place things coarsely. */
const MOST_HEAD = 10_000;

/**
 * How many rows from the top already show the lines of now; those below still show the lines `before`. And the number of the
 * row on top: rows are counted upwards and stay where they are while a few new ones are put on top and the list is moved
 * down; where many lines are new, new words come into the rows that stand, and none is made.
 *
 * @param rows in sight.
 */
function useFromTheTop(
  lines: Lines,
  isFlood: boolean,
  rows: number,
): { readonly before: Lines; readonly upTo: number; readonly head: number } {
  const [drawn, setDrawn] = useState({ lines, before: lines, upTo: Infinity, head: 0 });
  if (drawn.lines !== lines) {
    const added = lines.total - drawn.lines.total;
    const isMade = !isFlood && added > 0 && added * MADE_SHARE <= rows;
    setDrawn({
      lines,
      before: drawn.lines,
      upTo: isFlood ? FLOOD_ROWS_A_FRAME : Infinity,
      head: isMade ? (drawn.head + added) % MOST_HEAD : drawn.head,
    });
  }
  const isInPieces = drawn.upTo !== Infinity;
  useLayoutEffect(() => {
    let upTo = FLOOD_ROWS_A_FRAME;
    if (!isInPieces || upTo >= rows) return undefined;
    const more = () => {
      upTo += FLOOD_ROWS_A_FRAME;
      flushSync(() => setDrawn((d) => ({ ...d, upTo: Math.max(d.upTo, upTo) })));
      if (upTo < rows) frame = requestAnimationFrame(more);
    };
    // In each frame after the one that shows the first of them: later a foot may press again.
    let frame = requestAnimationFrame(() => {
      frame = requestAnimationFrame(more);
    });
    return () => cancelAnimationFrame(frame);
  }, [lines, isInPieces, rows]);
  return drawn;
}

type LineProps = { line: LogLine; top: number; sinceMs: number | null };

/** Whether a row shows the same: each reading of a line makes a new object of it. */
const isSameRow = (a: LineProps, b: LineProps): boolean =>
  a.line.seq === b.line.seq && a.top === b.top && a.sinceMs === b.sinceMs;

/** In the narrow drawer the tape mark says which device it is. */
const shortMeaning = ({ device, means }: LineWords): string =>
  device && means.startsWith(`${device.name} · `) ? means.slice(device.name.length + 3) : means;

/** Time since the line before: `0.96 ms`, `1.20 s`. */
const since = (ms: number | null): string => {
  if (ms === null) return '';
  // What was planned before a note may leave a moment earlier than the note was made.
  const sign = ms < 0 ? '−' : '+';
  const far = Math.abs(ms);
  return far >= 1000 ? `${sign}${(far / 1000).toFixed(2)} s` : `${sign}${far.toFixed(far < 10 ? 2 : 0)} ms`;
};

/** How late a message left, in words, for the hint of its line. */
const lateness = (line: LogLine): string =>
  isMessage(line) && line.lateMs !== null ? ` left ${line.lateMs.toFixed(1)} ms after it was due` : '';

/** A line of words and not of bytes. */
const isTold = (line: LogLine): boolean => !isMessage(line) && line.kind !== 'fault';

function Sign({ line }: { line: LogLine }) {
  if (line.kind === 'fault') return <TriangleAlert size={14} aria-label="broken bytes" />;
  if (line.kind === 'port') return <Usb size={14} aria-label="port" />;
  if (!isMessage(line)) return <span />;
  if (!line.taken) return <CircleSlash size={14} className="text-caution" aria-label="not sent" />;
  const direction = directionOf(line);
  const Arrow = direction === 'inside' ? SIGNS[line.kind] : SIGNS[direction];
  return (
    <Arrow
      size={14}
      className={`${line.kind} ${direction}`}
      aria-label={direction === 'inside' ? `inside, ${line.kind}` : direction}
    />
  );
}

/** A text with its whole self in its title where it may not fit. */
const Text = ({ kind, text, px }: { kind: string; text: string; px: number }) => {
  const clipped = mayOverrun(text, px);
  return (
    <span className={clipped ? `${kind} ${clipped}` : kind} title={clipped ? text : undefined}>
      {text}
    </span>
  );
};

const DrawerLine = memo(function DrawerLine({ line, top, sinceMs }: LineProps) {
  const words = wordsOf(line);
  const told = isTold(line);
  return (
    <li
      className={told ? 'told' : ''}
      style={{ top, height: DRAWER_ROW_PX }}
      title={`${since(sinceMs)} ${words.port}${lateness(line)}`.trim()}
    >
      <time>{minuteOfDay(line.wallMs)}</time>
      {told ? (
        <span className="told-words" title={words.says}>
          {words.says}
        </span>
      ) : (
        <>
          <Text kind="raw" text={words.raw} px={DRAWER_PX.raw} />
          <Sign line={line} />
          {words.device ? <TapeMark mark={words.device.mark} name={words.device.name} /> : <span />}
          <Text kind="says" text={words.says} px={DRAWER_PX.words} />
          <Text
            kind={words.agrees === false ? 'means text-danger' : 'means'}
            text={words.untaken || words.expected || shortMeaning(words) || (words.device?.name ?? '')}
            px={DRAWER_PX.words}
          />
        </>
      )}
    </li>
  );
}, isSameRow);

const WideLine = memo(function WideLine({ line, top, sinceMs }: LineProps) {
  const words = wordsOf(line);
  return (
    <li
      className={isTold(line) ? 'told' : ''}
      style={{ top, height: WIDE_ROW_PX }}
      title={lateness(line).trim() || undefined}
    >
      <time>{minuteOfDay(line.wallMs)}</time>
      <span className="since">{since(sinceMs)}</span>
      <Sign line={line} />
      {words.device ? <TapeMark mark={words.device.mark} name={words.device.name} /> : <span />}
      <Text kind="port-at" text={words.port} px={WIDE_PX.port} />
      <Text kind="says" text={words.says} px={WIDE_PX.words} />
      <span className="means clipped" title={words.means}>
        {words.means}
        {words.agrees === true && <span className="text-ok">, as told</span>}
        {words.expected && <span className="text-danger">, {words.expected}</span>}
        {words.late && <span className="text-caution"> ({words.late})</span>}
        {words.untaken && <span className="text-caution"> ({words.untaken})</span>}
      </span>
      <Text kind="raw" text={words.raw} px={WIDE_PX.raw} />
    </li>
  );
}, isSameRow);
