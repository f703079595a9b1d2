import { whole } from '@idle-step/contract';
import type { Target } from '@idle-step/core/floor';
import { NumberField } from '../ui/Fields';

/** Ways to a scene or a cue that both have. */
export const WAYS = [
  { value: 'next', text: 'the next' },
  { value: 'previous', text: 'the one before' },
  { value: 'at', text: 'by number' },
] as const;

/** The place of a scene, or of a cue, counted from 1. */
export function Numbered({
  label,
  index,
  onPick,
}: {
  label: string;
  index: number;
  onPick(to: Target): void;
}) {
  return (
    <NumberField
      label={label}
      className="narrow"
      value={index}
      shownOffset={1}
      schema={whole(label, 0, label === 'Cue' ? 499 : 199)}
      onCommit={(next) => onPick({ kind: 'at', index: next })}
    />
  );
}
