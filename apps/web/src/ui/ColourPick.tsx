import { TAPE_COLOURS } from '@idle-step/core/gear';
import { Pick } from './Fields';

type Colour = (typeof TAPE_COLOURS)[number];

/** The colour of a cloth label, or plain cloth. */
export function ColourPick({
  label,
  value,
  onPick,
  isLabelled = false,
}: {
  label: string;
  value: Colour | null;
  onPick(colour: Colour | null): void;
  isLabelled?: boolean;
}) {
  return (
    <Pick
      hideLabel={!isLabelled}
      label={label}
      className="colour-pick"
      value={value ?? 'plain'}
      options={[{ value: 'plain' as const, text: 'plain' }, ...TAPE_COLOURS]}
      onPick={(c) => onPick(c === 'plain' ? null : c)}
    />
  );
}
