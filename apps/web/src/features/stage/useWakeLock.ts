import { useEffect } from 'react';

/** Keeps the screen awake while the stage is open, where the browser can; asked again when the page comes back. */
export function useWakeLock(): void {
  useEffect(() => {
    if (!('wakeLock' in navigator)) return;
    let lock: WakeLockSentinel | null = null;
    let isOver = false;
    const ask = async () => {
      if (document.hidden || isOver) return;
      try {
        lock = await navigator.wakeLock.request('screen');
        if (isOver) await lock.release();
      } catch {
        // Refused, as on a low battery: the screen follows the computer's own settings.
      }
    };
    const again = () => void ask();
    void ask();
    document.addEventListener('visibilitychange', again);
    return () => {
      isOver = true;
      document.removeEventListener('visibilitychange', again);
      void lock?.release();
    };
  }, []);
}
