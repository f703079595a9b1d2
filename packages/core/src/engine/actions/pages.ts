import type { BankTarget } from '../../floor';
import type { Live } from '../live/live';
import { bankIndex, pageIndex } from '../world/place';
import { type WorldBank } from '../world/world';

/** Brings a board to a bank of its preset. */
export function changeBank(live: Live, boardId: string, to: BankTarget): void {
  const board = live.world.boardById.get(boardId);
  const next = board ? targetPage(board.banks, bankIndex(board, live.state), to) : null;
  if (next === null) live.note({ code: 'bank-gone' });
  else {
    live.state.banks = { ...live.state.banks, [boardId]: next };
    live.tellsLamps = true;
  }
}

/** Turns to a page of a group. */
export function changePage(live: Live, boardId: string, groupId: string, to: BankTarget): void {
  const group = live.world.boardById.get(boardId)?.groups.find((g) => g.group.id === groupId);
  const next = group ? targetPage(group.pages, pageIndex(group, live.state), to) : null;
  if (next === null) live.note({ code: 'page-gone' });
  else {
    live.state.pages = { ...live.state.pages, [groupId]: next };
    live.tellsLamps = true;
  }
}

/** Id of the page that is turned to, or `null` when there is none. */
function targetPage(pages: readonly WorldBank[], now: number, to: BankTarget): string | null {
  if (to.kind === 'bank') return pages.some((p) => p.bank.id === to.bankId) ? to.bankId : null;
  const next = (now + (to.kind === 'up' ? 1 : -1) + pages.length) % Math.max(1, pages.length);
  return pages[next]?.bank.id ?? null;
}
