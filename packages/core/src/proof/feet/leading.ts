import type { Action } from '../../floor';

/**
 * Where each kind of action leads: `on` to a scene, a song or a bank, `beside` to what changes the ways that there are, or
 * nowhere.
 */
const LEADS: Readonly<Record<Action['kind'], 'on' | 'beside' | 'nowhere'>> = {
  scene: 'on',
  song: 'on',
  show: 'on',
  bank: 'on',
  page: 'beside',
  cue: 'beside',
  line: 'beside',
  route: 'beside',
  set: 'nowhere',
  toggle: 'nowhere',
  'arm-only': 'nowhere',
  'arm-step': 'nowhere',
  'one-of': 'nowhere',
  momentary: 'nowhere',
  step: 'nowhere',
  ramp: 'nowhere',
  message: 'nowhere',
  raw: 'nowhere',
  clock: 'nowhere',
  view: 'nowhere',
  capture: 'nowhere',
  loop: 'nowhere',
  tap: 'nowhere',
  here: 'nowhere',
  'song-tempo': 'nowhere',
  panic: 'nowhere',
};

/** Whether an action leads to another scene, song or bank. */
export const leadsOn = (action: Action): boolean => !action.isOff && LEADS[action.kind] === 'on';

/** Whether an action can change where feet get to. */
export const leadsAnywhere = (action: Action): boolean => !action.isOff && LEADS[action.kind] !== 'nowhere';
