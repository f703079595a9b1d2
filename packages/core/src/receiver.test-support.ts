/**
 * A receiver that knows nothing but bytes and the standard: no charts, no rows, nothing of this project. What it holds is
 * what gear behind a port would hold. Source: MIDI 1.0 Detailed Specification and RP-015 (from memory): bank select counts
 * from the next program change on; a coarse half sets the fine half to 0; data entry goes to the chosen parameter; channel
 * mode messages end notes; note-on with velocity 0 is a note-off.
 */
export type ReceiverChannel = {
  bankMsb: number | null;
  bankLsb: number | null;
  program: number | null;
  /** By number; coarse and fine halves as they are. */
  readonly controllers: (number | null)[];
  /** By `rpn n` or `nrpn n`, in 14 bits; `null` where steps of the device's own have moved it. */
  readonly parameters: Map<string, number | null>;
  bend: number | null;
  pressure: number | null;
  /** Notes that sound, with their velocity. */
  readonly notes: Map<number, number>;
};

type Memory = ReceiverChannel & {
  nextMsb: number | null;
  nextLsb: number | null;
  chosen: { kind: 'rpn' | 'nrpn'; msb: number; lsb: number } | null;
};

export class Receiver {
  readonly channels: readonly Memory[] = Array.from({ length: 16 }, () => ({
    bankMsb: null,
    bankLsb: null,
    program: null,
    controllers: Array.from({ length: 128 }, () => null),
    parameters: new Map(),
    bend: null,
    pressure: null,
    notes: new Map(),
    nextMsb: null,
    nextLsb: null,
    chosen: null,
  }));

  /** One whole message. */
  take(bytes: ArrayLike<number>): void {
    const status = bytes[0]!;
    if (status < 0x80 || status >= 0xf0) return;
    const channel = this.channels[status & 0x0f]!;
    const [a, b] = [bytes[1] ?? 0, bytes[2] ?? 0];
    switch (status & 0xf0) {
      case 0x80:
        channel.notes.delete(a);
        return;
      case 0x90:
        if (b === 0) channel.notes.delete(a);
        else channel.notes.set(a, b);
        return;
      case 0xb0:
        this.control(channel, a, b);
        return;
      case 0xc0:
        channel.program = a;
        channel.bankMsb = channel.nextMsb ?? channel.bankMsb;
        channel.bankLsb = channel.nextLsb ?? channel.bankLsb;
        return;
      case 0xd0:
        channel.pressure = a;
        return;
      case 0xe0:
        channel.bend = (b << 7) | a;
        return;
    }
  }

  private control(channel: Memory, number: number, value: number): void {
    channel.controllers[number] = value;
    if (number === 0) channel.nextMsb = value;
    else if (number === 32) channel.nextLsb = value;
    else if (number === 6 || number === 38 || number === 96 || number === 97)
      this.data(channel, number, value);
    else if (number >= 98 && number <= 101) {
      const kind = number >= 100 ? 'rpn' : 'nrpn';
      const before = channel.chosen?.kind === kind ? channel.chosen : { kind, msb: 127, lsb: 127 };
      channel.chosen = { ...before, kind, [number % 2 === 1 ? 'msb' : 'lsb']: value };
    } else if (number === 121) {
      for (const n of [1, 64, 65, 66, 67]) channel.controllers[n] = 0;
      channel.controllers[33] = 0;
      channel.controllers[11] = 127;
      channel.bend = 8192;
      channel.pressure = 0;
      channel.chosen = null;
    } else if (number >= 120 && number !== 122) channel.notes.clear();
    else if (number < 32) channel.controllers[number + 32] = 0;
  }

  private data({ chosen, parameters }: Memory, number: number, value: number): void {
    if (!chosen || (chosen.msb === 127 && chosen.lsb === 127)) return;
    const key = `${chosen.kind} ${(chosen.msb << 7) | chosen.lsb}`;
    const before = parameters.get(key) ?? null;
    if (number === 6) parameters.set(key, value << 7);
    else if (number === 38) parameters.set(key, before === null ? null : (before & ~127) | value);
    else parameters.set(key, null);
  }
}
