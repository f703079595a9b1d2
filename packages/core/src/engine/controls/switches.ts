import {
  ACTION_LISTS,
  alternates,
  contactDueMs,
  gestureDueMs,
  hasActions,
  isDoneBy,
  feelsStrikes,
  moveContact,
  moveSwitch,
  onlyTaps,
  passTime,
  settledContact,
  type Action,
  type Assignment,
  type FiredGesture,
  type Gesture,
} from '../../floor';
import { endNotes } from '../actions/notes';
import { start } from '../actions/start';
import { isEvenNext } from '../lamps/turns';
import type { HeldPress } from '../state/liveState';
import { setFunction } from '../live/sending';
import { type Live } from '../live/live';
import { labelOf } from '../actions/labels';
import { placeOf } from '../world/place';
import { type WorldControl } from '../world/world';
import { isOneOf, nth } from '../../sure';

/**
 * What a switch says, as its hardware means it: contacts that bounce are waited out, and one that says only that it
 * was pressed is let go at once.
 * @param velocity 1–127 down, 0 up.
 */
export function hearSwitch(live: Live, entry: WorldControl, velocity: number): void {
  const { control } = entry;
  const { debounceMs, switching } = control.hardware;
  const taps = onlyTaps(control);
  const isDown = taps || velocity > 0;
  // Contacts of a latching switch bounce between on and off, though each of its movements is a press.
  const contact = switching === 'latching' ? velocity > 0 : isDown;
  if (debounceMs > 0) {
    const before = live.state.contacts[control.id];
    const moved = moveContact(before, contact, live.nowMs, debounceMs);
    live.state.contacts = { ...live.state.contacts, [control.id]: moved.contact };
    if (!moved.changed) return;
  }
  latch(live, entry, velocity > 0);
  pressSwitch(live, entry, isDown, Math.max(1, velocity));
  if (taps) pressSwitch(live, entry, false, 0);
}

/** A latching switch stands at on or off, whatever its contacts did on the way. */
function latch(live: Live, { control }: WorldControl, isOn: boolean): void {
  if (control.hardware.switching === 'latching')
    live.state.latched = { ...live.state.latched, [control.id]: isOn };
}

/** Switches whose bouncing is over and that ended up elsewhere than they were taken for. */
export function settleContacts(live: Live): void {
  for (const controlId in live.state.contacts) {
    const contact = live.state.contacts[controlId];
    if (!contact) continue;
    const entry = live.world.controls.get(controlId);
    const dueMs = entry ? contactDueMs(contact, entry.control.hardware.debounceMs) : null;
    if (!entry || dueMs === null || dueMs > live.nowMs) continue;
    live.state.contacts = { ...live.state.contacts, [controlId]: settledContact(contact, dueMs) };
    latch(live, entry, contact.raw);
    if (!onlyTaps(entry.control)) pressSwitch(live, entry, contact.raw, contact.raw ? 127 : 0);
  }
}

/** A switch goes down or up: its gestures fire as far as they can tell themselves apart now. */
function pressSwitch(
  live: Live,
  { boardIndex, control }: WorldControl,
  isDown: boolean,
  velocity: number,
): void {
  const board = nth(live.world.boards, boardIndex);
  const now = live.assignmentOf(board, control.id) ?? null;
  let held = live.state.held[control.id];
  if (isDown) {
    const label = labelOf(live.world, now ?? undefined, placeOf(live.world, live.state).songIndex);
    live.note({ code: 'pressed', controlId: control.id, label: label || control.name });
    if (!now || !hasActions(now)) live.note({ code: 'nothing-assigned' });
    // Another bank means another thing: a press that still waited for its second one fires as what it was.
    if (held && !isSameAssignment(held.assignment, now)) held = finishGesture(live, control.id, held);
    // A switch that went down twice ends what it played before.
    endNotes(live, control.id);
  }
  const assignment = held ? held.assignment : now;
  const wants = held?.wants ?? live.wantsOf(board, control.id);
  const outcome = moveSwitch(held?.gesture ?? null, isDown, live.nowMs, wants);
  const fired = isDown || !held ? [] : held.fired;
  const isFelt = isDown && board.preset !== null && feelsStrikes(board.preset, control.kind, assignment);
  const struck = isDown ? (isFelt ? velocity : 0) : (held?.struck ?? 0);
  settleGesture(live, control.id, { assignment, wants, boardId: board.board.id, fired, struck }, outcome);
  if (!isDown) endNotes(live, control.id);
}

/** Compared by content, because a state that was saved and read again has assignments of its own. */
const isSameAssignment = (a: Assignment | null, b: Assignment | null): boolean =>
  a === b || (a !== null && b !== null && JSON.stringify(a) === JSON.stringify(b));

/** Holds, and presses whose second one never came: what is due by now, on every switch, in order of time. */
export function passGestures(live: Live): void {
  for (const controlId of Object.keys(live.state.held)) {
    const held = live.state.held[controlId];
    // What another switch did at this moment may have let it go.
    if (!held) continue;
    const due = gestureDueMs(held.gesture, held.wants);
    if (due !== null && due <= live.nowMs)
      settleGesture(live, controlId, held, passTime(held.gesture, live.nowMs, held.wants));
  }
}

/** Fires the press that a switch still owes, and lets it go. */
function finishGesture(live: Live, controlId: string, held: HeldPress): undefined {
  const owed = held.gesture.isPending ? (['press', 'release'] as const) : [];
  const fired = owed.map((gesture) => ({ gesture, atMs: live.nowMs }));
  settleGesture(live, controlId, held, { state: null, fired });
  return undefined;
}

function settleGesture(
  live: Live,
  controlId: string,
  held: Omit<HeldPress, 'gesture'>,
  { state, fired }: ReturnType<typeof moveSwitch>,
): void {
  const names = fired.length === 0 ? held.fired : withGestures(held.fired, fired);
  const { assignment, wants, boardId, struck } = held;
  if (state) {
    const next: HeldPress = { assignment, wants, boardId, gesture: state, fired: names, struck };
    live.state.held = { ...live.state.held, [controlId]: next };
  } else if (live.state.held[controlId]) live.state.held = without(live.state.held, controlId);
  if (!assignment) return;
  for (const { gesture } of fired) {
    startAll(live, { boardId, controlId, struck }, assignment[gesture]);
    if (gesture === 'release') endFired(live, assignment, names);
  }
}

/** Does what a gesture, or an end of a pedal, does; where its actions alternate, those whose turn it is. */
export function startAll(live: Live, from: Parameters<typeof start>[1], actions: readonly Action[]): void {
  if (!alternates(actions)) {
    for (const action of actions) start(live, from, action);
    return;
  }
  const key = nth(actions, 0).id;
  const isEven = isEvenNext(live.world, live.state, actions);
  live.state.evens = { ...live.state.evens, [key]: !isEven };
  live.tellsLamps = true;
  for (const action of actions) if (isDoneBy(action, isEven)) start(live, from, action);
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
export function letGoOf(live: Live, controlId: string): void {
  const held = live.state.held[controlId];
  if (!held) return;
  live.state.held = without(live.state.held, controlId);
  endFired(live, held.assignment, held.fired);
  endNotes(live, controlId);
}

/** Ends the momentary actions of each gesture that fired, once. */
function endFired(live: Live, assignment: Assignment | null, fired: readonly Gesture[]): void {
  if (!assignment) return;
  for (const gesture of ACTION_LISTS) {
    const list = assignment[gesture];
    if (list.length > 0 && isOneOf(fired, gesture)) endMomentary(live, list);
  }
}

/** What a momentary action sent down goes up again when its switch does, or its pedal leaves its end. */
export function endMomentary(live: Live, actions: readonly Action[]): void {
  // The turn has passed on to the others already.
  const wasEven = actions[0] ? !(live.state.evens[actions[0].id] ?? false) : false;
  for (const action of actions)
    if (action.kind === 'momentary' && !action.isOff && isDoneBy(action, wasEven)) {
      live.state.delayed = live.state.delayed.filter((d) => d.action.id !== action.id);
      setFunction(live, action.functionId, action.up);
    }
}
