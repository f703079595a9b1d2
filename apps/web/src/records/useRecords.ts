import type { GearRecord, RecordOf } from '@idle-step/contract';
import { createContext, useContext, useMemo, useSyncExternalStore } from 'react';
import { there } from '@idle-step/core/sure';
import { useRecordsQuery } from '../api/api';
import { boardRecord } from './boardRecords';
import type { RecordKeeper } from './recordKeeper';

export const RecordContext = createContext<RecordKeeper | null>(null);
export const useRecordKeeper = (): RecordKeeper => there(useContext(RecordContext));

const NONE: readonly GearRecord[] = [];

/** What is known of the gear of a rig, of one kind, the newest first. */
export function useRecords<K extends GearRecord['what']['kind']>(
  rigId: string,
  kind: K,
): { readonly records: readonly RecordOf<K>[]; readonly isFetched: boolean } {
  const { data = NONE, isSuccess } = useRecordsQuery(rigId);
  return {
    records: useMemo(() => data.filter((r): r is RecordOf<K> => r.what.kind === kind), [data, kind]),
    isFetched: isSuccess,
  };
}

/** What a board holds, as far as it is known. */
export function useBoardRecord(rigId: string, boardId: string) {
  const { records, isFetched } = useRecords(rigId, 'board');
  return { record: useMemo(() => boardRecord(records, boardId), [records, boardId]), isFetched };
}

/** What the server has not kept of what is known of gear. */
export function useUnkept() {
  const keeper = useRecordKeeper();
  return { ...useSyncExternalStore(keeper.subscribe, keeper.getUnkept), dismiss: keeper.dismiss };
}
