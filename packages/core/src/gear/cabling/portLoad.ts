import { dinBytesPerSecond } from '../../midi';

/** What went over a port lately. */
export type PortLoad = {
  readonly messagesPerSecond: number;
  readonly bytesPerSecond: number;
  /** Share of what a DIN link carries, 0 and above; 1 is full. */
  readonly dinShare: number;
};

const SLOTS = 10;
const SLOT_MS = 100;

/**
 * Counts messages and bytes of the last second, in steps of 100 ms. Times in ms, never falling; a port that falls
 * silent counts down to nothing. Source for the share: 31,250 baud, ten bits a byte (MIDI 1.0).
 */
export class LoadMeter {
  private readonly messages = new Float64Array(SLOTS);
  private readonly bytes = new Float64Array(SLOTS);
  private slot = 0;

  add(atMs: number, byteCount: number): void {
    this.moveTo(atMs);
    const i = this.slot % SLOTS;
    this.messages[i]!++;
    this.bytes[i]! += byteCount;
  }

  read(atMs: number): PortLoad {
    this.moveTo(atMs);
    const messagesPerSecond = sum(this.messages);
    const bytesPerSecond = sum(this.bytes);
    return { messagesPerSecond, bytesPerSecond, dinShare: bytesPerSecond / dinBytesPerSecond };
  }

  private moveTo(atMs: number): void {
    const slot = Math.floor(atMs / SLOT_MS);
    const steps = Math.min(SLOTS, Math.max(0, slot - this.slot));
    for (let i = 0; i < steps; i++) {
      this.messages[(slot - i) % SLOTS] = 0;
      this.bytes[(slot - i) % SLOTS] = 0;
    }
    this.slot = Math.max(this.slot, slot);
  }
}

const sum = (list: Float64Array): number => list.reduce((a, b) => a + b, 0);
