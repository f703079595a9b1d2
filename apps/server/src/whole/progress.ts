import type { RigProgress } from '@idle-step/contract';

/** How far long work on whole rigs is, as long as it lasts: told to whoever asks beside it. */
export class Progress {
  private readonly running = new Map<string, { done: number; of: number }>();

  /** Does some work on a rig. @param work is given what to tell after each piece: how many songs are done more. */
  async during<T>(rigId: string, work: (of: (songs: number) => void, done: Done) => Promise<T>): Promise<T> {
    const now = { done: 0, of: 0 };
    this.running.set(rigId, now);
    try {
      return await work(
        (songs) => void Object.assign(now, { done: 0, of: songs }),
        (songs) => void (now.done += songs),
      );
    } finally {
      if (this.running.get(rigId) === now) this.running.delete(rigId);
    }
  }

  at(rigId: string): RigProgress {
    return { ...(this.running.get(rigId) ?? { done: 0, of: 0 }) };
  }
}

/** Told after each piece how many songs it had. */
export type Done = (songs: number) => void;
