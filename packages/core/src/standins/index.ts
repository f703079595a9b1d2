import type { StandInKind } from '../gear';
import type { Message } from '../midi';
import { lights, type LightsState } from './lights';
import { looper, type LooperState } from './looper';
import { mixer, type MixerState } from './mixer';
import type { StandIn } from './standIn';
import { stringProcessor, type StringProcessorState } from './stringProcessor';
import { trackHost, type TrackHostState } from './trackHost';

export * from './standIn';
export * from './stringProcessor';
export * from './trackHost';
export * from './looper';
export * from './mixer';
export * from './lights';
export * from './clockTempo';
export * from './footBoard';

type States = {
  'string-processor': StringProcessorState;
  'track-host': TrackHostState;
  looper: LooperState;
  mixer: MixerState;
  lights: LightsState;
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
};

export const startStandIn = (kind: StandInKind): StandInState =>
  ({ kind, state: STAND_INS[kind].initial }) as StandInState;

/** The same object comes back when nothing changed. */
export function feedStandIn(
  standIn: StandInState,
  message: Message,
  channel: number,
  atMs: number,
): StandInState {
  const model = STAND_INS[standIn.kind] as StandIn<unknown>;
  const state = model.receive(standIn.state, message, channel, atMs);
  return state === standIn.state ? standIn : ({ ...standIn, state } as StandInState);
}
