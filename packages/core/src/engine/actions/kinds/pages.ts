import type { BankTarget } from '../../../floor';
import { bankInForce, pageOfGroup } from '../../world/place';
import type { Names } from '../names';
import { changeBank, changePage } from '../pages';
import { noMessage, type SentKnown } from '../sentRow';
import { GOES_NOWHERE, lit, type ActionTraits } from '../traits';
import { nth } from '../../../sure';

const TURNS_PAGE = {
  ...GOES_NOWHERE,
  isOwn: false,
  byBoard: () => null,
  isInCues: false,
  leadsAway: false,
} satisfies Partial<ActionTraits>;

const labelOf = (word: string, to: BankTarget, names: Names): string =>
  to.kind === 'bank' ? (names.page(to.bankId) ?? 'gone') : `${word} ${to.kind}`;

const isThere = ({ pages }: SentKnown, to: BankTarget): boolean => to.kind !== 'bank' || pages.has(to.bankId);

/** Brings the board of its control to a bank of its preset. */
export const BANK: ActionTraits<'bank'> = {
  ...TURNS_PAGE,
  act: (live, { to }, { boardId }) => changeBank(live, boardId, to),
  label: ({ to }, names) => labelOf('Bank', to, names),
  deed: () => 'turn the bank',
  row: ({ to }, known) =>
    noMessage('turns the bank', isThere(known, to) ? null : 'The bank that this turns to is gone.'),
  light: ({ world, state, boardIndex, down }, { to }) =>
    lit(to.kind === 'bank' ? bankInForce(nth(world.boards, boardIndex), state)?.bank.id === to.bankId : down),
  follows: ({ to }) => (to.kind === 'bank' ? 'banks' : 'held'),
  leads: 'on',
};

/** Turns to a page of a group of controls. */
export const PAGE: ActionTraits<'page'> = {
  ...TURNS_PAGE,
  act: (live, { groupId, to }, { boardId }) => changePage(live, boardId, groupId, to),
  label: ({ to }, names) => labelOf('Page', to, names),
  deed: () => 'turn the page',
  row: ({ groupId, to }, known) =>
    noMessage(
      'turns a page',
      known.groups.has(groupId) && isThere(known, to) ? null : 'The page that this turns to is gone.',
    ),
  light({ world, state, boardIndex, down }, { groupId, to }) {
    if (to.kind !== 'bank') return lit(down);
    const found = nth(world.boards, boardIndex).groups.find((g) => g.group.id === groupId);
    return lit(found !== undefined && pageOfGroup(found, state)?.bank.id === to.bankId);
  },
  follows: ({ to }) => (to.kind === 'bank' ? 'pages' : 'held'),
  leads: 'beside',
};
