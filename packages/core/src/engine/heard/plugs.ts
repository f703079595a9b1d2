import { noteOff } from '../../midi';
import { recallBehind } from '../song/navigate';
import { cutAt } from './routes';
import { deliver } from '../live/sending';
import { type Live } from '../live/live';

/** A port was unplugged: what came in by it ends. An end that would leave by it waits until it is back. */
export function losePort(live: Live, portId: string): void {
  if (!live.state.lostPorts.includes(portId)) live.state.lostPorts = [...live.state.lostPorts, portId];
  cutAt(live, portId);
}

/**
 * A port is back: notes end whose note-off it missed, and where `isToldAgain` it is sent what the scene in play says.
 */
export function findPort(live: Live, portId: string, isToldAgain: boolean): void {
  live.state.lostPorts = live.state.lostPorts.filter((id) => id !== portId);
  const here = live.state.hung.filter((n) => n.portId === portId);
  if (here.length > 0) live.state.hung = live.state.hung.filter((n) => n.portId !== portId);
  for (const { channel, note } of here) deliver(live, portId, noteOff(channel, note), null, null);
  if (isToldAgain) recallBehind(live, portId);
}
