import type { Song } from '@idle-step/core/show';
import {
  bookCell,
  typedValues,
  type BookColumn,
  type BookLine,
  type SheetState,
} from '@idle-step/core/sheet';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, type KeyboardEvent } from 'react';
import type { CellActs } from '../../../ui/grid/CellInput';
import { TapeMark } from '../../../ui/TapeMark';
import { useSteady } from '../../../ui/hooks/useSteady';
import type { CellGridState } from '../../../ui/grid/useCellGrid';
import { CueCell } from '../sheet/CueCell';
import { isWithin } from '../sheet/inHand';
import { BookNameCell } from './BookNameCell';
import { nth } from '@idle-step/core/sure';

const ROW_PX = 28;
/** Columns that stay while the others go by: song, bpm, scene. */
const NAMES_PX = [132, 52, 92];
const COLUMN_PX = 96;

type Props = {
  label: string;
  lines: readonly BookLine[];
  /** Numbers of the songs in their set, by their identifiers. */
  numbers: ReadonlyMap<string, number | null>;
  columns: readonly BookColumn[];
  sheets: (song: Song) => SheetState;
  /** The cell in hand by its place; −1 where none is. */
  at: { readonly row: number; readonly col: number };
  grid: CellGridState;
  /** Is asked before the cells are. */
  onKey(event: KeyboardEvent): void;
};

/** The book: a row a scene, grouped by song; what a scene sets stands out, what it carries over is quiet. */
export function BookGrid({ label, lines, numbers, columns, sheets, at, grid, onKey }: Props) {
  const room = useRef<HTMLDivElement>(null);
  const table = useRef<HTMLTableElement>(null);
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => room.current,
    estimateSize: () => ROW_PX,
    overscan: 12,
    initialRect: { width: 900, height: 500 },
  });
  const { typing, range } = grid;
  const acts = useSteady({
    pick: grid.pick,
    type: grid.type,
    commit: grid.commit,
    onKey: grid.onKey,
    onTypingKey: grid.onTypingKey,
  });
  useEffect(() => {
    if (at.row >= 0) virtual.scrollToIndex(at.row);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- only where another row comes into hand
  }, [at.row]);
  const items = virtual.getVirtualItems();
  const firstDrawn = items[0]?.index ?? 0;
  useEffect(() => {
    if (at.row < 0 || typing !== null) return;
    const cell = table.current?.querySelector<HTMLElement>('[data-cell="in-hand"]');
    cell?.focus({ preventScroll: true });
    // Names stand over what goes by below them.
    if (at.col >= NAMES_PX.length) cell?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }, [at.row, at.col, typing, firstDrawn]);
  const above = items[0]?.start ?? 0;
  const below = virtual.getTotalSize() - (items.at(-1)?.end ?? 0);
  return (
    <div className="book-room" ref={room}>
      <table
        className="cue-grid book-grid"
        ref={table}
        role="grid"
        aria-label={label}
        aria-multiselectable="true"
        aria-rowcount={lines.length + 1}
        style={{
          minWidth: NAMES_PX.reduce((a, b) => a + b, 0) + (columns.length - NAMES_PX.length) * COLUMN_PX,
        }}
        data-own-keys
        onKeyDownCapture={onKey}
        onCopy={grid.onCopy}
        onCut={grid.onCut}
        onPaste={grid.onPaste}
      >
        <BookHeads columns={columns} />
        <tbody>
          {above > 0 && <tr aria-hidden="true" style={{ height: above }} />}
          {items.map(({ index: row }) => (
            <BookRow
              key={row}
              row={row}
              line={nth(lines, row)}
              number={numbers.get(nth(lines, row).song.id) ?? null}
              columns={columns}
              sheets={sheets}
              at={at}
              grid={{ typing, range }}
              acts={acts}
            />
          ))}
          {below > 0 && <tr aria-hidden="true" style={{ height: below }} />}
        </tbody>
      </table>
    </div>
  );
}

/** The columns by their names, with the mark of the device. */
const BookHeads = ({ columns }: { columns: readonly BookColumn[] }) => (
  <thead>
    <tr>
      {columns.map((column, i) => (
        <th
          key={column.key}
          scope="col"
          className={i < NAMES_PX.length ? `stays s${i}` : ''}
          style={i < NAMES_PX.length ? { width: NAMES_PX[i] } : undefined}
          title={column.title}
        >
          <span className="book-head">
            {column.kind === 'line' && 'device' in column.row && (
              <TapeMark mark={column.row.device.mark} size={14} />
            )}
            <span>{column.kind === 'line' ? column.row.title : column.title}</span>
          </span>
        </th>
      ))}
    </tr>
  </thead>
);

function BookRow({
  row,
  line,
  number,
  columns,
  sheets,
  at,
  grid: { typing, range },
  acts,
}: {
  row: number;
  line: BookLine;
  number: number | null;
  columns: readonly BookColumn[];
  sheets: (song: Song) => SheetState;
  at: Props['at'];
  grid: Pick<CellGridState, 'typing' | 'range'>;
  acts: CellActs;
}) {
  const sheet = sheets(line.song);
  const sceneName = [line.song.name, line.song.scenes[line.sceneIndex]?.name].filter(Boolean).join(', ');
  return (
    <tr className={line.isFirst ? 'device-first' : ''} aria-rowindex={row + 2}>
      {columns.map((column, col) => {
        const isInHand = at.row === row && at.col === col;
        const isTabStop = isInHand || (at.row < 0 && row === 0 && col === 0);
        const isInRange = !isInHand && range !== null && isWithin(range, row, col);
        const cell = bookCell(line, column, sheet);
        const shared = { row, col, isInHand, isInRange, isTabStop, acts, typing: isInHand ? typing : null };
        return column.kind !== 'line' ? (
          <BookNameCell
            key={column.key}
            {...shared}
            title={column.title}
            place={sceneName}
            kind={column.kind}
            text={cell.text}
            number={line.isFirst && column.kind === 'song' ? number : null}
            colour={line.song.scenes[line.sceneIndex]?.colour ?? null}
          />
        ) : (
          <CueCell
            key={column.key}
            {...shared}
            title={column.title}
            said={cell.said}
            goesOn={false}
            glides={false}
            isAtOnce={false}
            sceneIndex={line.sceneIndex}
            sceneName={sceneName}
            colour={'device' in column.row ? column.row.device.mark.colour : 'plain'}
            values={isInHand && typing ? typedValues(column.row) : null}
          />
        );
      })}
    </tr>
  );
}
