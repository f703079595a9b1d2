import { alternates, type Action, type Assignment, type Control, type LampRule } from '../../floor';
import type { Reached } from '../../show';

/** What of the live state a lamp can follow, each as a bit: while none of it has changed, no lamp has. */
export const LAMP_CAUSES = {
  registers: 1,
  position: 2,
  banks: 4,
  pages: 8,
  ramps: 16,
  clocks: 32,
  line: 64,
  latched: 128,
  evens: 256,
  held: 512,
  routes: 1024,
  run: 2048,
} as const;

export type LampCause = keyof typeof LAMP_CAUSES;

/** All bits: of a lamp that may follow any of them, and where all have to be looked at. */
export const EVERY_CAUSE = -1;

/** What leaves nothing to be seen: the lamp of a control that does this is lit while it is down. */
export type LitWhileDown = Extract<
  Action,
  {
    readonly kind: 'message' | 'arm-step' | 'raw' | 'view' | 'capture' | 'song' | 'cue' | 'tap' | 'panic';
  }
>;

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
      return action ? actionCause(functions, action) : 'held';
    }
  }
}

function actionCause(functions: ReadonlyMap<string, Reached>, action: Action): LampCause | null {
  switch (action.kind) {
    case 'toggle':
    case 'arm-only':
    case 'one-of':
    case 'step':
    case 'momentary':
      return 'registers';
    case 'set':
      return functions.get(action.functionId)?.fn.shape.kind === 'trigger' ? 'held' : 'registers';
    case 'ramp':
      return 'ramps';
    case 'clock':
      return action.to === 'stop' ? 'held' : 'clocks';
    case 'line':
      return action.to === 'stop' ? 'held' : 'line';
    case 'loop':
      return 'line';
    case 'route':
      // Its gate may follow a controller, a function or the scene; one that is gone is lit while it is down.
      return null;
    case 'scene':
      return action.to.kind === 'is' || action.to.kind === 'at' ? 'position' : 'held';
    case 'bank':
      return action.to.kind === 'bank' ? 'banks' : 'held';
    case 'page':
      return action.to.kind === 'bank' ? 'pages' : 'held';
    case 'show':
      return action.to === 'begin' ? 'run' : 'held';
    default:
      action satisfies LitWhileDown;
      return 'held';
  }
}
