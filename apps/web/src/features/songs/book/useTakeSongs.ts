import type { Song } from '@idle-step/core/show';
import { PLAIN_SET } from '@idle-step/core/show';
import { PROBLEM } from '@idle-step/contract';
import { useState } from 'react';
import { loadDocs } from '../../../drafts/loadDocs';
import { useCreateDoc } from '../../../drafts/useDocChanges';
import { useEdit, useEditAll } from '../../../drafts/useDocs';
import { songEntry } from '../../../edits/songEdits';
import { useAppDispatch } from '../../../store';

/** Where new songs are put: into no set, one that is there, or a new one of that name. */
export type IntoSet =
  | { readonly kind: 'none' }
  | { readonly kind: 'set'; readonly id: string }
  | { readonly kind: 'new'; readonly name: string };

export type Taken = {
  /** What the step is called that changes those that are there. */
  readonly label: string;
  readonly fresh: readonly Song[];
  readonly changed: readonly { readonly id: string; change(song: Song): Song }[];
  /** Every song in order, for the set. */
  readonly order: readonly string[];
  readonly into: IntoSet;
};

/** Makes songs and changes those that are there, with how far it came. */
export function useTakeSongs(rigId: string) {
  const create = useCreateDoc();
  const editAll = useEditAll('songs');
  const editSet = useEdit('sets');
  const dispatch = useAppDispatch();
  /** How many were made so far, `null` while nothing goes on. */
  const [done, setDone] = useState<number | null>(null);
  const [sentence, setSentence] = useState<string | null>(null);
  const stop = (why: string) => {
    setSentence(why);
    setDone(null);
    return false;
  };
  /** @returns whether all of it was done; what was not is told. */
  const take = async ({ label, fresh, changed, order, into }: Taken): Promise<boolean> => {
    setSentence(null);
    setDone(0);
    for (const [i, song] of fresh.entries()) {
      const refused = await create('songs', song);
      // One that is there already was kept by an answer that was lost.
      if (refused && refused.problem?.type !== PROBLEM.taken)
        return stop(`${i} of ${fresh.length} songs were made; “${song.name}” was not: ${refused.sentence}`);
      setDone(i + 1);
    }
    const ids = changed.map((c) => c.id);
    const isThere = ids.length === 0 || (await dispatch(loadDocs('songs', rigId, ids)));
    if (!isThere)
      return stop('The server does not answer, so the songs that are there already were not changed.');
    editAll(label, changed);
    if (into.kind === 'new') {
      const refused = await create('sets', {
        ...PLAIN_SET,
        id: crypto.randomUUID(),
        rigId,
        name: into.name,
        entries: order.map(songEntry),
      });
      if (refused) return stop(`The songs are there; the set “${into.name}” is not: ${refused.sentence}`);
    }
    if (into.kind === 'set') {
      if (!(await dispatch(loadDocs('sets', rigId, [into.id]))))
        return stop('The songs are there; the set was not reached, put them into it in Sets.');
      editSet(into.id, 'put songs into the set', (set) => {
        const inSet = new Set(set.entries.flatMap((e) => (e.kind === 'song' ? e.songId : [])));
        const added = order.filter((id) => !inSet.has(id)).map(songEntry);
        return added.length === 0 ? set : { ...set, entries: [...set.entries, ...added] };
      });
    }
    setDone(null);
    return true;
  };
  return { take, done, sentence };
}
