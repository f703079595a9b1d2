import {
  assignmentInForce,
  step,
  wantsInForce,
  type LiveEvent,
  type LiveState,
  type World,
  type WorldBoard,
} from '../../engine';
import { GESTURES, isPressed, PLAIN_TIMING, type Action, type Assignment } from '../../floor';
import { parseBytes } from '../../midi';
import { switchBytes } from '../../standins';
import { got, nth } from '../../sure';
import { leadsAnywhere } from './leading';

/** What a foot does on one control: it presses it, holds it down, presses it twice, or brings a pedal to an end. */
export const FOOT_GESTURES = ['press', 'hold', 'doublePress', 'toe', 'heel'] as const;
export type FootGesture = (typeof FOOT_GESTURES)[number];
export type FootPress = { readonly controlId: string; readonly gesture: FootGesture };

/** How long a foot stays on a switch, and from one press to the second of a double press, in ms. Own choice. */
const TAP_MS = 60;
const AGAIN_MS = 140;
/** After so long everything that a press began is over, in ms. */
const REST_MS = 30_000;

const isDone = (action: Action): boolean => !action.isOff;

/**
 * Whether a gesture of a control can lead anywhere. A hold and a double press may fire the press as well, and every one of
 * them the release: what one of a control's gestures leads to, any of them may.
 */
const leads = (assignment: Assignment, gesture: FootGesture): boolean => {
  const lists = gesture === 'toe' || gesture === 'heel' ? (['toe', 'heel'] as const) : GESTURES;
  return lists.some((list) => assignment[list].some(leadsAnywhere));
};

/** Whether what is pressed on a board is heard: it has a way to the computer, or needs none. */
export const isHeard = ({ board, path }: WorldBoard): boolean =>
  board.isOnScreen || board.mode === 'standalone' || path !== null;

/** Everything that feet can do now: each gesture that has something to do, board by board. */
export function pressesAt(world: World, state: LiveState): (FootPress & { readonly leads: boolean })[] {
  return world.boards.flatMap((board) =>
    board.board.controls.flatMap(({ id, kind, sends }) => {
      if (!isHeard(board) && sends.kind !== 'key') return [];
      const assignment = assignmentInForce(world, board, state, id);
      if (!assignment) return [];
      const gestures: readonly FootGesture[] = isPressed(kind)
        ? ['press', 'hold', 'doublePress']
        : ['toe', 'heel'];
      return gestures.flatMap((gesture) => {
        const does =
          assignment[gesture].some(isDone) || (gesture === 'press' && assignment.release.some(isDone));
        return does ? [{ controlId: id, gesture, leads: leads(assignment, gesture) }] : [];
      });
    }),
  );
}

/** The rig after a foot has done something and everything that follows from it is over; whether a scene was recalled. */
export type Pressed = { readonly state: LiveState; readonly recalls: boolean };

export function pressed(world: World, state: LiveState, press: FootPress): Pressed {
  let now = state;
  let recalls = false;
  const run = (event: LiveEvent): void => {
    const done = step(world, now, event);
    now = done.state;
    recalls ||= done.effects.some((e) => e.kind === 'note' && e.note.code === 'recalled');
  };
  for (const event of eventsOf(world, state, press)) run(event);
  run({ kind: 'tick', atMs: now.atMs + REST_MS });
  return { state: now, recalls };
}

/** What happens at the rig as a foot does something, by the bytes of the hardware where it has some. */
function eventsOf(world: World, state: LiveState, { controlId, gesture }: FootPress): LiveEvent[] {
  const { boardIndex, control } = got(world.controls, controlId);
  const board = nth(world.boards, boardIndex);
  const wants = wantsInForce(world, board, state, controlId);
  const atMs = state.atMs + 1;
  if (gesture === 'toe' || gesture === 'heel')
    return [64, gesture === 'toe' ? 127 : 0, 64].map((travel, i): LiveEvent => ({
      kind: 'command',
      atMs: atMs + i * TAP_MS,
      command: { kind: 'move', controlId, travel },
    }));
  const moves: (readonly [afterMs: number, isDown: boolean])[] =
    gesture === 'press'
      ? [
          [0, true],
          [TAP_MS, false],
        ]
      : gesture === 'hold'
        ? [
            [0, true],
            [(wants ?? PLAIN_TIMING).holdMs + TAP_MS, false],
          ]
        : [
            [0, true],
            [TAP_MS, false],
            [AGAIN_MS, true],
            [AGAIN_MS + TAP_MS, false],
          ];
  let latched = state.latched[controlId] ?? false;
  return moves.flatMap(([afterMs, isDown]): LiveEvent[] => {
    const { switching, edge } = control.hardware;
    const tellsOnce = switching === 'latching' || edge !== 'both';
    if (tellsOnce && isDown === (edge === 'up')) return [];
    const isOn = switching === 'latching' ? !latched : tellsOnce || isDown;
    latched = isOn;
    const when = atMs + afterMs;
    if (
      board.board.isOnScreen ||
      board.board.mode === 'standalone' ||
      !board.path ||
      control.sends.kind === 'key'
    )
      return [
        { kind: 'command', atMs: when, command: { kind: 'switch', controlId, velocity: isOn ? 127 : 0 } },
      ];
    const { portId } = board.path;
    const bytes = switchBytes(control.channel ?? board.device.channel, control.sends, isOn);
    return parseBytes(bytes).messages.map((message) => ({ kind: 'message', atMs: when, portId, message }));
  });
}
