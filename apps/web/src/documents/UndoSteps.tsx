import type { Resource } from '@idle-step/contract';
import { Redo2, Undo2 } from 'lucide-react';
import { useMemo } from 'react';
import { Dropdown } from 'react-bootstrap';
import { lastUndone, pastSteps, type WaitingStep } from '../drafts/draftsSlice';
import { inReach } from '../drafts/saving/inReach';
import { placeOfStep } from '../drafts/placeOfStep';
import { findKept } from '../drafts/useDocs';
import { useSteps } from '../drafts/useSteps';
import { useAppSelector } from '../store';
import { IconButton } from '../ui/IconButton';

/** Steps that are listed; more can be undone one by one. */
const LISTED = 25;

/**
 * Undo and redo with what they would take back, and the list of the last steps. There from the beginning, so that a first
 * edit moves nothing.
 */
export function UndoSteps() {
  const { undo, redo } = useSteps();
  const drafts = useAppSelector((s) => s.drafts);
  const fetched = useAppSelector((s) => s.api);
  const screen = useAppSelector((s) => s.screen);
  const { past, next } = useMemo(() => {
    const isInReach = inReach({ api: fetched, screen });
    return { past: pastSteps(drafts, isInReach), next: lastUndone(drafts, isInReach) };
  }, [drafts, fetched, screen]);
  const nameOf = (resource: Resource, id: string) => findKept(fetched, resource, id)?.doc.name;
  const namesOf = (keys: readonly string[]) => placeOfStep(nameOf, keys, '').names.join(', ');
  const wordsOf = (step: WaitingStep) =>
    step.kind === 'draft' ? `${step.label}, ${namesOf(step.keys)}` : step.label;
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
          title={past[0] ? `Undo: ${wordsOf(past[0])} (Ctrl or Cmd + Z)` : 'Nothing to undo'}
        >
          <Undo2 size={16} strokeWidth={1.75} aria-hidden="true" />
        </Dropdown.Toggle>
        <Dropdown.Menu className="undo-menu">
          <Dropdown.Header>Undo, back to before</Dropdown.Header>
          {past.slice(0, LISTED).map((step, i) => (
            <Dropdown.Item key={step.order} as="button" onClick={() => undoUpTo(i)}>
              {step.label}
              {step.kind === 'draft' && <span className="muted small"> {namesOf(step.keys)}</span>}
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
