import type { Control } from '@idle-step/core/floor';
import { whole } from '@idle-step/contract';
import { Form } from 'react-bootstrap';
import { NumberField } from '../../../ui/Fields';
import type { SetHardware } from './setHardware';

/** How the lamp of a control is lit from outside. */
export function LampHardware({ control, set }: { control: Control; set: SetHardware }) {
  const { lamp } = control.hardware;
  const D7 = whole('Value', 0, 127);
  return (
    <fieldset>
      <legend>Its lamp</legend>
      <Form.Check
        id="lamp-by-message"
        label="is lit by messages that come back"
        checked={lamp !== null}
        onChange={(e) =>
          set('say how a lamp is lit', { lamp: e.target.checked ? { off: 0, on: 127, blink: null } : null })
        }
      />
      {lamp && (
        <>
          <NumberField
            label="Off is sent"
            className="narrow"
            value={lamp.off}
            schema={D7}
            onCommit={(off) => set('set a lamp', { lamp: { ...lamp, off } })}
          />
          <NumberField
            label="On is sent"
            className="narrow"
            value={lamp.on}
            schema={D7}
            onCommit={(on) => set('set a lamp', { lamp: { ...lamp, on } })}
          />
          <Form.Check
            id="lamp-blinks"
            label="can blink"
            checked={lamp.blink !== null}
            onChange={(e) => set('set a lamp', { lamp: { ...lamp, blink: e.target.checked ? 64 : null } })}
          />
          {lamp.blink !== null && (
            <NumberField
              label="Blinking is sent"
              className="narrow"
              value={lamp.blink}
              schema={D7}
              onCommit={(blink) => set('set a lamp', { lamp: { ...lamp, blink } })}
            />
          )}
        </>
      )}
    </fieldset>
  );
}
