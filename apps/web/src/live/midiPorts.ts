/** Real ports through the Web MIDI API, bound to the rig's ports and remembered by name. */

export type PortsStatus =
  /** Not asked yet. */
  | { readonly kind: 'off' }
  | { readonly kind: 'asking' }
  | { readonly kind: 'on' }
  /** Why there are none, in one sentence. */
  | { readonly kind: 'none'; readonly why: string };

export type BrowserPort = {
  readonly id: string;
  readonly name: string;
  readonly direction: 'in' | 'out';
  readonly connected: boolean;
};

/** Rig port → the browser's port, by name: its id may change when it is plugged in again. */
type Bindings = Record<string, string>;

const BINDINGS_KEY = 'idle-step.ports';
const WANTED_KEY = 'idle-step.ports-wanted';

const WHY = {
  missing: 'This browser has no MIDI ports; everything works with the stand-ins.',
  refused: 'The browser was told not to open MIDI ports; everything works with the stand-ins.',
  failed: 'The MIDI system of this computer did not start; everything works with the stand-ins.',
} as const;

export type PortsListener = {
  /** Bytes that arrived at a bound port. `atMs` on the clock of `performance.now()`. */
  received(rigPortId: string, bytes: Uint8Array, atMs: number): void;
  /** A bound port is gone or there again. */
  changed(): void;
};

export class MidiPorts {
  status: PortsStatus = { kind: 'off' };
  private access: MIDIAccess | null = null;
  private bindings: Bindings = readStored(BINDINGS_KEY) ?? {};
  private readonly listening = new Map<string, MIDIInput>();

  constructor(private readonly listener: PortsListener) {}

  /** Opens the ports without a question where the person allowed it on an earlier visit. */
  async resume(): Promise<void> {
    if (readStored<boolean>(WANTED_KEY)) await this.open();
  }

  async open(): Promise<void> {
    this.setStatus({ kind: 'asking' });
    if (typeof navigator.requestMIDIAccess !== 'function') {
      this.setStatus({ kind: 'none', why: WHY.missing });
      return;
    }
    try {
      this.access = await navigator.requestMIDIAccess({ sysex: true });
    } catch (error) {
      const refused =
        error instanceof DOMException && ['NotAllowedError', 'SecurityError'].includes(error.name);
      this.setStatus({ kind: 'none', why: refused ? WHY.refused : WHY.failed });
      return;
    }
    store(WANTED_KEY, true);
    this.access.addEventListener('statechange', () => this.rebind());
    this.status = { kind: 'on' };
    this.rebind();
  }

  list(): BrowserPort[] {
    if (!this.access) return [];
    const seen = (direction: 'in' | 'out') => (port: MIDIPort) => ({
      id: port.id,
      name: port.name ?? port.id,
      direction,
      connected: port.state === 'connected',
    });
    return [
      ...[...this.access.inputs.values()].map(seen('in')),
      ...[...this.access.outputs.values()].map(seen('out')),
    ];
  }

  boundName(rigPortId: string): string | null {
    return this.bindings[rigPortId] ?? null;
  }

  bind(rigPortId: string, name: string | null): void {
    const { [rigPortId]: _old, ...others } = this.bindings;
    this.bindings = name === null ? others : { ...others, [rigPortId]: name };
    store(BINDINGS_KEY, this.bindings);
    this.rebind();
  }

  /** How many bound ports are there, in each direction. */
  counts(): { in: number; out: number } {
    const names = new Set(Object.values(this.bindings));
    const bound = this.list().filter((p) => p.connected && names.has(p.name));
    return {
      in: bound.filter((p) => p.direction === 'in').length,
      out: bound.filter((p) => p.direction === 'out').length,
    };
  }

  /** Hands one complete message to a bound port. @returns whether a real port took it. */
  send(rigPortId: string, bytes: readonly number[]): boolean {
    const name = this.bindings[rigPortId];
    if (!this.access || name === undefined) return false;
    for (const output of this.access.outputs.values()) {
      if (output.name !== name || output.state !== 'connected') continue;
      try {
        output.send([...bytes]);
        return true;
      } catch {
        // A port that vanished between the look and the send: its disconnection is told by statechange.
        return false;
      }
    }
    return false;
  }

  /** Listens to exactly the inputs that are bound and there; each once, so no message is doubled. */
  private rebind(): void {
    if (!this.access) return;
    const byName = new Map([...this.access.inputs.values()].map((input) => [input.name, input]));
    for (const [rigPortId, name] of Object.entries(this.bindings)) {
      const input = byName.get(name);
      const old = this.listening.get(rigPortId);
      if (old === input) continue;
      if (old) old.onmidimessage = null;
      this.listening.delete(rigPortId);
      if (!input || input.state !== 'connected') continue;
      this.listening.set(rigPortId, input);
      input.onmidimessage = (event) => {
        if (event.data) this.listener.received(rigPortId, event.data, event.timeStamp);
      };
    }
    for (const [rigPortId, input] of this.listening) {
      if (this.bindings[rigPortId] === input.name && input.state === 'connected') continue;
      input.onmidimessage = null;
      this.listening.delete(rigPortId);
    }
    this.listener.changed();
  }

  private setStatus(status: PortsStatus): void {
    this.status = status;
    this.listener.changed();
  }
}

function readStored<T>(key: string): T | null {
  try {
    return JSON.parse(localStorage.getItem(key) ?? 'null') as T | null;
  } catch {
    return null;
  }
}

function store(key: string, value: unknown): void {
  try {
    localStorage.setItem(key, JSON.stringify(value));
  } catch {
    // Without storage the choice holds until the page is closed.
  }
}
