import type { Kept, Problem, Resource } from '@idle-step/contract';
import {
  applied,
  differenceOf,
  isSameJson,
  isWithin,
  merged,
  reversed,
  type Difference,
  type Path,
} from '@idle-step/core/edits';
import type { AnyDoc } from '../../api/api';
import { lastOf } from '@idle-step/core/sure';

/** How the text on the screen stands to the one that is kept. */
export type DraftStatus =
  | { readonly kind: 'saved'; readonly at: string }
  /** Edited, and soon sent. */
  | { readonly kind: 'waiting' }
  /** Sent, and not answered yet; what is typed meanwhile waits for the answer. */
  | { readonly kind: 'in-flight'; readonly attempt: number }
  /** The server does not answer, or says why it cannot store anything: kept here and tried again. */
  | { readonly kind: 'off'; readonly why: string | null }
  /** The server refused it: what is wrong, and where. */
  | { readonly kind: 'refused'; readonly problem: Problem }
  /** The same parts were changed elsewhere: `theirs` is what is kept, and the text here has mine of them. */
  | { readonly kind: 'conflict'; readonly theirs: Kept<AnyDoc>; readonly disputed: readonly Path[] };

/** One step that can be undone: what it was, and what it changed. `order` counts steps over all drafts. */
export type Step = { readonly label: string; readonly difference: Difference; readonly order: number };

/** A document that is edited here. */
export type Draft = {
  readonly resource: Resource;
  readonly doc: AnyDoc;
  /** The text that the server keeps, as far as is known here, and its version: this one was made from it. */
  readonly base: AnyDoc;
  readonly version: number;
  readonly past: readonly Step[];
  readonly future: readonly Step[];
  readonly status: DraftStatus;
  /** Texts that were sent and of which nobody knows whether they were stored. */
  readonly sent: readonly AnyDoc[];
};

/** Steps that can be undone, at the most. */
export const UNDO_STEPS = 200;

const withDifference = (doc: AnyDoc, difference: Difference): AnyDoc => applied(doc, difference);

/** A draft that is saved and older than what the server keeps goes on from there: another window saved since. */
export const upToDate = (draft: Draft | undefined, kept: Kept<AnyDoc>): Draft | undefined =>
  draft?.status.kind === 'saved' && draft.version < kept.version
    ? {
        ...draft,
        doc: kept.doc,
        base: kept.doc,
        version: kept.version,
        status: { kind: 'saved', at: kept.savedAt },
      }
    : draft;

/** The text of a document as it is here. */
export const textOf = <D extends AnyDoc>(draft: Draft | undefined, kept: Kept<D>): D =>
  // A draft stands under the key of its document, so it is of the same kind.
  (upToDate(draft, kept)?.doc ?? kept.doc) as D;

/** A text was typed over the one here, or over the one that is kept. */
export function typed(
  draft: Draft | undefined,
  resource: Resource,
  kept: Kept<AnyDoc>,
  doc: AnyDoc,
  step: { readonly label: string; readonly order: number },
): Draft {
  const old = upToDate(draft, kept) ?? {
    resource,
    doc: kept.doc,
    base: kept.doc,
    version: kept.version,
    past: [],
    future: [],
    status: { kind: 'saved' as const, at: kept.savedAt },
    sent: [],
  };
  const difference = differenceOf(old.doc, doc);
  return {
    ...old,
    doc,
    past: [...old.past, { ...step, difference }].slice(-UNDO_STEPS),
    future: [],
    status: afterTyping(old.status),
  };
}

/** Takes the last step back, or brings the last one taken back again; what others changed meanwhile stays. */
export function stepped(draft: Draft, way: 'undo' | 'redo', order: number): Draft {
  const [from, to] = way === 'undo' ? [draft.past, draft.future] : [draft.future, draft.past];
  const step = from.at(-1);
  if (!step) return draft;
  const doc = withDifference(draft.doc, way === 'undo' ? reversed(step.difference) : step.difference);
  const rest = from.slice(0, -1);
  const moved = [...to, way === 'undo' ? step : { ...step, order }];
  return {
    ...draft,
    doc,
    ...(way === 'undo' ? { past: rest, future: moved } : { past: moved, future: rest }),
    status: afterTyping(draft.status),
  };
}

/** A conflict stays until it is settled, and what is under way until it is answered. */
const afterTyping = (status: DraftStatus): DraftStatus =>
  status.kind === 'saved' || status.kind === 'refused' ? { kind: 'waiting' } : status;

/** The text goes out. Only one at a time for each document. @param attempt by which its answer is known. */
export const sending = (draft: Draft, attempt: number): Draft => ({
  ...draft,
  status: { kind: 'in-flight', attempt },
  sent: [...draft.sent.filter((text) => !isSameJson(text, draft.doc)), draft.doc],
});

/** What came of a text that was sent. */
export type Outcome =
  | { readonly kind: 'kept'; readonly kept: Kept<AnyDoc> }
  /** Something else is kept by now. */
  | { readonly kind: 'stale'; readonly theirs: Kept<AnyDoc> }
  | { readonly kind: 'refused'; readonly problem: Problem }
  /** No answer came, so nobody knows whether it was stored; or the server said why it can store nothing now. */
  | { readonly kind: 'lost'; readonly why?: string };

/** Takes an answer. One to an attempt that is over, or that came twice, changes nothing. */
export function answered(draft: Draft, attempt: number, outcome: Outcome): Draft {
  if (draft.status.kind !== 'in-flight' || draft.status.attempt !== attempt) return draft;
  switch (outcome.kind) {
    case 'kept': {
      const { kept } = outcome;
      const sent = lastOf(draft.sent);
      const next = { ...draft, base: kept.doc, version: kept.version, sent: [] };
      // What the server makes of a text is what is kept of it; what was typed since is made on top of that.
      if (isSameJson(draft.doc, sent)) return { ...next, status: { kind: 'saved', at: kept.savedAt } };
      return { ...next, status: { kind: 'waiting' } };
    }
    case 'stale':
      return overtaken(draft, outcome.theirs);
    case 'refused':
      return {
        ...draft,
        sent: draft.sent.slice(0, -1),
        // What was typed since may be what mends it.
        status: isSameJson(draft.doc, lastOf(draft.sent))
          ? { kind: 'refused', problem: outcome.problem }
          : { kind: 'waiting' },
      };
    case 'lost':
      return { ...draft, status: { kind: 'off', why: outcome.why ?? null } };
  }
}

/** Something else is kept: both are put together, and only where both changed the same is somebody asked. */
function overtaken(draft: Draft, theirs: Kept<AnyDoc>): Draft {
  const both = merged(draft.base, draft.doc, theirs.doc, draft.sent);
  const doc = both.mine;
  const next = { ...draft, doc, base: theirs.doc, version: theirs.version, sent: [] };
  if (both.disputed.length > 0)
    return { ...next, status: { kind: 'conflict', theirs, disputed: both.disputed } };
  return {
    ...next,
    status: isSameJson(doc, theirs.doc) ? { kind: 'saved', at: theirs.savedAt } : { kind: 'waiting' },
  };
}

/** Of what is disputed mine is wanted: it is saved over theirs. */
export const keepMine = (draft: Draft): Draft =>
  draft.status.kind === 'conflict' ? { ...draft, status: { kind: 'waiting' } } : draft;

/** Of what is disputed theirs is wanted; mine can still be had back with undo. */
export function keepTheirs(draft: Draft, order: number): Draft {
  if (draft.status.kind !== 'conflict') return draft;
  const { theirs, disputed } = draft.status;
  const difference = differenceOf(draft.doc, theirs.doc).filter((c) =>
    disputed.some((path) => isWithin(c.path, path) || isWithin(path, c.path)),
  );
  const doc = withDifference(draft.doc, difference);
  const step: Step = { label: 'take the other text', difference, order };
  return {
    ...draft,
    doc,
    past: [...draft.past, step].slice(-UNDO_STEPS),
    future: [],
    status: isSameJson(doc, theirs.doc) ? { kind: 'saved', at: theirs.savedAt } : { kind: 'waiting' },
  };
}
