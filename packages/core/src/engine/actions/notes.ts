import { noteOff } from '../../midi';
import type { Live } from '../live/live';
import { send } from '../live/sending';

/** The notes that a control plays end where they began, whatever has changed since. */
export function endNotes(live: Live, controlId: string): void {
  const notes = live.state.playing[controlId];
  if (!notes) return;
  const { [controlId]: _ended, ...others } = live.state.playing;
  live.state.playing = others;
  for (const { portId, channel, note } of notes) send(live, portId, noteOff(channel, note), null);
}
