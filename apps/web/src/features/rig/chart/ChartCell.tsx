import type { Device } from '@idle-step/core/gear';
import { cellOptions } from './gridColumns';

import type { ChartColumn } from '@idle-step/core/formats';
import { Lock } from 'lucide-react';
import { useEffect, useId, useRef, type KeyboardEvent } from 'react';
import type { FunctionDoc } from '../../../words/chartWords';
import { OfferedValues } from '../../../ui/grid/OfferedValues';
import { mayOverrun } from '../../../ui/mayOverrun';
import { NEW_ROW, type ChartGridState } from './useChartGrid';

/** Of a cell, left and right. */
const PADDING_PX = 16;

type Props = {
  device: Device;
  fn: FunctionDoc | undefined;
  column: ChartColumn;
  /** Width of its column. */
  px: number;
  text: string;
  row: number;
  col: number;
  grid: ChartGridState;
};

/** One cell: it has the focus, is being typed in, or shows what is written. */
export function ChartCell({ device, fn, column, px, text, row, col, grid }: Props) {
  const cell = useRef<HTMLTableCellElement>(null);
  const id = fn?.id ?? NEW_ROW;
  const error = grid.errorAt(id, column);
  const isFocused = grid.focus.row === row && grid.focus.col === col;
  const isEditing = grid.editing?.id === id && grid.editing.column === column;
  useEffect(() => {
    if (isFocused && !isEditing && grid.holdsFocus.current) cell.current?.focus({ preventScroll: false });
  }, [isFocused, isEditing, grid]);
  const shown = error?.typed ?? text;
  return (
    <td
      ref={cell}
      role="gridcell"
      className={`chart-cell c-${column} ${isEditing ? '' : mayOverrun(shown, px - PADDING_PX)} ${error ? 'bad' : ''}`}
      tabIndex={isFocused ? 0 : -1}
      aria-selected={isFocused}
      aria-invalid={error !== null}
      title={error?.sentence ?? (shown.length > 12 ? shown : undefined)}
      onFocus={(e) => e.target === cell.current && grid.focusOn(row, col)}
      onBlur={grid.leave}
      onMouseDown={(e) => grid.press(row, e.shiftKey)}
      onDoubleClick={() => grid.startEdit(row, col, null)}
      onKeyDown={(e) => !isEditing && grid.onKey(e, row, col)}
    >
      {isEditing ? (
        <Editor device={device} fn={fn} column={column} grid={grid} />
      ) : column === 'name' && !fn && shown === '' ? (
        <span className="muted">new function …</span>
      ) : column === 'reserved' && shown === 'yes' ? (
        <span className="kept">
          <Lock size={12} aria-hidden="true" /> yes
        </span>
      ) : (
        shown
      )}
    </td>
  );
}

function Editor({ device, fn, column, grid }: Pick<Props, 'device' | 'fn' | 'column' | 'grid'>) {
  const input = useRef<HTMLInputElement & HTMLSelectElement>(null);
  const listId = useId();
  useEffect(() => {
    input.current?.focus();
    if (grid.editing?.isWhole && input.current instanceof HTMLInputElement) input.current.select();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- only when the editor opens
  }, []);
  const label = `${column} of ${fn?.name ?? 'a new function'}`;
  const shared = {
    ref: input,
    'aria-label': label,
    className: 'cell-input',
    value: grid.editing?.text ?? '',
    onBlur: () => grid.commit('stay'),
    onKeyDown: (e: KeyboardEvent) => grid.onEditKey(e),
  };
  const options = cellOptions(device, fn, column);
  if (options)
    return (
      <select {...shared} onChange={(e) => grid.type(e.target.value)}>
        {options.map((o) => (
          <option key={o} value={o}>
            {o === '' ? (column === 'under' ? 'always' : 'no') : o}
          </option>
        ))}
      </select>
    );
  const suggestions = grid.suggestions(column);
  return (
    <>
      <input
        {...shared}
        autoComplete="off"
        {...(suggestions.length > 0 ? { list: listId } : {})}
        onChange={(e) => grid.type(e.target.value)}
      />
      {suggestions.length > 0 && <OfferedValues id={listId} values={suggestions} />}
    </>
  );
}
