import type { ReactNode } from 'react';
import { CellInput, type CellActs } from './CellInput';
import { Corners } from '../Corners';
import type { Typing } from './useCellGrid';

/** Where a cell of a table stands, and how it is held. */
export type GridCellPlace = {
  readonly row: number;
  readonly col: number;
  readonly isInHand: boolean;
  readonly isInRange: boolean;
  readonly isTabStop: boolean;
  readonly typing: Typing | null;
  /** Stays the same from drawing to drawing. */
  readonly acts: CellActs;
};

/** A cell of a table that is worked in as in a spreadsheet: taken in hand, opened, typed into. */
export function GridCell({
  row,
  col,
  isInHand,
  isInRange,
  isTabStop,
  typing,
  acts,
  label,
  text,
  values,
  className,
  children,
}: GridCellPlace & {
  /** What it says of itself when it is read out. */
  label: string;
  /** What it opens with. */
  text: string;
  /** What may be typed here. */
  values: readonly string[];
  className: string;
  /** What it shows while nothing is typed. */
  children: ReactNode;
}) {
  return (
    <td
      className={`${className} ${isInHand ? 'framed' : ''} ${isInRange ? 'in-range' : ''}`}
      role="gridcell"
      aria-selected={isInHand || isInRange}
      aria-label={label}
      tabIndex={isTabStop ? 0 : -1}
      data-cell={isInHand ? 'in-hand' : undefined}
      onMouseDown={(e) => {
        if (!typing) acts.pick(row, col, e.shiftKey);
      }}
      onDoubleClick={() => acts.type(text)}
      onFocus={(e) => {
        if (!isInHand && e.target === e.currentTarget) acts.pick(row, col, false);
      }}
      onKeyDown={(e) => !typing && acts.onKey(e, row, col)}
    >
      {isInHand && <Corners />}
      {typing ? <CellInput label={label} typing={typing} values={values} acts={acts} /> : children}
    </td>
  );
}
