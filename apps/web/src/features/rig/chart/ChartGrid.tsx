import type { FullRig } from '@idle-step/core/routing';
import { type Device, chartDoubles, isInForce, keepsNumber } from '@idle-step/core/gear';
import { cellsOf } from '@idle-step/core/formats';
import { useVirtualizer } from '@tanstack/react-virtual';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { Fragment, useEffect, useMemo, useRef, type ReactNode } from 'react';
import { useScrolledAside } from '../../../ui/hooks/useScrolledAside';
import { mayOverrun } from '../../../ui/mayOverrun';
import { ChartCell } from './ChartCell';
import type { FunctionDoc } from '../../../words/chartWords';
import { NEW_ROW, type ChartGridState } from './useChartGrid';

const BYTES_PX = 150;
const ROW_PX = 32;

type Props = { rig: FullRig; device: Device; grid: ChartGridState };

/** An implementation chart as a table to work in: arrows move, typing edits, rows are pasted from a spreadsheet. */
export function ChartGrid({ rig, device, grid }: Props) {
  const scroll = useRef<HTMLDivElement>(null);
  useScrolledAside(scroll);
  const doubles = useMemo(() => chartDoubles(device), [device]);
  const { rows, columns } = grid;
  const virtual = useVirtualizer({
    count: rows.length + 1,
    getScrollElement: () => scroll.current,
    estimateSize: () => ROW_PX,
    overscan: 12,
    initialRect: { width: 900, height: 400 },
  });
  const items = virtual.getVirtualItems();
  const above = items[0]?.start ?? 0;
  const below = virtual.getTotalSize() - (items.at(-1)?.end ?? 0);
  useEffect(() => virtual.scrollToIndex(grid.focus.row), [virtual, grid.focus.row]);
  const widthPx = columns.reduce((sum, c) => sum + c.px, BYTES_PX);
  return (
    <div className="chart-scroll" ref={scroll}>
      <table
        className="chart-grid"
        role="grid"
        aria-label={`Implementation chart of ${device.name}`}
        aria-rowcount={rows.length + 2}
        style={{ width: widthPx }}
        onPaste={grid.onPaste}
        onCopy={grid.onCopy}
      >
        <colgroup>
          {columns.map((c, i) => (
            <Fragment key={c.column}>
              <col style={{ width: c.px }} />
              {i === 0 && <col style={{ width: BYTES_PX }} />}
            </Fragment>
          ))}
        </colgroup>
        <thead>
          <tr>
            {columns.map(({ column, title, hint }, i) => (
              <Fragment key={column}>
                <th
                  scope="col"
                  title={hint}
                  aria-sort={
                    grid.sort?.column !== column ? 'none' : grid.sort.isDown ? 'descending' : 'ascending'
                  }
                >
                  <button type="button" className="sort" onClick={() => grid.sortBy(column)}>
                    {title}
                    {grid.sort?.column === column &&
                      (grid.sort.isDown ? (
                        <ArrowDown size={12} aria-hidden="true" />
                      ) : (
                        <ArrowUp size={12} aria-hidden="true" />
                      ))}
                  </button>
                </th>
                {i === 0 && (
                  <th scope="col" title="The exact bytes of its highest value">
                    Highest, in bytes
                  </th>
                )}
              </Fragment>
            ))}
          </tr>
        </thead>
        <tbody>
          {above > 0 && <Gap px={above} columns={columns.length} />}
          {items.map(({ index }) => {
            const fn = rows[index];
            const twins = fn && doubles.get(fn.id);
            return (
              <Row
                key={fn?.id ?? NEW_ROW}
                rig={rig}
                device={device}
                fn={fn}
                index={index}
                grid={grid}
                warnings={[
                  ...(twins
                    ? [`Cannot be told apart from ${twins.map((t) => t.name).join(', ')}: the same message.`]
                    : []),
                  ...(fn && !fn.reserved && isKept(device, fn)
                    ? [`${device.name} keeps this number for its own hardware, so it may not answer to it.`]
                    : []),
                ]}
              />
            );
          })}
          {below > 0 && <Gap px={below} columns={columns.length} />}
        </tbody>
      </table>
    </div>
  );
}

const isKept = (device: Device, { drive }: FunctionDoc): boolean =>
  drive.kind === 'controller' && keepsNumber(device, drive.controller);

const Bytes = ({ bytes }: { bytes: string }) => (
  <td className={`bytes muted ${mayOverrun(bytes, BYTES_PX - 16)}`} role="gridcell" title={bytes}>
    {bytes}
  </td>
);

const Gap = ({ px, columns }: { px: number; columns: number }) => (
  <tr aria-hidden="true">
    <td colSpan={columns + 1} style={{ height: px, padding: 0, border: 0 }} />
  </tr>
);

function Row({
  rig,
  device,
  fn,
  index,
  grid,
  warnings,
}: Props & { fn: FunctionDoc | undefined; index: number; warnings: readonly string[] }) {
  const cells = fn ? cellsOf(fn, rig.middleC) : null;
  const errors = grid.columns.flatMap(({ column }) => grid.errorAt(fn?.id ?? NEW_ROW, column) ?? []);
  const told: ReactNode[] = [
    ...errors.map((e) => (
      <span key={e.column} className="field-error" role="alert">
        {e.sentence}
      </span>
    )),
    ...warnings.map((warning) => (
      <span key={warning} className="row-warning">
        {warning}
      </span>
    )),
  ];
  const classes = [
    grid.isInRange(index) ? 'in-range' : '',
    fn && !isInForce(device, fn) ? 'not-now' : '',
    fn ? '' : 'new-row',
  ].join(' ');
  return (
    <>
      <tr className={classes} aria-rowindex={index + 2}>
        {grid.columns.map(({ column, px }, col) => (
          <Fragment key={column}>
            <ChartCell
              device={device}
              fn={fn}
              column={column}
              px={px}
              text={cells?.[column] ?? ''}
              row={index}
              col={col}
              grid={grid}
            />
            {col === 0 && <Bytes bytes={fn ? grid.bytesOf(fn) : ''} />}
          </Fragment>
        ))}
      </tr>
      {told.length > 0 && (
        <tr className="told-row">
          <td colSpan={grid.columns.length + 1}>
            <span className="told">{told}</span>
          </td>
        </tr>
      )}
    </>
  );
}
