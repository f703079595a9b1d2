import { useEffect, useRef, type ClipboardEvent, type KeyboardEvent } from 'react';
import {
  gridDeed,
  LEAVE_STEPS,
  onTypingKey,
  rangeBetween,
  tabTo,
  type GridDeed,
  type GridRange,
} from './gridKeys';
import { useStateOf } from '../hooks/useStateOf';

export type Typing = {
  readonly text: string;
  readonly error: string | null;
  /** What stood there is typed over by the first letter, as when Enter opens the cell. */
  readonly isWhole: boolean;
};

/** A cell by its place, from 0. */
export type CellPlace = { readonly row: number; readonly col: number };

/** What a table of cells says of itself, and what becomes of what is done in it. */
export type CellGrid = {
  /** What the table shows, by an identifier: for another thing nothing is in hand or typed. */
  readonly of: string;
  readonly rowCount: number;
  readonly colCount: number;
  readonly at: CellPlace | null;
  /** Which characters begin a cell. */
  readonly typed: RegExp;
  /** The letter that fills with Alt; none where nothing is filled so. */
  readonly fillKey?: string;
  onMove(to: CellPlace): void;
  /** What a cell opens with. */
  textAt(at: CellPlace): string;
  /** Takes what was typed. @returns why it was refused, or `null`. */
  take(at: CellPlace, text: string): string | null;
  clear(range: GridRange): void;
  fill?(range: GridRange): void;
  copied(range: GridRange): string;
  /** Takes what was copied elsewhere. @returns the cells it went into, or why it was refused. */
  paste(range: GridRange, text: string): GridRange | string;
};

export type CellGridState = {
  readonly typing: Typing | null;
  /** What was refused last, where nothing is being typed. */
  readonly sentence: string | null;
  /** The cell in hand, or all between it and where the range began. */
  readonly range: GridRange | null;
  pick(row: number, col: number, extends_: boolean): void;
  /** Opens a cell with what stands in it. */
  open(row: number, col: number): void;
  type(text: string): void;
  /** Takes what is typed. @returns whether it could be taken. */
  commit(text: string): boolean;
  onKey(event: KeyboardEvent, row: number, col: number): void;
  onTypingKey(event: KeyboardEvent): void;
  onCopy(event: ClipboardEvent): void;
  onCut(event: ClipboardEvent): void;
  onPaste(event: ClipboardEvent): void;
  fill(): void;
};

/** The keyboard, the range and the clipboard of a table of cells, as in a spreadsheet. */
export function useCellGrid(grid: CellGrid): CellGridState {
  const { of, at, rowCount, colCount } = grid;
  const { typing, open, setTyping, sentence, setSentence, commit } = useTypedCell(grid);
  const [anchor, setAnchor] = useStateOf<CellPlace | null>(of, null);
  // A row or a column may have gone since, by undo or in another window.
  const within = ({ row, col }: CellPlace): CellPlace => ({
    row: Math.min(rowCount - 1, Math.max(0, row)),
    col: Math.min(colCount - 1, Math.max(0, col)),
  });
  const isThere = at !== null && at.row >= 0 && at.row < rowCount && at.col < colCount;
  const range = isThere ? rangeBetween(within(anchor ?? at), within(at)) : null;
  const moveTo = (row: number, col: number, extends_: boolean) => {
    setAnchor(extends_ ? (anchor ?? at) : null);
    setTyping(null);
    if (rowCount > 0 && colCount > 0) grid.onMove(within({ row, col }));
  };
  const openAt = (row: number, col: number, text: string | null) => {
    if (at?.row !== row || at.col !== col) moveTo(row, col, false);
    setTyping({ text: text ?? grid.textAt({ row, col }), error: null, isWhole: text === null });
  };
  const fill = () => {
    if (range && (range.right > range.left || range.bottom > range.top)) grid.fill?.(range);
  };
  const copy = (event: ClipboardEvent): boolean => {
    if (typing || !range) return false;
    event.preventDefault();
    event.clipboardData.setData('text/plain', grid.copied(range));
    return true;
  };
  const doDeed = (deed: GridDeed, row: number, col: number) => {
    switch (deed.kind) {
      case 'all':
        moveTo(rowCount - 1, colCount - 1, false);
        setAnchor({ row: 0, col: 0 });
        return;
      case 'move':
        moveTo(row + deed.by[0], col + deed.by[1], deed.isExtending);
        return;
      case 'clear':
      case 'take-out':
        setSentence(null);
        grid.clear(range ?? rangeBetween({ row, col }, { row, col }));
        return;
      case 'open':
        openAt(row, col, deed.text);
    }
  };
  return {
    typing,
    sentence,
    range,
    // What is being typed in another cell is taken first; where it is refused, it stays in hand.
    pick: (row, col, extends_) => {
      if (open.current === null || commit(open.current.text)) moveTo(row, col, extends_);
    },
    open: (row, col) => openAt(row, col, null),
    type: (text) => setTyping({ text, error: null, isWhole: open.current?.isWhole ?? false }),
    commit,
    fill,
    onKey: (event, row, col) => {
      const isFill = event.altKey && !event.ctrlKey && !event.metaKey;
      if (isFill && event.key.toLowerCase() === grid.fillKey) {
        event.preventDefault();
        fill();
        return;
      }
      const deed = gridDeed(event, colCount, grid.typed);
      const isPlain = !event.ctrlKey && !event.metaKey && !event.altKey;
      const next =
        isPlain && event.key === 'Tab' ? tabTo({ row, col }, event.shiftKey, rowCount, colCount) : null;
      if (deed) {
        event.preventDefault();
        doDeed(deed, row, col);
      } else if (next) {
        event.preventDefault();
        moveTo(next.row, next.col, false);
      } else if (isPlain && event.key === 'Escape' && anchor) {
        event.preventDefault();
        setAnchor(null);
      }
    },
    onTypingKey: (event) =>
      onTypingKey(
        event,
        (to) => {
          const from = at;
          if (!from || !commit(open.current?.text ?? '')) return;
          const [down, across] = LEAVE_STEPS[to];
          moveTo(from.row + down, from.col + across, false);
        },
        () => setTyping(null),
      ),
    onCopy: (event) => void copy(event),
    onCut: (event) => {
      if (copy(event) && range) grid.clear(range);
    },
    onPaste: (event) => {
      if (typing || !range) return;
      event.preventDefault();
      event.stopPropagation();
      const pasted = grid.paste(range, event.clipboardData.getData('text/plain'));
      setSentence(typeof pasted === 'string' ? pasted : null);
      if (typeof pasted === 'string') return;
      setAnchor({ row: pasted.top, col: pasted.left });
      grid.onMove({ row: pasted.bottom, col: pasted.right });
    },
  };
}

/** The cell in which something is typed; what stands in it when another thing is shown is taken as it stands. */
function useTypedCell(grid: CellGrid) {
  const { of, at } = grid;
  const [typing, setTypingState] = useStateOf<Typing | null>(of, null);
  const [sentence, setSentence] = useStateOf<string | null>(of, null);
  /** The same at once: Enter and leaving the field would both take it. */
  const open = useRef<Typing | null>(null);
  const setTyping = (next: Typing | null) => {
    open.current = next;
    setTypingState(next);
  };
  const commit = (text: string): boolean => {
    if (!open.current || !at) return true;
    const refused = grid.take(at, text);
    setTyping(refused === null ? null : { text, error: refused, isWhole: false });
    if (refused === null) setSentence(null);
    return refused === null;
  };
  const latest = useRef(grid);
  useEffect(() => {
    latest.current = grid;
  });
  // A foot may open another song, or another place, while something is being typed.
  useEffect(
    () => () => {
      const typed = open.current;
      const left = latest.current;
      open.current = null;
      if (typed && left.at) left.take(left.at, typed.text);
    },
    [of],
  );
  return { typing, open, setTyping, sentence, setSentence, commit };
}
