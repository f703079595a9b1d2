import { useCallback } from 'react';
import type { Resource } from '@idle-step/contract';
import { useUndoNotice } from '../ui/useUndoNotice';
import { useDeleteDoc } from './useDocChanges';

type Deleted = {
  readonly resource: Resource;
  readonly id: string;
  readonly name: string;
  /** After it is gone, before the notice stands. */
  onGone(): void;
  /** After undo brought it back. */
  onBack?(): void;
};

/** Deletes a document and says so, with the way back; where it is in use, says where. */
export function useDeleteWithUndo(): (deleted: Deleted) => Promise<void> {
  const remove = useDeleteDoc();
  const notice = useUndoNotice();
  return useCallback(
    async ({ resource, id, name, onGone, onBack }) => {
      const result = await remove(resource, id);
      if ('sentence' in result) {
        const users = result.problem?.users?.map((u) => u.name).join(', ');
        notice.tell(
          users ? `${result.sentence} It stands in: ${users}. Take it out there first.` : result.sentence,
        );
        return;
      }
      onGone();
      notice.tell(`${name} was deleted.`, async () => {
        const refused = await result.bringBack();
        if (!refused) onBack?.();
        return refused?.sentence ?? null;
      });
    },
    [remove, notice],
  );
}
