import type { World } from '@idle-step/core/engine';
import { functionOfAction, type Action, type ActionKind } from '@idle-step/core/floor';
import { newAction } from '../edits/presetEdits';
import type { ActionEntry, Beginning } from './entry';
import { HERE } from './kinds/here';
import { MOMENTARY, ONE_OF, RAMP, SET, STEP, TOGGLE } from './kinds/functions';
import { CLOCK, MESSAGE, RAW } from './kinds/messages';
import { BANK, PAGE } from './kinds/pages';
import { ROUTE } from './kinds/routes';
import { CAPTURE, SCENE, SHOW, SONG, VIEW } from './kinds/songs';
import { CUE, LINE, LOOP, PANIC, SONG_TEMPO, TAP } from './kinds/timeLine';
import { ARM_ONLY, ARM_STEP } from './kinds/tracks';
import { outputs, receivers } from './targets';
import { keysOf } from '@idle-step/core/sure';

/** Every kind of action, in the order in which it is offered. */
const ENTRIES: { readonly [K in ActionKind]: ActionEntry<K> } = {
  set: SET,
  toggle: TOGGLE,
  momentary: MOMENTARY,
  step: STEP,
  ramp: RAMP,
  'one-of': ONE_OF,
  message: MESSAGE,
  raw: RAW,
  'arm-only': ARM_ONLY,
  'arm-step': ARM_STEP,
  tap: TAP,
  'song-tempo': SONG_TEMPO,
  clock: CLOCK,
  route: ROUTE,
  scene: SCENE,
  song: SONG,
  show: SHOW,
  line: LINE,
  cue: CUE,
  loop: LOOP,
  bank: BANK,
  page: PAGE,
  capture: CAPTURE,
  view: VIEW,
  here: HERE,
  panic: PANIC,
};

/** What an action is on the page. */
export const entryOf = ({ kind }: { readonly kind: ActionKind }): ActionEntry => ENTRIES[kind];

/** Kinds of action, as they are offered. */
export const ACTION_KINDS = keysOf(ENTRIES).map((value) => ({ value, text: ENTRIES[value].text }));

/** The action turned into another kind; what both have stays. `null` when the rig has nothing for that kind. */
export function withKind(world: World, boardIndex: number, action: Action, kind: ActionKind): Action | null {
  const made = entryOf({ kind }).begin(beginningWith(world, boardIndex, action));
  if (!made) return null;
  const { id, delay, isOff, every } = action;
  return {
    ...newAction(made),
    id,
    ...(delay ? { delay } : {}),
    ...(isOff ? { isOff } : {}),
    ...(every ? { every } : {}),
  };
}

function beginningWith(world: World, boardIndex: number, action: Action): Beginning {
  const { rows } = world;
  const kept = world.functions.get(functionOfAction(action) ?? '');
  const deviceNow = kept?.device.id ?? ('deviceId' in action ? action.deviceId : undefined);
  return {
    world,
    boardIndex,
    function(accepts) {
      if (kept && accepts(kept.fn)) return kept.fn;
      const mine = rows.find(({ device, fn }) => device.id === deviceNow && accepts(fn));
      return (mine ?? rows.find(({ fn }) => accepts(fn)))?.fn ?? null;
    },
    deviceNow,
    deviceId: deviceNow ?? receivers(world)[0]?.value,
    portId: 'portId' in action ? action.portId : outputs(world)[0]?.value,
  };
}
