import type { ActionKind } from '../../floor';
import { MOMENTARY, ONE_OF, RAMP, SET, STEP, TOGGLE } from './kinds/functions';
import { CLOCK, MESSAGE, RAW } from './kinds/messages';
import { BANK, PAGE } from './kinds/pages';
import { ROUTE } from './kinds/routes';
import { CAPTURE, SCENE, SHOW, SONG, VIEW } from './kinds/songs';
import { CUE, LINE, LOOP, SONG_TEMPO, TAP } from './kinds/timeLine';
import { ARM_ONLY, ARM_STEP } from './kinds/tracks';
import { PANIC } from './panic';
import { HERE } from './here';
import type { ActionTraits } from './traits';

/** Every kind of action. */
export const ACTIONS: { readonly [K in ActionKind]: ActionTraits<K> } = {
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

/** What an action is to the rest of the program. */
export const traitsOf = ({ kind }: { readonly kind: ActionKind }): ActionTraits => ACTIONS[kind];
