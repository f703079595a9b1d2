import {
  namesIn,
  assignmentInForce,
  pageInForce,
  placeOf,
  traitsOf,
  type Command,
  type LiveState,
  type World,
  type WorldBank,
  type WorldBoard,
  type WorldControl,
} from '../../engine';
import {
  isPressed,
  movedBy,
  type Action,
  type ActionListName,
  type Assignment,
  type Control,
} from '../../floor';
import { hop, lookIn, lost, type Hop, type Loss, type TraceWay } from './hops';
import type { TraceRig } from './traceRig';
import { whyNoWay } from './whyNoWay';
import type { Trace, TraceStart } from './traceStart';
import { playOut, waysOf, WAYS_AT_MOST } from './playOut';
import { keysOf, nth, there } from '../../sure';

const GESTURE_WORDS: Record<ActionListName, string> = {
  press: 'press',
  release: 'release',
  hold: 'hold',
  doublePress: 'double press',
  toe: 'toe down',
  heel: 'heel down',
};

export function traceControl(rig: TraceRig, start: Exclude<TraceStart, { kind: 'message' }>): Trace {
  const { world, state } = rig;
  const entry = world.controls.get(start.controlId);
  if (!entry) {
    const loss = lost('control', 'gone', 'This control is gone from its board.', lookIn('floor'));
    return { stem: [], loss, ways: [] };
  }
  const worldBoard = nth(world.boards, entry.boardIndex);
  const { board, device, path } = worldBoard;
  const { control } = entry;
  const page = pageInForce(worldBoard, state, control.id);
  const stem: Hop[] = [
    hop('control', `${device.name} ${control.name}`, page ? `in ${page.bank.name}` : 'no preset', {
      deviceId: device.id,
    }),
  ];
  const end = (loss: Loss | null, ways: readonly TraceWay[] = []): Trace => ({ stem, loss, ways });
  if (device.away) return end(whyNoWay(world.show.rig, device, 'computer'));
  const ownProgram = board.isOnScreen || board.mode === 'standalone';
  if (!ownProgram) {
    if (!path) return end(whyNoWay(world.show.rig, device, 'computer'));
    const shut = rig.shutIn(path.portId, device);
    if (shut) return end(shut);
  }
  const gesture = start.kind === 'sweep' ? `sweep to ${start.travel}` : GESTURE_WORDS[start.gesture];
  stem.push(hop('gesture', gesture, ownProgram ? '' : `arrives at ${rig.portName(there(path).portId)}`));
  const assignment = assignmentInForce(world, worldBoard, state, control.id);
  if (start.kind === 'gesture') {
    const latched = latchingLoss(control, start.gesture);
    if (latched) return end(latched);
  }
  const deeds = start.kind === 'sweep' ? (assignment?.sweeps ?? []) : (assignment?.[start.gesture] ?? []);
  if (deeds.length === 0) return end(unassignedLoss(worldBoard, control, assignment, start));
  return end(null, waysFrom(rig, entry, there(page), there(assignment), start).slice(0, WAYS_AT_MOST));
}

/** What comes of each action, or each sweep, of a control. */
function waysFrom(
  rig: TraceRig,
  entry: WorldControl,
  page: WorldBank,
  assignment: Assignment,
  start: Exclude<TraceStart, { kind: 'message' }>,
): readonly TraceWay[] {
  if (start.kind === 'sweep')
    return assignment.sweeps.flatMap((sweep) =>
      followDeed(rig, entry, page, { ...assignment, sweeps: [sweep], toe: [], heel: [] }, start, {
        title: rig.functionName(movedBy(sweep)),
        detail: `${sweep.from} to ${sweep.to}`,
      }),
    );
  const names = namesIn(rig.world, placeOf(rig.world, rig.state).songIndex);
  return assignment[start.gesture].flatMap((action) => {
    const title = traitsOf(action).deed(action, names);
    const off = `“${title}” is switched off in ${page.bank.name}. Switch it on in Floor.`;
    return action.isOff
      ? [
          {
            hops: [hop('action', title)],
            loss: lost('action', 'action-off', off, lookIn('floor', entry.control.id)),
          },
        ]
      : followDeed(rig, entry, page, only(assignment, start.gesture, action), start, {
          title,
          detail: action.delay ? `after ${action.delay.amount} ${action.delay.unit}` : '',
        });
  });
}

/** Nothing to do here: because another bank has it, another gesture, or nothing at all. */
function unassignedLoss(
  { board, banks, groups, groupOf }: WorldBoard,
  control: Control,
  here: Assignment | undefined,
  start: Exclude<TraceStart, { kind: 'message' }>,
): Loss {
  const has = (a: Assignment | undefined): boolean =>
    a !== undefined && (start.kind === 'sweep' ? a.sweeps.length > 0 : a[start.gesture].length > 0);
  const deed = start.kind === 'sweep' ? 'a sweep' : `a ${GESTURE_WORDS[start.gesture]}`;
  const at = groupOf.get(control.id);
  const pages = at === undefined ? banks : nth(groups, at).pages;
  const other = pages.find((p) => has(p.assignments.get(control.id)));
  if (other)
    return lost(
      'action',
      'other-bank',
      `${control.name} does nothing on ${deed} here; in ${other.bank.name} it does.`,
      {
        kind: 'bank',
        boardId: board.id,
        groupId: at === undefined ? null : nth(groups, at).group.id,
        bankId: other.bank.id,
        text: `Go to ${other.bank.name}`,
      },
    );
  const gestures = keysOf(GESTURE_WORDS).filter((g) => (here?.[g].length ?? 0) > 0);
  if (gestures.length > 0 || (here?.sweeps.length ?? 0) > 0)
    return lost(
      'action',
      'no-such-gesture',
      `${control.name} does nothing on ${deed}; it has something for ${gestures.map((g) => GESTURE_WORDS[g]).join(', ') || 'its sweep'}.`,
      lookIn('floor', control.id),
    );
  return lost(
    'action',
    'nothing-assigned',
    `Nothing is assigned to ${control.name} in any bank. Give it something in Floor.`,
    lookIn('floor', control.id),
  );
}

const latchingLoss = ({ name, hardware }: Control, gesture: ActionListName): Loss | null =>
  hardware.switching === 'latching' && (gesture === 'hold' || gesture === 'doublePress')
    ? lost(
        'gesture',
        'latching',
        `${name} is a latching switch: it cannot tell a ${GESTURE_WORDS[gesture]}. Set the hardware to momentary, or use a press.`,
      )
    : null;

const NO_LISTS = {
  press: [],
  release: [],
  hold: [],
  doublePress: [],
  toe: [],
  heel: [],
  sweeps: [],
} as const;

const only = (assignment: Assignment, gesture: ActionListName, action: Action): Assignment => ({
  ...assignment,
  ...NO_LISTS,
  // Alone it is followed whichever turn it is.
  [gesture]: [{ ...action, every: undefined }],
});

/** Plays one action or sweep alone, and follows all that it sends. */
function followDeed(
  rig: TraceRig,
  { boardIndex, control }: WorldControl,
  page: WorldBank,
  assignment: Assignment,
  start: Exclude<TraceStart, { kind: 'message' }>,
  words: { readonly title: string; readonly detail: string },
): TraceWay[] {
  const world = withAssignment(rig.world, boardIndex, page, assignment);
  const commands =
    start.kind === 'sweep'
      ? [{ afterMs: 0, command: travelTo(control, start.travel) }]
      : gestureCommands(control, start.gesture, assignment);
  const effects = playOut(
    world,
    rig.state,
    commands.map(({ afterMs, command }) => ({ kind: 'command', atMs: rig.pressedAtMs + afterMs, command })),
    rig.pressedAtMs,
  );
  rig.isPlanned = true;
  const ways = waysOf(rig, effects).map((way) => ({
    ...way,
    hops: [hop('action', words.title, words.detail), ...way.hops],
  }));
  rig.isPlanned = false;
  if (ways.length > 0) return ways;
  const done = assignment.press.concat(assignment.hold, assignment.release, assignment.doublePress)[0];
  const hops = [hop('action', words.title, words.detail)];
  if (start.kind === 'sweep')
    return [
      {
        hops,
        loss: lost(
          'action',
          'waits-for-pickup',
          `${control.name} waits to be picked up: it moves nothing until it crosses the value that is there.`,
          lookIn('floor', control.id),
        ),
      },
    ];
  return [{ hops: [...hops, hop('effect', doneWords(world, rig.state, done))], loss: null }];
}

/** What an action does that has sent nothing. */
function doneWords(world: World, state: LiveState, action: Action | undefined): string {
  if (!action || traitsOf(action).isOwn) return 'nothing had to change';
  return traitsOf(action).deed(action, namesIn(world, placeOf(world, state).songIndex));
}

const travelTo = (control: Control, travel: number): Command =>
  control.hardware.encoding === 'absolute'
    ? { kind: 'move', controlId: control.id, travel }
    : { kind: 'turn', controlId: control.id, detents: 1 };

/** A gesture as feet make it. */
function gestureCommands(
  { id: controlId, kind }: Control,
  gesture: ActionListName,
  { timing }: Assignment,
): readonly { afterMs: number; command: Command }[] {
  const at = (afterMs: number, velocity: number) => ({
    afterMs,
    command: { kind: 'switch', controlId, velocity } as const,
  });
  const to = (afterMs: number, travel: number) => ({
    afterMs,
    command: { kind: 'move', controlId, travel } as const,
  });
  switch (gesture) {
    case 'press':
    case 'release':
      return isPressed(kind) ? [at(0, 127), at(40, 0)] : [];
    case 'hold':
      return [at(0, 127), at(timing.holdMs + 50, 0)];
    case 'doublePress':
      return [at(0, 127), at(40, 0), at(120, 127), at(160, 0)];
    case 'toe':
      return [to(0, 0), to(20, 127)];
    case 'heel':
      return [to(0, 127), to(20, 0)];
  }
}

/** The world with one assignment in the place of another; what its gestures wait for stays. */
function withAssignment(world: World, boardIndex: number, page: WorldBank, assignment: Assignment): World {
  const changed: WorldBank = {
    ...page,
    assignments: new Map([...page.assignments, [assignment.controlId, assignment]]),
  };
  const swap = (p: WorldBank) => (p === page ? changed : p);
  const boards = world.boards.map((b, i) =>
    i === boardIndex
      ? {
          ...b,
          banks: b.banks.map(swap),
          groups: b.groups.map((g) => ({ ...g, pages: g.pages.map(swap) })),
        }
      : b,
  );
  return { ...world, boards, boardById: new Map(boards.map((b) => [b.board.id, b])) };
}
