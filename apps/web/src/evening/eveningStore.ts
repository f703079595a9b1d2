import type { Evening } from '@idle-step/contract';
import type { Show } from '@idle-step/core/engine';
import type { EveningEntry } from '@idle-step/core/show';
import { forgetLeftBehind, leaveBehind, readLeftBehind, type LeftBehind } from './leftBehind';
import type { KeptPlace } from './keptPlace';
import { openDB, type DBSchema, type IDBPDatabase, type OpenDBCallbacks } from 'idb';

export type Kept = { readonly show: Show | null; readonly place: KeptPlace | null };

/** Lines of one evening that the server has not confirmed yet. */
export type Unsent = { readonly evening: Evening; readonly entries: readonly EveningEntry[] };

interface EveningDb extends DBSchema {
  now: { key: 'show' | 'place'; value: Show | KeptPlace };
  heads: { key: string; value: Evening };
  lines: { key: [string, number]; value: EveningEntry };
}

/** Lines that are held in the page until the server has them, at the most; older ones then lie on the disk alone. */
const HELD_AT_MOST = 50_000;

type Write = {
  readonly place: KeptPlace;
  readonly head: Evening | null;
  readonly entries: readonly EveningEntry[];
};
type Held = { head: Evening; readonly lines: Map<number, EveningEntry> };

/**
 * What an evening needs to outlive the page and the browser: the show in play, where it stands, and the log until the
 * server has it. Kept by the browser on its disk. What this page wrote is held in the page too until the server has it, so
 * that a disk that refuses, is full or is cleared in the middle of a set costs no line as long as the page is open.
 */
export class EveningStore {
  private db: Promise<IDBPDatabase<EveningDb>> | null = null;
  private readonly held = new Map<string, Held>();
  /** What the disk has not confirmed yet, in order. */
  private readonly onTheWay = new Set<Write>();
  /** The disk has not all that is held here: the next write brings it all. */
  private lacks = false;
  /** Told when what was on the disk is gone: all has to be kept anew. */
  onCleared: () => void = () => undefined;

  constructor(private readonly name = 'idle-step') {
    // Whoever asks for it is told; nobody has to.
    this.open().catch(() => undefined);
  }

  async load(): Promise<Kept> {
    const db = await this.open();
    const left = await readLeftBehind();
    const isOnDisk = left === null || (await this.fold(left).then(isDone, () => false));
    // Under a name of `Kept` nothing else is written.
    const read = async <N extends keyof Kept>(name: N) => ((await db.get('now', name)) ?? null) as Kept[N];
    const [show, place] = await Promise.all([read('show'), read('place')]);
    if (isOnDisk || (place && place.wallMs >= left.place.wallMs)) return { show, place };
    // A disk that takes nothing now does not make the evening an older one.
    this.lacks = true;
    for (const { evening, entries } of left.reports) this.hold(evening, entries);
    return { show, place: left.place };
  }

  async keepShow(show: Show): Promise<void> {
    await (await this.open()).put('now', show, 'show');
  }

  /** Writes where playing stands and what happened since, all of it or nothing. */
  async keep(place: KeptPlace, head: Evening | null, entries: readonly EveningEntry[]): Promise<void> {
    if (head) this.hold(head, entries);
    const write = { place, head, entries };
    this.onTheWay.add(write);
    try {
      const db = await this.open();
      const { lacks } = this;
      const tx = db.transaction(['now', 'heads', 'lines'], 'readwrite');
      const heads = lacks ? [...this.held.values()].map((h) => h.head) : head ? [head] : [];
      const lines = lacks
        ? [...this.held].flatMap(([id, h]) => [...h.lines.values()].map((e) => [id, e] as const))
        : head
          ? entries.map((e) => [head.id, e] as const)
          : [];
      const written = [
        tx.objectStore('now').put(place, 'place'),
        ...heads.map((h) => tx.objectStore('heads').put(h)),
        ...lines.map(([id, e]) => tx.objectStore('lines').put(e, [id, e.number])),
      ];
      await Promise.all([...written, tx.done]);
      if (lacks) this.lacks = false;
    } catch (error) {
      this.lacks = true;
      throw error;
    } finally {
      this.onTheWay.delete(write);
    }
  }

  /** The page goes away: what is on its way to the disk is brought there by the next one. */
  leave(): void {
    const writes = [...this.onTheWay];
    const place = writes.at(-1)?.place;
    const reports = writes.flatMap(({ head, entries }) => (head ? { evening: head, entries } : []));
    if (place) leaveBehind({ place, reports });
  }

  /** Brings what was left behind to the disk, unless that got it or something later after all. */
  private async fold({ place, reports }: LeftBehind): Promise<void> {
    const tx = (await this.open()).transaction(['now', 'heads', 'lines'], 'readwrite');
    const kept = await tx.objectStore('now').get('place');
    if (!kept || !('wallMs' in kept) || kept.wallMs < place.wallMs) {
      const heads = tx.objectStore('heads');
      const lines = tx.objectStore('lines');
      await tx.objectStore('now').put(place, 'place');
      for (const { evening, entries } of reports) {
        await heads.put(evening);
        for (const entry of entries) await lines.put(entry, [evening.id, entry.number]);
      }
    }
    await tx.done;
    forgetLeftBehind();
  }

  /** The oldest lines that were not sent, of one evening; `null` where there are none. */
  async unsent(count: number): Promise<Unsent | null> {
    const db = await this.open().catch(() => null);
    // What lies on the disk is from this page or from one before.
    if (db && !this.lacks)
      for (const evening of await db.getAll('heads')) {
        const entries = await db.getAll('lines', ofEvening(evening.id), count);
        return { evening, entries };
      }
    for (const { head, lines } of this.held.values())
      return { evening: head, entries: [...lines.values()].slice(0, count) };
    return null;
  }

  /** The server has these lines; the evening itself is forgotten once it is over and nothing of it is left. */
  async wasSent({ evening, entries }: Unsent, isOver: (evening: Evening) => boolean): Promise<void> {
    const held = this.held.get(evening.id);
    for (const { number } of entries) held?.lines.delete(number);
    if (held?.lines.size === 0 && held.head.endedAt === evening.endedAt && isOver(held.head))
      this.held.delete(evening.id);
    const db = await this.open().catch(() => null);
    if (!db) return;
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
    const held = [...this.held.values()].reduce((sum, h) => sum + h.lines.size, 0);
    const db = this.lacks ? null : await this.open().catch(() => null);
    return db ? db.count('lines') : held;
  }

  private hold(head: Evening, entries: readonly EveningEntry[]): void {
    const held = this.held.get(head.id) ?? { head, lines: new Map<number, EveningEntry>() };
    held.head = head;
    for (const entry of entries) held.lines.set(entry.number, entry);
    for (const number of held.lines.keys()) {
      if (held.lines.size <= HELD_AT_MOST) break;
      held.lines.delete(number);
    }
    this.held.set(head.id, held);
  }

  /** The database; opened anew where it was cleared or closed meanwhile, and tried again where it was refused. */
  private open(): Promise<IDBPDatabase<EveningDb>> {
    if (this.db) return this.db;
    const forget = (): void => {
      if (this.db !== opened) return;
      this.db = null;
      this.lacks = true;
      this.onCleared();
    };
    const opened = opening(this.name, {
      upgrade(db) {
        db.createObjectStore('now');
        db.createObjectStore('heads', { keyPath: 'id' });
        db.createObjectStore('lines');
      },
      // The browser closed it: its data was cleared, or its disk failed.
      terminated: forget,
      // Somebody wants to delete it, which an open one would hold up.
      blocking: () => {
        void opened.then((db) => db.close());
        forget();
      },
    });
    this.db = opened;
    opened.catch(() => {
      if (this.db === opened) this.db = null;
    });
    return opened;
  }
}

const isDone = (): boolean => true;

/** A browser that refuses its database throws at once or rejects. */
async function opening(
  name: string,
  callbacks: OpenDBCallbacks<EveningDb>,
): Promise<IDBPDatabase<EveningDb>> {
  return openDB<EveningDb>(name, 1, callbacks);
}

const ofEvening = (id: string): IDBKeyRange => IDBKeyRange.bound([id, 0], [id, Number.MAX_SAFE_INTEGER]);
