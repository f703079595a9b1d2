import { applied, differenceOf, isWithin, type Change, type Difference, type Path } from './difference';
import { isSameJson, type Json } from './json';

/** Two texts that were made from one: what both come to, and where they disagree. */
export type Merged<D extends Json = Json> = {
  /** Both, with mine wherever they disagree. */
  readonly mine: D;
  /** Both, with theirs wherever they disagree. */
  readonly theirs: D;
  /** Parts that both changed to something different. */
  readonly disputed: readonly Path[];
};

/**
 * Puts two texts together, field by field, that were both made from `base`. What only one of them changed is taken;
 * what both changed in the same way is no dispute.
 * @param own texts that I sent and of which nobody knows whether they were stored: what theirs has of them is mine.
 */
export function merged<D extends Json>(base: D, mine: D, theirs: D, own: readonly D[] = []): Merged<D> {
  const myChanges = differenceOf(base, mine);
  const mineAlready = own.flatMap((text) => differenceOf(base, text));
  const theirChanges = differenceOf(base, theirs).filter((c) => !isAmong(c, mineAlready));
  const isDisputed = (c: Change, others: Difference): boolean =>
    others.some((o) => (isWithin(c.path, o.path) || isWithin(o.path, c.path)) && !agree(c, o));
  const mineDisputed = myChanges.filter((c) => isDisputed(c, theirChanges));
  const undisputed = myChanges.filter((c) => !mineDisputed.includes(c));
  // A change that was sent and then undone: theirs still has it, mine does not.
  const takenBack = mineAlready
    .filter((c) => !myChanges.some((m) => isWithin(m.path, c.path) || isWithin(c.path, m.path)))
    .filter((c) => isAmong(c, differenceOf(base, theirs)))
    .map((c): Change => (c.kind === 'order' ? { ...c, from: c.to, to: c.from } : swap(c)));
  // Where I only added rows or took some out, theirs have the order that they were put into.
  const turned = theirChanges.filter(
    (c) =>
      c.kind === 'order' &&
      reorders(c) &&
      undisputed.some((m) => m.kind === 'order' && isSameJson(m.path, c.path) && !reorders(m)),
  );
  const both = applied(applied(theirs, [...undisputed, ...takenBack]), turned);
  return {
    mine: applied(both, mineDisputed),
    theirs: both,
    disputed: mineDisputed.map((c) => c.path),
  };
}

const swap = ({ path, from, to }: Change & { kind: 'put' }): Change => ({
  kind: 'put',
  path,
  ...(to === undefined ? {} : { from: to }),
  ...(from === undefined ? {} : { to: from }),
});

const isAmong = (change: Change, all: Difference): boolean =>
  all.some((c) => c.kind === change.kind && isSameJson(c.path, change.path) && isSameJson(c.to, change.to));

/** Whether both of two changes can be made: of the same place, or of one place inside the other. */
function agree(a: Change, b: Change): boolean {
  if (a.kind === 'put' && b.kind === 'put') return isSameJson(a.path, b.path) && isSameJson(a.to, b.to);
  if (a.kind === 'order' && b.kind === 'order') return a.path.length !== b.path.length || !bothReorder(a, b);
  // Rows of a list and their order are two things; a list that is replaced whole has no order to change.
  const [put, order] = a.kind === 'put' ? [a, b] : [b, a];
  return put.path.length > order.path.length;
}

/** Whether rows that stay are put into another order. */
const reorders = ({ from, to }: Change & { kind: 'order' }): boolean =>
  !isSameJson(
    from.filter((id) => to.includes(id)),
    to.filter((id) => from.includes(id)),
  );

/** Whether both change the order of the rows that both have, and to different orders. */
function bothReorder(a: Change & { kind: 'order' }, b: Change & { kind: 'order' }): boolean {
  const common = a.from.filter((id) => a.to.includes(id) && b.to.includes(id));
  const kept = (order: readonly string[]) => order.filter((id) => common.includes(id));
  const [before, mine, theirs] = [common, kept(a.to), kept(b.to)];
  return !isSameJson(before, mine) && !isSameJson(before, theirs) && !isSameJson(mine, theirs);
}
