import type { PlainMessage } from '../../floor';
import { controller, noteOn, program, type Message } from '../../midi';

/** The message of an action by number. @param channel 0–15. @param value 0–127; of no account for a program. */
export function plainMessage({ send, number }: PlainMessage, channel: number, value: number): Message {
  switch (send) {
    case 'note':
      return noteOn(channel, number, value);
    case 'controller':
      return controller(channel, number, value);
    case 'program':
      return program(channel, number);
  }
}
