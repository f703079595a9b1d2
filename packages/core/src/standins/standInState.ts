import type { StandInKind } from '../gear';
import type { Message } from '../midi';
import { backingPlayer, type BackingPlayerState } from './gear/backingPlayer';
import { lights, type LightsState } from './gear/lights';
import { looper, type LooperState } from './gear/looper';
import { mixer, type MixerState } from './gear/mixer';
import { padInstrument, type PadInstrumentState } from './gear/padInstrument';
import type { StandIn } from './standIn';
import { stringProcessor, type StringProcessorState } from './gear/stringProcessor';
import { trackHost, type TrackHostState } from './gear/trackHost';

type States = {
  'string-processor': StringProcessorState;
  'track-host': TrackHostState;
  looper: LooperState;
  mixer: MixerState;
  lights: LightsState;
  'pad-instrument': PadInstrumentState;
  'backing-player': BackingPlayerState;
};

/** A stand-in at work, whichever it is. */
export type StandInState = {
  [K in StandInKind]: { readonly kind: K; readonly state: States[K] };
}[StandInKind];

/** What every stand-in is called and what it answers to. */
export const STAND_INS: { readonly [K in StandInKind]: StandIn<States[K]> } = {
  'string-processor': stringProcessor,
  'track-host': trackHost,
  looper,
  mixer,
  lights,
  'pad-instrument': padInstrument,
  'backing-player': backingPlayer,
};

export const startStandIn = (kind: StandInKind): StandInState =>
  // Kind and state belong together: both are found under the kind.
  ({ kind, state: STAND_INS[kind].initial }) as StandInState;

/** The same object comes back when nothing changed. */
export function feedStandIn(
  standIn: StandInState,
  message: Message,
  channel: number,
  atMs: number,
): StandInState {
  // As above: the model of a kind takes the states of that kind.
  const model = STAND_INS[standIn.kind] as StandIn<unknown>;
  const state = model.receive(standIn.state, message, channel, atMs);
  // As above.
  return state === standIn.state ? standIn : ({ ...standIn, state } as StandInState);
}
