import { applied, differenceOf, type Difference } from '@idle-step/core/edits';
import { RESOURCES } from '@idle-step/contract';
import { z } from 'zod';
import type { AnyDoc } from '../../api/api';
import type { Draft } from './saving';

/** Where what is not saved yet is written down, so that it outlives the page. */
export type JournalStorage = Pick<Storage, 'getItem' | 'setItem' | 'removeItem' | 'key' | 'length'>;

const PREFIX = 'idle-step.unsaved/';

/** What is written of a draft: the text it was made from, and what was changed, as differences. */
const EntrySchema = z.object({
  resource: z.enum(RESOURCES),
  base: z.looseObject({ id: z.string(), name: z.string() }),
  version: z.number(),
});
const ChangesSchema = z.object({
  mine: z.array(z.any()),
  sent: z.array(z.array(z.any())),
  /** A conflict that nobody has settled: the base is what is kept then. */
  conflict: z
    .object({
      savedAt: z.string(),
      disputed: z.array(z.array(z.union([z.string(), z.object({ row: z.string() })]))),
    })
    .nullish(),
});

/** A text that a window left unsaved. */
export type Left = {
  readonly key: string;
  readonly draft: Draft;
  /** It is written down by this window now: the other one's copy is not needed any more. */
  taken(): void;
};

/** Texts of this window that are not saved yet, kept until they are. The base is written once, changes each time. */
export class Journal {
  private readonly bases = new Map<string, AnyDoc>();

  constructor(
    private readonly storage: JournalStorage,
    /** By which this window is told from others. */
    private readonly windowId: string,
  ) {}

  /** @returns whether it could be written down. */
  note(key: string, draft: Draft | undefined): boolean {
    const place = `${PREFIX}${this.windowId}/${key}`;
    if (!draft || draft.status.kind === 'saved') {
      if (this.bases.delete(key)) {
        this.storage.removeItem(place);
        this.storage.removeItem(`${place}/changes`);
      }
      return true;
    }
    const { resource, base, version, doc, sent, status } = draft;
    try {
      if (this.bases.get(key) !== base) {
        this.storage.setItem(place, JSON.stringify({ resource, base, version }));
        this.bases.set(key, base);
      }
      const from = base;
      const changes = {
        mine: differenceOf(from, doc),
        sent: sent.map((text) => differenceOf(from, text)),
        conflict:
          status.kind === 'conflict' ? { savedAt: status.theirs.savedAt, disputed: status.disputed } : null,
      };
      this.storage.setItem(`${place}/changes`, JSON.stringify(changes));
      return true;
    } catch {
      return false;
    }
  }

  /**
   * What windows left that are gone, this one before a reload among them, its own first. What cannot be read is left out.
   * @param isOpen whether another window is still there.
   */
  left(isOpen: (windowId: string) => boolean): Left[] {
    const [own, others]: [Left[], Left[]] = [[], []];
    const places = Array.from({ length: this.storage.length }, (_, i) => this.storage.key(i) ?? '');
    for (const place of places) {
      if (!place.startsWith(PREFIX) || place.endsWith('/changes')) continue;
      const [windowId = '', ...rest] = place.slice(PREFIX.length).split('/');
      const key = rest.join('/');
      const draft = windowId !== this.windowId && isOpen(windowId) ? null : this.read(place);
      if (!draft) continue;
      if (windowId === this.windowId) {
        this.bases.set(key, draft.base);
        own.push({ key, draft, taken: () => undefined });
      } else
        others.push({
          key,
          draft,
          taken: () => {
            this.storage.removeItem(place);
            this.storage.removeItem(`${place}/changes`);
          },
        });
    }
    return [...own, ...others];
  }

  private read(place: string): Draft | null {
    const entry = EntrySchema.safeParse(parsed(this.storage.getItem(place)));
    const changes = ChangesSchema.safeParse(parsed(this.storage.getItem(`${place}/changes`)));
    if (!entry.success || !changes.success) return null;
    const { resource, version } = entry.data;
    // Only drafts are written down, so it is a document of this application.
    const base = entry.data.base as AnyDoc;
    const { conflict } = changes.data;
    const made = (difference: Difference) => applied(base, difference);
    return {
      resource,
      base,
      version,
      doc: made(changes.data.mine),
      sent: changes.data.sent.map((d) => made(d)),
      past: [],
      future: [],
      // What nobody has settled is asked about again.
      status: conflict
        ? {
            kind: 'conflict',
            theirs: { doc: base, version, savedAt: conflict.savedAt },
            disputed: conflict.disputed,
          }
        : { kind: 'waiting' },
    };
  }
}

function parsed(text: string | null): unknown {
  try {
    return JSON.parse(text ?? 'null');
  } catch {
    return null;
  }
}
