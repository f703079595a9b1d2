import { lasting, ofWindow } from '../../storage/keptTexts';
import type { Autosave } from './autosave';

const WINDOW_KEY = 'idle-step.window';

/**
 * Gives this window a name that outlives a reload, held as a lock as long as it is open, and lets saving take up what
 * windows left that are gone. Source: Web Locks API, W3C draft.
 */
export async function resumeSaving(autosave: Autosave): Promise<void> {
  const locks = 'locks' in navigator ? navigator.locks : null;
  let windowId = ofWindow.store.getItem(WINDOW_KEY) ?? crypto.randomUUID();
  // A window that was duplicated has the name of the one it was made from, which holds it.
  if (locks && !(await holds(locks, windowId))) {
    windowId = crypto.randomUUID();
    await holds(locks, windowId);
  }
  ofWindow.store.setItem(WINDOW_KEY, windowId);
  const open = new Set((await locks?.query().catch(() => null))?.held?.map((l) => l.name));
  autosave.resume(lasting.store, windowId, (id) => !locks || open.has(lockName(id)));
}

const lockName = (windowId: string): string => `idle-step.window/${windowId}`;

/**
 * Takes the lock of a window for as long as it is open.
 * @returns whether it was to be had; where the browser refuses locks nobody else has it.
 */
const holds = (locks: LockManager, windowId: string): Promise<boolean> =>
  new Promise((resolve) => {
    locks
      .request(lockName(windowId), { ifAvailable: true }, (lock) => {
        resolve(lock !== null);
        return lock ? new Promise(() => undefined) : undefined;
      })
      .catch(() => resolve(true));
  });
