import type { World } from '@idle-step/core/engine';
import { Pick } from '../ui/Fields';
import { BankTargetPick } from './BankTargetPick';
import type { Fields } from './fields';

/** The group whose page is turned, and to which. */
export function PageFields({
  world,
  boardIndex,
  action,
  onChange,
}: Fields<'page'> & { world: World; boardIndex: number }) {
  const groups = world.boards[boardIndex]?.groups ?? [];
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
