import { CurvePick } from '../ui/CurvePick';
import { Pick } from '../ui/Fields';
import { GlideTime } from '../ui/GlideTime';
import { FunctionPick, ValuePick } from '../gear/FunctionPick';
import type { Fields } from './fields';

/** A glide: from where to where, how long, along which curve. */
export function RampFields({ action, onChange }: Fields<'ramp'>) {
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
      <GlideTime
        label="In"
        unitLabel="Unit of the glide"
        time={action.time}
        onTime={(time) => onChange({ ...action, time })}
      />
      <CurvePick label="Curve" value={action.curve} onPick={(curve) => onChange({ ...action, curve })} />
    </>
  );
}
