import type { LastPress } from './lastPress';
import type { LiveSnapshot } from '../snapshot';

/** A press, as the screen is told of it. */
export const PRESS: LastPress = {
  wallMs: 0,
  controlId: 'a',
  label: 'VERSE',
  messages: 1,
  untaken: 0,
  waits: false,
  settledInMs: 0,
  trouble: null,
};

/** What the screen is told from, with nothing but presses in it. */
export class Shown {
  private snapshot = { lastPress: null } as LiveSnapshot;
  private readonly listeners = new Set<() => void>();

  readonly getSnapshot = (): LiveSnapshot => this.snapshot;
  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  tell(part: Partial<LiveSnapshot>): void {
    this.snapshot = { ...this.snapshot, ...part };
    for (const listener of this.listeners) listener();
  }
}
