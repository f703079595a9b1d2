import type { Action } from '@idle-step/core/floor';
import { measure } from '@idle-step/contract';
import { Form } from 'react-bootstrap';
import { NumberField, Pick } from '../ui/Fields';

/** Of gestures that alternate: which of them an action is done by. */
export const EVERY_WORDS = { odd: '1st, 3rd …', even: '2nd, 4th …' } as const;

/** How long the action waits after its gesture, and whether it is left out. */
export function DelayFields({
  action,
  isSwitched,
  onChange,
}: {
  action: Action;
  /** Whether a gesture does it, which can alternate. */
  isSwitched: boolean;
  onChange(action: Action): void;
}) {
  const { amount, unit } = action.delay ?? { amount: 0, unit: 'ms' as const };
  const set = (next: { amount: number; unit: 'ms' | 'beats' }) => {
    const { delay: _before, ...rest } = action;
    onChange(next.amount === 0 && next.unit === 'ms' ? rest : { ...rest, delay: next });
  };
  return (
    <>
      <NumberField
        label="After"
        className="narrow"
        value={amount}
        schema={measure('Delay', 0, unit === 'ms' ? 60_000 : 64, unit)}
        onCommit={(n) => set({ amount: n, unit })}
      />
      <Pick
        hideLabel
        label="Unit of the delay"
        className="narrow"
        value={unit}
        options={['ms', 'beats']}
        onPick={(u) => set({ amount, unit: u })}
      />
      {isSwitched && (
        <Pick
          label="Each time"
          value={action.every ?? 'each'}
          options={[
            { value: 'each', text: 'every time' },
            { value: 'odd', text: EVERY_WORDS.odd },
            { value: 'even', text: EVERY_WORDS.even },
          ]}
          onPick={(which) => {
            const { every: _before, ...rest } = action;
            onChange(which === 'each' ? rest : { ...rest, every: which });
          }}
        />
      )}
      <Form.Check
        id={`on-${action.id}`}
        className="action-on"
        label="on"
        checked={!action.isOff}
        onChange={(e) => {
          const { isOff: _before, ...rest } = action;
          onChange(e.target.checked ? rest : { ...rest, isOff: true });
        }}
      />
    </>
  );
}
