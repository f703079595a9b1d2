import type { Board, Preset } from '@idle-step/core/floor';
import type { FullRig } from '@idle-step/core/routing';
import { useState } from 'react';
import { NotKept } from '../../../records/NotKept';
import { LeftOut } from '../hand/LeftOut';
import { leftOutWords } from './leftOutWords';
import { MemoryDifferences } from './MemoryDifferences';
import { MemoryStates } from './MemoryStates';
import { ReceiveSteps } from './ReceiveSteps';
import { SimulatedBoard } from './SimulatedBoard';
import { TransferPanel } from './TransferPanel';
import { useMemory, type MemoryPlace } from './useMemory';

/** A preset on its way to a board that works by itself: sent, read back, stored, and what differs where. */
export function MemoryRoom({
  rig,
  board,
  preset,
  presets,
  onGo,
}: {
  rig: FullRig;
  board: Board;
  preset: Preset;
  presets: readonly Preset[];
  onGo(pageId: string, controlId: string): void;
}) {
  const memories = useMemory(rig, board, preset);
  const [pair, setPair] = useState<readonly [MemoryPlace, MemoryPlace]>(['sent', 'here']);
  const name = rig.devices.find((d) => d.id === board.deviceId)?.name ?? 'The board';
  return (
    <section className="memory-room" aria-label="Send to the board">
      <MemoryStates
        {...{ memories, board, presets, preset }}
        onCompare={(place) => setPair([place, 'here'])}
      />
      <NotKept />
      <div className="memory-columns">
        <div>
          <TransferPanel {...{ board, preset, memories, name }} />
          <MemoryDifferences {...{ memories, board, pair }} onPick={setPair} />
          {memories.leftOut.length > 0 && (
            <LeftOut leftOut={leftOutWords(memories.leftOut, board, preset)} isOpen={false} onGo={onGo} />
          )}
        </div>
        <div>
          <ReceiveSteps key={board.id} rig={rig} board={board} />
          <SimulatedBoard key={`simulated ${board.id}`} board={board} name={name} middleC={rig.middleC} />
        </div>
      </div>
    </section>
  );
}
