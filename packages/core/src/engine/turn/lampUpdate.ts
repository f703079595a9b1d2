import { LAMP_OFF, LAMP_ON, type Lamp } from '../../floor';
import { controller, noteOn } from '../../midi';
import { lampNow, lampOf } from '../lamps';
import type { WorldBank, WorldBoard, WorldLamp } from '../world';
import { bankInForce, pageOfGroup } from '../world';
import { LAMP_CAUSES, type Turn } from './turn';

/**
 * Tells the lamps that have changed since they were looked at last, or all of them where that is wanted.
 * @returns whether they were looked at.
 */
export function refreshLamps(turn: Turn): boolean {
  const { state, lampsSeen } = turn;
  if (!turn.tellsLamps && lampsSeen && !LAMP_CAUSES.some((k) => state[k] !== lampsSeen[k])) return false;
  const { boards } = turn.world;
  for (let boardIndex = 0; boardIndex < boards.length; boardIndex++) {
    const board = boards[boardIndex]!;
    refreshPage(turn, boardIndex, board, bankInForce(board, state));
    for (const group of board.groups) refreshPage(turn, boardIndex, board, pageOfGroup(group, state));
  }
  turn.tellsLamps = false;
  return true;
}

function refreshPage(turn: Turn, boardIndex: number, board: WorldBoard, page: WorldBank | undefined): void {
  for (const entry of page?.lamps ?? []) {
    const { control } = entry;
    const mustTell = turn.tellsLamps && control.hardware.lamp !== null;
    if (!mustTell && isPlainAndSame(turn, boardIndex, entry)) continue;
    const lamp = lampNow(turn.world, turn.state, boardIndex, entry);
    const isSame = isSameLamp(toldLast(turn.state, control.id), lamp);
    if (!isSame) showLamp(turn, control.id, lamp);
    if (isSame && !turn.tellsLamps) continue;
    const { lamp: own } = control.hardware;
    if (!own || board.lampPortId === null || board.board.mode === 'standalone') continue;
    const usual = lamp.light === 'off' ? own.off : lamp.light === 'blink' ? (own.blink ?? own.on) : own.on;
    const channel = control.channel ?? board.device.channel;
    const { kind, number } = control.sends;
    const make = kind === 'note' ? noteOn : controller;
    if (kind === 'note' || kind === 'controller')
      turn.effects.push({
        kind: 'send',
        atMs: turn.leavesMs,
        portId: board.lampPortId,
        message: make(channel, number, lamp.sends ?? usual),
        functionId: null,
        routeId: null,
      });
  }
}

/** Most lamps follow their work and have not changed: found out without making anything, at every step. */
function isPlainAndSame(turn: Turn, boardIndex: number, { control, assignment, rule }: WorldLamp): boolean {
  const { state } = turn;
  if ((rule !== null && rule.kind !== 'work') || state.looks[control.id]) return false;
  const down = state.held[control.id]?.gesture.isDown ?? false;
  return lampOf(turn.world, state, boardIndex, assignment, down) === (state.lamps[control.id] ?? false);
}

const toldLast = ({ lamps, looks }: Turn['state'], controlId: string): Lamp =>
  looks[controlId] ?? (lamps[controlId] ? LAMP_ON : LAMP_OFF);

function showLamp({ state, effects }: Turn, controlId: string, { light, colour }: Lamp): void {
  const on = light !== 'off';
  state.lamps = { ...state.lamps, [controlId]: on };
  if (light === 'blink' || colour !== null) state.looks = { ...state.looks, [controlId]: { light, colour } };
  else if (controlId in state.looks) {
    const { [controlId]: _before, ...looks } = state.looks;
    state.looks = looks;
  }
  effects.push({ kind: 'lamp', controlId, on, lamp: { light, colour } });
}

const isSameLamp = (a: Lamp, b: Lamp): boolean => a.light === b.light && a.colour === b.colour;
