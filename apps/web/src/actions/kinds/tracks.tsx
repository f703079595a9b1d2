import type { ChartFunction } from '@idle-step/core/gear';
import { FunctionPick } from '../../gear/FunctionPick';
import { Pick } from '../../ui/Fields';
import type { ActionEntry } from '../entry';
import { movingWords, withFunction } from './functions';

const armsTrack = (fn: ChartFunction): boolean => fn.shape.kind === 'switch' && fn.arms !== null;

export const ARM_ONLY: ActionEntry<'arm-only'> = {
  text: 'arm only this track',
  sign: null,
  words: movingWords(() => 'on, all others off'),
  instead: () => null,
  fields: ({ action, onChange }) => (
    <FunctionPick
      functionId={action.functionId}
      accepts={armsTrack}
      onPick={(fn) => onChange({ ...action, functionId: fn.id })}
    />
  ),
  begin: withFunction(armsTrack, (fn) => ({ kind: 'arm-only', functionId: fn.id })),
};

export const ARM_STEP: ActionEntry<'arm-step'> = {
  text: 'arm the next track',
  sign: null,
  words: ({ deviceId, to }, world) => ({
    title: world.ways.get(deviceId)?.device.name ?? 'a device that is gone',
    value: `arms the ${to} track`,
  }),
  instead: () => null,
  fields: ({ world, action, onChange }) => (
    <>
      <Pick
        label="Of"
        value={action.deviceId}
        options={[...world.ways.values()]
          .filter(({ device }) => device.chart.some(armsTrack))
          .map(({ device }) => ({ value: device.id, text: device.name }))}
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
  ),
  begin({ world: { rows }, deviceNow }) {
    const hosts = rows.filter(({ fn }) => armsTrack(fn));
    const host = hosts.find(({ device }) => !deviceNow || device.id === deviceNow) ?? hosts[0];
    return host ? { kind: 'arm-step', deviceId: host.device.id, to: 'next' } : null;
  },
};
