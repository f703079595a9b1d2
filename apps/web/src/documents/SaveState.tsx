import type { Resource } from '@idle-step/contract';
import { useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import { useDraft } from '../drafts/useDocs';
import { EarlierSaves } from './EarlierSaves';
import { timeOfDay } from '../words/times';
import { UndoSteps } from './UndoSteps';

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
      return { text: `saved ${timeOfDay(status.at)}`, isBad: false };
    case 'waiting':
    case 'in-flight':
      return { text: 'saving …', isBad: false };
    case 'off':
      return { text: status.why === null ? 'not saved: no server' : 'not saved yet', isBad: true };
    case 'conflict':
      return { text: 'not saved: changed elsewhere', isBad: true };
    case 'refused':
      return { text: 'not saved', isBad: true };
  }
}
