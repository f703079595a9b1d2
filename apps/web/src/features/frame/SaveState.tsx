import type { Resource } from '@idle-step/contract';
import { useState } from 'react';
import { Button, Dropdown } from 'react-bootstrap';
import { useLazyRevisionQuery, useRevisionsQuery } from '../../api/api';
import { describeDifferences } from '../../drafts/differences';
import { useDocText, useDraft, useEdit, useRig } from '../../drafts/useDocs';
import { UndoSteps } from './UndoSteps';
import { DifferenceTable } from '../../ui/DifferenceTable';

/** Earlier saves listed; older ones are kept too. */
const LISTED = 30;

const time = (iso: string, seconds = false): string =>
  new Date(iso).toLocaleTimeString('en-GB', {
    hour: '2-digit',
    minute: '2-digit',
    ...(seconds ? { second: '2-digit' as const } : {}),
  });
const day = (iso: string): string =>
  new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' });

type Props = { resource: Resource; id: string };

/** A quiet word on how the saving of a document stands; behind it its earlier saves, to look at and restore. */
export function SaveState({ resource, id }: Props) {
  const [isOpen, setOpen] = useState(false);
  const { text, isBad } = useSaveWord(resource, id);
  return (
    <span className="save-and-undo">
      <UndoSteps />
      <Dropdown show={isOpen} onToggle={setOpen} autoClose="outside">
        <Dropdown.Toggle
          variant="bare"
          className={`save-state no-caret ${isBad ? 'bad' : ''}`}
          title="Earlier saves"
        >
          {text}
        </Dropdown.Toggle>
        {isOpen && (
          <Dropdown.Menu className="earlier-saves">
            <EarlierSaves resource={resource} id={id} onDone={() => setOpen(false)} />
          </Dropdown.Menu>
        )}
      </Dropdown>
    </span>
  );
}

function useSaveWord(resource: Resource, id: string): { text: string; isBad: boolean } {
  const status = useDraft(resource, id)?.status;
  switch (status?.kind) {
    case undefined:
      return { text: 'saved', isBad: false };
    case 'saved':
      return { text: `saved ${time(status.at)}`, isBad: false };
    case 'waiting':
    case 'in-flight':
      return { text: 'saving …', isBad: false };
    case 'off':
      return { text: 'not saved: no server', isBad: true };
    case 'conflict':
      return { text: 'not saved: changed elsewhere', isBad: true };
    case 'refused':
      return { text: 'not saved', isBad: true };
  }
}

function EarlierSaves({ resource, id, onDone }: Props & { onDone(): void }) {
  const { data: revisions, isError } = useRevisionsQuery({ resource, id });
  const [fetchOne, looked] = useLazyRevisionQuery();
  const now = useDocText(resource, id);
  const { rig } = useRig();
  const edit = useEdit(resource);
  const earlier = looked.data;
  const differences = earlier && now ? describeDifferences(now, earlier.doc, rig) : [];
  if (isError)
    return <p className="p-3">The earlier saves could not be fetched: the server does not answer.</p>;
  return (
    <div className="earlier-room">
      <ol aria-label="Earlier saves, newest first">
        {(revisions ?? []).slice(0, LISTED).map((r) => (
          <li key={r.version}>
            <Button
              variant="bare"
              aria-pressed={earlier?.version === r.version}
              onClick={() => void fetchOne({ resource, id, version: r.version }, true)}
            >
              <span className="num">{time(r.savedAt, true)}</span>
              <span className="muted small">{day(r.savedAt)}</span>
            </Button>
          </li>
        ))}
      </ol>
      <div className="earlier-text">
        {!earlier && <p className="muted small">Pick a save to see what was different in it.</p>}
        {earlier && differences.length === 0 && <p className="muted small">This is the text as it is now.</p>}
        {earlier && differences.length > 0 && (
          <>
            <DifferenceTable differences={differences} mine="Now" theirs="Then" />
            <Button
              variant="go"
              onClick={() => {
                edit(id, 'restore an earlier save', () => earlier.doc as never);
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
