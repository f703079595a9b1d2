import { encode, parseBytes, type Message } from '@idle-step/core/midi';

const FIRST_ROOM = 1024;

/** A message at a port and a time, in ms. */
export type TapedMessage = { readonly atMs: number; readonly portId: string; readonly message: Message };

/**
 * Many messages in little room: some twenty bytes each, so that an evening of them is no weight. A place may also be
 * left to something else that has only its time here.
 */
export class MessageTape {
  private times = new Float64Array(FIRST_ROOM);
  private ports = new Uint16Array(FIRST_ROOM);
  /** Length in the highest byte, then up to three bytes; 0 for what does not fit. */
  private bytes = new Uint32Array(FIRST_ROOM);
  private readonly long = new Map<number, Message>();
  private readonly portIds: string[] = [];
  private readonly portPlaces = new Map<string, number>();
  private count = 0;

  get length(): number {
    return this.count;
  }

  push(atMs: number, portId: string, message: Message): void {
    const place = this.leave(atMs);
    this.ports[place] = this.portPlace(portId);
    if (message.kind === 'sysex') {
      this.long.set(place, message);
      return;
    }
    const bytes = encode(message);
    const [status = 0, first = 0, second = 0] = bytes;
    this.bytes[place] = ((bytes.length << 24) | (status << 16) | (first << 8) | second) >>> 0;
  }

  /** Leaves a place to something else. @returns its number. */
  leave(atMs: number): number {
    if (this.count === this.times.length) this.grow();
    this.times[this.count] = atMs;
    return this.count++;
  }

  timeAt(place: number): number {
    return this.times[place]!;
  }

  /** The message at a place, or `null` where it was left to something else. */
  at(place: number): TapedMessage | null {
    const packed = this.bytes[place]!;
    const message = this.long.get(place) ?? unpacked(packed);
    return message && { atMs: this.times[place]!, portId: this.portIds[this.ports[place]!]!, message };
  }

  private portPlace(portId: string): number {
    let place = this.portPlaces.get(portId);
    if (place === undefined) {
      place = this.portIds.push(portId) - 1;
      this.portPlaces.set(portId, place);
    }
    return place;
  }

  private grow(): void {
    const room = this.times.length * 2;
    const [times, ports, bytes] = [new Float64Array(room), new Uint16Array(room), new Uint32Array(room)];
    times.set(this.times);
    ports.set(this.ports);
    bytes.set(this.bytes);
    [this.times, this.ports, this.bytes] = [times, ports, bytes];
  }
}

const unpacked = (packed: number): Message | null =>
  packed === 0
    ? null
    : (parseBytes([packed >>> 16, packed >>> 8, packed].map((b) => b & 0xff).slice(0, packed >>> 24))
        .messages[0] ?? null);
