import { CurvePick } from '../../../ui/CurvePick';
import { RampAmount } from '@idle-step/contract';
import { NumberField, Pick } from '../../../ui/Fields';
import { FunctionPick, ValuePick } from '../../../gear/FunctionPick';
import type { Fields } from './fields';

/** A glide: from where to where, how long, along which curve. */
export function RampFields({ action, onChange }: Fields<'ramp'>) {
  const { amount, unit } = action.time;
  return (
    <>
      <FunctionPick
        functionId={action.functionId}
        accepts={(fn) => fn.shape.kind === 'range'}
        onPick={(fn) =>
          fn.shape.kind === 'range' &&
          onChange({ ...action, functionId: fn.id, from: null, to: fn.shape.max })
        }
      />
      <Pick
        label="From"
        value={action.from === null ? 'now' : 'value'}
        options={[
          { value: 'now', text: 'where it is' },
          { value: 'value', text: 'a value' },
        ]}
        onPick={(from) => onChange({ ...action, from: from === 'now' ? null : action.to })}
      />
      {action.from !== null && (
        <ValuePick
          label="From value"
          functionId={action.functionId}
          value={action.from}
          onPick={(from) => onChange({ ...action, from })}
        />
      )}
      <ValuePick
        label="To"
        functionId={action.functionId}
        value={action.to}
        onPick={(to) => onChange({ ...action, to })}
      />
      <NumberField
        label="In"
        className="narrow"
        value={amount}
        schema={RampAmount}
        onCommit={(n) => onChange({ ...action, time: { amount: n, unit } })}
      />
      <Pick
        hideLabel
        label="Unit of the glide"
        className="narrow"
        value={unit}
        options={[
          { value: 's', text: 's' },
          { value: 'beats', text: 'beats' },
        ]}
        onPick={(u) => onChange({ ...action, time: { amount, unit: u } })}
      />
      <CurvePick label="Curve" value={action.curve} onPick={(curve) => onChange({ ...action, curve })} />
    </>
  );
}
