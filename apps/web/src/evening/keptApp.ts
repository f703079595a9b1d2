/** How soon after it was opened a page may still be replaced by a newer one, in ms. */
const FRESH_MS = 8000;

/**
 * Keeps the application itself in this browser, so that it opens without its server. A newer version is taken over when
 * the page is opened, never while it is open.
 */
export async function keepApp(mayReplace: () => boolean): Promise<void> {
  if (!import.meta.env.PROD || !('serviceWorker' in navigator)) return;
  try {
    const registration = await navigator.serviceWorker.register('/sw.js');
    const { waiting } = registration;
    if (!waiting || !navigator.serviceWorker.controller || !mayReplace()) return;
    navigator.serviceWorker.addEventListener('controllerchange', () => {
      if (performance.now() < FRESH_MS && mayReplace()) location.reload();
    });
    waiting.postMessage({ type: 'SKIP_WAITING' });
  } catch {
    // Without it the application needs its server to open; everything else goes on.
  }
}

/** Whether the application opens without its server. */
export const isAppKept = async (): Promise<boolean> => {
  if (!('serviceWorker' in navigator)) return false;
  const registration = await navigator.serviceWorker.getRegistration();
  return registration?.active?.state === 'activated';
};
