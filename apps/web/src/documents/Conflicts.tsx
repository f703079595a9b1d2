import type { Problem } from '@idle-step/contract';
import { CircleAlert, GitCompareArrows } from 'lucide-react';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { mineKept, theirsKept } from '../drafts/draftsSlice';
import type { Draft } from '../drafts/saving/saving';
import type { AnyDoc } from '../api/api';
import { useDifferences } from '../drafts/useDifferences';
import { useRig } from '../drafts/useDocs';
import { useAppDispatch, useAppSelector } from '../store';
import { timeOfDay } from '../words/times';
import { DifferenceTable } from './DifferenceTable';

/** What could not be saved and waits for a decision: a text changed elsewhere, or one that the server refused. */
export function Conflicts() {
  const byKey = useAppSelector((s) => s.drafts.byKey);
  return (
    <>
      {Object.entries(byKey).map(([key, draft]) => {
        if (draft.status.kind === 'conflict') return <Conflict key={key} draftKey={key} draft={draft} />;
        if (draft.status.kind !== 'refused') return null;
        return (
          <div key={key} className="notice danger" role="alert">
            <CircleAlert size={16} aria-hidden="true" />
            <p>
              <b>{draft.doc.name}:</b> {draft.status.problem.detail}
              {usersText(draft.status.problem)} It is still here as you left it; change it, or take the change
              back with undo.
            </p>
          </div>
        );
      })}
    </>
  );
}

function MineAndTheirs({ mine, theirs }: { mine: AnyDoc; theirs: AnyDoc }) {
  const { rig } = useRig();
  const differences = useDifferences(mine, theirs, rig);
  if (!differences) return <p className="muted small">Comparing …</p>;
  return <DifferenceTable differences={differences} mine="Mine" theirs="Theirs" />;
}

/** Where something is in use, in words. */
function usersText({ users }: Problem): string {
  if (!users || users.length === 0) return '';
  const places = users.slice(0, 4).map((u) => (u.place ? `${u.name} (${u.place})` : u.name));
  return ` It stands in ${places.join(', ')}${users.length > 4 ? ` and ${users.length - 4} more` : ''}.`;
}

function Conflict({ draftKey, draft }: { draftKey: string; draft: Draft }) {
  const dispatch = useAppDispatch();
  const [isOpen, setOpen] = useState(false);
  if (draft.status.kind !== 'conflict') return null;
  const { theirs } = draft.status;
  const savedAt = timeOfDay(theirs.savedAt);
  return (
    <div className="notice" role="alert" data-testid="conflict">
      <GitCompareArrows size={16} aria-hidden="true" />
      <p>
        <b>{draft.doc.name}</b> was saved in another window at {savedAt}. Your text is not stored yet; both
        are still here.
      </p>
      <Button variant="quiet" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
        Look at the difference
      </Button>
      <Button variant="quiet" onClick={() => dispatch(theirsKept({ key: draftKey }))}>
        Keep theirs
      </Button>
      <Button variant="go" onClick={() => dispatch(mineKept({ key: draftKey }))}>
        Keep mine
      </Button>
      {isOpen && <MineAndTheirs mine={draft.doc} theirs={theirs.doc} />}
    </div>
  );
}
