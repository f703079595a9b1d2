import type { Lamp } from '../../floor';
import { controller, noteOn } from '../../midi';
import { lampNow, lampOf, lampTold } from '../lamps';
import type { WorldBank, WorldBoard, WorldLamp } from '../world';
import { bankInForce, pageOfGroup } from '../world';
import { LAMP_CAUSES, type Live } from './live';

/**
 * Tells the lamps that have changed since they were looked at last, or all of them where that is wanted.
 * @returns whether they were looked at.
 */
export function refreshLamps(live: Live): boolean {
  const { state, lampsSeen } = live;
  if (!live.tellsLamps && lampsSeen && !LAMP_CAUSES.some((k) => state[k] !== lampsSeen[k])) return false;
  const { boards } = live.world;
  for (let boardIndex = 0; boardIndex < boards.length; boardIndex++) {
    const board = boards[boardIndex]!;
    refreshPage(live, boardIndex, board, bankInForce(board, state));
    for (const group of board.groups) refreshPage(live, boardIndex, board, pageOfGroup(group, state));
  }
  live.tellsLamps = false;
  return true;
}

function refreshPage(live: Live, boardIndex: number, board: WorldBoard, page: WorldBank | undefined): void {
  for (const entry of page?.lamps ?? []) {
    const { control } = entry;
    const mustTell = live.tellsLamps && control.hardware.lamp !== null;
    if (!mustTell && isPlainAndSame(live, boardIndex, entry)) continue;
    const lamp = lampNow(live.world, live.state, boardIndex, entry);
    const isSame = isSameLamp(lampTold(live.state, control.id), lamp);
    if (!isSame) showLamp(live, control.id, lamp);
    if (isSame && !live.tellsLamps) continue;
    const { lamp: own } = control.hardware;
    if (!own || board.lampPortId === null || board.board.mode === 'standalone') continue;
    const usual = lamp.light === 'off' ? own.off : lamp.light === 'blink' ? (own.blink ?? own.on) : own.on;
    const channel = control.channel ?? board.device.channel;
    const { kind, number } = control.sends;
    const make = kind === 'note' ? noteOn : controller;
    if (kind === 'note' || kind === 'controller')
      live.effects.push({
        kind: 'send',
        atMs: live.leavesMs,
        dueMs: live.nowMs,
        portId: board.lampPortId,
        message: make(channel, number, lamp.sends ?? usual),
        functionId: null,
        routeId: null,
      });
  }
}

/** Most lamps follow their work and have not changed: found out without making anything, at every step. */
function isPlainAndSame(live: Live, boardIndex: number, { control, assignment, rule }: WorldLamp): boolean {
  const { state } = live;
  const { light, colour } = lampTold(state, control.id);
  if ((rule !== null && rule.kind !== 'work') || light === 'blink' || colour !== null) return false;
  const down = state.held[control.id]?.gesture.isDown ?? false;
  return lampOf(live.world, state, boardIndex, assignment, down) === (light !== 'off');
}

function showLamp({ state, effects }: Live, controlId: string, { light, colour }: Lamp): void {
  const lamp = { light, colour };
  state.lamps = { ...state.lamps, [controlId]: lamp };
  effects.push({ kind: 'lamp', controlId, lamp });
}

const isSameLamp = (a: Lamp, b: Lamp): boolean => a.light === b.light && a.colour === b.colour;
