import type { World } from '@idle-step/core/engine';
import type { BankTarget } from '@idle-step/core/floor';
import { BookOpen, Layers } from 'lucide-react';
import { Pick } from '../../ui/Fields';
import type { ActionEntry, Fields } from '../entry';

export const BANK: ActionEntry<'bank'> = {
  text: 'turn the bank',
  sign: Layers,
  words: ({ to }, world) => ({ title: 'Bank', value: targetWords(world, to) }),
  instead: () => 'turns the page',
  fields: BankFields,
  begin: () => ({ kind: 'bank', to: { kind: 'up' } }),
};

export const PAGE: ActionEntry<'page'> = {
  text: 'turn the page of a group',
  sign: BookOpen,
  words({ groupId, to }, world) {
    const group = world.boards.flatMap((b) => b.groups).find((g) => g.group.id === groupId)?.group;
    return { title: group ? `Page of ${group.name}` : 'a group that is gone', value: targetWords(world, to) };
  },
  instead: () => 'turns the page',
  fields: PageFields,
  begin({ world, boardIndex }) {
    const group = world.boards[boardIndex]?.groups[0]?.group;
    return group ? { kind: 'page', groupId: group.id, to: { kind: 'up' } } : null;
  },
};

const targetWords = (world: World, to: BankTarget): string =>
  to.kind === 'bank' ? (world.pageNames.get(to.bankId) ?? 'gone') : to.kind;

/** The bank that a board goes to. */
function BankFields({ world, action, onChange }: Fields<'bank'>) {
  const banks = world.boards.flatMap((b) =>
    b.banks.map(({ bank }) => ({ value: bank.id, text: `${b.device.name}: ${bank.name}` })),
  );
  return <BankTargetPick to={action.to} targets={banks} onPick={(to) => onChange({ ...action, to })} />;
}

/** The group whose page is turned, and to which. */
function PageFields({ world, home, action, onChange }: Fields<'page'>) {
  const groups = (home.kind === 'board' && world.boards[home.boardIndex]?.groups) || [];
  const pages = groups.find((g) => g.group.id === action.groupId)?.pages ?? [];
  const { to } = action;
  return (
    <>
      <Pick
        label="Of the group"
        value={action.groupId}
        options={groups.map(({ group }) => ({ value: group.id, text: group.name }))}
        onPick={(groupId) => onChange({ ...action, groupId, to: { kind: 'up' } })}
      />
      <BankTargetPick
        to={to}
        targets={pages.map(({ bank }) => ({ value: bank.id, text: bank.name }))}
        onPick={(target) => onChange({ ...action, to: target })}
      />
    </>
  );
}

type Props = {
  to: BankTarget;
  /** Banks or pages that can be gone to by name. */
  targets: readonly { value: string; text: string }[];
  onPick(to: BankTarget): void;
};

/** The next bank or page, the one before, or one by its name. */
const BankTargetPick = ({ to, targets, onPick }: Props) => (
  <Pick
    label="To"
    value={to.kind === 'bank' ? to.bankId : to.kind}
    options={[
      { value: 'up', text: 'up, round at the end' },
      { value: 'down', text: 'down, round at the end' },
      ...targets,
    ]}
    onPick={(id) => onPick(id === 'up' || id === 'down' ? { kind: id } : { kind: 'bank', bankId: id })}
  />
);
