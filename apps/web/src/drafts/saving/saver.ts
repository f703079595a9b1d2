import type { Resource } from '@idle-step/contract';
import type { AnyDoc } from '../../api/api';
import { answered, sending, type Draft, type Outcome } from './saving';

/** How long after the last change a text is saved, in ms: within a second, but not letter by letter. */
const SAVE_AFTER_MS = 500;
/** How long until the next try when the server did not answer, in ms. */
const TRY_AGAIN_MS = 2000;

export type SaveRequest = { readonly resource: Resource; readonly doc: AnyDoc; readonly version: number };

/** What the saver needs of the page, or of a test. */
export type SaverHost = {
  draft(key: string): Draft | undefined;
  change(key: string, next: Draft): void;
  /** Calls `answer` when an answer came, or when it is sure that none will. */
  send(request: SaveRequest, answer: (outcome: Outcome) => void): void;
  after(ms: number, call: () => void): void;
};

/** Brings every draft that waits to the server: one request at a time for each document. */
export class Saver {
  private attempts = 0;
  private readonly timed = new Set<string>();

  constructor(private readonly host: SaverHost) {}

  /** Looks at a draft that was changed: one that waits is sent soon, one that the server did not take is tried again. */
  look(key: string): void {
    const kind = this.host.draft(key)?.status.kind;
    if ((kind !== 'waiting' && kind !== 'off') || this.timed.has(key)) return;
    this.timed.add(key);
    this.host.after(kind === 'waiting' ? SAVE_AFTER_MS : TRY_AGAIN_MS, () => {
      this.timed.delete(key);
      this.sendNow(key);
    });
  }

  /** Sends a draft at once where it waits. */
  sendNow(key: string): void {
    const draft = this.host.draft(key);
    if (draft?.status.kind !== 'waiting' && draft?.status.kind !== 'off') return;
    const attempt = ++this.attempts;
    this.host.change(key, sending(draft, attempt));
    const { resource, doc, version } = draft;
    this.host.send({ resource, doc, version }, (outcome) => {
      const now = this.host.draft(key);
      if (!now) return;
      const next = answered(now, attempt, outcome);
      if (next === now) return;
      this.host.change(key, next);
      this.look(key);
    });
  }
}
