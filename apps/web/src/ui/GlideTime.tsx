import { RampAmount } from '@idle-step/contract';
import { NumberField, Pick } from './Fields';

type Time = { amount: number; unit: 's' | 'beats' };
type Props = { label: string; unitLabel: string; time: Time; onTime(time: Time): void };

/** A time in seconds or beats. */
export function GlideTime({ label, unitLabel, time, onTime }: Props) {
  return (
    <span className="glide-time">
      <NumberField
        label={label}
        className="tiny"
        value={time.amount}
        schema={RampAmount}
        onCommit={(amount) => onTime({ ...time, amount })}
      />
      <Pick
        hideLabel
        label={unitLabel}
        className="narrow"
        value={time.unit}
        options={['s', 'beats']}
        onPick={(unit) => onTime({ ...time, unit: unit })}
      />
    </span>
  );
}
