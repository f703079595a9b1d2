import type { Control } from '@idle-step/core/floor';
import { DeadZone, Jitter, measure } from '@idle-step/contract';
import { NumberField, Pick } from '../../../ui/Fields';
import { Calibration } from './Calibration';
import type { SetHardware } from './setHardware';
import { keysOf } from '@idle-step/core/sure';

const ENCODING_WORDS: Record<Control['hardware']['encoding'], string> = {
  absolute: 'its place',
  'twos-complement': 'steps, two’s complement',
  'offset-64': 'steps, offset 64',
  'sign-bit': 'steps, sign bit',
  'sign-bit-inverted': 'steps, sign bit the other way',
};

/** How a control that is moved is built: what it counts, and how far it goes. */
export function MovedHardware({
  control,
  isOne,
  set,
}: {
  control: Control;
  isOne: boolean;
  set: SetHardware;
}) {
  const { hardware } = control;
  const Position = measure('Position', 0, 127, 'of 127');
  return (
    <fieldset>
      <legend>Its travel</legend>
      {(control.kind === 'encoder' || control.kind === 'knob') && (
        <Pick
          label="Sends"
          value={hardware.encoding}
          options={keysOf(ENCODING_WORDS).map((value) => ({ value, text: ENCODING_WORDS[value] }))}
          onPick={(encoding) => set('choose an encoding', { encoding })}
        />
      )}
      {hardware.encoding === 'absolute' && (
        <>
          <NumberField
            label="Heel stands at"
            className="narrow"
            value={Math.round(hardware.heel * 10) / 10}
            schema={Position}
            onCommit={(heel) => set('place the heel', { heel })}
          />
          <NumberField
            label="Toe stands at"
            className="narrow"
            value={Math.round(hardware.toe * 10) / 10}
            schema={Position}
            onCommit={(toe) => set('place the toe', { toe })}
          />
          <NumberField
            label="Dead zone, %"
            className="narrow"
            value={hardware.deadZone}
            schema={DeadZone}
            onCommit={(deadZone) => set('set a dead zone', { deadZone })}
          />
          <NumberField
            label="Jitter, steps"
            className="narrow"
            value={hardware.jitter}
            schema={Jitter}
            onCommit={(jitter) => set('filter jitter', { jitter })}
          />
          {isOne && <Calibration control={control} onDone={(found) => set('calibrate a pedal', found)} />}
        </>
      )}
    </fieldset>
  );
}
