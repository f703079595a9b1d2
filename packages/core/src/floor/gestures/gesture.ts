/** What a foot can do on a switch. */
export const GESTURES = ['press', 'release', 'hold', 'doublePress'] as const;
export type Gesture = (typeof GESTURES)[number];

/** Lists of actions that an assignment has: the gestures of a switch, and the two ends of a pedal. */
export const ACTION_LISTS = [...GESTURES, 'toe', 'heel'] as const;
export type ActionListName = (typeof ACTION_LISTS)[number];

/** When a hold fires and how long a second press is waited for, in ms. */
export type GestureTiming = {
  readonly holdMs: number;
  readonly doubleMs: number;
  /** A hold takes the place of the press: the press then waits until the switch is let go. */
  readonly holdCancelsPress: boolean;
};

/** First figures of a new assignment. */
export const PLAIN_TIMING: GestureTiming = { holdMs: 600, doubleMs: 300, holdCancelsPress: false };

/** What the recogniser has to look out for: only a gesture that has actions makes another one wait. */
export type GestureWants = GestureTiming & { readonly hold: boolean; readonly doublePress: boolean };

/** Where one switch is between its gestures. Plain data. */
export type GestureState = {
  readonly isDown: boolean;
  readonly downAtMs: number;
  /** The press has not fired yet: it may become a double press, or give way to a hold. */
  readonly isPending: boolean;
  readonly isSecond: boolean;
  readonly holdDone: boolean;
  /** Something fired since the switch went down, so letting go means something. */
  readonly hasFired: boolean;
};

export type FiredGesture = { readonly gesture: Gesture; readonly atMs: number };
type Outcome = { readonly state: GestureState | null; readonly fired: readonly FiredGesture[] };

/**
 * What a switch going down or up, or time passing, makes of the gesture so far.
 *
 * A press fires at once unless a double press is assigned (then it waits for the second one, `doubleMs` from down to
 * down) or a hold takes its place (then it waits for letting go). A hold fires at its time, not at release, and not on
 * the second press of a double. Release fires when the switch goes up after anything fired, and never before the press
 * that it belongs to. A switch that goes down twice without going up was pressed twice.
 * @param state `null` when nothing is going on. Times in ms, never falling; call `passTime` up to a time before.
 * Source: common practice, no source.
 */
export function moveSwitch(
  state: GestureState | null,
  isDown: boolean,
  atMs: number,
  wants: GestureWants,
): Outcome {
  return isDown ? goDown(state, atMs, wants) : goUp(state, atMs, wants);
}

/** Fires what has become due, in order of time. */
export function passTime(state: GestureState, nowMs: number, wants: GestureWants): Outcome {
  let now: GestureState | null = state;
  const fired: FiredGesture[] = [];
  while (now) {
    const due = dueOf(now, wants);
    if (!due || due.atMs > nowMs) break;
    if (due.gesture === 'hold') {
      // A switch that is held is no double press any more: a press that waited for one fires before the hold.
      if (now.isPending && !wants.holdCancelsPress) fired.push({ gesture: 'press', atMs: due.atMs });
      fired.push(due);
      now = { ...now, holdDone: true, hasFired: true, isPending: false };
      continue;
    }
    fired.push(due);
    if (now.isDown) now = { ...now, isPending: false, hasFired: true };
    else {
      fired.push({ gesture: 'release', atMs: due.atMs });
      now = null;
    }
  }
  return { state: now, fired };
}

/** When time by itself makes something fire next, in ms, or `null`. */
export const gestureDueMs = (state: GestureState, wants: GestureWants): number | null =>
  dueOf(state, wants)?.atMs ?? null;

/** How long a press waits before it fires, in ms: 0, the double-press window, or until letting go (`null`). */
export const pressWaitMs = (wants: GestureWants): number | null =>
  wants.hold && wants.holdCancelsPress ? null : wants.doublePress ? wants.doubleMs : 0;

function goDown(state: GestureState | null, atMs: number, wants: GestureWants): Outcome {
  if (state?.isPending && wants.doublePress && atMs - state.downAtMs < wants.doubleMs)
    return {
      state: {
        isDown: true,
        downAtMs: atMs,
        isPending: false,
        isSecond: true,
        holdDone: true,
        hasFired: true,
      },
      fired: [{ gesture: 'doublePress', atMs }],
    };
  const isPending = pressWaitMs(wants) !== 0;
  const left: FiredGesture[] = state?.isPending ? [{ gesture: 'press', atMs }] : [];
  return {
    state: {
      isDown: true,
      downAtMs: atMs,
      isPending,
      isSecond: false,
      holdDone: false,
      hasFired: !isPending,
    },
    fired: isPending ? left : [...left, { gesture: 'press', atMs }],
  };
}

function goUp(state: GestureState | null, atMs: number, wants: GestureWants): Outcome {
  if (!state?.isDown) return { state, fired: [] };
  if (!state.isPending) return { state: null, fired: state.hasFired ? [{ gesture: 'release', atMs }] : [] };
  if (wants.doublePress && atMs - state.downAtMs < wants.doubleMs)
    return { state: { ...state, isDown: false }, fired: [] };
  return {
    state: null,
    fired: [
      { gesture: 'press', atMs },
      { gesture: 'release', atMs },
    ],
  };
}

function dueOf(state: GestureState, wants: GestureWants): FiredGesture | null {
  const hold: FiredGesture | null =
    state.isDown && !state.holdDone && wants.hold
      ? { gesture: 'hold', atMs: state.downAtMs + wants.holdMs }
      : null;
  // A press that a hold may still replace waits as long as the switch is down.
  const isHeldBack = state.isDown && wants.hold && wants.holdCancelsPress && !state.holdDone;
  const press: FiredGesture | null =
    state.isPending && wants.doublePress && !isHeldBack
      ? { gesture: 'press', atMs: state.downAtMs + wants.doubleMs }
      : null;
  if (hold && press) return press.atMs <= hold.atMs ? press : hold;
  return hold ?? press;
}
