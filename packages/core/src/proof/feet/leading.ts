import { traitsOf } from '../../engine';
import type { Action } from '../../floor';

/** Whether an action leads to another scene, song or bank. */
export const leadsOn = (action: Action): boolean => !action.isOff && traitsOf(action).leads === 'on';

/** Whether an action can change where feet get to. */
export const leadsAnywhere = (action: Action): boolean => !action.isOff && traitsOf(action).leads !== null;
