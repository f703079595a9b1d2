import {
  feelsStrikes,
  touchOf,
  movedBy,
  PLAIN_RESPONSE,
  relativeSteps,
  steadied,
  stepped,
  sweepValue,
  takeOver,
  travelOf,
  turnSteps,
  type Assignment,
} from '../../floor';
import { channelPressure, controller, polyPressure, type Message } from '../../midi';
import { endNotes } from '../actions/notes';
import { asks } from '../heard/asking';
import { endMomentary, startAll } from './switches';
import { FINE_WITHIN_MS } from '../live/due';
import { send, setFunction } from '../live/sending';
import { type Live } from '../live/live';
import type { WorldControl } from '../world/world';
import { nth } from '../../sure';

/** What a pedal, knob or encoder says. @param raw 0–127, fractions where it has 14 bits. */
export function hearMove(live: Live, entry: WorldControl, raw: number): void {
  const { hardware, id } = entry.control;
  if (hardware.encoding !== 'absolute') {
    turnEncoder(live, entry, relativeSteps(hardware.encoding, Math.round(raw)));
    return;
  }
  const before = live.state.raws[id];
  const steady = steadied(hardware, before, raw);
  if (steady === before) return;
  live.state.raws = { ...live.state.raws, [id]: steady };
  moveTo(live, entry, travelOf(hardware, steady));
}

/**
 * One half of a place in 14 bits. The coarse half waits for its fine one, so that there is no step back where the
 * coarse half changes.
 */
export function hearCoarse(live: Live, entry: WorldControl, raw: number): void {
  live.state.coarse = { ...live.state.coarse, [entry.control.id]: { raw, atMs: live.nowMs } };
}

export function hearFine(live: Live, entry: WorldControl, raw: number): void {
  forgetCoarse(live, entry.control.id);
  hearMove(live, entry, raw);
}

/** Coarse halves that got no fine one. */
export function settleCoarse(live: Live): void {
  for (const controlId in live.state.coarse) {
    const half = live.state.coarse[controlId];
    if (!half) continue;
    const { raw, atMs } = half;
    if (atMs + FINE_WITHIN_MS > live.nowMs) continue;
    forgetCoarse(live, controlId);
    const entry = live.world.controls.get(controlId);
    if (entry) hearMove(live, entry, raw);
  }
}

function forgetCoarse(live: Live, controlId: string): void {
  if (!(controlId in live.state.coarse)) return;
  const { [controlId]: _heard, ...others } = live.state.coarse;
  live.state.coarse = others;
}

/** A pedal or knob comes to a place in its real travel, 0–127. */
export function moveTo(live: Live, { boardIndex, control }: WorldControl, travel: number): void {
  const before = live.state.pedals[control.id];
  if (before === travel) return;
  live.state.pedals = { ...live.state.pedals, [control.id]: travel };
  const board = nth(live.world.boards, boardIndex);
  const assignment = live.assignmentOf(board, control.id);
  const response = assignment?.response ?? PLAIN_RESPONSE;
  // A pedal that is reversed in its assignment is reversed before its place is compared with the function.
  const placeAt = (at: number): number => (response.reverse ? 127 - at : at);
  for (const sweep of assignment?.sweeps ?? []) {
    const current = live.value(movedBy(sweep)) ?? null;
    const grip = live.state.grips[sweep.id];
    const isHeld = current !== null && grip !== undefined && Math.round(grip) === current;
    const place = takeOver(response.takeover, {
      before: before === undefined ? null : sweepValue(sweep, placeAt(before)),
      now: sweepValue(sweep, placeAt(travel)),
      current: isHeld ? grip : current,
      isHeld,
      low: Math.min(sweep.from, sweep.to),
      high: Math.max(sweep.from, sweep.to),
    });
    if (place === null) continue;
    const value = Math.round(place);
    if (current !== value) setFunction(live, movedBy(sweep), value);
    if (response.takeover !== 'jump') live.state.grips = { ...live.state.grips, [sweep.id]: place };
  }
  reachEnds(live, board.board.id, control.id, assignment, (travel / 127) * 100, before !== undefined);
}

/**
 * Fires toe and heel when the pedal comes there, and not again before it left by more than its trembling. What it did
 * there ends when it leaves, whatever bank is in force by then.
 */
function reachEnds(
  live: Live,
  boardId: string,
  controlId: string,
  assignment: Assignment | undefined,
  share: number,
  wasHeard: boolean,
): void {
  const was = live.state.ends[controlId];
  const doesThere = assignment && (assignment.toe.length > 0 || assignment.heel.length > 0);
  if (!was && !doesThere) return;
  const { toeAt, heelAt, hysteresis } = assignment?.response ?? PLAIN_RESPONSE;
  const stays =
    (was?.at === 'toe' && share > toeAt - hysteresis) || (was?.at === 'heel' && share < heelAt + hysteresis);
  const now = stays ? was.at : share >= toeAt ? 'toe' : share <= heelAt ? 'heel' : null;
  if (now === (was?.at ?? null)) return;
  // Where a pedal lies when it is heard first is no movement of the foot.
  const actions = now === null || !wasHeard ? [] : (assignment?.[now] ?? []);
  const { [controlId]: _left, ...others } = live.state.ends;
  live.state.ends = now === null ? others : { ...others, [controlId]: { at: now, actions } };
  if (was) {
    endMomentary(live, was.actions);
    endNotes(live, controlId);
  }
  startAll(live, { boardId, controlId, struck: 0 }, actions);
}

/** The same note about an encoder is told again only after the encoder rested this long, in ms. */
const SAY_AGAIN_MS = 1000;

/**
 * An encoder is turned by some detents, to the right above 0. It goes on from the value that its function has: what it
 * was told or reported, else what it has at power-on; where neither is known the device is asked, and where it cannot be or
 * does not answer, the encoder waits or begins where its range does.
 */
export function turnEncoder(live: Live, { boardIndex, control }: WorldControl, detents: number): void {
  if (detents === 0) return;
  const last = live.state.turnedAtMs[control.id];
  live.state.turnedAtMs = { ...live.state.turnedAtMs, [control.id]: live.nowMs };
  const assignment = live.assignmentOf(nth(live.world.boards, boardIndex), control.id);
  const response = assignment?.response ?? PLAIN_RESPONSE;
  for (const sweep of assignment?.sweeps ?? []) {
    const low = Math.min(sweep.from, sweep.to);
    const high = Math.max(sweep.from, sweep.to);
    const steps = turnSteps(response, detents, last === undefined ? null : live.nowMs - last);
    const fn = live.world.functions.get(movedBy(sweep))?.fn;
    const known = live.assumed(movedBy(sweep)) ?? null;
    if (known === null && fn) {
      if (asks(live, movedBy(sweep), control.id)) continue;
      const isSent = response.takeover === 'jump';
      if (last === undefined || live.nowMs - last >= SAY_AGAIN_MS)
        live.note({ code: 'value-unknown', controlId: control.id, functionId: movedBy(sweep), isSent });
      if (!isSent) continue;
    }
    const from = known ?? sweep.from;
    const within = Math.min(high, Math.max(low, from));
    const value = stepped(within, sweep.invert ? -steps : steps, low, high, response.wrap);
    if (live.value(movedBy(sweep)) !== value) setFunction(live, movedBy(sweep), value);
  }
}

/** Pressure on pads that play: sent on with the notes that they hold, as their kind is told. */
export function hearPressure(
  live: Live,
  portId: string,
  message: Message & { kind: 'poly-pressure' | 'channel-pressure' },
): void {
  for (const controlId in live.state.playing) {
    const entry = live.world.controls.get(controlId);
    const board = entry && live.world.boards[entry.boardIndex];
    if (!entry || !board?.preset || board.path?.portId !== portId) continue;
    const { sends, channel, kind } = entry.control;
    if ((channel ?? board.device.channel) !== message.channel) continue;
    if (message.kind === 'poly-pressure' && (sends.kind !== 'note' || sends.number !== message.note))
      continue;
    const held = live.state.held[controlId]?.assignment;
    const assignment = held ?? live.assignmentOf(board, controlId);
    if (!feelsStrikes(board.preset, kind, assignment)) continue;
    const feel = touchOf(board.preset, kind, assignment);
    for (const note of live.state.playing[controlId] ?? []) {
      if (feel.pressure === 'poly')
        send(live, note.portId, polyPressure(note.channel, note.note, message.pressure), null);
      if (feel.pressure === 'channel')
        send(live, note.portId, channelPressure(note.channel, message.pressure), null);
      if (feel.pressure === 'controller')
        send(live, note.portId, controller(note.channel, feel.controller, message.pressure), null);
    }
  }
}
