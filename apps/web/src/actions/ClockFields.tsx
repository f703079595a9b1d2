import type { World } from '@idle-step/core/engine';
import { Pick } from '../ui/Fields';
import { outputs } from './actionKinds';
import type { Fields } from './fields';

/** Starts, continues or stops MIDI clock at a port. */
export function ClockFields({ world, action, onChange }: Fields<'clock'> & { world: World }) {
  return (
    <>
      <Pick
        label="To the port"
        value={action.portId}
        options={outputs(world)}
        onPick={(portId) => onChange({ ...action, portId })}
      />
      <Pick
        label="Sends"
        value={action.to}
        options={[
          { value: 'start', text: 'start' },
          { value: 'continue', text: 'continue' },
          { value: 'stop', text: 'stop' },
        ]}
        onPick={(to) => onChange({ ...action, to })}
      />
    </>
  );
}
