import { GearRecordSchema, type GearRecord } from '@idle-step/contract';
import { z } from 'zod';
import { api } from '../api/api';
import { failureOf } from '../api/problem';
import { lasting } from '../storage/keptTexts';
import type { store as Store } from '../store';
import { waitingOfAll } from './waiting';

const KEY = 'idle-step.records-to-keep';
/** How long after a failure it is tried again, in ms. */
const AGAIN_MS = 5000;

/** Answers after which the same may be taken later: a slow request, too many of them. */
const LATER = new Set([408, 429]);

/** What the server has not kept. */
export type Unkept = {
  /** How many it has not taken yet; they are told again. */
  readonly waiting: number;
  /** Why it refused the last one that it will never take, as a sentence; `null` where there is none. */
  readonly refused: string | null;
};

/**
 * Has the server keep what is known of gear. What it does not take is kept in this browser meanwhile and told again: a
 * board was told something, and that stays so whether or not the server is there.
 */
export class RecordKeeper {
  private readonly waiting = new Map<string, GearRecord>();
  /** When the words were said that this window got rid of, in ms: another window may have others waiting. */
  private readonly settled = new Map<string, number>();
  private isTelling = false;
  private unkept: Unkept = { waiting: 0, refused: null };
  private readonly listeners = new Set<() => void>();

  constructor(private readonly store: typeof Store) {
    for (const record of readWaiting()) this.waiting.set(record.id, record);
    this.changed(null);
    if (this.waiting.size > 0) void this.tell();
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  readonly getUnkept = (): Unkept => this.unkept;

  /** What was refused has been read. */
  readonly dismiss = (): void => this.changed(null);

  /** Shown at once, kept as soon as the server takes it. */
  keep(record: GearRecord): void {
    this.show(record.rigId, (all) => withRecord(all, record));
    this.waiting.set(record.id, record);
    this.changed();
    void this.tell();
  }

  /** @returns why the server refuses, or `null`. */
  async forget({ id, rigId }: GearRecord): Promise<string | null> {
    this.waiting.delete(id);
    this.settled.set(id, Date.now());
    this.changed();
    const answer = await this.store.dispatch(api.endpoints.forgetRecord.initiate(id));
    const isGone = !answer.error || ('status' in answer.error && answer.error.status === 404);
    if (!isGone) return 'The server did not answer, so nothing was deleted. Try it again.';
    this.show(rigId, (all) => all.filter((r) => r.id !== id));
    return null;
  }

  /** All that is known of a rig, as the server and this browser have it; `null` where the server does not say. */
  async of(rigId: string): Promise<readonly GearRecord[] | null> {
    const query = this.store.dispatch(api.endpoints.records.initiate(rigId));
    const { data } = await query;
    query.unsubscribe();
    return data ? withWaiting(data, rigId, this.waiting) : null;
  }

  private show(rigId: string, change: (all: readonly GearRecord[]) => GearRecord[]): void {
    this.store.dispatch(api.util.updateQueryData('records', rigId, (all) => change(all)));
  }

  private async tell(): Promise<void> {
    if (this.isTelling) return;
    this.isTelling = true;
    for (let next = first(this.waiting); next; next = first(this.waiting)) {
      const record = next;
      const answer = await this.store.dispatch(api.endpoints.keepRecord.initiate(record));
      const refused = answer.error ? refusalOf(answer.error) : null;
      if (refused === 'later') {
        window.setTimeout(() => void this.tell(), AGAIN_MS);
        break;
      }
      // What was known anew meanwhile is told as well.
      if (this.waiting.get(record.id) === record) {
        this.waiting.delete(record.id);
        this.settled.set(record.id, Date.parse(record.at));
        // A list that was read before the server took it has it now; another window may have said something later.
        this.show(record.rigId, (all) => withRecord(all, answer.data ?? record));
      }
      this.changed(refused ?? this.unkept.refused);
    }
    this.isTelling = false;
  }

  private changed(refused = this.unkept.refused): void {
    this.unkept = { waiting: this.waiting.size, refused };
    try {
      const all = waitingOfAll(readWaiting(), this.waiting.values(), this.settled);
      if (all.length === 0) lasting.store.removeItem(KEY);
      else lasting.store.setItem(KEY, JSON.stringify(all));
    } catch {
      // A browser that is full keeps it as long as the page is open.
    }
    for (const listener of this.listeners) listener();
  }
}

/** Why the server will never take it, as a sentence; `'later'`; or `null` where its rig was deleted: nothing is missed. */
function refusalOf(error: Parameters<typeof failureOf>[0]): string | 'later' | null {
  const status = error && 'status' in error && typeof error.status === 'number' ? error.status : 500;
  if (status >= 500 || LATER.has(status)) return 'later';
  if (status === 404) return null;
  const failure = failureOf(error);
  return failure.kind === 'problem' ? failure.problem.detail : `It answered with status ${status}.`;
}

/** A list with a record in its place, the newest first, as the server gives it. */
const withRecord = (all: readonly GearRecord[], record: GearRecord): GearRecord[] =>
  [record, ...all.filter((r) => r.id !== record.id)].toSorted(
    (a, b) => Date.parse(b.at) - Date.parse(a.at) || (a.id < b.id ? -1 : 1),
  );

const first = (waiting: ReadonlyMap<string, GearRecord>): GearRecord | undefined =>
  waiting.values().next().value;

/** What the server has, with what it has not taken yet in its place. */
export const withWaiting = (
  kept: readonly GearRecord[],
  rigId: string,
  waiting: ReadonlyMap<string, GearRecord>,
): readonly GearRecord[] => {
  const own = [...waiting.values()].filter((r) => r.rigId === rigId);
  return own.length === 0 ? kept : [...own, ...kept.filter((r) => !waiting.has(r.id))];
};

function readWaiting(): readonly GearRecord[] {
  try {
    return z.array(GearRecordSchema).safeParse(JSON.parse(lasting.store.getItem(KEY) ?? '[]')).data ?? [];
  } catch {
    return [];
  }
}
