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
import { assumedAt, assumedValue, isNotKnown, stands } from '../state/known';
import type { LiveState } from '../state/liveState';
import { isGateOpen, isRouteOn } from '../heard/routeConditions';
import { isEvenNext } from './turns';
import { bankInForce, pageOfGroup } from '../world/place';
import { type LampCause, type LitWhileDown } from '../compile/lampCauses';
import { type World, type WorldLamp } from '../world/world';

const NOTHING: readonly Action[] = [];

/** What lamps follow, as it is at one moment. */
export type LampCauses = Pick<LiveState, LampCause | 'pending'>;

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
type Light = keyof typeof LAMPS;

/**
 * How the lamp of a control shines that follows its work: a toggled switch function, a value that was set, the
 * scene in play, the bank or page in force; a control about none of these is lit while it is down. Where nothing tells how
 * the function stands, it is unknown.
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
    if (!action.isOff)
      return functionLight(world, state, action) ?? lit(actionLit(world, state, boardIndex, action, down));
  return 'off';
}

const lit = (isLit: boolean): Light => (isLit ? 'steady' : 'off');

/** The light of an action that is about where a function stands; `null` for any other. */
function functionLight(world: World, state: LampCauses, action: Action): Light | null {
  switch (action.kind) {
    case 'toggle':
    case 'arm-only':
    case 'one-of':
    case 'step':
    case 'momentary':
    case 'set':
      break;
    default:
      return null;
  }
  const reached = world.functions.get(action.functionId);
  if (!reached) return 'off';
  if (action.kind === 'set' && reached.fn.shape.kind === 'trigger') return null;
  const value = assumedAt(state, reached);
  if (action.kind === 'set' || action.kind === 'momentary') {
    const wanted = action.kind === 'set' ? action.value : action.down;
    if (value === wanted) return 'steady';
    return value === undefined && isNotKnown(state, reached)
      ? 'unknown'
      : lit(stands(state, reached, wanted));
  }
  // A list of steps is lit away from nothing; a row that another one has taken the place of is not in force.
  if (value === undefined) return isNotKnown(state, reached) ? 'unknown' : 'off';
  return lit(value !== 0);
}

/** What `functionLight` tells; a trigger is lit while its switch is down. */
type OfFunction = Extract<
  Action,
  { readonly kind: 'toggle' | 'arm-only' | 'one-of' | 'step' | 'momentary' | 'set' }
>;

function actionLit(
  world: World,
  state: LampCauses,
  boardIndex: number,
  action: Action,
  down: boolean,
): boolean {
  switch (action.kind) {
    case 'ramp':
      return isOnRamp(state, action.functionId);
    case 'clock':
      return action.to === 'stop' ? down : action.portId in state.clocks;
    case 'line':
      return action.to === 'stop' ? down : (state.line?.isRunning ?? false);
    case 'loop':
      return state.line?.isLooping ?? false;
    case 'route': {
      const found = world.routes.byId.get(action.routeId);
      if (!found) return down;
      return action.part === 'route' ? isRouteOn(state, found) : isGateOpen(world, state, found);
    }
    case 'scene':
      if (action.to.kind === 'is') return state.position.sceneId === action.to.sceneId;
      return action.to.kind === 'at' ? isAtScene(world, state, action.to.index) : down;
    case 'bank': {
      if (action.to.kind !== 'bank') return down;
      return bankInForce(world.boards[boardIndex]!, state)?.bank.id === action.to.bankId;
    }
    case 'page': {
      return action.to.kind === 'bank'
        ? isPageInForce(world, state, boardIndex, action.groupId, action.to.bankId)
        : down;
    }
    case 'show':
      return action.to === 'begin' ? state.run !== null : down;
    default:
      action satisfies LitWhileDown | OfFunction;
      return down;
  }
}

function isAtScene({ songs, songAt }: World, { position }: LampCauses, index: number): boolean {
  const song = songs[songAt.get(position.entryId ?? '') ?? 0]?.song;
  return position.sceneId !== null && song?.scenes[index]?.id === position.sceneId;
}

// Functions of their own, so that what they look for is not set aside for every other kind of action too.
const isOnRamp = ({ ramps }: LampCauses, functionId: string): boolean =>
  ramps.some((r) => r.functionId === functionId);

function isPageInForce(
  { boards }: World,
  state: LampCauses,
  boardIndex: number,
  groupId: string,
  pageId: string,
): boolean {
  const found = boards[boardIndex]!.groups.find((g) => g.group.id === groupId);
  return found !== undefined && pageOfGroup(found, state)?.bank.id === pageId;
}
