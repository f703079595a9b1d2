import { HardDrive } from 'lucide-react';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { autosave } from '../store';
import { useEveningStatus } from '../evening/useEvening';
import { useAppSelector } from '../store';
import { lasting } from '../storage/keptTexts';

/** Says what will be lost where this browser does not keep what it should. */
export function StorageOff() {
  const { trouble } = useEveningStatus();
  const [closed, setClosed] = useState<string | null>(null);
  const unwritten = useAppSelector((s) =>
    Object.entries(s.drafts.byKey).some(
      ([key, d]) => d.status.kind !== 'saved' && autosave.unwritten.has(key),
    ),
  );
  const words = [
    lasting.isRefused
      ? 'This browser refuses to keep anything for this page. What you type is saved on the server as always; which port is which, your choices of the screen and where an evening stands are lost when the page is closed or loaded anew.'
      : null,
    trouble !== null && !lasting.isRefused ? trouble : null,
    unwritten
      ? 'What you typed last is not saved on the server yet, and this browser cannot keep it: leave the page open until it is saved.'
      : null,
  ].filter((w) => w !== null);
  const all = words.join(' ');
  if (words.length === 0 || closed === all) return null;
  return (
    <div className="notice" role="status" data-testid="storage-off">
      <HardDrive size={16} aria-hidden="true" />
      <p>
        <b>Not kept in this browser:</b> {all} Playing goes on.
      </p>
      <Button variant="bare" onClick={() => setClosed(all)}>
        Close
      </Button>
    </div>
  );
}
