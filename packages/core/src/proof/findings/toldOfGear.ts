import { memoryBytes, memoryOf } from '../../memory';
import type { Preset } from '../../floor';
import type { FullRig } from '../../routing';
import type { GearKnown } from './finding';

/** What was told of the memory of a board that works by itself: its bytes, or that nobody can tell. */
export type BoardTold = { readonly boardId: string; readonly stored: Uint8Array | 'unknown' | null };

/** Boards that work by themselves and of which the memory is not what their preset says now, or is not known. */
export function notStoredIn(
  rig: FullRig,
  presets: readonly Preset[],
  told: readonly BoardTold[],
): GearKnown['notStored'] {
  const found = new Map<string, 'differs' | 'unknown'>();
  for (const board of rig.boards) {
    const preset = presets.find((p) => p.id === board.presetId);
    if (board.mode !== 'standalone' || !preset) continue;
    const stored = told.find((t) => t.boardId === board.id)?.stored ?? null;
    if (stored === null || stored === 'unknown') {
      found.set(board.id, 'unknown');
      continue;
    }
    const wanted = memoryBytes(memoryOf(rig, board, preset).memory);
    const isSame = wanted.length === stored.length && wanted.every((byte, i) => byte === stored[i]);
    if (!isSame) found.set(board.id, 'differs');
  }
  return found;
}
