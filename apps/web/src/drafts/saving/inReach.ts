import { api } from '../../api/api';
import type { RootState } from '../../store';
import type { InReach } from '../draftsSlice';
import { findKept } from '../useDocs';
import { rigOfChange } from '../whole/wholeStep';
import { partsOfKey } from '../draftKey';

/** The rig in hand: the one chosen, or the first there is. */
const rigInHand = (state: Pick<RootState, 'api' | 'screen'>): string | undefined => {
  const rigs = api.endpoints.rigs.select()(state).data ?? [];
  return (rigs.find((k) => k.doc.id === state.screen.rigId) ?? rigs[0])?.doc.id;
};

/** Undo reaches what is there and belongs to the rig in hand: never another rig, and nothing that is gone. */
export function inReach(state: Pick<RootState, 'api' | 'screen'>): InReach {
  const rigId = rigInHand(state);
  return (step) => {
    if (step.kind === 'view') return true;
    if (step.kind === 'whole') return rigOfChange(step.step.change) === rigId;
    const [resource, id] = partsOfKey(step.key);
    if (resource === 'rigs') return id === rigId;
    const doc = findKept(state.api, resource, id)?.doc;
    return doc !== undefined && 'rigId' in doc && doc.rigId === rigId;
  };
}
