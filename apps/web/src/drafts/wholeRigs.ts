import { PROBLEM, type BroughtBack, type Kept, type RigDoc, type RigFile } from '@idle-step/contract';
import { isSameJson, type Json } from '@idle-step/core/edits';
import type { Failure } from '../api/problem';

export type Answer<T> = { readonly data: T } | { readonly failure: Failure };

/** What the server is asked about rigs as a whole. */
export type Asks = {
  create(file: RigFile): Promise<Answer<Kept<RigDoc>>>;
  /** The rig alone, as it is kept. */
  look(id: string): Promise<Answer<Kept<RigDoc>>>;
  remove(id: string, version: number): Promise<Answer<null>>;
  /** Out of the bin. */
  bringBack(id: string): Promise<Answer<BroughtBack>>;
};

export type Done<T> = { readonly done: T } | { readonly failure: Failure } | { readonly sentence: string };

const isGone = (answer: Answer<unknown>): boolean =>
  'failure' in answer && answer.failure.kind === 'problem' && answer.failure.problem.type === PROBLEM.gone;

const isLost = (answer: Answer<unknown>): boolean =>
  'failure' in answer && answer.failure.kind === 'unreachable';

/**
 * Keeps a rig. An answer that was lost on its way is looked after: a rig that is there as it was sent is kept, whoever
 * heard of it.
 */
export async function createWhole(asks: Asks, file: RigFile): Promise<Done<Kept<RigDoc>>> {
  const answer = await asks.create(file);
  if ('data' in answer) return { done: answer.data };
  if (answer.failure.kind === 'problem') {
    const { type, current } = answer.failure.problem;
    const there = type === PROBLEM.stale ? (current as Kept<RigDoc> | undefined) : undefined;
    return there && isSameJson(there.doc as unknown as Json, file.rig as unknown as Json)
      ? { done: there }
      : answer;
  }
  const look = await asks.look(file.rig.id);
  // Sending it once more tells its version, and changes nothing where it is there.
  if ('data' in look) return createWhole(asks, file);
  return isGone(look)
    ? answer
    : {
        sentence: `The server does not answer. Whether ${file.rig.name} was kept shows in the list when it is back.`,
      };
}

/** Deletes a rig: it goes into the bin. Where the answer is lost, it is looked whether it is gone. */
export async function removeWhole(asks: Asks, id: string, version: number): Promise<Done<null>> {
  const answer = await asks.remove(id, version);
  if ('data' in answer) return { done: null };
  if (!isLost(answer)) return answer;
  const look = await asks.look(id);
  return isGone(look) ? { done: null } : answer;
}

/** Brings a rig back from the bin. One that is back already, by an answer that was lost, is back. */
export async function bringWholeBack(asks: Asks, id: string): Promise<Done<null>> {
  const answer = await asks.bringBack(id);
  if ('data' in answer) return { done: null };
  const look = await asks.look(id);
  return 'data' in look ? { done: null } : answer;
}
