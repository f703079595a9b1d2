import type { World } from '@idle-step/core/engine';
import { BankTargetPick } from './BankTargetPick';
import type { Fields } from './fields';

/** The bank that a board goes to. */
export function BankFields({ world, action, onChange }: Fields<'bank'> & { world: World }) {
  const banks = world.boards.flatMap((b) =>
    b.banks.map(({ bank }) => ({ value: bank.id, text: `${b.device.name}: ${bank.name}` })),
  );
  return <BankTargetPick to={action.to} targets={banks} onPick={(to) => onChange({ ...action, to })} />;
}
