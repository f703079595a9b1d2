import { CONTROLLER, controller, noteOff } from '../midi';
import { silenceRoutes } from './routes';
import { deliver, type Turn } from './turn';

/**
 * Silences everything now: drops what waits, ends every note that was sent, and on each channel in use behind
 * each port lifts the damper and sends all notes off and all sound off. Settling devices are not waited for.
 * Source: MIDI 1.0 Detailed Specification, channel mode messages (from memory).
 */
export function panic(turn: Turn): void {
  forgetUnsent(turn);
  dropGestures(turn);
  silenceRoutes(turn);
  for (const { portId, channel, note } of turn.state.sounding)
    deliver(turn, portId, noteOff(channel, note), null, null);
  for (const [portId, channels] of turn.world.channelsBehind) {
    for (const ch of channels) {
      deliver(turn, portId, controller(ch, CONTROLLER.damper, 0), null, null);
      deliver(turn, portId, controller(ch, CONTROLLER.allNotesOff, 0), null, null);
      deliver(turn, portId, controller(ch, CONTROLLER.allSoundOff, 0), null, null);
    }
  }
  turn.note({ code: 'panic' });
}

/** Nothing fires any more that was still to come: delayed actions, holds, presses that wait for a second one. */
function dropGestures(turn: Turn): void {
  turn.state.delayed = [];
  turn.state.ramps = [];
  turn.state.playing = {};
  turn.state.held = Object.fromEntries(
    Object.entries(turn.state.held).flatMap(([id, held]) =>
      held.gesture.isDown
        ? [[id, { ...held, gesture: { ...held.gesture, isPending: false, holdDone: true } }]]
        : [],
    ),
  );
}

/** What was waiting never arrives, so what it would have set is no longer known. */
function forgetUnsent(turn: Turn): void {
  const unsent = new Set(turn.state.pending.map((p) => p.functionId));
  if (unsent.size === 0) return;
  turn.state.pending = [];
  turn.state.values = Object.fromEntries(Object.entries(turn.state.values).filter(([id]) => !unsent.has(id)));
}
