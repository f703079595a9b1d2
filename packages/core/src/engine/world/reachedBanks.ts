import { actionsOf, type Assignment } from '../../floor';
import type { World, WorldBoard } from './world';

/**
 * The banks of a board that somebody who plays can get to, by their ids: the first, those that scenes or songs choose,
 * and those that a control leads to in a bank that can be got to.
 */
export function reachedBanks(world: World, worldBoard: WorldBoard): ReadonlySet<string> {
  const { board, banks, groups } = worldBoard;
  const reached = new Set<number>([0]);
  for (const [i, { song, surrounds }] of world.songs.entries()) {
    for (const { banks: chosen } of surrounds) {
      const at = chosen.get(board.id)?.value;
      if (at !== undefined) reached.add(at);
    }
    if (board.bankFollows === 'song-number') reached.add(i);
    if (board.bankFollows === 'song-name') reached.add(banks.findIndex(({ bank }) => isNamed(bank, song)));
  }
  const everywhere = [
    ...groups.flatMap(({ pages }) => pages.flatMap((p) => [...p.assignments.values()])),
    ...world.songs.flatMap(({ controls }) =>
      controls.flatMap((works) =>
        [...works].flatMap(([id, w]) => (isOn(worldBoard, id) ? w.assignment : [])),
      ),
    ),
  ];
  // A set is gone through in the order in which it was filled, also what is put into it on the way.
  for (const at of reached) {
    const bank = banks[at];
    if (!bank) continue;
    for (const assignment of [...bank.assignments.values(), ...everywhere])
      for (const to of leadsTo(assignment, banks, at)) reached.add(to);
  }
  return new Set([...reached].flatMap((at) => banks[at]?.bank.id ?? []));
}

const isNamed = (bank: { readonly name: string }, song: { readonly name: string }): boolean =>
  bank.name.trim().toLowerCase() === song.name.trim().toLowerCase();

const isOn = ({ board }: WorldBoard, controlId: string): boolean =>
  board.controls.some((c) => c.id === controlId);

/** Places of the banks that a control leads to from the bank at a place. */
const leadsTo = (assignment: Assignment, banks: WorldBoard['banks'], at: number): readonly number[] =>
  actionsOf(assignment).flatMap((action) => {
    if (action.kind !== 'bank' || action.isOff) return [];
    const { to } = action;
    if (to.kind === 'bank') return banks.findIndex(({ bank }) => bank.id === to.bankId);
    return (at + (to.kind === 'up' ? 1 : banks.length - 1)) % banks.length;
  });
