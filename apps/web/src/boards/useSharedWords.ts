import { labelOf, type PagesInForce, type World, type WorldBoard } from '@idle-step/core/engine';
import { useMemo } from 'react';
import { isSame } from '../live/snapshot';
import { assignmentShown } from '../live/use/useControlNow';
import { useLiveOf, useSongIndex } from '../live/use/useLive';
import { sharedWords } from '../words/sharedWords';

/**
 * For each control of a board, how many first words its label shares with another one's: told anew only when a page is
 * turned or a control does something else. A control that is new and does nothing may not be in it yet.
 */
export function useSharedWords(
  world: World,
  worldBoard: WorldBoard,
  looked: PagesInForce | null,
): readonly number[] {
  const songIndex = useSongIndex();
  const shown = useLiveOf(
    ({ state }) =>
      worldBoard.board.controls.map((c) => assignmentShown(world, worldBoard, state, c.id, looked)),
    isSame,
  );
  return useMemo(
    () => sharedWords(shown.map((assignment) => labelOf(world, assignment, songIndex))),
    [world, shown, songIndex],
  );
}
