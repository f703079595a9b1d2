import type { Song } from '@idle-step/core/show';
import { useEffect, useRef, type ClipboardEvent, type KeyboardEvent } from 'react';
import { useEdit } from '../../../drafts/useDocs';
import { useStateOf } from '../../../ui/useStateOf';
import { gridDeed, LEAVE_STEPS, onTypingKey, rangeBetween } from '../../../ui/gridKeys';
import {
  copiedCells,
  cueCell,
  withFilledRight,
  withoutCell,
  withoutCells,
  withPasted,
  withTyped,
  type CueRange,
  type CueRow,
  type SheetState,
} from '@idle-step/core/sheet';
import type { InHand } from './inHand';

export type Typing = { readonly text: string; readonly error: string | null };

type Wanted = {
  song: Song;
  rows: readonly CueRow[];
  sheet: SheetState;
  inHand: InHand;
  onPick(inHand: InHand): void;
};

export type CueGridState = {
  readonly typing: Typing | null;
  /** What was refused last, where nothing is being typed. */
  readonly sentence: string | null;
  /** The cell in hand, or all between it and where the range began. */
  readonly range: CueRange | null;
  pick(row: number, sceneIndex: number, extends_: boolean): void;
  type(text: string): void;
  /** Takes what is typed. @returns whether it could be taken. */
  commit(text: string): boolean;
  onKey(event: KeyboardEvent, row: number, sceneIndex: number): void;
  onTypingKey(event: KeyboardEvent, row: number, sceneIndex: number): void;
  onCopy(event: ClipboardEvent): void;
  onCut(event: ClipboardEvent): void;
  onPaste(event: ClipboardEvent): void;
  fillRight(): void;
};

/** What begins a value, a name or “-”. */
const TYPED = /^[\p{L}\p{N}-]$/u;

/** The keyboard, the range and the clipboard of the cue sheet. */
export function useCueGrid({ song, rows, sheet, inHand, onPick }: Wanted): CueGridState {
  const edit = useEdit('songs');
  const [typing, setTypingState] = useStateOf<Typing | null>(song.id, null);
  /** The same at once: Enter and leaving the field would both take it. */
  const open = useRef<Typing | null>(null);
  const setTyping = (next: Typing | null) => {
    open.current = next;
    setTypingState(next);
  };
  const [anchor, setAnchor] = useStateOf<{ row: number; sceneIndex: number } | null>(song.id, null);
  const [sentence, setSentence] = useStateOf<string | null>(song.id, null);
  const at =
    inHand?.kind === 'cell'
      ? { row: rows.findIndex((r) => r.key === inHand.rowKey), sceneIndex: inHand.sceneIndex }
      : null;
  const from = anchor ?? at;
  // A line or a scene may have gone since, by undo or in another window.
  const [lastRow, lastScene] = [rows.length - 1, song.scenes.length - 1];
  const inSheet = ({ row, sceneIndex }: { row: number; sceneIndex: number }) => ({
    row: Math.min(lastRow, row),
    col: Math.min(lastScene, sceneIndex),
  });
  const range: CueRange | null =
    at && from && at.row >= 0 && at.sceneIndex <= lastScene ? rangeBetween(inSheet(from), inSheet(at)) : null;
  const take = (label: string, next: Song | string): boolean => {
    setSentence(typeof next === 'string' ? next : null);
    if (typeof next === 'string') return false;
    if (next !== song) edit(song.id, label, () => next);
    return true;
  };
  const moveTo = (row: number, sceneIndex: number, extends_: boolean) => {
    setAnchor(extends_ ? (anchor ?? at) : null);
    setTyping(null);
    const key = rows[Math.min(rows.length - 1, Math.max(0, row))]?.key;
    if (key === undefined) return;
    const inSong = Math.min(song.scenes.length - 1, Math.max(0, sceneIndex));
    onPick({ kind: 'cell', rowKey: key, sceneIndex: inSong });
  };
  const line = at ? rows[at.row] : undefined;
  const commit = (text: string): boolean => {
    if (!open.current || !at || !line) return true;
    const next = withTyped(song, line, at.sceneIndex, text);
    if (typeof next === 'string') {
      setTyping({ text, error: next });
      return false;
    }
    setTyping(null);
    return take(`set ${line.title}`, next);
  };
  const latest = useRef({ song, line, at, edit });
  useEffect(() => {
    latest.current = { song, line, at, edit };
  });
  // A foot may open another song, or another place, while something is being typed: it is taken as it stands.
  useEffect(
    () => () => {
      const { song: left, line: row, at: cell, edit: change } = latest.current;
      const typed = open.current;
      open.current = null;
      if (!typed || !row || !cell) return;
      const next = withTyped(left, row, cell.sceneIndex, typed.text);
      if (typeof next !== 'string' && next !== left) change(left.id, `set ${row.title}`, () => next);
    },
    [song.id],
  );
  const fillRight = () => {
    if (range && range.right > range.left)
      take('fill to the right', withFilledRight(song, rows, sheet, range));
  };
  const copy = (event: ClipboardEvent): boolean => {
    if (typing || !range) return false;
    event.preventDefault();
    event.clipboardData.setData('text/plain', copiedCells(song, rows, sheet, range));
    return true;
  };
  return {
    typing,
    sentence,
    range,
    // What is being typed in another cell is taken first; where it is refused, it stays in hand.
    pick: (row, sceneIndex, extends_) => {
      if (open.current === null || commit(open.current.text)) moveTo(row, sceneIndex, extends_);
    },
    type: (text) => setTyping({ text, error: null }),
    commit,
    fillRight,
    onKey: (event, row, sceneIndex) => {
      if (event.altKey && !event.ctrlKey && !event.metaKey && event.key.toLowerCase() === 'r') {
        event.preventDefault();
        fillRight();
        return;
      }
      const deed = gridDeed(event, song.scenes.length, TYPED);
      if (deed?.kind === 'all') {
        event.preventDefault();
        moveTo(lastRow, lastScene, false);
        setAnchor({ row: 0, sceneIndex: 0 });
      }
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      const move = (down: number, across: number, extends_ = false) => {
        event.preventDefault();
        moveTo(row + down, sceneIndex + across, extends_);
      };
      const line = rows[row]!;
      if (deed?.kind === 'move') move(deed.by[0], deed.by[1], deed.isExtending);
      else if (event.key === 'Tab' && canGo(event.shiftKey ? -1 : 1, row, sceneIndex)) {
        const next = sceneIndex + (event.shiftKey ? -1 : 1);
        const wraps = next < 0 || next >= song.scenes.length;
        if (!wraps) move(0, event.shiftKey ? -1 : 1);
        else move(event.shiftKey ? -1 : 1, event.shiftKey ? song.scenes.length : -song.scenes.length);
      } else if (deed?.kind === 'clear' || deed?.kind === 'take-out') {
        event.preventDefault();
        const isOne = !range || (range.top === range.bottom && range.left === range.right);
        take(
          isOne ? `carry ${line.title} over` : 'clear cells',
          isOne ? withoutCell(song, line, sceneIndex) : withoutCells(song, rows, range),
        );
      } else if (event.key === 'Escape' && anchor) {
        event.preventDefault();
        setAnchor(null);
      } else if (deed?.kind === 'open') {
        event.preventDefault();
        const text = deed.text ?? cueCell(line, song, sheet, sceneIndex)?.text ?? '';
        setTyping({ text, error: null });
      }
    },
    onTypingKey: (event, row, sceneIndex) =>
      onTypingKey(
        event,
        (to) => {
          if (!commit(open.current?.text ?? '')) return;
          const [down, across] = LEAVE_STEPS[to];
          moveTo(row + down, sceneIndex + across, false);
        },
        () => setTyping(null),
      ),
    onCopy: copy,
    onCut: (event) => {
      if (copy(event) && range) take('cut cells', withoutCells(song, rows, range));
    },
    onPaste: (event) => {
      if (typing || !range) return;
      event.preventDefault();
      const pasted = withPasted(song, rows, range, event.clipboardData.getData('text/plain'));
      if (!take('paste cells', typeof pasted === 'string' ? pasted : pasted.song)) return;
      if (typeof pasted === 'string') return;
      setAnchor({ row: pasted.range.top, sceneIndex: pasted.range.left });
      onPick({ kind: 'cell', rowKey: rows[pasted.range.bottom]!.key, sceneIndex: pasted.range.right });
    },
  };

  /** Tab leaves the sheet at its ends. */
  function canGo(by: 1 | -1, row: number, sceneIndex: number): boolean {
    return by > 0 ? row < rows.length - 1 || sceneIndex < song.scenes.length - 1 : row > 0 || sceneIndex > 0;
  }
}
