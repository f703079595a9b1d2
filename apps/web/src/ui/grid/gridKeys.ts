import type { CueRange } from '@idle-step/core/sheet';
import type { KeyboardEvent } from 'react';

/** What a table of cells reads of a key. */
export type GridKey = {
  readonly key: string;
  readonly shiftKey: boolean;
  readonly ctrlKey: boolean;
  readonly metaKey: boolean;
  readonly altKey: boolean;
};

/** Lines down and columns to the right. */
export type GridStep = readonly [down: number, across: number];

/** Where what was typed in a cell is left to. */
export type Leave = 'stay' | 'down' | 'up' | 'right' | 'left';
export const LEAVE_STEPS: Readonly<Record<Leave, GridStep>> = {
  stay: [0, 0],
  down: [1, 0],
  up: [-1, 0],
  right: [0, 1],
  left: [0, -1],
};

export type GridDeed =
  | { readonly kind: 'move'; readonly by: GridStep; readonly isExtending: boolean }
  /** Opens the cell with what stands in it, or begins it anew with a letter. */
  | { readonly kind: 'open'; readonly text: string | null }
  | { readonly kind: 'clear' }
  /** Takes out the lines in hand, not only what stands in them. */
  | { readonly kind: 'take-out' }
  | { readonly kind: 'all' };

/**
 * What a key does in a table of cells while nothing is typed; `null` what it leaves to the page. Common practice of
 * spreadsheets, no source.
 * @param typed which characters begin a cell.
 */
export function gridDeed(key: GridKey, columnCount: number, typed = /^.$/u): GridDeed | null {
  if (key.altKey) return null;
  if (key.ctrlKey || key.metaKey) return key.key.toLowerCase() === 'a' ? { kind: 'all' } : null;
  const by = stepOf(key.key, columnCount);
  if (by) return { kind: 'move', by, isExtending: key.shiftKey };
  switch (key.key) {
    case 'Enter':
    case 'F2':
      return { kind: 'open', text: null };
    case 'Delete':
      return { kind: key.shiftKey ? 'take-out' : 'clear' };
    case 'Backspace':
      return { kind: 'clear' };
    default:
      return typed.test(key.key) ? { kind: 'open', text: key.key } : null;
  }
}

/** What a key does while a cell is typed: where it is left to, or `cancel`; `null` goes into the text. */
export function typingDeed({ key, shiftKey }: GridKey): Leave | 'cancel' | null {
  if (key === 'Escape') return 'cancel';
  if (key === 'Enter') return shiftKey ? 'up' : 'down';
  if (key === 'Tab') return shiftKey ? 'left' : 'right';
  return null;
}

/** Carries out what a key does while a cell is typed; nothing of it reaches the table around. */
export function onTypingKey(event: KeyboardEvent, leave: (to: Leave) => void, cancel: () => void): void {
  event.stopPropagation();
  const deed = typingDeed(event);
  if (!deed) return;
  event.preventDefault();
  if (deed === 'cancel') cancel();
  else leave(deed);
}

/**
 * Where Tab leads while nothing is typed: cell by cell, row by row; `null` at the ends of the table, where it leaves it.
 * Common practice of spreadsheets, no source.
 */
export function tabTo(
  { row, col }: { readonly row: number; readonly col: number },
  back: boolean,
  rowCount: number,
  colCount: number,
): { row: number; col: number } | null {
  const place = row * colCount + col + (back ? -1 : 1);
  if (place < 0 || place >= rowCount * colCount) return null;
  return { row: Math.floor(place / colCount), col: place % colCount };
}

/** Whether a key is pressed without another that means something else. */
export const isBareKey = ({ ctrlKey, metaKey, altKey }: GridKey): boolean => !ctrlKey && !metaKey && !altKey;

/** A rectangle of cells, its edges among them. */
export type GridRange = CueRange;

/** The cells between two corners, whichever way round. */
export const rangeBetween = (
  a: { readonly row: number; readonly col: number },
  b: { readonly row: number; readonly col: number },
): GridRange => ({
  top: Math.min(a.row, b.row),
  bottom: Math.max(a.row, b.row),
  left: Math.min(a.col, b.col),
  right: Math.max(a.col, b.col),
});

const STEPS: Readonly<Record<string, GridStep>> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
  PageUp: [-10, 0],
  PageDown: [10, 0],
};

function stepOf(key: string, columnCount: number): GridStep | undefined {
  if (key === 'Home') return [0, -columnCount];
  return key === 'End' ? [0, columnCount] : STEPS[key];
}
