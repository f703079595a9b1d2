import {
  messageKey,
  pageInForce,
  step,
  type Command,
  type Effect,
  type LiveEvent,
  type LiveNote,
  type LiveState,
  type World,
  type WorldBank,
  type WorldBoard,
  type WorldControl,
} from '../engine';
import { isPressed, type Action, type ActionListName, type Assignment, type Control } from '../floor';
import { describeMessage, encode, hex, type Message } from '../midi';
import { deedWords } from './deedWords';
import { hop, lookIn, lost, type Hop, type Loss, type TraceWay } from './hops';
import { TraceRig, type PortNow } from './traceRig';
import { routeHop, sendWay, untakenLoss } from './traceSend';
import { whyNoWay } from './whyNoWay';

/** What is traced: a gesture on a control, the sweep of a pedal or knob (0–127), or a message that arrives. */
export type TraceStart =
  | { readonly kind: 'gesture'; readonly controlId: string; readonly gesture: ActionListName }
  | { readonly kind: 'sweep'; readonly controlId: string; readonly travel: number }
  | { readonly kind: 'message'; readonly portId: string; readonly message: Message };

/** A press through the rig: what all its ways have in common, and each of them. */
export type Trace = {
  readonly stem: readonly Hop[];
  /** Lost before it could part. */
  readonly loss: Loss | null;
  readonly ways: readonly TraceWay[];
};

/** Ways followed at the most. */
const WAYS_AT_MOST = 64;
/** How long after the gesture what it sets off is followed, in ms. */
const FOLLOWED_MS = 4000;

/**
 * Follows a press through the rig as it is now, to its effect or to where it is lost. What happens is computed by the
 * same `step` that plays; nothing is sent and nothing changes.
 * @param portNow what each port of the computer is at this moment.
 */
export function trace(
  world: World,
  state: LiveState,
  start: TraceStart,
  nowMs: number,
  portNow: (portId: string) => PortNow = () => 'open',
): Trace {
  const rig = new TraceRig(world, state, nowMs, portNow);
  return start.kind === 'message' ? traceMessage(rig, start) : traceControl(rig, start);
}

/** Every loss of a trace, the ways' in their order. */
export const lossesOf = (found: Trace): readonly Loss[] => [
  ...(found.loss ? [found.loss] : []),
  ...found.ways.flatMap((w) => w.loss ?? []),
];

const GESTURE_WORDS: Record<ActionListName, string> = {
  press: 'press',
  release: 'release',
  hold: 'hold',
  doublePress: 'double press',
  toe: 'toe down',
  heel: 'heel down',
};

function traceControl(rig: TraceRig, start: Exclude<TraceStart, { kind: 'message' }>): Trace {
  const { world, state } = rig;
  const entry = world.controls.get(start.controlId);
  if (!entry) {
    const loss = lost('control', 'gone', 'This control is gone from its board.', lookIn('floor'));
    return { stem: [], loss, ways: [] };
  }
  const worldBoard = world.boards[entry.boardIndex]!;
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
    const shut = rig.shutOut(path.portId);
    if (shut) return end(shut);
  }
  const deed = start.kind === 'sweep' ? `sweep to ${start.travel}` : GESTURE_WORDS[start.gesture];
  stem.push(hop('gesture', deed, ownProgram ? '' : `arrives at ${rig.portName(path!.portId)}`));
  const assignment = page?.assignments.get(control.id);
  if (start.kind === 'gesture') {
    const latched = latchingLoss(control, start.gesture);
    if (latched) return end(latched);
  }
  const deeds = start.kind === 'sweep' ? (assignment?.sweeps ?? []) : (assignment?.[start.gesture] ?? []);
  if (deeds.length === 0) return end(unassignedLoss(worldBoard, control, assignment, start));
  const ways =
    start.kind === 'sweep'
      ? (assignment?.sweeps ?? []).flatMap((sweep) =>
          followDeed(rig, entry, page!, { ...assignment!, sweeps: [sweep], toe: [], heel: [] }, start, {
            title: rig.functionName(sweep.functionId),
            detail: `${sweep.from} to ${sweep.to}`,
          }),
        )
      : (assignment![start.gesture] as readonly Action[]).flatMap((action) =>
          action.isOff
            ? [
                {
                  hops: [hop('action', deedWords(world, action))],
                  loss: lost(
                    'action',
                    'action-off',
                    `“${deedWords(world, action)}” is switched off in ${page!.bank.name}. Switch it on in Floor.`,
                    lookIn('floor', control.id),
                  ),
                },
              ]
            : followDeed(rig, entry, page!, only(assignment!, start.gesture, action), start, {
                title: deedWords(world, action),
                detail: action.delay ? `after ${action.delay.amount} ${action.delay.unit}` : '',
              }),
        );
  return end(null, ways.slice(0, WAYS_AT_MOST));
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
  const pages = at === undefined ? banks : groups[at]!.pages;
  const other = pages.find((p) => has(p.assignments.get(control.id)));
  if (other)
    return lost(
      'action',
      'other-bank',
      `${control.name} does nothing on ${deed} here; in ${other.bank.name} it does.`,
      {
        kind: 'bank',
        boardId: board.id,
        groupId: at === undefined ? null : groups[at]!.group.id,
        bankId: other.bank.id,
        text: `Go to ${other.bank.name}`,
      },
    );
  const gestures = (Object.keys(GESTURE_WORDS) as ActionListName[]).filter(
    (g) => (here?.[g].length ?? 0) > 0,
  );
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
  [gesture]: [action],
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
  const effects = play(
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
  return [{ hops: [...hops, hop('effect', stateWords(done))], loss: null }];
}

/** What an action does that sends nothing: banks, routes, the tempo. */
const stateWords = (action: Action | undefined): string => {
  switch (action?.kind) {
    case 'bank':
    case 'page':
      return 'turns the page';
    case 'route':
      return 'switches the route';
    case 'tap':
      return 'sets the tempo';
    default:
      return 'nothing had to change';
  }
};

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

type Timed = { readonly atMs: number; readonly effect: Effect };

/** Runs events and everything that comes due after them. */
function play(world: World, before: LiveState, events: readonly LiveEvent[], startMs: number): Timed[] {
  const found: Timed[] = [];
  let state = before;
  let wakeMs: number | null = null;
  let sends = 0;
  const run = (event: LiveEvent): void => {
    const done = step(world, state, event);
    state = done.state;
    wakeMs = null;
    for (const effect of done.effects) {
      if (effect.kind === 'wake') wakeMs = effect.atMs;
      else if (effect.kind !== 'lamp') found.push({ atMs: event.atMs - startMs, effect });
      if (effect.kind === 'send') sends++;
    }
  };
  for (const event of events) {
    while (wakeMs !== null && wakeMs < event.atMs) run({ kind: 'tick', atMs: wakeMs });
    run(event);
  }
  const endMs = (events.at(-1)?.atMs ?? startMs) + FOLLOWED_MS;
  // One send of a glide tells its way; the others go the same.
  while (wakeMs !== null && wakeMs <= endMs && sends < WAYS_AT_MOST) run({ kind: 'tick', atMs: wakeMs });
  return found;
}

/**
 * Everything that was sent, each with the routes it went through, and what was said in place of sending. Where one
 * route lets a message through, those that hold it back are no loss.
 */
function waysOf(rig: TraceRig, effects: readonly Timed[]): TraceWay[] {
  const ways: TraceWay[] = [];
  const heldBack: TraceWay[] = [];
  let through: Hop[] = [];
  const told = new Set<string>();
  for (const { atMs, effect } of effects) {
    if (effect.kind === 'note') {
      const loss = noteLoss(rig, effect.note);
      if (loss) ways.push({ hops: through, loss });
    } else if (effect.kind === 'routed') {
      const { hop: made, loss } = routeHop(rig, effect, atMs);
      if (loss) heldBack.push({ hops: [...through, made], loss });
      else through = [...through, made];
    } else if (effect.kind === 'send') {
      // The lamps of a board are no way of the press, and a value on its glide goes the way of its first.
      if (effect.functionId === null && effect.routeId === null && isLamp(rig.world, effect)) continue;
      const key = `${effect.portId} ${effect.functionId ?? hex(encode(effect.message))}`;
      if (told.has(key) && effect.functionId !== null) continue;
      told.add(key);
      const way = sendWay(rig, effect, atMs);
      ways.push({ ...way, hops: [...through.filter((h) => leadsTo(h, effect, rig)), ...way.hops] });
    }
  }
  return ways.length > 0 ? ways : heldBack;
}

/** Whether a route that a message went through is on the way to what was sent: itself, or one that feeds a line. */
const leadsTo = (made: Hop, { routeId }: Effect & { kind: 'send' }, { world }: TraceRig): boolean => {
  const route = world.routes.byId.get(made.routeId ?? '');
  return (
    routeId !== null &&
    (made.routeId === routeId || route?.to.some((t) => world.routes.lines.has(t.portId)) === true)
  );
};

const isLamp = (world: World, { portId }: Effect & { kind: 'send' }): boolean =>
  world.boards.some((b) => b.lampPortId === portId) &&
  (world.devicesBehind.get(portId) ?? []).every((d) => d.role === 'controller');

/** What the engine said in place of sending, as a loss. */
function noteLoss(rig: TraceRig, note: LiveNote): Loss | null {
  const { world } = rig;
  const named = (id: string) => rig.functionName(id);
  switch (note.code) {
    case 'function-gone':
      return lost(
        'function',
        'gone',
        'The function that this moves is gone from its chart. Choose another one.',
        lookIn('floor'),
      );
    case 'device-gone':
      return lost('device', 'gone', 'The device that this goes to is gone from the rig.', lookIn('floor'));
    case 'route-gone':
      return lost(
        'route',
        'gone',
        'The route that this switches is gone. Choose another one in Floor.',
        lookIn('floor'),
      );
    case 'bank-gone':
    case 'page-gone':
      return lost(
        'action',
        'gone',
        'The bank or page that this turns to is gone. Choose another one in Floor.',
        lookIn('floor'),
      );
    case 'no-tracks':
      return lost(
        'action',
        'gone',
        'Nothing to arm: no function of this device arms a track. Say so in its chart.',
        lookIn('rig'),
      );
    case 'no-way': {
      const device = world.show.rig.devices.find((d) => d.id === note.deviceId);
      return device
        ? whyNoWay(world.show.rig, device, 'device')
        : lost('device', 'gone', 'The device that this goes to is gone from the rig.');
    }
    case 'value-refused': {
      const found = world.functions.get(note.functionId);
      return lost(
        'function',
        'value-refused',
        `${named(note.functionId)} does not take ${note.value}. Choose a value that it has.`,
        lookIn('rig', found?.device.id ?? null),
      );
    }
    case 'function-reserved': {
      const device = world.functions.get(note.functionId)?.device;
      return lost(
        'function',
        'reserved',
        `${named(note.functionId)} was not sent: ${device?.name ?? 'the device'} keeps this number for its own hardware. Take a free one.`,
        lookIn('rig', device?.id ?? null),
      );
    }
    case 'not-under-setting': {
      const found = world.functions.get(note.functionId)!;
      return lost(
        'function',
        'other-mode',
        `${found.device.name} has ${found.fn.name} only while ${found.device.setting?.name ?? 'its setting'} is “${found.fn.under ?? ''}”.`,
        {
          kind: 'setting',
          deviceId: found.device.id,
          option: found.fn.under!,
          text: `Set it to ${found.fn.under!}`,
        },
      );
    }
    case 'port-off':
      return rig.shutOut(note.portId);
    case 'no-such-scene':
      return lost(
        'action',
        'nowhere-to-go',
        `There is no scene ${note.index + 1} in this song; it has ${note.sceneCount}.`,
        lookIn('songs'),
      );
    case 'no-songs':
      return lost('action', 'nowhere-to-go', 'There is no song in this set yet.', lookIn('songs'));
    case 'end-of-set':
      return lost('action', 'nowhere-to-go', 'This is the last scene of the last song.');
    case 'start-of-set':
      return lost('action', 'nowhere-to-go', 'This is the first scene of the first song.');
    default:
      return null;
  }
}

/** A message that arrives: the control that sends it, the function that reports with it, the routes that take it in. */
function traceMessage(rig: TraceRig, { portId, message }: { portId: string; message: Message }): Trace {
  const { world } = rig;
  const stem = [
    hop('message', describeMessage(message, world.show.rig.middleC), hex(encode(message)), { message }),
    hop('port', rig.portName(portId), rig.portDetail(portId), { portId }),
  ];
  const shut = rig.shutOut(portId);
  if (shut) return { stem, loss: shut, ways: [] };
  const entry = world.inputs.get(portId)?.get(messageKey(message));
  const effects = play(
    world,
    rig.state,
    [{ kind: 'message', atMs: rig.pressedAtMs, portId, message }],
    rig.pressedAtMs,
  );
  if (entry) {
    const { device } = world.boards[entry.boardIndex]!;
    stem.push(hop('control', `${device.name} ${entry.control.name}`, '', { deviceId: device.id }));
  }
  const ways = waysOf(rig, effects);
  if (ways.length > 0) return { stem, loss: null, ways: ways.slice(0, WAYS_AT_MOST) };
  if (effects.some((e) => e.effect.kind === 'routed')) return { stem, loss: null, ways: [] };
  if (entry) {
    const start: TraceStart = isPressed(entry.control.kind)
      ? { kind: 'gesture', controlId: entry.control.id, gesture: isEnd(message) ? 'release' : 'press' }
      : { kind: 'sweep', controlId: entry.control.id, travel: 64 };
    const traced = traceControl(rig, start);
    return { ...traced, stem: [...stem, ...traced.stem.slice(1)] };
  }
  if (world.reports.has(portId) && reports(rig, portId, message))
    return { stem: [...stem, hop('effect', 'a report, taken over')], loss: null, ways: [] };
  return { stem, loss: untakenLoss(rig, portId, message), ways: [] };
}

const isEnd = (message: Message): boolean =>
  message.kind === 'note-off' ||
  (message.kind === 'note-on' && message.velocity === 0) ||
  (message.kind === 'controller' && message.value === 0);

/** Whether a message changes what is known of a function. */
const reports = ({ world, state, pressedAtMs }: TraceRig, portId: string, message: Message): boolean =>
  step(world, state, { kind: 'message', atMs: pressedAtMs, portId, message }).state.values !== state.values;
