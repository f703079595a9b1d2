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

/** How a bound port is: there, gone, held by another program, or not bound at all. */
export type BindingState = 'unbound' | 'present' | 'absent' | 'busy';

export type PortsListener = {
  /** A bound port is there again after it was gone. */
  replugged(rigPortId: string, name: string): void;
  /** A bound port is gone. */
  lost(rigPortId: string): void;
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
  /** Browser ports that another program holds. */
  private readonly busy = new Set<string>();
  /** Bound rig ports that were missed at the last look. */
  private missed = new Set<string>();

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
    return [
      ...numbered(this.access.inputs.values()).map(([name, port]) => seen(name, port, 'in')),
      ...numbered(this.access.outputs.values()).map(([name, port]) => seen(name, port, 'out')),
    ];
  }

  stateOf(rigPortId: string): BindingState {
    const name = this.bindings[rigPortId];
    if (name === undefined) return 'unbound';
    const ports = this.list().filter((p) => p.name === name && p.connected);
    if (ports.length === 0) return 'absent';
    return ports.some((p) => this.busy.has(p.id)) ? 'busy' : 'present';
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
    for (const [outputName, output] of numbered(this.access.outputs.values())) {
      if (outputName !== name || output.state !== 'connected') continue;
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
    const byName = new Map(numbered(this.access.inputs.values()));
    for (const [rigPortId, name] of Object.entries(this.bindings)) {
      const input = byName.get(name);
      const old = this.listening.get(rigPortId);
      if (input?.state === 'connected') this.tryOpen(input);
      if (old === input) continue;
      if (old) old.onmidimessage = null;
      this.listening.delete(rigPortId);
      if (!input || input.state !== 'connected') continue;
      this.listening.set(rigPortId, input);
      input.onmidimessage = (event) => {
        if (event.data) this.listener.received(rigPortId, event.data, event.timeStamp);
      };
    }
    for (const [name, output] of numbered(this.access.outputs.values()))
      if (output.state === 'connected' && Object.values(this.bindings).includes(name)) this.tryOpen(output);
    this.tellReplugged();
    for (const [rigPortId, input] of this.listening) {
      const name = this.bindings[rigPortId];
      if (name !== undefined && byName.get(name) === input && input.state === 'connected') continue;
      input.onmidimessage = null;
      this.listening.delete(rigPortId);
    }
    this.listener.changed();
  }

  /** A port that another program holds alone refuses to open; it is tried again whenever something changes. */
  private tryOpen(port: MIDIPort): void {
    port.open().then(
      () => this.busy.delete(port.id) && this.listener.changed(),
      () => {
        this.busy.add(port.id);
        this.listener.changed();
      },
    );
  }

  private tellReplugged(): void {
    const now = new Set(Object.keys(this.bindings).filter((id) => this.stateOf(id) === 'absent'));
    for (const rigPortId of this.missed) {
      const name = this.bindings[rigPortId];
      if (name !== undefined && !now.has(rigPortId)) this.listener.replugged(rigPortId, name);
    }
    for (const rigPortId of now) if (!this.missed.has(rigPortId)) this.listener.lost(rigPortId);
    this.missed = now;
  }

  private setStatus(status: PortsStatus): void {
    this.status = status;
    this.listener.changed();
  }
}

const seen = (name: string, port: MIDIPort, direction: 'in' | 'out'): BrowserPort => ({
  id: port.id,
  name,
  direction,
  connected: port.state === 'connected',
});

/**
 * Ports with a name each: of two that have the same, the second is called `Name (2)`. Those that are gone come last, so
 * that one plugged in again gets its name back even where the browser still lists the old one.
 */
function numbered<P extends MIDIPort>(ports: Iterable<P>): [name: string, port: P][] {
  const taken = new Map<string, number>();
  const there = (port: MIDIPort) => (port.state === 'connected' ? 0 : 1);
  return [...ports]
    .sort((a, b) => there(a) - there(b))
    .map((port): [string, P] => {
      const name = port.name ?? port.id;
      const count = (taken.get(name) ?? 0) + 1;
      taken.set(name, count);
      return [count === 1 ? name : `${name} (${count})`, port];
    });
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
