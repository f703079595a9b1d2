import { encode, mustFollow, type Message } from '@idle-step/core/midi';
import { z } from 'zod';

/** Real ports through the Web MIDI API, bound to the rig's ports and remembered by name. */

export type PortsStatus =
  /** Not asked yet. */
  | { readonly kind: 'off' }
  | { readonly kind: 'asking' }
  | { readonly kind: 'on' }
  /** Another window of this browser plays: this one neither hears nor uses any. */
  | { readonly kind: 'elsewhere' }
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
  /** A bound port is there: for the first time since the page was opened, or again after it was gone. */
  found(rigPortId: string, name: string, isAgain: boolean): void;
  /** A bound port is gone. */
  lost(rigPortId: string): void;
  /** Bytes that arrived at a bound port. `atMs` on the clock of `performance.now()`. */
  received(rigPortId: string, bytes: Uint8Array, atMs: number): void;
  /** Bytes that arrived at an input that nothing is bound to, while all are heard. */
  receivedUnbound(name: string, bytes: Uint8Array, atMs: number): void;
  /** A bound port is gone or there again. */
  changed(): void;
};

/** Where ports come from and where the choice of them is remembered: the browser, or a test. */
export type PortsHost = {
  /** Asks for the ports; `null` where there are none to ask for. */
  readonly requestAccess: (() => Promise<MIDIAccess>) | null;
  readonly storage: Pick<Storage, 'getItem' | 'setItem'>;
};

export const browserPorts = (): PortsHost => ({
  requestAccess:
    typeof navigator.requestMIDIAccess === 'function'
      ? () => navigator.requestMIDIAccess({ sysex: true })
      : null,
  storage: localStorage,
});

const BindingsSchema = z.record(z.string(), z.string());

/** A message that was handed over, and when it leaves, on the clock of `performance.now()`. */
type Handed = { readonly message: Message; readonly stampMs: number };

export class MidiPorts {
  status: PortsStatus = { kind: 'off' };
  private access: MIDIAccess | null = null;
  private bindings: Bindings;
  /** Inputs that are listened to, each with the rig's ports that are bound to it. Follows from the bindings. */
  private listening: ReadonlyMap<MIDIInput, readonly string[]> = new Map();
  /** Outputs that the rig's ports are bound to. Follows from the bindings. */
  private outputs: ReadonlyMap<string, MIDIOutput> = new Map();
  /** What each output was handed whose time is still to come. */
  private readonly ahead = new WeakMap<MIDIOutput, readonly Handed[]>();
  /** Inputs that nothing is bound to are heard too. */
  private hearsAll = false;
  /** Browser ports that another program holds. */
  private readonly busy = new Set<string>();
  /** Bound rig ports that were missed at the last look. */
  private missed = new Set<string>();
  /** Bound rig ports that were there at the last look. */
  private there = new Set<string>();

  constructor(
    private readonly listener: PortsListener,
    private readonly host: PortsHost,
  ) {
    this.bindings = this.readStored(BINDINGS_KEY, BindingsSchema) ?? {};
  }

  /** Opens the ports without a question where the person allowed it on an earlier visit. */
  async resume(): Promise<void> {
    // Another window may have bound others meanwhile.
    this.bindings = this.readStored(BINDINGS_KEY, BindingsSchema) ?? this.bindings;
    if (this.readStored(WANTED_KEY, z.boolean())) await this.open();
    else if (this.status.kind === 'elsewhere') this.setStatus({ kind: 'off' });
  }

  /** Lets go of every port: another window of this browser plays. What sounds is the other one's to end. */
  leaveToOther(): void {
    for (const input of this.listening.keys()) input.onmidimessage = null;
    this.access?.removeEventListener('statechange', this.onStateChange);
    this.access = null;
    this.listening = new Map();
    this.outputs = new Map();
    this.there = new Set();
    this.missed = new Set();
    this.setStatus({ kind: 'elsewhere' });
  }

  async open(): Promise<void> {
    this.setStatus({ kind: 'asking' });
    if (!this.host.requestAccess) {
      this.setStatus({ kind: 'none', why: WHY.missing });
      return;
    }
    try {
      this.access = await this.host.requestAccess();
    } catch (error) {
      const refused =
        error instanceof DOMException && ['NotAllowedError', 'SecurityError'].includes(error.name);
      this.setStatus({ kind: 'none', why: refused ? WHY.refused : WHY.failed });
      return;
    }
    this.store(WANTED_KEY, true);
    this.access.addEventListener('statechange', this.onStateChange);
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
    this.store(BINDINGS_KEY, this.bindings);
    this.rebind();
  }

  /** Hears inputs that nothing is bound to as well, or no more: while something is learned or looked for. */
  hearAll(on: boolean): void {
    if (this.hearsAll === on) return;
    this.hearsAll = on;
    this.rebind();
  }

  /** Some port of the rig is bound to hardware: real gear is played. */
  get isAnyBound(): boolean {
    return this.status.kind === 'on' && Object.keys(this.bindings).length > 0;
  }

  /** How many ports are bound by name, and the names of those that are not there. */
  boundPorts(): { readonly bound: number; readonly missing: readonly string[] } {
    const names = new Set(Object.values(this.bindings));
    const there = new Set(this.list().flatMap((p) => (p.connected ? p.name : [])));
    return { bound: names.size, missing: [...names].filter((name) => !there.has(name)) };
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

  /**
   * Hands a message to a bound port. It never leaves before what was handed to the port already and says something of the
   * same thing: it is the newer word.
   * @param stampMs when it is to leave, on the clock of `performance.now()`; `null` at once.
   * @returns whether a real port took it.
   */
  send(rigPortId: string, message: Message, stampMs: number | null = null): boolean {
    const output = this.outputs.get(rigPortId);
    if (output?.state !== 'connected') return false;
    const now = performance.now();
    const waiting = this.ahead.get(output)?.filter((handed) => handed.stampMs > now) ?? [];
    let atMs = stampMs ?? 0;
    for (const handed of waiting)
      if (handed.stampMs > atMs && mustFollow(message, handed.message)) atMs = handed.stampMs;
    if (atMs > now) this.ahead.set(output, [...waiting, { message, stampMs: atMs }]);
    else if (waiting.length === 0) this.ahead.delete(output);
    try {
      output.send(encode(message), atMs > now ? atMs : undefined);
      return true;
    } catch {
      // A port that vanished between the look and the send: its disconnection is told by statechange.
      return false;
    }
  }

  /**
   * Makes who listens to what follow from the bindings, whole and every time: each input that some port of the rig is
   * bound to has one handler, which serves all of them, and no other input has one.
   */
  private rebind(): void {
    if (!this.access) return;
    const inputs = new Map(numbered(this.access.inputs.values()));
    const outputs = new Map(numbered(this.access.outputs.values()));
    const listening = new Map<MIDIInput, string[]>();
    const sending = new Map<string, MIDIOutput>();
    for (const [rigPortId, name] of Object.entries(this.bindings)) {
      const input = inputs.get(name);
      if (input?.state === 'connected') listening.set(input, [...(listening.get(input) ?? []), rigPortId]);
      const output = outputs.get(name);
      if (output?.state === 'connected') sending.set(rigPortId, output);
    }
    if (this.hearsAll)
      for (const input of inputs.values())
        if (input.state === 'connected' && !listening.has(input)) listening.set(input, []);
    for (const input of this.listening.keys()) if (!listening.has(input)) input.onmidimessage = null;
    for (const input of listening.keys()) {
      // Setting a handler opens the port once more, so one that is there stays.
      if (this.listening.has(input)) continue;
      input.onmidimessage = ({ data, timeStamp }) => {
        if (!data) return;
        const rigPorts = this.listening.get(input) ?? [];
        for (const rigPortId of rigPorts) this.listener.received(rigPortId, data, timeStamp);
        if (rigPorts.length === 0) this.listener.receivedUnbound(this.nameOf(input), data, timeStamp);
      };
    }
    this.listening = listening;
    this.outputs = sending;
    for (const port of new Set<MIDIPort>([...listening.keys(), ...sending.values()])) this.tryOpen(port);
    this.tellReplugged();
    this.listener.changed();
  }

  private readonly onStateChange = (): void => this.rebind();

  private nameOf(input: MIDIInput): string {
    return numbered(this.access!.inputs.values()).find(([, port]) => port === input)?.[0] ?? input.id;
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
    const there = new Set(Object.keys(this.bindings).filter((id) => this.stateOf(id) === 'present'));
    for (const rigPortId of there)
      if (!this.there.has(rigPortId))
        this.listener.found(rigPortId, this.bindings[rigPortId]!, this.missed.has(rigPortId));
    this.there = there;
    for (const rigPortId of now) if (!this.missed.has(rigPortId)) this.listener.lost(rigPortId);
    this.missed = now;
  }

  private readStored<T>(key: string, schema: z.ZodType<T>): T | null {
    try {
      return schema.safeParse(JSON.parse(this.host.storage.getItem(key) ?? 'null')).data ?? null;
    } catch {
      return null;
    }
  }

  private store(key: string, value: unknown): void {
    try {
      this.host.storage.setItem(key, JSON.stringify(value));
    } catch {
      // Without storage the choice holds until the page is closed.
    }
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
