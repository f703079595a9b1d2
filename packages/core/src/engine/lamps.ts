import type { Action, Assignment } from '../floor';
import type { LiveState } from './liveState';
import type { World } from './world';

const NOTHING: readonly Action[] = [];

/**
 * Whether the lamp of a control is lit. It follows what the control is about: a toggled switch function, a value
 * that was set, the scene in play, the bank in force; a control about none of these is lit while it is down.
 */
export function lampOf(
  world: World,
  state: Pick<LiveState, 'values' | 'position' | 'banks'>,
  boardIndex: number,
  assignment: Assignment | undefined,
  down: boolean,
): boolean {
  // A loop and not `find`: this runs for every switch of the rig at every step.
  for (const action of assignment?.press ?? NOTHING)
    if (!action.isOff) return actionLit(world, state, boardIndex, action, down);
  return false;
}

function actionLit(
  world: World,
  state: Pick<LiveState, 'values' | 'position' | 'banks'>,
  boardIndex: number,
  action: Action,
  down: boolean,
): boolean {
  switch (action.kind) {
    case 'toggle':
    case 'arm-only':
    case 'step':
      return (state.values[action.functionId] ?? 0) !== 0;
    case 'set': {
      const shape = world.functions.get(action.functionId)?.fn.shape;
      return shape?.kind === 'trigger'
        ? down
        : shape !== undefined && state.values[action.functionId] === action.value;
    }
    case 'scene':
      return action.to.kind === 'at' ? state.position.sceneIndex === action.to.index : down;
    case 'bank': {
      if (action.to.kind !== 'bank') return down;
      const { board, banks } = world.boards[boardIndex]!;
      return banks[state.banks[board.id] ?? 0]?.bank.id === action.to.bankId;
    }
    case 'momentary':
      return state.values[action.functionId] === action.down;
    case 'raw':
    case 'song':
    case 'tap':
    case 'panic':
      return down;
  }
}
