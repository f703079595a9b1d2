import type { World } from '@idle-step/core/engine';
import { Pick } from '../ui/Fields';
import { armsTrack } from './actionKinds';
import type { Fields } from './fields';

/** The device whose tracks are armed one after the other. */
export function ArmStepFields({ world, action, onChange }: Fields<'arm-step'> & { world: World }) {
  const hosts = [...world.ways.values()].filter(({ device }) => device.chart.some(armsTrack));
  return (
    <>
      <Pick
        label="Of"
        value={action.deviceId}
        options={hosts.map(({ device }) => ({ value: device.id, text: device.name }))}
        onPick={(deviceId) => onChange({ ...action, deviceId })}
      />
      <Pick
        label="Which"
        value={action.to}
        options={[
          { value: 'next', text: 'the next track' },
          { value: 'previous', text: 'the track before' },
        ]}
        onPick={(to) => onChange({ ...action, to })}
      />
    </>
  );
}
