import {
  feelOf,
  PLAIN_RESPONSE,
  relativeSteps,
  steadied,
  stepped,
  sweepValue,
  takeOver,
  travelOf,
  turnSteps,
  type Assignment,
} from '../floor';
import { channelPressure, controller, polyPressure, type Message } from '../midi';
import { endNotes, start } from './actions';
import { endMomentary } from './switches';
import { FINE_WITHIN_MS, send, setFunction, type Turn } from './turn';
import type { WorldControl } from './world';

/** What a pedal, knob or encoder says. @param raw 0–127, fractions where it has 14 bits. */
export function hearMove(turn: Turn, entry: WorldControl, raw: number): void {
  const { hardware, id } = entry.control;
  if (hardware.encoding !== 'absolute') {
    turnEncoder(turn, entry, relativeSteps(hardware.encoding, Math.round(raw)));
    return;
  }
  const before = turn.state.raws[id];
  const steady = steadied(hardware, before, raw);
  if (steady === before) return;
  turn.state.raws = { ...turn.state.raws, [id]: steady };
  moveTo(turn, entry, travelOf(hardware, steady));
}

/**
 * One half of a place in 14 bits. The coarse half waits for its fine one, so that there is no step back where the
 * coarse half changes.
 */
export function hearCoarse(turn: Turn, entry: WorldControl, raw: number): void {
  turn.state.coarse = { ...turn.state.coarse, [entry.control.id]: { raw, atMs: turn.nowMs } };
}

export function hearFine(turn: Turn, entry: WorldControl, raw: number): void {
  forgetCoarse(turn, entry.control.id);
  hearMove(turn, entry, raw);
}

/** Coarse halves that got no fine one. */
export function settleCoarse(turn: Turn): void {
  for (const controlId in turn.state.coarse) {
    const half = turn.state.coarse[controlId];
    if (!half) continue;
    const { raw, atMs } = half;
    if (atMs + FINE_WITHIN_MS > turn.nowMs) continue;
    forgetCoarse(turn, controlId);
    const entry = turn.world.controls.get(controlId);
    if (entry) hearMove(turn, entry, raw);
  }
}

function forgetCoarse(turn: Turn, controlId: string): void {
  if (!(controlId in turn.state.coarse)) return;
  const { [controlId]: _heard, ...others } = turn.state.coarse;
  turn.state.coarse = others;
}

/** A pedal or knob comes to a place in its real travel, 0–127. */
export function moveTo(turn: Turn, { boardIndex, control }: WorldControl, travel: number): void {
  const before = turn.state.pedals[control.id];
  if (before === travel) return;
  turn.state.pedals = { ...turn.state.pedals, [control.id]: travel };
  const board = turn.world.boards[boardIndex]!;
  const assignment = turn.assignmentOf(board, control.id);
  const response = assignment?.response ?? PLAIN_RESPONSE;
  for (const sweep of assignment?.sweeps ?? []) {
    const current = turn.value(sweep.functionId) ?? null;
    const value = takeOver(response.takeover, {
      before: before === undefined ? null : sweepValue(sweep, before),
      now: sweepValue(sweep, travel),
      current,
      isHeld: current !== null && turn.state.grips[sweep.id] === current,
      low: Math.min(sweep.from, sweep.to),
      high: Math.max(sweep.from, sweep.to),
    });
    if (value === null) continue;
    if (current !== value) setFunction(turn, sweep.functionId, value);
    if (response.takeover !== 'jump') turn.state.grips = { ...turn.state.grips, [sweep.id]: value };
  }
  reachEnds(turn, board.board.id, control.id, assignment, (travel / 127) * 100, before !== undefined);
}

/**
 * Fires toe and heel when the pedal comes there, and not again before it left by more than its trembling. What it did
 * there ends when it leaves, whatever bank is in force by then.
 */
function reachEnds(
  turn: Turn,
  boardId: string,
  controlId: string,
  assignment: Assignment | undefined,
  share: number,
  wasHeard: boolean,
): void {
  const was = turn.state.ends[controlId];
  const doesThere = assignment && (assignment.toe.length > 0 || assignment.heel.length > 0);
  if (!was && !doesThere) return;
  const { toeAt, heelAt, hysteresis } = assignment?.response ?? PLAIN_RESPONSE;
  const stays =
    (was?.at === 'toe' && share > toeAt - hysteresis) || (was?.at === 'heel' && share < heelAt + hysteresis);
  const now = stays ? was.at : share >= toeAt ? 'toe' : share <= heelAt ? 'heel' : null;
  if (now === (was?.at ?? null)) return;
  // Where a pedal lies when it is heard first is no movement of the foot.
  const actions = now === null || !wasHeard ? [] : (assignment?.[now] ?? []);
  const { [controlId]: _left, ...others } = turn.state.ends;
  turn.state.ends = now === null ? others : { ...others, [controlId]: { at: now, actions } };
  if (was) {
    endMomentary(turn, was.actions);
    endNotes(turn, controlId);
  }
  for (const action of actions) start(turn, { boardId, controlId, struck: 0 }, action);
}

/** An encoder is turned by some detents, to the right above 0. */
export function turnEncoder(turn: Turn, { boardIndex, control }: WorldControl, detents: number): void {
  if (detents === 0) return;
  const last = turn.state.turnedAtMs[control.id];
  turn.state.turnedAtMs = { ...turn.state.turnedAtMs, [control.id]: turn.nowMs };
  const assignment = turn.assignmentOf(turn.world.boards[boardIndex]!, control.id);
  const response = assignment?.response ?? PLAIN_RESPONSE;
  for (const sweep of assignment?.sweeps ?? []) {
    const low = Math.min(sweep.from, sweep.to);
    const high = Math.max(sweep.from, sweep.to);
    const steps = turnSteps(response, detents, last === undefined ? null : turn.nowMs - last);
    const fn = turn.world.functions.get(sweep.functionId)?.fn;
    const from = turn.value(sweep.functionId) ?? fn?.powerOn ?? sweep.from;
    const within = Math.min(high, Math.max(low, from));
    const value = stepped(within, sweep.invert ? -steps : steps, low, high, response.wrap);
    if (turn.value(sweep.functionId) !== value) setFunction(turn, sweep.functionId, value);
  }
}

/** Pressure on pads that play: sent on with the notes that they hold, as their kind is told. */
export function hearPressure(
  turn: Turn,
  portId: string,
  message: Message & { kind: 'poly-pressure' | 'channel-pressure' },
): void {
  for (const controlId in turn.state.playing) {
    const entry = turn.world.controls.get(controlId);
    const board = entry && turn.world.boards[entry.boardIndex];
    if (!entry || !board?.preset || board.path?.portId !== portId) continue;
    const { sends, channel, kind } = entry.control;
    if ((channel ?? board.device.channel) !== message.channel) continue;
    if (message.kind === 'poly-pressure' && (sends.kind !== 'note' || sends.number !== message.note))
      continue;
    const feel = feelOf(board.preset, kind);
    for (const note of turn.state.playing[controlId] ?? []) {
      if (feel.pressure === 'poly')
        send(turn, note.portId, polyPressure(note.channel, note.note, message.pressure), null);
      if (feel.pressure === 'channel')
        send(turn, note.portId, channelPressure(note.channel, message.pressure), null);
      if (feel.pressure === 'controller')
        send(turn, note.portId, controller(note.channel, feel.controller, message.pressure), null);
    }
  }
}
