import { TAPE_COLOURS } from '@idle-step/core/gear';
import { Pick } from '../../ui/Fields';

type Colour = (typeof TAPE_COLOURS)[number];

/** The colour of a cloth label, or plain cloth. */
export function ColourPick({
  label,
  value,
  onPick,
}: {
  label: string;
  value: Colour | null;
  onPick(colour: Colour | null): void;
}) {
  return (
    <Pick
      hideLabel
      label={label}
      className="colour-pick"
      value={value ?? 'plain'}
      options={[
        { value: 'plain' as const, text: 'plain cloth' },
        ...TAPE_COLOURS.map((c) => ({ value: c, text: c })),
      ]}
      onPick={(c) => onPick(c === 'plain' ? null : (c as Colour))}
    />
  );
}
