import { alternates, type Assignment, type Control, type LampRule } from '../../floor';
import type { Reached } from '../../show';
import { traitsOf } from '../actions/table';
import { EVERY_CAUSE, LAMP_CAUSES, type LampCause } from '../lamps/causes';

/**
 * What a lamp follows while its page is in force, as the sum of bits of `LAMP_CAUSES`: a step looks only at the lamps
 * that it can have changed.
 */
export function lampCauses(
  functions: ReadonlyMap<string, Reached>,
  control: Control,
  assignment: Assignment | undefined,
  rule: LampRule | null,
): number {
  const cause = lampCause(functions, control, assignment, rule);
  return cause === null ? EVERY_CAUSE : LAMP_CAUSES[cause];
}

/** The one thing that a lamp follows, or `null` where it is not one alone. */
function lampCause(
  functions: ReadonlyMap<string, Reached>,
  control: Control,
  assignment: Assignment | undefined,
  rule: LampRule | null,
): LampCause | null {
  switch (rule?.kind) {
    case 'switch':
      return control.hardware.switching === 'latching' ? 'latched' : 'held';
    case 'function':
      return 'registers';
    default: {
      const actions = assignment?.press ?? [];
      // It may follow whatever it starts and stops.
      if (actions.length > 1 && alternates(actions)) return null;
      const action = actions.find((a) => !a.isOff);
      return action ? traitsOf(action).follows(action, functions) : 'held';
    }
  }
}
