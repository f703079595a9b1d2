import { Redo2, Undo2 } from 'lucide-react';
import { useMemo } from 'react';
import { Dropdown } from 'react-bootstrap';
import { lastUndone, pastSteps } from '../drafts/draftsSlice';
import { inReach } from '../drafts/inReach';
import { useSteps } from '../drafts/useSteps';
import { useAppSelector } from '../store';
import { IconButton } from '../ui/IconButton';

/** Steps that are listed; more can be undone one by one. */
const LISTED = 25;

/** Undo and redo with what they would take back, and the list of the last steps. */
export function UndoSteps() {
  const { undo, redo } = useSteps();
  const drafts = useAppSelector((s) => s.drafts);
  const fetched = useAppSelector((s) => s.api);
  const screen = useAppSelector((s) => s.screen);
  const { past, next } = useMemo(() => {
    const isInReach = inReach({ api: fetched, screen });
    return { past: pastSteps(drafts, isInReach), next: lastUndone(drafts, isInReach) };
  }, [drafts, fetched, screen]);
  if (past.length === 0 && !next) return null;
  const undoUpTo = (index: number) => {
    for (let i = 0; i <= index; i++) undo();
  };
  return (
    <>
      <Dropdown>
        <Dropdown.Toggle
          variant="bare"
          className="btn-icon no-caret"
          disabled={past.length === 0}
          aria-label={past[0] ? `Steps that can be undone; the last: ${past[0].label}` : 'Nothing to undo'}
          title={past[0] ? `Undo: ${past[0].label} (Ctrl or Cmd + Z)` : 'Nothing to undo'}
        >
          <Undo2 size={16} strokeWidth={1.75} aria-hidden="true" />
        </Dropdown.Toggle>
        <Dropdown.Menu className="undo-menu">
          <Dropdown.Header>Undo, back to before</Dropdown.Header>
          {past.slice(0, LISTED).map((step, i) => (
            <Dropdown.Item key={step.order} as="button" onClick={() => undoUpTo(i)}>
              {step.label}
            </Dropdown.Item>
          ))}
          {past.length > LISTED && <Dropdown.Header>and {past.length - LISTED} steps before</Dropdown.Header>}
        </Dropdown.Menu>
      </Dropdown>
      <IconButton
        icon={Redo2}
        label={next ? `Redo: ${next.label}` : 'Nothing to redo'}
        disabled={!next}
        onClick={redo}
      />
    </>
  );
}
