import type { PortLoad } from '@idle-step/core/gear';
import type { LinkKind } from '@idle-step/core/midi';
import { startTransition, useEffect, useState } from 'react';
import { useLiveHost } from '../live/useLive';

/** Often enough to see a sweep, seldom enough to be read. */
const LOOK_EVERY_MS = 250;
const NONE: ReadonlyMap<string, PortLoad> = new Map();

/** What every port at the computer carried in the last second, looked at four times a second. */
export function useLoads(): ReadonlyMap<string, PortLoad> {
  const host = useLiveHost();
  const [loads, setLoads] = useState(NONE);
  useEffect(() => {
    const timer = window.setInterval(() => {
      const now = host.loads();
      const isQuiet = [...now.values()].every((l) => l.messagesPerSecond === 0);
      startTransition(() => setLoads((before) => (isQuiet ? NONE : now === before ? before : now)));
    }, LOOK_EVERY_MS);
    return () => window.clearInterval(timer);
  }, [host]);
  return loads;
}

/** Example: `12/s, 4 %`; the share of the link is given for DIN only, which alone can be full. */
export function loadWords(load: PortLoad, link: LinkKind): string {
  if (link !== 'din') return `${load.messagesPerSecond}/s`;
  const percent = Math.round(load.dinShare * 100);
  return `${load.messagesPerSecond}/s, ${percent === 0 ? '<1' : percent} %`;
}
