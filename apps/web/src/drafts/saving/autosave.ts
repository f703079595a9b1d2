import type { Middleware } from '@reduxjs/toolkit';
import { PROBLEM, setSummary, songSummary, type Kept } from '@idle-step/contract';
import { api, type AnyDoc } from '../../api/api';
import { failureOf } from '../../api/problem';
import { savingWentOn, takenUp, type DraftsState } from '../draftsSlice';
import { Journal, type JournalStorage, type Left } from './journal';
import { Saver } from './saver';
import type { Draft, Outcome } from './saving';
import { nth } from '@idle-step/core/sure';

/** A server that has not answered by then is taken not to, in ms. */
const ANSWER_WITHIN_MS = 15_000;

type Store = { getState(): { drafts: DraftsState }; dispatch(action: never): unknown };

/**
 * Saves every edited document by itself, and writes down what is not saved yet so that it outlives the page.
 * @param saver given to what saves on leaving.
 */
export class Autosave {
  private store: Store | null = null;
  private journal: Journal | null = null;
  /** Texts that other windows left of documents that are not saved here yet: one after the other is taken up. */
  private left: readonly Left[] = [];
  private readonly saver = new Saver({
    draft: (key) => this.drafts()[key],
    change: (key, draft) => this.dispatch(savingWentOn({ key, draft })),
    send: (request, answer) => {
      void this.send(request).then((outcome) => {
        if (outcome.kind === 'kept') rememberKept(this.dispatch, request.resource, outcome.kept);
        if (outcome.kind === 'stale') rememberKept(this.dispatch, request.resource, outcome.theirs);
        answer(outcome);
      });
    },
    after: (ms, call) => void setTimeout(call, ms),
  });

  readonly middleware: Middleware = (store) => {
    this.store = store;
    return (next) => (action) => {
      const before = store.getState().drafts.byKey;
      const result = next(action);
      const after = this.drafts();
      if (before !== after)
        for (const key of new Set([...Object.keys(before), ...Object.keys(after)]))
          if (before[key] !== after[key]) this.look(key);
      return result;
    };
  };

  /** Every text that could not be written down, so that leaving would lose it. */
  readonly unwritten = new Set<string>();

  /** Takes up what was not saved when a window went, and from now on writes down what is not saved yet. */
  resume(storage: JournalStorage, windowId: string, isOpen: (windowId: string) => boolean): void {
    this.journal = new Journal(storage, windowId);
    this.left = this.journal.left(isOpen);
    this.takeUp();
  }

  /** A text went out whose answer nobody will hear. */
  leftWith(key: string, draft: Draft): void {
    this.journal?.note(key, { ...draft, sent: [...draft.sent, draft.doc] });
  }

  private takeUp(): void {
    const isFree = (key: string) => (this.drafts()[key]?.status.kind ?? 'saved') === 'saved';
    for (;;) {
      const next = this.left.find((l) => isFree(l.key));
      if (!next) return;
      this.left = this.left.filter((l) => l !== next);
      this.dispatch(takenUp({ key: next.key, draft: next.draft }));
      // Where it could not be written down here, it stays where it was.
      if (!this.unwritten.has(next.key)) next.taken();
    }
  }

  private look(key: string): void {
    const draft = this.drafts()[key];
    if (this.left.length > 0 && draft?.status.kind === 'saved') setTimeout(() => this.takeUp());
    if (this.journal && !this.journal.note(key, draft)) this.unwritten.add(key);
    else this.unwritten.delete(key);
    this.saver.look(key);
  }

  private drafts(): Record<string, Draft> {
    return this.store?.getState().drafts.byKey ?? {};
  }

  // The type of the store is made of this middleware, so it cannot be named here.
  private readonly dispatch = (action: unknown): unknown => this.store?.dispatch(action as never);

  private async send(request: Parameters<typeof api.endpoints.saveDoc.initiate>[0]): Promise<Outcome> {
    // What a dispatched request comes back as; see `dispatch`.
    const sent = this.dispatch(api.endpoints.saveDoc.initiate(request)) as ReturnType<
      ReturnType<typeof api.endpoints.saveDoc.initiate>
    >;
    const timer = setTimeout(() => sent.abort(), ANSWER_WITHIN_MS);
    const result = await sent;
    clearTimeout(timer);
    if (result.data) return { kind: 'kept', kept: result.data };
    const failure = failureOf(result.error);
    if (failure.kind === 'unreachable') return { kind: 'lost' };
    const { problem } = failure;
    if (problem.status >= 500) return { kind: 'lost', why: problem.detail };
    return problem.type === PROBLEM.stale && problem.current
      ? // A stale save is answered with the document that is kept.
        { kind: 'stale', theirs: problem.current as Kept<AnyDoc> }
      : { kind: 'refused', problem };
  }
}

/** Puts a document that the server just kept into the cached lists. */
export function rememberKept(
  dispatch: (action: ReturnType<typeof api.util.updateQueryData>) => unknown,
  resource: 'rigs' | 'presets' | 'songs' | 'sets',
  kept: Kept<AnyDoc>,
): void {
  const put = (list: Kept<AnyDoc>[]) => {
    const index = list.findIndex((k) => k.doc.id === kept.doc.id);
    if (index < 0) list.push(kept);
    else if (nth(list, index).version < kept.version) list[index] = kept;
  };
  const rigId = 'rigId' in kept.doc ? kept.doc.rigId : '';
  const args = resource === 'rigs' ? undefined : rigId;
  dispatch(api.util.updateQueryData(resource, args, put));
  if ('scenes' in kept.doc) dispatch(listed('songList', rigId, songSummary(kept.doc)));
  if ('entries' in kept.doc) dispatch(listed('setList', rigId, setSummary(kept.doc)));
}

/** A line of a list as it is now: in its place, or a new one. */
const listed = <T extends { id: string }>(list: 'songList' | 'setList', rigId: string, line: T) =>
  api.util.updateQueryData(list, rigId, ((page: { total: number; items: T[] }) => {
    const index = page.items.findIndex((i) => i.id === line.id);
    if (index >= 0) page.items[index] = line;
    else {
      page.items.push(line);
      page.total++;
    }
    // The line is of the kind of its list.
  }) as never);
