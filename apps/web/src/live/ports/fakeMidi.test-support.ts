import type { PortsHost } from './midiPorts';

type State = 'connected' | 'disconnected';

/** Ports after the interface of the W3C draft "Web MIDI API", as far as they are used (from memory). */
class FakePort extends EventTarget {
  state: State = 'connected';
  /** Another program holds it. */
  isHeld = false;
  constructor(
    readonly name: string,
    readonly id = name,
    readonly manufacturer = '',
  ) {
    super();
  }
  open = () =>
    this.isHeld ? Promise.reject(new DOMException('held', 'InvalidAccessError')) : Promise.resolve(this);
}

export class FakeInput extends FakePort {
  readonly type = 'input';
  onmidimessage: ((event: { data: Uint8Array; timeStamp: number }) => void) | null = null;
  deliver(bytes: number[], timeStamp: number): void {
    this.onmidimessage?.({ data: Uint8Array.from(bytes), timeStamp });
  }
}

export class FakeOutput extends FakePort {
  readonly type = 'output';
  sent: number[][] = [];
  /** When each was to leave; `undefined` at once. */
  stamps: (number | undefined)[] = [];
  send(bytes: number[], stampMs?: number): void {
    this.sent.push(bytes);
    this.stamps.push(stampMs);
  }
}

/** The inputs X and Y, and the output Out. */
export class FakeAccess extends EventTarget {
  readonly inputs = new Map(['X', 'Y'].map((n) => [n, new FakeInput(n)]));
  readonly outputs = new Map(['Out'].map((n) => [n, new FakeOutput(n)]));

  /** A plug is pulled out, or put in again. */
  plug(port: FakePort, state: State): void {
    port.state = state;
    this.dispatchEvent(new Event('statechange'));
  }
}

/** Where these ports come from, with nothing remembered of them yet. */
export const hostOf = (access: FakeAccess): PortsHost => {
  const kept = new Map<string, string>();
  return {
    requestAccess: () => Promise.resolve(access as unknown as MIDIAccess),
    storage: {
      getItem: (key) => kept.get(key) ?? null,
      setItem: (key, value) => void kept.set(key, value),
    },
  };
};
