import type { Resource, Revision } from '@idle-step/contract';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import {
  useLazyRevisionQuery,
  useLazyRevisionsQuery,
  useNameRevisionMutation,
  useRevisionsQuery,
} from '../api/api';
import { useDifferences } from '../drafts/useDifferences';
import { useDocText, useEdit, useRig } from '../drafts/useDocs';
import { DifferenceTable } from './DifferenceTable';
import { dayOf, timeOfDay } from '../words/times';

type Props = { resource: Resource; id: string };

/** Saves that came in pages so far, and how to get the next page. */
function useSaves({ resource, id }: Props) {
  const first = useRevisionsQuery({ resource, id });
  const [fetchPage, older] = useLazyRevisionsQuery();
  const [pages, setPages] = useState<readonly Revision[]>([]);
  const [renamed, setRenamed] = useState<ReadonlyMap<number, Revision>>(new Map());
  const all = [...(first.data ?? []), ...pages];
  const more = async () => {
    const last = all.at(-1);
    if (!last) return;
    const { data } = await fetchPage({ resource, id, before: last.version });
    if (data) setPages((before) => [...before, ...data]);
  };
  return {
    saves: all.map((save) => renamed.get(save.version) ?? save),
    more,
    isWhole: all.at(-1)?.version === 1,
    isFetching: older.isFetching,
    isError: first.isError || older.isError,
    named: (save: Revision) => setRenamed((before) => new Map(before).set(save.version, save)),
  };
}

/** Earlier saves of a document: looked at, compared, named so that they stay, and restored. */
export function EarlierSaves({ resource, id, onDone }: Props & { onDone(): void }) {
  const { saves, more, isWhole, isFetching, isError, named } = useSaves({ resource, id });
  const [fetchOne, looked] = useLazyRevisionQuery();
  const [picked, setPicked] = useState<number | null>(null);
  const now = useDocText(resource, id);
  const { rig } = useRig();
  const edit = useEdit(resource);
  const earlier = picked === null ? undefined : looked.data;
  const differences = useDifferences(now, earlier?.doc, rig);
  const save = saves.find((s) => s.version === picked);
  if (isError)
    return <p className="p-3">The earlier saves could not be fetched: the server does not answer.</p>;
  return (
    <div className="earlier-room">
      <ol aria-label="Earlier saves, newest first">
        {saves.map((r) => (
          <li key={r.version}>
            <Button
              variant="bare"
              aria-pressed={picked === r.version}
              onClick={() => {
                setPicked(r.version);
                void fetchOne({ resource, id, version: r.version }, true);
              }}
            >
              <span className="num">{timeOfDay(r.savedAt, true)}</span>
              <span className="muted small">{dayOf(r.savedAt)}</span>
              {r.name !== null && <b>{r.name}</b>}
            </Button>
          </li>
        ))}
        {!isWhole && saves.length > 0 && (
          <li>
            <Button variant="quiet" disabled={isFetching} onClick={() => void more()}>
              {isFetching ? 'Fetching …' : 'Older saves'}
            </Button>
          </li>
        )}
      </ol>
      <div className="earlier-text">
        {!earlier && <p className="muted small">Pick a save to see what was different in it.</p>}
        {earlier && save && (
          <SaveName key={save.version} resource={resource} id={id} save={save} onNamed={named} />
        )}
        {earlier && !differences && <p className="muted small">Comparing …</p>}
        {earlier && differences?.length === 0 && (
          <p className="muted small">This is the text as it is now.</p>
        )}
        {earlier && differences && differences.length > 0 && (
          <>
            <DifferenceTable differences={differences} mine="Now" theirs="Then" />
            <Button
              variant="go"
              onClick={() => {
                edit(id, 'restore an earlier save', () => earlier.doc);
                onDone();
              }}
            >
              Restore this save
            </Button>
          </>
        )}
      </div>
    </div>
  );
}

/** What a save is called. One with a name stays, however old it gets; others thin out with age. */
function SaveName({
  resource,
  id,
  save,
  onNamed,
}: Props & { save: Revision; onNamed(save: Revision): void }) {
  const [give, { isError }] = useNameRevisionMutation();
  const [text, setText] = useState(save.name ?? '');
  const keep = async () => {
    const name = text.trim() || null;
    if (name === save.name) return;
    const { data } = await give({ resource, id, version: save.version, name });
    if (data) onNamed(data);
  };
  return (
    <div className="d-flex align-items-end gap-3 mb-2">
      <label>
        <span className="muted small">Name of this save</span>
        <input
          className="form-control"
          value={text}
          maxLength={80}
          placeholder="none"
          onChange={(e) => setText(e.target.value)}
          onBlur={() => void keep()}
          onKeyDown={(e) => {
            if (e.key === 'Enter') void keep();
          }}
        />
      </label>
      <span className="muted small pb-2">
        {isError
          ? 'The name was not stored: the server does not answer.'
          : 'A save with a name is kept for good.'}
      </span>
    </div>
  );
}
