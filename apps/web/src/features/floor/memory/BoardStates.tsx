import type { Board, Preset } from '@idle-step/core/floor';
import type { FullRig } from '@idle-step/core/routing';
import { Link } from 'react-router-dom';
import { placeWords } from './stateWords';
import { useMemory } from './useMemory';

/** In one line: whether a board that works by itself has what is here, and whether it keeps it. */
export function BoardStates({
  rig,
  board,
  preset,
  presets,
}: {
  rig: FullRig;
  board: Board;
  preset: Preset;
  presets: readonly Preset[];
}) {
  const memories = useMemory(rig, board, preset);
  const words = (place: 'sent' | 'stored') =>
    placeWords(memories[place], memories, board, presets, preset.id);
  const isDone = memories.sent.kind === 'same' && memories.stored.kind === 'same';
  return (
    <Link className={`board-states small ${isDone ? '' : 'open'}`} to={`/floor/${board.id}/memory`}>
      sent: {words('sent')}; stored: {words('stored')}
    </Link>
  );
}
