import { CONTROLLER, controller, noteOff } from '../midi';
import type { Turn } from './turn';

/**
 * Silences everything now: drops what waits, ends every note that was sent, and on each channel in use behind
 * each port lifts the damper and sends all notes off and all sound off. Settling devices are not waited for.
 * Source: MIDI 1.0 Detailed Specification, channel mode messages (from memory).
 */
export function panic(turn: Turn): void {
  turn.state.pending = [];
  for (const { portId, channel, note } of turn.state.sounding)
    turn.send(portId, noteOff(channel, note), null);
  for (const [portId, channels] of turn.world.channelsBehind) {
    for (const ch of channels) {
      turn.send(portId, controller(ch, CONTROLLER.damper, 0), null);
      turn.send(portId, controller(ch, CONTROLLER.allNotesOff, 0), null);
      turn.send(portId, controller(ch, CONTROLLER.allSoundOff, 0), null);
    }
  }
  turn.note({ code: 'panic' });
}
