import type { StandInKind } from '../gear';
import type { Message } from '../midi';
import { stringProcessor, type StringProcessorState } from './stringProcessor';
import { trackHost, type TrackHostState } from './trackHost';

export * from './standIn';
export * from './stringProcessor';
export * from './trackHost';
export * from './footBoard';

/** A stand-in at work, whichever it is. */
export type StandInState =
  | { readonly kind: 'string-processor'; readonly state: StringProcessorState }
  | { readonly kind: 'track-host'; readonly state: TrackHostState };

/** What every stand-in is called and what it answers to. */
export const STAND_INS = { 'string-processor': stringProcessor, 'track-host': trackHost } as const;

export function startStandIn(kind: StandInKind): StandInState {
  return kind === 'string-processor'
    ? { kind, state: stringProcessor.initial }
    : { kind, state: trackHost.initial };
}

/** The same object comes back when nothing changed. */
export function feedStandIn(
  standIn: StandInState,
  message: Message,
  channel: number,
  atMs: number,
): StandInState {
  if (standIn.kind === 'string-processor') {
    const state = stringProcessor.receive(standIn.state, message, channel, atMs);
    return state === standIn.state ? standIn : { ...standIn, state };
  }
  const state = trackHost.receive(standIn.state, message, channel, atMs);
  return state === standIn.state ? standIn : { ...standIn, state };
}
