import type { Board, Control } from './board';
import { lastOf, nth } from '../../sure';

/** The grid that controls snap to, in mm. */
export const GRID_MM = 2;

export const snapped = (mm: number, gridMm: number = GRID_MM): number => Math.round(mm / gridMm) * gridMm;

/** What lining up goes by. */
export const ALIGNMENTS = ['left', 'right', 'top', 'bottom', 'middle', 'centre'] as const;
export type Alignment = (typeof ALIGNMENTS)[number];

type Placed = Pick<Control, 'id' | 'xMm' | 'yMm' | 'widthMm' | 'heightMm'>;

/** Controls in hand lined up by an edge, or by their middles; the others stay. */
export function aligned<C extends Placed>(
  controls: readonly C[],
  ids: ReadonlySet<string>,
  by: Alignment,
): C[] {
  const inHand = controls.filter((c) => ids.has(c.id));
  if (inHand.length < 2) return [...controls];
  const left = Math.min(...inHand.map((c) => c.xMm));
  const right = Math.max(...inHand.map((c) => c.xMm + c.widthMm));
  const top = Math.min(...inHand.map((c) => c.yMm));
  const bottom = Math.max(...inHand.map((c) => c.yMm + c.heightMm));
  const place = (c: C): C => {
    switch (by) {
      case 'left':
        return { ...c, xMm: left };
      case 'right':
        return { ...c, xMm: right - c.widthMm };
      case 'centre':
        return { ...c, xMm: (left + right - c.widthMm) / 2 };
      case 'top':
        return { ...c, yMm: top };
      case 'bottom':
        return { ...c, yMm: bottom - c.heightMm };
      case 'middle':
        return { ...c, yMm: (top + bottom - c.heightMm) / 2 };
    }
  };
  return controls.map((c) => (ids.has(c.id) ? place(c) : c));
}

/** Controls in hand with the same gap between each, from the first to the last of them; the others stay. */
export function distributed<C extends Placed>(
  controls: readonly C[],
  ids: ReadonlySet<string>,
  along: 'across' | 'down',
): C[] {
  const start = (c: C) => (along === 'across' ? c.xMm : c.yMm);
  const size = (c: C) => (along === 'across' ? c.widthMm : c.heightMm);
  const inHand = controls.filter((c) => ids.has(c.id)).sort((a, b) => start(a) - start(b));
  if (inHand.length < 3) return [...controls];
  const last = lastOf(inHand);
  const room = start(last) + size(last) - start(nth(inHand, 0)) - inHand.reduce((mm, c) => mm + size(c), 0);
  const gap = room / (inHand.length - 1);
  const placed = new Map<string, number>();
  let at = start(nth(inHand, 0));
  for (const c of inHand) {
    placed.set(c.id, at);
    at += size(c) + gap;
  }
  return controls.map((c) => {
    const mm = placed.get(c.id);
    return mm === undefined ? c : along === 'across' ? { ...c, xMm: mm } : { ...c, yMm: mm };
  });
}

/** Controls in hand moved together as far as their board lets them, on the grid. */
export function shifted<C extends Placed>(
  controls: readonly C[],
  ids: ReadonlySet<string>,
  byMm: { readonly x: number; readonly y: number },
  board: Pick<Board, 'widthMm' | 'heightMm'>,
  gridMm: number = GRID_MM,
): C[] {
  const inHand = controls.filter((c) => ids.has(c.id));
  if (inHand.length === 0) return [...controls];
  const within = (wanted: number, low: number, high: number) => Math.min(high, Math.max(low, wanted));
  const first = nth(inHand, 0);
  // The first one snaps, and the others keep their distance from it.
  const x = within(
    snapped(first.xMm + byMm.x, gridMm) - first.xMm,
    -Math.min(...inHand.map((c) => c.xMm)),
    Math.min(...inHand.map((c) => board.widthMm - c.widthMm - c.xMm)),
  );
  const y = within(
    snapped(first.yMm + byMm.y, gridMm) - first.yMm,
    -Math.min(...inHand.map((c) => c.yMm)),
    Math.min(...inHand.map((c) => board.heightMm - c.heightMm - c.yMm)),
  );
  return controls.map((c) => (ids.has(c.id) ? { ...c, xMm: c.xMm + x, yMm: c.yMm + y } : c));
}
