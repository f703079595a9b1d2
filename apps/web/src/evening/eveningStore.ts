import type { Evening } from '@idle-step/contract';
import type { Bookmark, Show } from '@idle-step/core/engine';
import type { EveningEntry } from '@idle-step/core/show';
import type { StandInState } from '@idle-step/core/standins';
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';

/** Where playing stands, with the time of day at which it was written, in ms. */
export type KeptPlace = {
  readonly bookmark: Bookmark;
  readonly wallMs: number;
  /** The stand-ins by device, on a clock that shows 0 at that time: gear goes on while the page is away. */
  readonly standIns?: Readonly<Record<string, StandInState>>;
  /** The evening that is being written down, and the number of its next line. */
  readonly evening: { readonly head: Evening; readonly next: number } | null;
};

export type Kept = { readonly show: Show | null; readonly place: KeptPlace | null };

/** Lines of one evening that the server has not confirmed yet. */
export type Unsent = { readonly evening: Evening; readonly entries: readonly EveningEntry[] };

interface EveningDb extends DBSchema {
  now: { key: 'show' | 'place'; value: Show | KeptPlace };
  heads: { key: string; value: Evening };
  lines: { key: [string, number]; value: EveningEntry };
}

/**
 * What an evening needs to outlive the page and the browser: the show in play, where it stands, and the log until the
 * server has it. Kept by the browser on its disk.
 */
export class EveningStore {
  private readonly db: Promise<IDBPDatabase<EveningDb>>;

  constructor(name = 'idle-step') {
    this.db = openDB<EveningDb>(name, 1, {
      upgrade(db) {
        db.createObjectStore('now');
        db.createObjectStore('heads', { keyPath: 'id' });
        db.createObjectStore('lines');
      },
    });
    // Whoever asks for it is told; nobody has to.
    this.db.catch(() => undefined);
  }

  async load(): Promise<Kept> {
    const db = await this.db;
    const [show, place] = await Promise.all([db.get('now', 'show'), db.get('now', 'place')]);
    return { show: (show as Show | undefined) ?? null, place: (place as KeptPlace | undefined) ?? null };
  }

  async keepShow(show: Show): Promise<void> {
    await (await this.db).put('now', show, 'show');
  }

  /** Writes where playing stands and what happened since, all of it or nothing. */
  async keep(place: KeptPlace, head: Evening | null, entries: readonly EveningEntry[]): Promise<void> {
    const db = await this.db;
    const tx = db.transaction(['now', 'heads', 'lines'], 'readwrite');
    const written = [
      tx.objectStore('now').put(place, 'place'),
      ...(head
        ? [
            tx.objectStore('heads').put(head),
            ...entries.map((e) => tx.objectStore('lines').put(e, [head.id, e.number])),
          ]
        : []),
    ];
    await Promise.all([...written, tx.done]);
  }

  /** The oldest lines that were not sent, of one evening; `null` where there are none. */
  async unsent(count: number): Promise<Unsent | null> {
    const db = await this.db;
    for (const evening of await db.getAll('heads')) {
      const entries = await db.getAll('lines', ofEvening(evening.id), count);
      return { evening, entries };
    }
    return null;
  }

  /** The server has these lines; the evening itself is forgotten once it is over and nothing of it is left. */
  async wasSent({ evening, entries }: Unsent, isOver: (evening: Evening) => boolean): Promise<void> {
    const db = await this.db;
    const tx = db.transaction(['heads', 'lines'], 'readwrite');
    const lines = tx.objectStore('lines');
    const last = entries.at(-1);
    if (last) await lines.delete(IDBKeyRange.bound([evening.id, 0], [evening.id, last.number]));
    const now = await tx.objectStore('heads').get(evening.id);
    const left = await lines.count(ofEvening(evening.id));
    // What was written meanwhile, its end among it, is told next time.
    if (now && left === 0 && now.endedAt === evening.endedAt && isOver(now))
      await tx.objectStore('heads').delete(evening.id);
    await tx.done;
  }

  async unsentCount(): Promise<number> {
    return (await this.db).count('lines');
  }
}

const ofEvening = (id: string): IDBKeyRange => IDBKeyRange.bound([id, 0], [id, Number.MAX_SAFE_INTEGER]);
