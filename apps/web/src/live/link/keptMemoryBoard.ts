import type { MemoryBoard } from '@idle-step/core/memory';
import { z } from 'zod';
import { fromBase64, toBase64 } from '../../files/base64';
import { lasting } from '../../storage/keptTexts';

/** What a simulated board keeps when the page is closed, which is its power switch. */
const KeptSchema = z.object({ stored: z.string().nullable() });

const keyOf = (boardId: string): string => `idle-step.memory-board.${boardId}`;

export function keepStandIn({ hardware, stored }: MemoryBoard): void {
  try {
    lasting.store.setItem(keyOf(hardware.id), JSON.stringify({ stored: stored && toBase64(stored) }));
  } catch {
    // A browser that is full keeps nothing: the simulated board has forgotten all when the page is opened again.
  }
}

export const forgetStandIn = (boardId: string): void => lasting.store.removeItem(keyOf(boardId));

/** Whether a board was simulated when the page was closed. */
export const wasSimulated = (boardId: string): boolean => lasting.store.getItem(keyOf(boardId)) !== null;

/** A simulated board, switched off, with what it kept. */
export function keptStandIn(board: MemoryBoard): MemoryBoard {
  try {
    const text = lasting.store.getItem(keyOf(board.hardware.id));
    const kept = text === null ? null : KeptSchema.safeParse(JSON.parse(text)).data;
    const stored = kept?.stored ? fromBase64(kept.stored) : null;
    return { ...board, stored, working: stored };
  } catch {
    return board;
  }
}
