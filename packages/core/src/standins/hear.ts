import type { Message } from '../midi';
import { answersTo, stateIn } from './answers';
import { readStandIn } from './keptStandIn';
import { feedStandIn, STAND_INS, type StandInState } from './standInState';

/** A stand-in after a message, and what it answers; the same object comes back when nothing changed. */
export function hearStandIn(
  standIn: StandInState,
  message: Message,
  channel: number,
  atMs: number,
): { readonly standIn: StandInState; readonly replies: readonly Message[] } {
  const replies = answersTo(message, standIn, channel, STAND_INS);
  if (replies.length > 0) return { standIn, replies };
  const sent = stateIn(message, channel);
  if (sent === undefined) return { standIn: feedStandIn(standIn, message, channel, atMs), replies };
  return { standIn: readStandIn({ kind: standIn.kind, state: sent }) ?? standIn, replies };
}
