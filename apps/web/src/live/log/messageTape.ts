import { packMessage, unpackMessage, type Message } from '@idle-step/core/midi';

const FIRST_ROOM = 1024;

/** When something happened and, where that is told, when what it causes really leaves, in ms. */
export type TapedTime = { readonly atMs: number; readonly leavesMs?: number };
/** A message at a port and a time. */
export type TapedMessage = TapedTime & { readonly portId: string; readonly message: Message };

/**
 * Many messages in little room: 22 bytes each, so that an evening of them is no weight. A place may also be left to
 * something else that has only its time here.
 */
export class MessageTape {
  private times = new Float64Array(FIRST_ROOM);
  /** Not a number where it is not told. */
  private leaves = new Float64Array(FIRST_ROOM);
  private ports = new Uint16Array(FIRST_ROOM);
  /** As `packMessage` has them; 0 for what does not fit. */
  private bytes = new Uint32Array(FIRST_ROOM);
  private readonly long = new Map<number, Message>();
  private readonly portIds: string[] = [];
  private readonly portPlaces = new Map<string, number>();
  private count = 0;

  get length(): number {
    return this.count;
  }

  push({ portId, message, ...time }: TapedMessage): void {
    const place = this.leave(time);
    this.ports[place] = this.portPlace(portId);
    this.bytes[place] = packMessage(message);
    if (message.kind === 'sysex') this.long.set(place, message);
  }

  /** Leaves a place to something else. @returns its number. */
  leave({ atMs, leavesMs }: TapedTime): number {
    if (this.count === this.times.length) this.grow();
    this.times[this.count] = atMs;
    this.leaves[this.count] = leavesMs ?? NaN;
    return this.count++;
  }

  timeAt(place: number): TapedTime {
    const [atMs, leavesMs] = [this.times[place]!, this.leaves[place]!];
    return Number.isNaN(leavesMs) ? { atMs } : { atMs, leavesMs };
  }

  /** The message at a place, or `null` where it was left to something else. */
  at(place: number): TapedMessage | null {
    const message = this.long.get(place) ?? unpackMessage(this.bytes[place]!);
    return message && { ...this.timeAt(place), portId: this.portIds[this.ports[place]!]!, message };
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
    const wider = <T extends Float64Array | Uint16Array | Uint32Array>(old: T, next: T): T => {
      next.set(old);
      return next;
    };
    this.times = wider(this.times, new Float64Array(room));
    this.leaves = wider(this.leaves, new Float64Array(room));
    this.ports = wider(this.ports, new Uint16Array(room));
    this.bytes = wider(this.bytes, new Uint32Array(room));
  }
}
