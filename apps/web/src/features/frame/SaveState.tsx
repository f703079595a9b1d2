import type { Resource } from '@idle-step/contract';
import { useDraft } from '../../drafts/useDocs';

const time = (iso: string): string =>
  new Date(iso).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });

/** A quiet word on how the saving of a document stands. */
export function SaveState({ resource, id }: { resource: Resource; id: string }) {
  const draft = useDraft(resource, id);
  if (!draft) return <span className="save-state">saved</span>;
  switch (draft.status.kind) {
    case 'saved':
      return <span className="save-state">saved {time(draft.status.at)}</span>;
    case 'edited':
    case 'saving':
      return <span className="save-state">saving …</span>;
    case 'offline':
      return <span className="save-state bad">not saved: no server</span>;
    case 'conflict':
      return <span className="save-state bad">not saved: changed elsewhere</span>;
    case 'refused':
      return <span className="save-state bad">not saved</span>;
  }
}
