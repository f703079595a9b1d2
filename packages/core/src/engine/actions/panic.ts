import { CONTROLLER, controller, noteOff } from '../../midi';
import { makeWhole } from '../song/navigate';
import { silenceRoutes } from '../heard/routes';
import { deliver } from '../live/sending';
import { type Live } from '../live/live';
import { noMessage } from './sentRow';
import { GOES_NOWHERE, LIT_WHILE_DOWN, type ActionTraits } from './traits';

/**
 * Silences everything now: drops what waits, ends every note that was sent, and on each channel in use behind
 * each port lifts the damper and sends all notes off, and all sound off where a device is to have its tails cut.
 * Settling devices are not waited for. Afterwards the scene in play is whole again: what was dropped or lifted and is
 * part of it is set once more. Source: MIDI 1.0 Detailed Specification, channel mode messages.
 */
export function panic(live: Live): void {
  live.state.pending = [];
  dropGestures(live);
  silenceRoutes(live);
  for (const { portId, channel, note } of live.state.sounding)
    deliver(live, portId, noteOff(channel, note), null, null);
  for (const [portId, channels] of live.world.channelsBehind) {
    for (const { channel, soundOff } of channels) {
      const modes = [
        CONTROLLER.damper,
        CONTROLLER.allNotesOff,
        ...(soundOff ? [CONTROLLER.allSoundOff] : []),
      ];
      for (const number of modes) deliver(live, portId, controller(channel, number, 0), null, null);
    }
  }
  live.note({ code: 'panic' });
  makeWhole(live);
}

/** Nothing fires any more that was still to come: delayed actions, holds, presses that wait for a second one. */
function dropGestures(live: Live): void {
  live.state.delayed = [];
  live.state.ramps = [];
  live.state.playing = {};
  live.state.held = Object.fromEntries(
    Object.entries(live.state.held).flatMap(([id, held]) =>
      held.gesture.isDown
        ? [[id, { ...held, gesture: { ...held.gesture, isPending: false, holdDone: true } }]]
        : [],
    ),
  );
}

/** Silences everything. */
export const PANIC: ActionTraits<'panic'> = {
  ...LIT_WHILE_DOWN,
  ...GOES_NOWHERE,
  act: panic,
  isOwn: false,
  label: () => 'Panic',
  deed: () => 'panic',
  row: () => noMessage('panic'),
  byBoard: () => 'host',
  isInCues: true,
  leadsAway: false,
};
