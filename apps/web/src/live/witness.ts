import type { LiveNote, World } from '@idle-step/core/engine';
import type { Message } from '@idle-step/core/midi';

/** A message that was handed to its port. */
export type SentLine = {
  readonly portId: string;
  readonly message: Message;
  /** How much later than it was due, in ms. */
  readonly lateMs: number;
  /** Whether a real port or a stand-in took it. */
  readonly isTaken: boolean;
};

/** Whoever writes down what a host does. Each call is short: it is made while something is being played. */
export type HostWitness = {
  came(portId: string, message: Message): void;
  sent(line: SentLine): void;
  noted(note: LiveNote, world: World): void;
  /** Something may have changed in the state. */
  changed(): void;
};
