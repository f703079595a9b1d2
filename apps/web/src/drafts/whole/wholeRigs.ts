import type { FullRig } from '@idle-step/core/routing';
import { PROBLEM, type BroughtBack, type Kept, type RigFile } from '@idle-step/contract';
import { isSameJson } from '@idle-step/core/edits';
import type { Failure } from '../../api/problem';
import type { RigBodies } from '../../edits/rigParts';

export type Answer<T> = { readonly data: T } | { readonly failure: Failure };

/** What the server is asked about rigs as a whole. */
export type Asks = {
  create(file: RigFile): Promise<Answer<Kept<FullRig>>>;
  /** The rig alone, as it is kept. */
  look(id: string): Promise<Answer<Kept<FullRig>>>;
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
export async function createWhole(asks: Asks, file: RigFile): Promise<Done<Kept<FullRig>>> {
  const answer = await asks.create(file);
  if ('data' in answer) return { done: answer.data };
  if (answer.failure.kind === 'problem') {
    const { type, current } = answer.failure.problem;
    // A stale save of a rig is answered with the rig that is kept.
    const there = type === PROBLEM.stale ? (current as Kept<FullRig> | undefined) : undefined;
    return there && isSameJson(there.doc, file.rig) ? { done: there } : answer;
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

/** What the server is asked about a rig that comes in several bodies. */
export type PartAsks = Pick<Asks, 'look'> & {
  /** Lays a part aside; the same one may come again. */
  part(id: string, body: string): Promise<Answer<null>>;
  /** Keeps the rig with all its parts. */
  rig(id: string, body: string): Promise<Answer<Kept<FullRig>>>;
  /** Throws away what was laid aside. */
  leave(id: string): Promise<unknown>;
};

/** A part whose answer was lost is sent so often. */
const TRIES = 3;

/**
 * Keeps a new rig that comes in several bodies: all of it or nothing.
 * @param tell is told before each part how many are there already.
 */
export async function createInParts(
  asks: PartAsks,
  { id, name, bodies }: { readonly id: string; readonly name: string; readonly bodies: RigBodies },
  tell: (sent: number, of: number) => void,
): Promise<Done<Kept<FullRig>>> {
  const { parts, rig } = bodies;
  for (const [i, body] of parts.entries()) {
    tell(i, parts.length);
    let answer = await asks.part(id, body);
    for (let tried = 1; isLost(answer) && tried < TRIES; tried++) answer = await asks.part(id, body);
    if ('data' in answer) continue;
    await asks.leave(id);
    return answer;
  }
  tell(parts.length, parts.length);
  const answer = await asks.rig(id, rig);
  if ('data' in answer) return { done: answer.data };
  if (!isLost(answer)) {
    await asks.leave(id);
    return answer;
  }
  const look = await asks.look(id);
  return 'data' in look
    ? { done: look.data }
    : { sentence: `The server does not answer. Whether ${name} was kept shows in the list when it is back.` };
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
