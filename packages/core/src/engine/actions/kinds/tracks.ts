import { armOnly, armStep } from '../arming';
import { noMessage } from '../sentRow';
import { GOES_NOWHERE, LIT_WHILE_DOWN, type ActionTraits } from '../traits';
import { litWhileOn, MOVES_FUNCTION, rowOf } from './functions';

/** Arms exactly one track: every other one that its device arms by message is let go. */
export const ARM_ONLY: ActionTraits<'arm-only'> = {
  ...MOVES_FUNCTION,
  act: (live, { functionId }) => armOnly(live, functionId),
  deed: (action, names) => {
    const fn = names.find(action.functionId)?.fn;
    return fn ? `arm only ${fn.arms ?? fn.name}` : 'a function that is gone';
  },
  row: rowOf((fn) => `arms only ${fn.arms ?? fn.name}`),
  byBoard: () => 'host',
  light: litWhileOn,
  refuses: (fn) => (fn.shape.kind === 'switch' && fn.arms !== null ? null : `${fn.name} arms no track.`),
  lasting: (action) => action,
};

/** Arms exactly the track after or before the one that is armed. */
export const ARM_STEP: ActionTraits<'arm-step'> = {
  ...LIT_WHILE_DOWN,
  ...GOES_NOWHERE,
  act: (live, { deviceId, to }) => armStep(live, deviceId, to),
  isOwn: true,
  label: ({ to }) => (to === 'next' ? 'Next track' : 'Previous track'),
  deed: ({ to }) => `arm the ${to} track`,
  row({ deviceId, to }, { devices }) {
    const device = devices.get(deviceId);
    return device
      ? { ...noMessage(`arms the ${to} track`), deviceName: device.name }
      : noMessage('arms a track', 'The device whose tracks this arms is gone from the rig.');
  },
  byBoard: () => 'host',
  isInCues: true,
  leadsAway: false,
};
