import {
  alternates,
  LAMP_OFF,
  LAMP_ON,
  LAMP_UNKNOWN,
  stopAt,
  type Action,
  type Assignment,
  type Lamp,
  type LampStop,
} from '../../floor';
import { assumedValue } from '../state/known';
import type { LiveState } from '../state/liveState';
import { isEvenNext } from './turns';
import { traitsOf } from '../actions/table';
import { lit, type Light } from '../actions/traits';
import type { LampCauses } from './causes';
import { type World, type WorldLamp } from '../world/world';

const NOTHING: readonly Action[] = [];

/** How the lamp of a control was told to shine last. */
export const lampTold = ({ lamps }: Pick<LiveState, 'lamps'>, controlId: string): Lamp =>
  lamps[controlId] ?? LAMP_OFF;

/** Whether the lamp of a control was told to shine, steadily or blinking. */
export const isLampLit = (state: Pick<LiveState, 'lamps'>, controlId: string): boolean =>
  isShining(lampTold(state, controlId));

export const isShining = ({ light }: Lamp): boolean => light === 'steady' || light === 'blink';

/** How the lamp of a control shines now, and what its hardware is told where that is not its usual value. */
export function lampNow(
  world: World,
  state: LampCauses,
  boardIndex: number,
  { control, assignment, rule }: WorldLamp,
): Lamp & Partial<Pick<LampStop, 'sends'>> {
  const down = state.held[control.id]?.gesture.isDown ?? false;
  switch (rule?.kind) {
    case 'switch':
      return (control.hardware.switching === 'latching' ? state.latched[control.id] : down)
        ? LAMP_ON
        : LAMP_OFF;
    case 'function': {
      if (!world.functions.has(rule.functionId)) return LAMP_OFF;
      const value = assumedValue(world, state, rule.functionId);
      return value === undefined ? LAMP_UNKNOWN : (stopAt(rule.stops, value) ?? LAMP_OFF);
    }
    default:
      return LAMPS[lampOf(world, state, boardIndex, assignment, down)];
  }
}

const LAMPS = { off: LAMP_OFF, steady: LAMP_ON, unknown: LAMP_UNKNOWN } as const;

/**
 * How the lamp of a control shines that follows its work: that of the first action of its press that is not switched off;
 * dark where there is none.
 */
export function lampOf(
  world: World,
  state: LampCauses,
  boardIndex: number,
  assignment: Assignment | undefined,
  down: boolean,
): Light {
  const actions = assignment?.press ?? NOTHING;
  // Where it alternates, lit between the odd press and the even one.
  if (actions.length > 1 && alternates(actions)) return lit(isEvenNext(world, state, actions));
  // A loop and not `find`: this runs for every switch of the rig at every step.
  for (const action of actions)
    if (!action.isOff) return traitsOf(action).light({ world, state, boardIndex, down }, action);
  return 'off';
}
