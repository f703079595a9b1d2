import type { Lamp } from '../../floor';
import { controller, noteOn } from '../../midi';
import { EVERY_CAUSE, LAMP_CAUSES, type LampCauses } from './causes';
import { lampNow, lampOf, lampTold } from './lamps';
import type { LiveState } from '../state/liveState';
import type { WorldBank, WorldBoard, WorldLamp } from '../world/world';
import { bankInForce, pageOfGroup, sceneWorkOf } from '../world/place';
import type { Live } from '../live/live';
import { nth } from '../../sure';

/**
 * Tells the lamps that have changed since they were looked at last, or all of them where that is wanted.
 * @returns whether they were looked at.
 */
export function refreshLamps(live: Live): boolean {
  const { state, lampsSeen } = live;
  let changed = lampsSeen ? changedCauses(state, lampsSeen) : EVERY_CAUSE;
  if (changed === 0 && !live.tellsLamps) return false;
  // After a change of bank or page other lamps count; at the very first look all are new.
  if (live.tellsLamps || (changed & pagesOf(live)) !== 0 || isEmpty(state.lamps)) changed = EVERY_CAUSE;
  const { boards } = live.world;
  for (let boardIndex = 0; boardIndex < boards.length; boardIndex++) {
    const board = nth(boards, boardIndex);
    refreshPage(live, changed, boardIndex, board, bankInForce(board, state));
    for (const group of board.groups)
      refreshPage(live, changed, boardIndex, board, pageOfGroup(group, state));
  }
  live.tellsLamps = false;
  return true;
}

const PAGES = LAMP_CAUSES.banks | LAMP_CAUSES.pages;

/** What decides which lamps count: banks and pages, and where scenes say what controls do the place in the song. */
const pagesOf = ({ world }: Live): number => (world.hasSceneControls ? PAGES | LAMP_CAUSES.position : PAGES);

/**
 * The parts of the live state that lamps follow and that differ, as a sum of `LAMP_CAUSES`. Compared one by one: a
 * loop is too slow for every step.
 */
const changedCauses = (a: LampCauses, b: LampCauses): number =>
  // What waits for its device counts as told.
  (a.registers === b.registers && a.pending === b.pending ? 0 : LAMP_CAUSES.registers) |
  (a.position === b.position ? 0 : LAMP_CAUSES.position) |
  (a.here === b.here ? 0 : LAMP_CAUSES.here) |
  (a.banks === b.banks ? 0 : LAMP_CAUSES.banks) |
  (a.pages === b.pages ? 0 : LAMP_CAUSES.pages) |
  (a.ramps === b.ramps ? 0 : LAMP_CAUSES.ramps) |
  (a.clocks === b.clocks ? 0 : LAMP_CAUSES.clocks) |
  (a.line === b.line ? 0 : LAMP_CAUSES.line) |
  (a.latched === b.latched ? 0 : LAMP_CAUSES.latched) |
  (a.evens === b.evens ? 0 : LAMP_CAUSES.evens) |
  (a.held === b.held ? 0 : LAMP_CAUSES.held) |
  (a.routes === b.routes ? 0 : LAMP_CAUSES.routes) |
  (a.run === b.run ? 0 : LAMP_CAUSES.run);

function isEmpty(lamps: LiveState['lamps']): boolean {
  for (const _id in lamps) return false;
  return true;
}

function refreshPage(
  live: Live,
  changed: number,
  boardIndex: number,
  board: WorldBoard,
  page: WorldBank | undefined,
): void {
  for (const inPage of page?.lamps ?? []) {
    const entry = sceneWorkOf(live.world, live.state, inPage.control.id)?.lamp ?? inPage;
    if ((entry.causes & changed) === 0) continue;
    const { control } = entry;
    const mustTell = live.tellsLamps && control.hardware.lamp !== null;
    if (!mustTell && isPlainAndSame(live, boardIndex, entry)) continue;
    const lamp = lampNow(live.world, live.state, boardIndex, entry);
    const isSame = isSameLamp(lampTold(live.state, control.id), lamp);
    if (!isSame) showLamp(live, control.id, lamp);
    if (isSame && !live.tellsLamps) continue;
    const { lamp: own } = control.hardware;
    if (!own || board.lampPortId === null || board.board.mode === 'standalone') continue;
    const lit = (lamp.colour === null ? undefined : own.colours?.[lamp.colour]) ?? own.on;
    const usual = isDark(lamp) ? own.off : lamp.light === 'blink' ? (own.blink ?? lit) : lit;
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
  return lampOf(live.world, state, boardIndex, assignment, down) === light;
}

/** Takes note of how a lamp shines: copied once a step, before its first change. */
function showLamp(live: Live, controlId: string, { light, colour }: Lamp): void {
  const { state, effects } = live;
  const lamp = { light, colour };
  if (state.lamps !== live.lampsOwn) state.lamps = live.lampsOwn = { ...state.lamps };
  live.lampsOwn[controlId] = lamp;
  effects.push({ kind: 'lamp', controlId, lamp });
}

const isDark = ({ light }: Lamp): boolean => light === 'off' || light === 'unknown';

const isSameLamp = (a: Lamp, b: Lamp): boolean => a.light === b.light && a.colour === b.colour;
