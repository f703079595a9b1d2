import type { Preset, Assignment, Board } from '@idle-step/core/floor';
import type { World } from '@idle-step/core/engine';
import { OfferedValues } from '../../../ui/grid/OfferedValues';
import { useScrolledAside } from '../../../ui/hooks/useScrolledAside';
import { memo, useEffect, useId, useMemo, useRef, useState } from 'react';
import { cellWords, isHere, type TableColumn, type TableRow } from './tableCells';
import type { TableState } from './useTable';
import { nth } from '@idle-step/core/sure';

type Props = {
  world: World;
  board: Board;
  preset: Preset;
  rows: readonly TableRow[];
  columns: readonly TableColumn[];
  table: TableState;
};

const LIST_WORDS = {
  press: 'press',
  release: 'release',
  hold: 'hold',
  doublePress: 'double',
  toe: 'toe',
  heel: 'heel',
  sweeps: 'moves',
} as const;

/** A preset as a table: a line for each control and gesture, a column for each bank and page. */
export function TableGrid({ world, board, preset, rows, columns, table }: Props) {
  const scroll = useRef<HTMLDivElement>(null);
  useScrolledAside(scroll);
  const maps = useMemo(
    () => columns.map(({ page }) => new Map(page.assignments.map((a) => [a.controlId, a]))),
    [columns],
  );
  const { row, col } = table.focus;
  const { holdsFocus, typing } = table;
  useEffect(() => {
    if (!holdsFocus.current || typing) return;
    scroll.current?.querySelector<HTMLElement>(`[data-cell="${row}/${col}"]`)?.focus();
  }, [row, col, typing, holdsFocus]);
  const spotOf = (target: EventTarget) => {
    const at = cellOf(target)?.dataset['cell']?.split('/');
    return at ? { row: Number(at[0]), col: Number(at[1]) } : null;
  };
  return (
    <div className="preset-scroll" ref={scroll} data-own-keys>
      <table
        className="preset-grid"
        role="grid"
        aria-label={`Everything that ${preset.name} tells each control`}
        aria-rowcount={rows.length + 1}
        aria-multiselectable="true"
        onCopy={table.onCopy}
        onCut={table.onCut}
        onPaste={table.onPaste}
        onPointerDown={(e) => {
          const spot = spotOf(e.target);
          if (!spot || e.button !== 0 || e.target instanceof HTMLInputElement) return;
          e.preventDefault();
          table.press(spot, e.shiftKey);
          cellOf(e.target)?.focus({ preventScroll: true });
        }}
        onPointerOver={(e) => {
          const spot = spotOf(e.target);
          if (spot && e.buttons === 1) table.drag(spot);
        }}
        onPointerUp={table.lift}
        onDoubleClick={(e) => {
          const spot = spotOf(e.target);
          if (spot && !table.typing) table.open(spot.row, spot.col);
        }}
        onKeyDown={(e) => {
          const spot = spotOf(e.target);
          if (spot && !table.typing) table.onKey(e, spot.row, spot.col);
        }}
        onFocus={(e) => {
          const spot = spotOf(e.target);
          if (spot && e.target.tagName !== 'INPUT') table.focusOn(spot);
        }}
        onBlur={(e) => {
          if (!e.currentTarget.contains(e.relatedTarget)) table.leave();
        }}
      >
        <thead>
          <tr>
            <th scope="col">Control</th>
            {columns.map((c) => (
              <th key={c.page.id} scope="col" title={c.page.remark || c.title}>
                {c.title}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((r, i) => {
            const inRange = i >= table.range.top && i <= table.range.bottom;
            return (
              <GridRow
                key={`${r.control.id}/${r.list}`}
                world={world}
                board={board}
                preset={preset}
                row={r}
                index={i}
                columns={columns}
                maps={maps}
                isFirst={i === 0 || nth(rows, i - 1).control !== r.control}
                left={inRange ? table.range.left : -1}
                right={inRange ? table.range.right : -1}
                focusCol={table.focus.row === i ? table.focus.col : -1}
                table={table.typing && table.focus.row === i ? table : null}
              />
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

type RowProps = {
  world: World;
  board: Board;
  preset: Preset;
  row: TableRow;
  index: number;
  columns: readonly TableColumn[];
  maps: readonly ReadonlyMap<string, Assignment>[];
  isFirst: boolean;
  left: number;
  right: number;
  focusCol: number;
  /** Given to the line that is edited only, so that the others stand still meanwhile. */
  table: TableState | null;
};

const GridRow = memo(function GridRow(props: RowProps) {
  const { world, preset, row, index, columns, maps, isFirst, left, right, focusCol, table } = props;
  return (
    <tr className={isFirst ? 'first' : ''} aria-rowindex={index + 2}>
      <th scope="row">
        <span className="control-name">{isFirst ? row.control.name : ''}</span>
        <span className="list-name">{LIST_WORDS[row.list]}</span>
      </th>
      {columns.map((column, c) => {
        const assignment = nth(maps, c).get(row.control.id);
        const here = isHere(preset, row.control.id, column);
        const text = here ? cellWords(world, assignment, row.list) : '';
        const isEdited = table?.focus.col === c;
        return (
          <td
            key={column.page.id}
            role="gridcell"
            data-cell={`${index}/${c}`}
            tabIndex={focusCol === c ? 0 : -1}
            aria-selected={c >= left && c <= right}
            aria-label={`${row.control.name}, ${LIST_WORDS[row.list]}, ${column.title}: ${here ? text || 'nothing' : 'told elsewhere'}`}
            className={here ? '' : 'elsewhere'}
            title={text}
          >
            {isEdited && table ? <CellInput table={table} name={row.control.name} /> : text}
          </td>
        );
      })}
    </tr>
  );
});

function CellInput({ table, name }: { table: TableState; name: string }) {
  const input = useRef<HTMLInputElement>(null);
  const listId = useId();
  const [offered] = useState(() => table.suggestions());
  const isWhole = table.typing?.isWhole ?? false;
  useEffect(() => {
    input.current?.focus();
    if (isWhole) input.current?.select();
  }, [isWhole]);
  return (
    <>
      <input
        ref={input}
        className="cell-input"
        aria-label={`What ${name} sends`}
        aria-invalid={Boolean(table.typing?.error)}
        autoComplete="off"
        list={listId}
        value={table.typing?.text ?? ''}
        onChange={(e) => table.type(e.target.value)}
        onBlur={(e) => table.commit(e.target.value)}
        onKeyDown={table.onTypingKey}
      />
      <OfferedValues id={listId} values={offered} />
    </>
  );
}

const cellOf = (target: EventTarget): HTMLElement | null =>
  target instanceof Element ? target.closest<HTMLElement>('[data-cell]') : null;
