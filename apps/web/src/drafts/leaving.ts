import type { RootState } from '../store';
import type { Draft } from './draftsSlice';

/** A browser sends at most this much after a page is gone, in bytes. Source: WHATWG Fetch, keepalive (from memory). */
const KEEPALIVE_BYTES = 60_000;

/**
 * What was typed in the last moment before the page is closed or left is still saved; what cannot be saved (no
 * server, changed elsewhere, refused) is not let go without the browser's question.
 */
export function saveOnLeaving(getState: () => RootState): void {
  const unsaved = () => Object.values(getState().drafts.byKey).filter((d) => d.status.kind !== 'saved');
  window.addEventListener('beforeunload', (event) => {
    if (unsaved().some((d) => !canBeSent(d))) event.preventDefault();
  });
  window.addEventListener('pagehide', () => {
    for (const draft of unsaved()) if (canBeSent(draft)) sendLast(draft);
  });
}

const canBeSent = (draft: Draft): boolean =>
  draft.status.kind === 'saving' ||
  (draft.status.kind === 'edited' && JSON.stringify(draft.doc).length < KEEPALIVE_BYTES);

/** A save already on its way is not sent twice: only what waits for its turn goes out now. */
function sendLast({ resource, doc, version, status }: Draft): void {
  if (status.kind !== 'edited') return;
  void fetch(`/api/${resource}/${doc.id}`, {
    method: 'PUT',
    keepalive: true,
    headers: { 'content-type': 'application/json', 'If-Match': `"${version}"` },
    body: JSON.stringify(doc),
  });
}
