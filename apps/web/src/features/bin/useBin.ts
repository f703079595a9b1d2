import type { BinLine } from '@idle-step/contract';
import { useState } from 'react';
import { api, useBinQuery } from '../../api/api';
import { failureOf } from '../../api/problem';
import { cameBack } from '../../drafts/draftsSlice';
import { refusedBy } from '../../drafts/useDocChanges';
import { fetchedAgain, withProgress } from '../../drafts/whole/useWholeRigs';
import { useAppDispatch } from '../../store';

/** Lines shown at first, and how many more each time. */
const LINES = 100;

/** What a person was told last in the bin. */
export type Told =
  | { readonly kind: 'back'; readonly line: BinLine; readonly leftOut: readonly string[] }
  | { readonly kind: 'gone'; readonly name: string }
  | { readonly kind: 'refused'; readonly sentence: string };

/** What was deleted, found by name, and what can be done with it. */
export function useBin() {
  const dispatch = useAppDispatch();
  const [name, setName] = useState('');
  const [count, setCount] = useState(LINES);
  const [busy, setBusy] = useState<string | null>(null);
  const [told, setTold] = useState<Told | null>(null);
  const { data, currentData, isError } = useBinQuery(
    { name: name.trim(), count },
    { refetchOnMountOrArgChange: true },
  );
  const work = async (words: string, job: () => Promise<Told>) => {
    setBusy(words);
    setTold(null);
    setTold(await job().finally(() => setBusy(null)));
  };
  const refused = (error: Parameters<typeof failureOf>[0]): Told => ({
    kind: 'refused',
    sentence: refusedBy(failureOf(error)).sentence,
  });
  return {
    name,
    search: (text: string) => {
      setName(text);
      setCount(LINES);
    },
    /** `undefined` until the first answer; while another name is asked for, what was found before. */
    page: data,
    isFetching: currentData === undefined && !isError,
    isError,
    more: () => setCount((before) => before + LINES),
    busy,
    told,
    bringBack: (line: BinLine) =>
      work(`Bringing back ${line.name} …`, async () => {
        const { resource, id } = line;
        const asked = dispatch(api.endpoints.bringBack.initiate({ resource, id }));
        const tell = (how: string) => setBusy(`Bringing back ${line.name}: ${how}`);
        const result = await (resource === 'rigs'
          ? withProgress(
              id,
              tell,
              asked.then((r) => r),
            )
          : asked);
        if (result.error) return refused(result.error);
        dispatch(cameBack({ resource, id }));
        await dispatch(fetchedAgain(line.rigId));
        return { kind: 'back', line, leftOut: result.data.leftOut };
      }),
    empty: (line: BinLine) =>
      work(`Deleting ${line.name} …`, async () => {
        const { resource, id } = line;
        const { error } = await dispatch(api.endpoints.emptyBin.initiate({ resource, id }));
        if (error) return refused(error);
        dispatch(cameBack({ resource, id }));
        return { kind: 'gone', name: line.name };
      }),
  };
}
