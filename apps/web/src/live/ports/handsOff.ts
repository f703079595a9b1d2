import { CONTROLLER, type Message } from '@idle-step/core/midi';
import { letsGo } from '@idle-step/core/routing';

/** Controllers that silence a channel. Source: MIDI 1.0 Detailed Specification, channel mode messages. */
const SILENCING: readonly number[] = [CONTROLLER.allNotesOff, CONTROLLER.allSoundOff];

/** Whether a message goes out though hands are off: what ends or silences something, so that nothing hangs. */
export const passesHandsOff = (message: Message): boolean =>
  letsGo(message) ||
  message.kind === 'stop' ||
  (message.kind === 'controller' && SILENCING.includes(message.controller));
