import type { PortLoad } from '@idle-step/core/gear';
import type { LinkKind } from '@idle-step/core/midi';
import { useCallback, useSyncExternalStore } from 'react';
import { AWAITS_PRESS_MS, afterPress } from '../live/use/afterPress';
import type { LiveHost } from '../live/LiveHost';
import { useLiveHost } from '../live/use/useLive';

/** As often as what is told, a second, is another one: more often it cannot be read, and it is drawn for nothing. */
const LOOK_EVERY_MS = 1000;

/** Looks at the load of all ports for those who show it, with one timer, and only while somebody does. */
class LoadWatch {
  private loads: ReadonlyMap<string, PortLoad> = new Map();
  private readonly listeners = new Set<() => void>();
  private timer = 0;
  private stopWaiting = (): void => undefined;

  constructor(private readonly host: LiveHost) {}

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    if (this.listeners.size === 1) this.timer = window.setInterval(() => this.look(), LOOK_EVERY_MS);
    return () => {
      this.listeners.delete(listener);
      if (this.listeners.size > 0) return;
      window.clearInterval(this.timer);
      this.stopWaiting();
    };
  };

  of(portId: string): PortLoad | undefined {
    return this.loads.get(portId);
  }

  private look(): void {
    this.stopWaiting();
    this.stopWaiting = afterPress(this.host, AWAITS_PRESS_MS, () => {
      this.loads = this.host.loads();
      for (const listener of this.listeners) listener();
    });
  }
}

const WATCHES = new WeakMap<LiveHost, LoadWatch>();

function watchOf(host: LiveHost): LoadWatch {
  const watch = WATCHES.get(host) ?? new LoadWatch(host);
  WATCHES.set(host, watch);
  return watch;
}

/** What a port at the computer carried in the last second, in words; drawn anew only when the words change. */
export function useLoadWords(portId: string | undefined, link: LinkKind): string {
  const watch = watchOf(useLiveHost());
  const read = useCallback(() => {
    const load = portId === undefined ? undefined : watch.of(portId);
    return load && load.messagesPerSecond > 0 ? loadWords(load, link) : '';
  }, [watch, portId, link]);
  return useSyncExternalStore(watch.subscribe, read);
}

/**
 * Example: `12/s, 4 %`; the share of the link is given for DIN only, which alone can be full. From 100 on in tens: more
 * cannot be read while it changes.
 */
export function loadWords(load: PortLoad, link: LinkKind): string {
  const rate = load.messagesPerSecond;
  const shown = rate < 100 ? rate : Math.round(rate / 10) * 10;
  if (link !== 'din') return `${shown}/s`;
  const percent = Math.round(load.dinShare * 100);
  return `${shown}/s, ${percent === 0 ? '<1' : percent} %`;
}
