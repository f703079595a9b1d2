import type { RootState } from '../../store';
import type { Autosave } from './autosave';
import type { Draft } from './saving';

/** A browser sends at most this much after a page is gone, in bytes. Source: WHATWG Fetch, keepalive. */
const KEEPALIVE_BYTES = 60_000;

/**
 * What was typed in the last moment before the page is closed or left is sent once more where that can be done; all of
 * it is written down and taken up when the page is opened again. Only what could not be written down is not let go
 * without the browser's question.
 */
export function saveOnLeaving(getState: () => RootState, autosave: Autosave): void {
  window.addEventListener('beforeunload', (event) => {
    if (autosave.unwritten.size > 0) event.preventDefault();
  });
  window.addEventListener('pagehide', () => {
    for (const [key, draft] of Object.entries(getState().drafts.byKey))
      if (sendLast(draft)) autosave.leftWith(key, draft);
  });
}

/** A save already on its way is not sent twice: only what waits for its turn goes out now. @returns whether it does. */
function sendLast({ resource, doc, version, status }: Draft): boolean {
  const body = JSON.stringify(doc);
  if (status.kind !== 'waiting' || body.length > KEEPALIVE_BYTES) return false;
  void fetch(`/api/${resource}/${doc.id}`, {
    method: 'PUT',
    keepalive: true,
    headers: { 'content-type': 'application/json', 'If-Match': `"${version}"` },
    body,
  }).catch(() => undefined);
  return true;
}
