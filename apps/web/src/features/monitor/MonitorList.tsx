import { useVirtualizer } from '@tanstack/react-virtual';
import type { World } from '@idle-step/core/engine';
import { ArrowDownLeft, ArrowRightLeft, ArrowUpRight, CircleSlash, TriangleAlert, Usb } from 'lucide-react';
import { memo, useRef } from 'react';
import type { LogLine } from '../../live/monitorLog';
import { TapeMark } from '../../ui/TapeMark';
import { wordsOf, type LineWords } from './lineWords';
import { directionOf, isMessage } from './monitorFilter';

const SIGNS = { in: ArrowDownLeft, out: ArrowUpRight, inside: ArrowRightLeft } as const;
const DRAWER_ROW_PX = 42;
const WIDE_ROW_PX = 26;

type Props = { lines: readonly LogLine[]; world: World; isWide: boolean };

/** Lines, the newest on top; only those in sight are drawn. */
export function MonitorList({ lines, world, isWide }: Props) {
  const scroll = useRef<HTMLOListElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- its functions are called here only
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroll.current,
    estimateSize: () => (isWide ? WIDE_ROW_PX : DRAWER_ROW_PX),
    overscan: 4,
    initialRect: { width: 264, height: 500 },
  });
  return (
    <ol className="messages" aria-label="Messages, newest first" tabIndex={0} ref={scroll}>
      <li className="room" style={{ height: virtual.getTotalSize() }} aria-hidden="true" />
      {virtual.getVirtualItems().map((item) => {
        const at = lines.length - 1 - item.index;
        const line = lines[at]!;
        const Line = isWide ? WideLine : DrawerLine;
        return (
          <Line
            // By place and not by line: new lines then change words in rows that stand, and no row is made.
            key={item.index}
            line={line}
            world={world}
            top={item.start}
            sinceMs={at > 0 ? line.atMs - lines[at - 1]!.atMs : null}
          />
        );
      })}
    </ol>
  );
}

type LineProps = { line: LogLine; world: World; top: number; sinceMs: number | null };

/** Time of day to the millisecond, without the hour: `14:09.904`. */
const clock = (wallMs: number): string => {
  const d = new Date(wallMs);
  const two = (n: number) => String(n).padStart(2, '0');
  return `${two(d.getMinutes())}:${two(d.getSeconds())}.${String(d.getMilliseconds()).padStart(3, '0')}`;
};

/** In the narrow drawer the tape mark says which device it is. */
const shortMeaning = ({ device, means }: LineWords): string =>
  device && means.startsWith(`${device.name} · `) ? means.slice(device.name.length + 3) : means;

/** Time since the line before: `0.96 ms`, `1.20 s`. */
const since = (ms: number | null): string => {
  if (ms === null) return '';
  return ms >= 1000 ? `+${(ms / 1000).toFixed(2)} s` : `+${ms.toFixed(ms < 10 ? 2 : 0)} ms`;
};

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

const DrawerLine = memo(function DrawerLine({ line, world, top, sinceMs }: LineProps) {
  const words = wordsOf(line, world);
  const told = isTold(line);
  return (
    <li
      className={told ? 'told' : ''}
      style={{ top, height: DRAWER_ROW_PX }}
      title={`${since(sinceMs)} ${words.port}`.trim()}
    >
      <time>{clock(line.wallMs)}</time>
      {told ? (
        <span className="told-words" title={words.says}>
          {words.says}
        </span>
      ) : (
        <>
          <span className="raw" title={words.raw}>
            {words.raw}
          </span>
          <Sign line={line} />
          {words.device ? <TapeMark mark={words.device.mark} name={words.device.name} /> : <span />}
          <span className="says">{words.says}</span>
          <span className={`means ${words.agrees === false ? 'text-danger' : ''}`}>
            {words.untaken || words.expected || shortMeaning(words) || words.device?.name}
          </span>
        </>
      )}
    </li>
  );
});

const WideLine = memo(function WideLine({ line, world, top, sinceMs }: LineProps) {
  const words = wordsOf(line, world);
  return (
    <li className={isTold(line) ? 'told' : ''} style={{ top, height: WIDE_ROW_PX }}>
      <time>{clock(line.wallMs)}</time>
      <span className="since">{since(sinceMs)}</span>
      <Sign line={line} />
      {words.device ? <TapeMark mark={words.device.mark} name={words.device.name} /> : <span />}
      <span className="port-at" title={words.port}>
        {words.port}
      </span>
      <span className="says" title={words.says}>
        {words.says}
      </span>
      <span className="means" title={words.means}>
        {words.means}
        {words.agrees === true && <span className="text-ok">, as told</span>}
        {words.expected && <span className="text-danger">, {words.expected}</span>}
        {words.untaken && <span className="text-caution"> ({words.untaken})</span>}
      </span>
      <span className="raw" title={words.raw}>
        {words.raw}
      </span>
    </li>
  );
});
