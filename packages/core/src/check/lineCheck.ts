import { onlyTaps, type ControlMessage } from '../floor';
import {
  controller,
  noteOn,
  NO_SEQUENCES,
  parseBytes,
  parseTypedBytes,
  type Message,
  type SequenceMemory,
} from '../midi';
import { nth } from '../sure';
import { fitOf, isSameSaid, placeOf, saidBy, saidByKey, type Said } from './said';
import type { CheckedControl, CheckThing } from './things';

/** How a control or a device was found. */
export type Found =
  | 'right'
  | 'wrong-number'
  | 'wrong-channel'
  | 'nothing'
  | 'twice'
  | 'never-let-go'
  | 'short-travel'
  | 'lamp-inverted'
  | 'no-answer'
  | 'put-off';

export type CheckResult = {
  readonly found: Found;
  /** How often it was pressed or moved. */
  readonly presses: number;
  /** The control that was heard instead of the one that is due, to be learned from; `null` where none was. */
  readonly heard: { readonly channel: number; readonly sends: ControlMessage } | null;
  /** How far a pedal went in its travel, 0–127. */
  readonly reach: { readonly low: number; readonly high: number } | null;
};

/** What the thing that is due has said so far. */
type Touch = {
  readonly said: Said;
  readonly fault: Found | null;
  readonly downMs: number;
  readonly lastMs: number;
  readonly isUp: boolean;
  readonly low: number;
  readonly high: number;
  /** How many messages came, and how many of them only repeated the one before. */
  readonly count: number;
  readonly again: number;
};

export type CheckMode = 'in-order' | 'at-random';

/** A line check on its way. Plain data. */
export type LineCheck = {
  readonly things: readonly CheckThing[];
  readonly mode: CheckMode;
  /** The places of the things of this round, in the order in which they are due. */
  readonly order: readonly number[];
  /** Which of the order is due. */
  readonly at: number;
  /** From 1; those that said nothing are asked for once more in the next. */
  readonly round: number;
  /** Those that were asked for once more. */
  readonly askedAgain: readonly string[];
  /** The last message of the thing before: a pedal that still moves sends more of the same, which is ignored. */
  readonly left: { readonly said: Said; readonly atMs: number } | null;
  readonly results: Readonly<Record<string, CheckResult>>;
  readonly touch: Touch | null;
  /** Another control was touched in place of the one that is due. */
  readonly hint: { readonly thingId: string; readonly times: number } | null;
  /** Since when the thing is due. */
  readonly dueMs: number;
  /** Whether anything was pressed yet; there is no time limit before the first press. */
  readonly hasBegun: boolean;
  readonly sequences: Readonly<Record<string, SequenceMemory>>;
  /** The board whose lamps are asked for: all of them are lit. */
  readonly lamps: { readonly boardId: string; readonly down: string | null; readonly downMs: number } | null;
  readonly seed: number;
  readonly isDone: boolean;
};

export type CheckEvent =
  | { readonly kind: 'message'; readonly atMs: number; readonly portId: string; readonly message: Message }
  | { readonly kind: 'key'; readonly atMs: number; readonly number: number; readonly isDown: boolean }
  | { readonly kind: 'tick'; readonly atMs: number }
  /** A cable was pulled out: what came by it of the control that is due does not count. */
  | { readonly kind: 'port-lost'; readonly atMs: number; readonly portId: string }
  /** Goes on without the one that is due. */
  | { readonly kind: 'put-off'; readonly atMs: number }
  | { readonly kind: 'stop'; readonly atMs: number };

/** The line check after an event, and what is sent: questions to devices, lamps. */
export type Checked = {
  readonly check: LineCheck;
  readonly send: readonly { readonly portId: string; readonly message: Message }[];
};

/** A repeat sooner than this is a bounce or a double, not a second press, in ms. */
const TWICE_MS = 120;
/** A switch held longer than this counts as stuck, in ms. */
const NEVER_MS = 2500;
/** A pedal that has not moved for this long has reached the end of its travel, in ms. */
const REST_MS = 1500;
/** How long a control may stay silent before the check goes on, in ms. */
const PATIENCE_MS = 12_000;
/** How long a device has for its answer, in ms. */
const DEVICE_MS = 700;
/** A hold that ends the question for lamps, in ms. */
const HOLD_MS = 800;
/** So near to its end counts as there, of 127. */
const END = 3;
/** What moves less than this is trembling, of 127. */
const MOVED = 20;

const NO_RESULT: CheckResult = { found: 'nothing', presses: 0, heard: null, reach: null };

/** A line check that begins. Where there is nothing to check it is done at once. @param seed for the order at random. */
export function startCheck(things: readonly CheckThing[], mode: CheckMode, atMs: number, seed = 1): Checked {
  const check: LineCheck = {
    things,
    mode,
    order: things.map((_, i) => i),
    at: 0,
    round: 1,
    askedAgain: [],
    left: null,
    results: {},
    touch: null,
    hint: null,
    dueMs: atMs,
    hasBegun: false,
    sequences: {},
    lamps: null,
    seed,
    isDone: things.length === 0,
  };
  const ordered = mode === 'at-random' ? shuffled(check) : check;
  return asked(ordered, atMs);
}

/** The thing that is due, or `null`. */
export const dueThing = ({ things, order, at, lamps, isDone }: LineCheck): CheckThing | null => {
  const place = order[at];
  return isDone || lamps || place === undefined ? null : (things[place] ?? null);
};

/** When the check wants to be woken, in ms, or `null`. */
export function checkDueMs(check: LineCheck): number | null {
  if (check.isDone) return null;
  if (check.lamps) return check.lamps.down === null ? null : check.lamps.downMs + HOLD_MS;
  const thing = dueThing(check);
  if (!thing) return null;
  if (thing.kind === 'device') return check.dueMs + DEVICE_MS;
  const { touch } = check;
  if (!touch) return check.hasBegun ? check.dueMs + PATIENCE_MS : null;
  if (thing.kind === 'moved') return touch.lastMs + REST_MS;
  return touch.isUp ? touch.lastMs + TWICE_MS : touch.downMs + NEVER_MS;
}

export function checkOn(check: LineCheck, event: CheckEvent): Checked {
  if (check.isDone) return { check, send: [] };
  switch (event.kind) {
    case 'stop':
      return {
        check: { ...check, isDone: true, touch: null, lamps: null },
        send: lampsOf(check, null, false),
      };
    case 'put-off':
      return check.lamps ? afterLamps(check, event.atMs) : found(check, 'put-off', event.atMs);
    case 'tick':
      return ticked(check, event.atMs);
    case 'port-lost':
      return {
        check:
          check.touch?.said.portId === event.portId
            ? { ...check, touch: null, left: null, dueMs: event.atMs }
            : check,
        send: [],
      };
    case 'key':
      return heardAll(check, [saidByKey(event.number, event.isDown)], event.atMs);
    case 'message': {
      const thing = dueThing(check);
      if (thing?.kind === 'device')
        return event.portId === thing.portId && isAnswer(event.message)
          ? found(check, 'right', event.atMs)
          : { check, send: [] };
      const { memory, said } = saidBy(
        event.portId,
        event.message,
        check.sequences[event.portId] ?? NO_SEQUENCES,
      );
      const sequences = { ...check.sequences, [event.portId]: memory };
      return heardAll({ ...check, sequences }, said, event.atMs);
    }
  }
}

/** Whether a message from a device is an answer: all but those that devices send unasked. */
const isAnswer = ({ kind }: Message): boolean =>
  kind !== 'clock' && kind !== 'active-sensing' && kind !== 'quarter-frame';

/** Takes the reading of a message that fits best, where it can be read in several ways. */
function heardAll(check: LineCheck, said: readonly Said[], atMs: number): Checked {
  const first = said[0];
  if (!first) return { check, send: [] };
  const touched = check.touch && said.find((s) => check.touch && isSameSaid(check.touch.said, s));
  const best = touched ?? said.find((s) => ownerOf(check, s)) ?? said.find((s) => isNear(check, s)) ?? first;
  return check.lamps ? heardAtLamps(check, best, atMs) : heard({ ...check, hasBegun: true }, best, atMs);
}

const controlsIn = ({ things }: LineCheck): CheckedControl[] =>
  things.flatMap((t) => (t.kind === 'device' ? [] : t));

/** The control that sends just this. */
const ownerOf = (check: LineCheck, said: Said): CheckedControl | undefined =>
  controlsIn(check).find((c) => fitOf(c, said) === 'right');

const isNear = (check: LineCheck, said: Said): boolean => {
  const thing = dueThing(check);
  return thing !== null && thing.kind !== 'device' && fitOf(thing, said) !== 'other';
};

function heard(check: LineCheck, said: Said, atMs: number): Checked {
  const thing = dueThing(check);
  if (!thing || thing.kind === 'device') return { check, send: [] };
  const { touch } = check;
  if (touch && isSameSaid(touch.said, said)) return goesOn(check, thing, touch, said, atMs);
  const fit = fitOf(thing, said);
  const { left } = check;
  // A pedal that goes back after it was done.
  if (left && fit !== 'right' && isSameSaid(left.said, said) && atMs - left.atMs < REST_MS)
    return { check: { ...check, left: { said, atMs } }, send: [] };
  const owner = fit === 'right' ? undefined : ownerOf(check, said);
  if (touch) {
    // A foot that is somewhere else has left this one.
    if (!said.isDown || (!owner && fit === 'other')) return { check, send: [] };
    return andThen(leaves(check, thing, touch, atMs), (next) => heard(next, said, atMs));
  }
  if (fit === 'right') return begins(check, thing, said, null, atMs);
  if (owner) return elsewhere(check, thing, owner, said, atMs);
  const following = followingOf(check)[0];
  if (fit === 'other' && said.isDown && following && fitOf(following, said) === 'wrong-channel')
    return andThen(found(check, 'nothing', atMs), (next) => heard(next, said, atMs));
  if (fit === 'other' || (!said.isDown && thing.kind === 'switch' && !saysEither(thing)))
    return { check, send: [] };
  return begins(check, thing, said, fit, atMs);
}

/** Whether hardware sends one message for each movement of a switch, on and off in turn. */
const saysEither = ({ control }: CheckedControl): boolean =>
  control.hardware.switching === 'latching' || control.hardware.edge === 'up';

function begins(
  check: LineCheck,
  thing: CheckedControl,
  said: Said,
  fault: Found | null,
  atMs: number,
): Checked {
  // What is let go was pressed before it was due.
  if (thing.kind === 'switch' && !said.isDown && !saysEither(thing)) return { check, send: [] };
  const place = thing.kind === 'moved' ? placeOf(thing, said) : 0;
  const isUp = thing.kind === 'switch' && onlyTaps(thing.control);
  const touch = {
    said,
    fault,
    downMs: atMs,
    lastMs: atMs,
    isUp,
    low: place,
    high: place,
    count: 1,
    again: 0,
  };
  const now = { ...check, touch, hint: null };
  return isTurned(thing) ? found(now, fault ?? 'right', atMs) : { check: now, send: [] };
}

/** An encoder has no ends: it is right as soon as it says something. */
const isTurned = ({ kind, control }: CheckedControl): boolean =>
  kind === 'moved' && control.hardware.encoding !== 'absolute';

/** What is touched says something more. */
function goesOn(check: LineCheck, thing: CheckedControl, touch: Touch, said: Said, atMs: number): Checked {
  if (thing.kind === 'moved') {
    const place = placeOf(thing, said);
    const isAgain = said.value === touch.said.value && atMs - touch.lastMs < TWICE_MS;
    const next: Touch = {
      ...touch,
      said,
      lastMs: atMs,
      low: Math.min(touch.low, place),
      high: Math.max(touch.high, place),
      count: touch.count + 1,
      again: touch.again + (isAgain ? 1 : 0),
    };
    const now = { ...check, touch: next };
    return reachesBoth(next) ? found(now, faultOfMove(next) ?? 'right', atMs) : { check: now, send: [] };
  }
  if (!said.isDown && !saysEither(thing))
    return { check: { ...check, touch: { ...touch, isUp: true, lastMs: atMs } }, send: [] };
  // What is known to bounce is waited out, as it is while one plays.
  if (atMs - touch.lastMs < thing.control.hardware.debounceMs) return { check, send: [] };
  // Contacts that bounce, or one cable too many.
  const isSoon = atMs - touch.lastMs < TWICE_MS || atMs - touch.downMs < TWICE_MS;
  if (isSoon)
    return {
      check: { ...check, touch: { ...touch, fault: touch.fault ?? 'twice', isUp: touch.isUp, lastMs: atMs } },
      send: [],
    };
  return { check: { ...check, touch: { ...touch, lastMs: atMs } }, send: [] };
}

const reachesBoth = ({ low, high }: Touch): boolean => low <= END && high >= 127 - END;

/** A pedal of which every place comes twice. */
const faultOfMove = ({ fault, count, again }: Touch): Found | null =>
  fault ?? (count >= 6 && again > count * 0.4 ? 'twice' : null);

/** Ends the control that was due, with what it has shown so far: time is over, or the foot went to another one. */
function leaves(check: LineCheck, thing: CheckedControl, touch: Touch, atMs: number): Checked {
  if (thing.kind === 'moved') {
    if (touch.high - touch.low < MOVED && touch.fault === null) return found(check, 'nothing', atMs);
    return found(check, touch.fault ?? (reachesBoth(touch) ? 'right' : 'short-travel'), atMs);
  }
  return found(check, touch.fault ?? (touch.isUp ? 'right' : 'never-let-go'), atMs);
}

/** Something else was touched than what is due. */
function elsewhere(
  check: LineCheck,
  thing: CheckedControl,
  owner: CheckedControl,
  said: Said,
  atMs: number,
): Checked {
  if (!said.isDown && owner.kind === 'switch') return { check, send: [] };
  // A press of one of the next two controls means that the one that is due sent nothing.
  if (followingOf(check).some((c) => c.id === owner.id))
    return andThen(found(check, 'nothing', atMs), (next) => heard(next, said, atMs));
  if (owner.kind === 'moved') return { check: { ...check, hint: { thingId: owner.id, times: 0 } }, send: [] };
  const times = check.hint?.thingId === owner.id ? check.hint.times + 1 : 1;
  if (times < 2) return { check: { ...check, hint: { thingId: owner.id, times } }, send: [] };
  // The same other control twice: the one that is due is pressed, and sends the message of the other.
  return begins(check, thing, said, 'wrong-number', atMs);
}

/** The next two controls that are due after this one. */
const followingOf = ({ things, order, at }: LineCheck): CheckedControl[] =>
  order.slice(at + 1, at + 3).flatMap((place) => {
    const thing = nth(things, place);
    return thing.kind === 'device' ? [] : thing;
  });

function andThen(before: Checked, then: (check: LineCheck) => Checked): Checked {
  if (before.check.isDone) return before;
  const after = then(before.check);
  return { check: after.check, send: [...before.send, ...after.send] };
}

function ticked(check: LineCheck, atMs: number): Checked {
  const dueMs = checkDueMs(check);
  if (dueMs === null || atMs < dueMs) return { check, send: [] };
  if (check.lamps) return afterLamps(check, atMs);
  const thing = dueThing(check);
  if (!thing) return { check, send: [] };
  if (thing.kind === 'device') return found(check, 'no-answer', atMs);
  if (!check.touch) return found(check, 'nothing', atMs);
  if (thing.kind === 'moved' && check.touch.fault === null && check.touch.high - check.touch.low < MOVED)
    return { check: { ...check, touch: null, dueMs: atMs }, send: [] };
  return leaves(check, thing, check.touch, atMs);
}

/** Writes down how the thing that was due was found, and goes on. */
function found(check: LineCheck, what: Found, atMs: number): Checked {
  const thing = dueThing(check);
  if (!thing) return { check, send: [] };
  const { touch } = check;
  const before = check.results[thing.id];
  const isOther = touch !== null && (what === 'wrong-number' || what === 'wrong-channel');
  const result: CheckResult = {
    found: what,
    presses: (before?.presses ?? 0) + (touch ? 1 : 0),
    heard: isOther ? { channel: touch.said.channel, sends: touch.said.sends } : null,
    reach: touch && thing.kind === 'moved' ? { low: touch.low, high: touch.high } : null,
  };
  const next = {
    ...check,
    results: { ...(isOther ? withoutOthers(check, touch.said) : check.results), [thing.id]: result },
    touch: null,
    left: touch ? { said: touch.said, atMs } : null,
    hint: null,
    at: check.at + 1,
    dueMs: atMs,
  };
  return next.at < next.order.length ? asked(next, atMs) : afterRound(next, atMs);
}

/** Takes back the results of other controls that rest on this message: it belongs to this control. */
function withoutOthers(check: LineCheck, said: Said): LineCheck['results'] {
  const isIt = (c: CheckedControl, { found: was, heard: other }: CheckResult) =>
    (other !== null &&
      other.channel === said.channel &&
      JSON.stringify(other.sends) === JSON.stringify(said.sends)) ||
    (was === 'right' && fitOf(c, said) === 'right');
  const taken = controlsIn(check).flatMap((c) => {
    const result = check.results[c.id];
    const isSure = check.askedAgain.includes(c.id);
    return result && !isSure && isIt(c, result)
      ? [[c.id, { ...NO_RESULT, presses: result.presses }] as const]
      : [];
  });
  return { ...check.results, ...Object.fromEntries(taken) };
}

/** What a thing needs when it becomes due: a device is asked, a lamp is lit alone. */
function asked(check: LineCheck, atMs: number): Checked {
  const thing = dueThing(check);
  if (!thing) return { check, send: [] };
  if (thing.kind !== 'device') return { check, send: lampsOf(check, thing.id, true) };
  const bytes = parseTypedBytes(thing.request);
  if (typeof bytes === 'string') return found(check, 'no-answer', atMs);
  return {
    check,
    send: parseBytes(bytes).messages.map((message) => ({ portId: thing.outPortId, message })),
  };
}

/** Those that said nothing come once more; at random all come again. */
function afterRound(check: LineCheck, atMs: number): Checked {
  if (check.mode === 'at-random') return asked({ ...shuffled(check), at: 0, round: check.round + 1 }, atMs);
  const places = check.things.map((_, i) => i);
  const idOf = (place: number) => nth(check.things, place).id;
  const left = places.filter(
    (place) => check.results[idOf(place)]?.found === 'nothing' && !check.askedAgain.includes(idOf(place)),
  );
  const askedAgain = [...check.askedAgain, ...left.map(idOf)];
  if (left.length > 0)
    return asked({ ...check, order: left, at: 0, round: check.round + 1, askedAgain }, atMs);
  return askLamps(check, null, atMs);
}

/** The boards whose lamps can be lit. */
const litBoards = (check: LineCheck): string[] => [
  ...new Set(controlsIn(check).flatMap((c) => (c.lampPortId === null ? [] : c.boardId))),
];

/** All lamps of the next board are lit, and those that are dark are pressed. */
function askLamps(check: LineCheck, afterBoardId: string | null, atMs: number): Checked {
  const boards = litBoards(check);
  const boardId = boards[afterBoardId === null ? 0 : boards.indexOf(afterBoardId) + 1];
  if (boardId === undefined)
    return { check: { ...check, isDone: true, lamps: null }, send: lampsOf(check, null, false) };
  const lamps = { boardId, down: null, downMs: atMs };
  return { check: { ...check, lamps }, send: lampsOf(check, boardId, true) };
}

const afterLamps = (check: LineCheck, atMs: number): Checked =>
  askLamps(check, check.lamps?.boardId ?? null, atMs);

function heardAtLamps(check: LineCheck, said: Said, atMs: number): Checked {
  const owner = ownerOf(check, said);
  const { lamps } = check;
  if (!lamps || owner?.boardId !== lamps.boardId) return { check, send: [] };
  if (said.isDown && !onlyTaps(owner.control))
    return { check: { ...check, lamps: { ...lamps, down: owner.id, downMs: atMs } }, send: [] };
  if (!onlyTaps(owner.control) && lamps.down !== owner.id) return { check, send: [] };
  if (!onlyTaps(owner.control) && atMs - lamps.downMs >= HOLD_MS) return afterLamps(check, atMs);
  const before = check.results[owner.id] ?? NO_RESULT;
  const isRight = before.found === 'right' && owner.lampPortId !== null;
  const results = isRight
    ? { ...check.results, [owner.id]: { ...before, found: 'lamp-inverted' as const } }
    : check.results;
  return { check: { ...check, results, lamps: { ...lamps, down: null } }, send: [] };
}

/** Lights the lamp of one control, or all of one board, and darkens the others. @param lit a control or a board. */
function lampsOf(check: LineCheck, lit: string | null, isOn: boolean): Checked['send'] {
  return controlsIn(check).flatMap((c) => {
    const { lamp } = c.control.hardware;
    if (!lamp || c.lampPortId === null) return [];
    const value = isOn && (c.id === lit || c.boardId === lit) ? lamp.on : lamp.off;
    const { kind, number } = c.control.sends;
    if (kind !== 'note' && kind !== 'controller') return [];
    const message = kind === 'note' ? noteOn(c.channel, number, value) : controller(c.channel, number, value);
    return [{ portId: c.lampPortId, message }];
  });
}

/** Another order; the first one is not the last of before, so that no control comes twice running. */
function shuffled(check: LineCheck): LineCheck {
  const order = check.things.map((_, i) => i);
  let { seed } = check;
  for (let i = order.length - 1; i > 0; i--) {
    // Source: the constants of Numerical Recipes (from memory).
    seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
    const j = Math.floor((seed / 2 ** 32) * (i + 1));
    [order[i], order[j]] = [nth(order, j), nth(order, i)];
  }
  const last = check.order[check.order.length - 1];
  if (order.length > 1 && check.round > 0 && order[0] === last) order.push(...order.splice(0, 1));
  return { ...check, order, seed };
}

/** A control that from now on is what it was heard to be; it is right then. @param control as it is in the rig now. */
export function learnedIn(check: LineCheck, control: CheckedControl['control'], channel: number): LineCheck {
  const before = check.results[control.id];
  if (!before) return check;
  return {
    ...check,
    things: check.things.map((t) =>
      t.kind !== 'device' && t.id === control.id ? { ...t, control, channel } : t,
    ),
    results: { ...check.results, [control.id]: { ...before, found: 'right', heard: null } },
  };
}

/** Some things are checked once more: what is due goes on first. */
export function checkAgain(check: LineCheck, ids: readonly string[], atMs: number): Checked {
  const places = check.things.flatMap((t, i) => (ids.includes(t.id) ? i : []));
  if (places.length === 0) return { check, send: [] };
  if (!check.isDone && !check.lamps) {
    const left = check.order.filter((place, i) => i <= check.at || !places.includes(place));
    return { check: { ...check, order: [...left, ...places] }, send: [] };
  }
  const order = places;
  return asked({ ...check, order, at: 0, touch: null, lamps: null, isDone: false, dueMs: atMs }, atMs);
}

/** How many were found right, of all. */
export const rightCount = ({ things, results }: Pick<LineCheck, 'things' | 'results'>): number =>
  things.filter((t) => results[t.id]?.found === 'right').length;
