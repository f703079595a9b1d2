import { DoubleMs, HoldMs, type AssignmentDoc } from '@idle-step/contract';
import { Form } from 'react-bootstrap';
import { NumberField } from '../../ui/Fields';

type Props = {
  assignment: AssignmentDoc;
  onChange(what: string, timing: AssignmentDoc['timing']): void;
};

/** When a hold fires and how long a second press is waited for; shown as soon as one of them is used. */
export function GestureTimes({ assignment, onChange }: Props) {
  const { timing, hold, doublePress, press } = assignment;
  if (hold.length === 0 && doublePress.length === 0) return null;
  return (
    <div className="gesture-times">
      {hold.length > 0 && (
        <NumberField
          label="Hold fires after, ms"
          value={timing.holdMs}
          schema={HoldMs}
          onCommit={(holdMs) => onChange('time a hold', { ...timing, holdMs })}
        />
      )}
      {doublePress.length > 0 && (
        <NumberField
          label="Second press within, ms"
          value={timing.doubleMs}
          schema={DoubleMs}
          onCommit={(doubleMs) => onChange('time a double press', { ...timing, doubleMs })}
        />
      )}
      {hold.length > 0 && press.length > 0 && (
        <Form.Check
          id="hold-cancels-press"
          label="a hold takes the place of the press"
          checked={timing.holdCancelsPress}
          onChange={(e) =>
            onChange('let a hold replace the press', { ...timing, holdCancelsPress: e.target.checked })
          }
        />
      )}
    </div>
  );
}
