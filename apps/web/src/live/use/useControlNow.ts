import {
  assignmentInForce,
  devicesMoved,
  labelOf,
  pageInForce,
  lampTold,
  placeOf,
  valueOf,
  type LiveState,
  type PagesInForce,
  type World,
  type WorldBoard,
} from '@idle-step/core/engine';
import { LAMP_OFF, movedBy, type Assignment, type Control, type Lamp } from '@idle-step/core/floor';
import { shownValue, type Device } from '@idle-step/core/gear';
import { useMemo } from 'react';
import { isSame } from '../snapshot';
import { useLiveOf } from './useLive';

/** What a control does and shows at this moment. */
export type ControlNow = {
  readonly label: string;
  /** Devices that it moves, each once. */
  readonly devices: readonly Device[];
  /** The colour of its cloth label, `null` for plain cloth. */
  readonly cloth: string | null;
  readonly isDown: boolean;
  readonly lamp: Lamp;
  /** Where it stands in its travel, 0–127. */
  readonly position: number;
  /** How far round a knob stands, 0–1: where it is, or for an encoder where its function is within its range. */
  readonly share: number;
  /** What the function of a pedal or knob was last told, as people see it; a dash while that is not known. */
  readonly value: string;
};

/** Whether another page than the one in force is looked at for a control. */
const isLookedAt = (
  worldBoard: WorldBoard,
  state: LiveState,
  controlId: string,
  looked: PagesInForce | null,
): boolean =>
  looked !== null && pageInForce(worldBoard, looked, controlId) !== pageInForce(worldBoard, state, controlId);

/** What a control does on the page that is looked at, or else in force. */
export const assignmentShown = (
  world: World,
  worldBoard: WorldBoard,
  state: LiveState,
  controlId: string,
  looked: PagesInForce | null,
): Assignment | undefined =>
  looked && isLookedAt(worldBoard, state, controlId, looked)
    ? pageInForce(worldBoard, looked, controlId)?.assignments.get(controlId)
    : assignmentInForce(world, worldBoard, state, controlId);

/**
 * What a control does and shows now: drawn anew only when that changes, whatever else is played.
 * @param looked pages that somebody looks at in place of those in force; the same object while they are the same.
 */
export function useControlNow(
  world: World,
  worldBoard: WorldBoard,
  control: Control,
  looked: PagesInForce | null = null,
): ControlNow {
  const { assignment, songIndex, ...shown } = useLiveOf(({ state }) => {
    const isLooked = isLookedAt(worldBoard, state, control.id, looked);
    const inForce = assignmentShown(world, worldBoard, state, control.id, looked);
    return {
      assignment: inForce,
      songIndex: placeOf(world, state).songIndex,
      isDown: state.held[control.id]?.gesture.isDown ?? false,
      lamp: isLooked ? LAMP_OFF : lampTold(state, control.id),
      position: state.pedals[control.id] ?? 0,
      share: knobShare(world, state, control, inForce),
      value: sweptValue(world, state, inForce),
    };
  }, isSame);
  const label = useMemo(() => labelOf(world, assignment, songIndex), [world, assignment, songIndex]);
  const devices = useMemo(() => devicesMoved(world, assignment, songIndex), [world, assignment, songIndex]);
  return { ...shown, label, devices, cloth: assignment?.colour ?? null };
}

function knobShare(
  world: World,
  state: LiveState,
  control: Control,
  assignment: Assignment | undefined,
): number {
  const moved = state.pedals[control.id];
  if (control.hardware.encoding === 'absolute' && moved !== undefined) return moved / 127;
  const sweep = assignment?.sweeps[0];
  const value = sweep && valueOf(world, state, movedBy(sweep));
  if (!sweep || value === undefined || sweep.from === sweep.to) return 0;
  return Math.min(1, Math.max(0, (value - sweep.from) / (sweep.to - sweep.from)));
}

function sweptValue(world: World, state: LiveState, assignment: Assignment | undefined): string {
  const sweep = assignment?.sweeps[0];
  const reached = sweep && world.functions.get(movedBy(sweep));
  const value = sweep && valueOf(world, state, movedBy(sweep));
  return reached && value !== undefined ? shownValue(reached.device, reached.fn, value).number : '–';
}
