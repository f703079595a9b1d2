import type { BankTarget } from '@idle-step/core/floor';
import { Pick } from '../ui/Fields';

type Props = {
  to: BankTarget;
  /** Banks or pages that can be gone to by name. */
  targets: readonly { value: string; text: string }[];
  onPick(to: BankTarget): void;
};

/** The next bank or page, the one before, or one by its name. */
export const BankTargetPick = ({ to, targets, onPick }: Props) => (
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
