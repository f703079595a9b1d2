import {
  ACTION_LISTS,
  contactDueMs,
  gestureDueMs,
  hasActions,
  isStruck,
  moveContact,
  moveSwitch,
  onlyTaps,
  passTime,
  settledContact,
  type Action,
  type Assignment,
  type FiredGesture,
  type Gesture,
} from '../floor';
import { endNotes, start } from './actions';
import type { HeldPress } from './liveState';
import { setFunction, type Turn } from './turn';
import { labelOf, placeOf, type WorldControl } from './world';

/**
 * What a switch says, as its hardware means it: contacts that bounce are waited out, and one that says only that it
 * was pressed is let go at once.
 * @param velocity 1–127 down, 0 up.
 */
export function hearSwitch(turn: Turn, entry: WorldControl, velocity: number): void {
  const { control } = entry;
  const { debounceMs, switching } = control.hardware;
  const taps = onlyTaps(control);
  const isDown = taps || velocity > 0;
  if (debounceMs > 0) {
    const before = turn.state.contacts[control.id];
    const { contact, changed } = moveContact(before, isDown, turn.nowMs, debounceMs);
    turn.state.contacts = { ...turn.state.contacts, [control.id]: contact };
    if (!changed) return;
  }
  if (switching === 'latching') turn.state.latched = { ...turn.state.latched, [control.id]: velocity > 0 };
  pressSwitch(turn, entry, isDown, Math.max(1, velocity));
  if (taps) pressSwitch(turn, entry, false, 0);
}

/** Switches whose bouncing is over and that ended up elsewhere than they were taken for. */
export function settleContacts(turn: Turn): void {
  for (const controlId in turn.state.contacts) {
    const contact = turn.state.contacts[controlId];
    if (!contact) continue;
    const entry = turn.world.controls.get(controlId);
    const dueMs = entry ? contactDueMs(contact, entry.control.hardware.debounceMs) : null;
    if (!entry || dueMs === null || dueMs > turn.nowMs) continue;
    turn.state.contacts = { ...turn.state.contacts, [controlId]: settledContact(contact, dueMs) };
    pressSwitch(turn, entry, contact.raw, contact.raw ? 127 : 0);
  }
}

/** A switch goes down or up: its gestures fire as far as they can tell themselves apart now. */
function pressSwitch(
  turn: Turn,
  { boardIndex, control }: WorldControl,
  isDown: boolean,
  velocity: number,
): void {
  const board = turn.world.boards[boardIndex]!;
  const now = turn.assignmentOf(board, control.id) ?? null;
  let held = turn.state.held[control.id];
  if (isDown) {
    const label = labelOf(turn.world, now ?? undefined, placeOf(turn.world, turn.state).songIndex);
    turn.note({ code: 'pressed', controlId: control.id, label: label || control.name });
    if (!now || !hasActions(now)) turn.note({ code: 'nothing-assigned' });
    // Another bank means another thing: a press that still waited for its second one fires as what it was.
    if (held && held.assignment !== now) held = finishGesture(turn, control.id, held);
    // A switch that went down twice ends what it played before.
    endNotes(turn, control.id);
  }
  const assignment = held ? held.assignment : now;
  const wants = held?.wants ?? turn.wantsOf(board, control.id);
  const outcome = moveSwitch(held?.gesture ?? null, isDown, turn.nowMs, wants);
  const fired = isDown || !held ? [] : held.fired;
  const struck = isDown ? (isStruck(control.kind) ? velocity : 0) : (held?.struck ?? 0);
  settleGesture(turn, control.id, { assignment, wants, boardId: board.board.id, fired, struck }, outcome);
  if (!isDown) endNotes(turn, control.id);
}

/** Holds, and presses whose second one never came: what is due by now, on every switch, in order of time. */
export function passGestures(turn: Turn): void {
  for (const controlId of Object.keys(turn.state.held)) {
    const held = turn.state.held[controlId];
    // What another switch did at this moment may have let it go.
    if (!held) continue;
    const due = gestureDueMs(held.gesture, held.wants);
    if (due !== null && due <= turn.nowMs)
      settleGesture(turn, controlId, held, passTime(held.gesture, turn.nowMs, held.wants));
  }
}

/** Fires the press that a switch still owes, and lets it go. */
function finishGesture(turn: Turn, controlId: string, held: HeldPress): undefined {
  const owed = held.gesture.isPending ? (['press', 'release'] as const) : [];
  const fired = owed.map((gesture) => ({ gesture, atMs: turn.nowMs }));
  settleGesture(turn, controlId, held, { state: null, fired });
  return undefined;
}

function settleGesture(
  turn: Turn,
  controlId: string,
  held: Omit<HeldPress, 'gesture'>,
  { state, fired }: ReturnType<typeof moveSwitch>,
): void {
  const names = fired.length === 0 ? held.fired : withGestures(held.fired, fired);
  const { assignment, wants, boardId, struck } = held;
  if (state) {
    const next: HeldPress = { assignment, wants, boardId, gesture: state, fired: names, struck };
    turn.state.held = { ...turn.state.held, [controlId]: next };
  } else if (turn.state.held[controlId]) turn.state.held = without(turn.state.held, controlId);
  if (!assignment) return;
  for (const { gesture } of fired) {
    for (const action of assignment[gesture]) start(turn, { boardId, controlId, struck }, action);
    if (gesture === 'release') endFired(turn, assignment, names);
  }
}

function withGestures(before: readonly Gesture[], fired: readonly FiredGesture[]): readonly Gesture[] {
  const names = [...before];
  for (const { gesture } of fired) names.push(gesture);
  return names;
}

function without(held: Readonly<Record<string, HeldPress>>, controlId: string): Record<string, HeldPress> {
  const { [controlId]: _gone, ...others } = held;
  return others;
}

/** What a switch that will be gone holds down goes up; nothing else fires any more. */
export function letGoOf(turn: Turn, controlId: string): void {
  const held = turn.state.held[controlId];
  if (!held) return;
  turn.state.held = without(turn.state.held, controlId);
  endFired(turn, held.assignment, held.fired);
  endNotes(turn, controlId);
}

/** Ends the momentary actions of each gesture that fired, once. */
function endFired(turn: Turn, assignment: Assignment | null, fired: readonly Gesture[]): void {
  if (!assignment) return;
  for (const gesture of ACTION_LISTS) {
    const list = assignment[gesture];
    if (list.length > 0 && (fired as readonly string[]).includes(gesture)) endMomentary(turn, list);
  }
}

/** What a momentary action sent down goes up again when its switch does, or its pedal leaves its end. */
export function endMomentary(turn: Turn, actions: readonly Action[]): void {
  for (const action of actions)
    if (action.kind === 'momentary' && !action.isOff) {
      turn.state.delayed = turn.state.delayed.filter((d) => d.action.id !== action.id);
      setFunction(turn, action.functionId, action.up);
    }
}

