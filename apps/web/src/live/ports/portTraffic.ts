import { LoadMeter, type PortLoad } from '@idle-step/core/gear';
import { byteLength, SequenceReader, type Message, type Sequence } from '@idle-step/core/midi';

/** What passes each port: how much it is, and what single messages say together with those before them. */
export class PortTraffic {
  private readonly meters = new Map<string, LoadMeter>();
  private readonly readers = new Map<string, SequenceReader>();

  /** Counts a message. @returns what it completes of a 14-bit value, a parameter or a bank, or `null`. */
  take(direction: 'in' | 'out', portId: string, message: Message, atMs: number): Sequence | null {
    let meter = this.meters.get(portId);
    if (!meter) this.meters.set(portId, (meter = new LoadMeter()));
    meter.add(atMs, byteLength(message));
    if (message.kind !== 'controller' && message.kind !== 'program') return null;
    const key = `${direction} ${portId}`;
    let reader = this.readers.get(key);
    if (!reader) this.readers.set(key, (reader = new SequenceReader()));
    return reader.read(message);
  }

  /** What each port carried in the last second, by port. */
  loads(atMs: number): ReadonlyMap<string, PortLoad> {
    return new Map([...this.meters].map(([portId, meter]) => [portId, meter.read(atMs)]));
  }
}
