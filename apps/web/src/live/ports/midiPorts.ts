import { lasting } from '../../storage/keptTexts';
import { encode, mustFollow, type Message } from '@idle-step/core/midi';
import { z } from 'zod';
import { got, there } from '@idle-step/core/sure';

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

/**
 * What a browser's port is known by, since its id may change when it is plugged in again: its name, its maker, and which of
 * several that have both, from 1. An input and an output of one interface usually share all three; they are told apart by
 * their direction. `maker` is `null` where it was bound before makers were kept.
 */
type PortKey = { readonly name: string; readonly maker: string | null; readonly nth: number };

/** Rig port → the browser's port. */
type Bindings = Record<string, PortKey>;

/** What the ports of the rig in play are for: to hear by, to send by, or both. */
export type RigPorts = ReadonlyMap<string, { readonly hears: boolean; readonly sends: boolean }>;

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
  /** Bytes that arrived at an input, with every rig port that is bound to it. `atMs` on the clock of `performance.now()`. */
  received(rigPortIds: readonly string[], bytes: Uint8Array, atMs: number): void;
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
  storage: lasting.store,
});

const KeySchema = z.object({ name: z.string(), maker: z.string().nullable(), nth: z.number().int().min(1) });
/** Bindings of before were the name that is shown. */
const BindingsSchema = z.record(z.string(), z.union([KeySchema, z.string().transform(keyOfName)]));

/** A message that was handed over, and when it leaves, on the clock of `performance.now()`. */
type Handed = { readonly message: Message; readonly stampMs: number };

export class MidiPorts {
  status: PortsStatus = { kind: 'off' };
  private access: MIDIAccess | null = null;
  /** How often the ports were asked for or left: an answer to an earlier question is too late. */
  private asked = 0;
  private bindings: Bindings;
  /** Inputs that are listened to, each with the rig's ports that are bound to it. Follows from the bindings. */
  private listening: ReadonlyMap<MIDIInput, readonly string[]> = new Map();
  /** Outputs that the rig's ports are bound to. Follows from the bindings. */
  private outputs: ReadonlyMap<string, MIDIOutput> = new Map();
  /** What each output was handed whose time is still to come. */
  private readonly ahead = new WeakMap<MIDIOutput, readonly Handed[]>();
  /** Inputs that nothing is bound to are heard too. */
  private hearsAll = false;
  /** Ports of the rig in play; `null` until it is told. */
  private rigPorts: RigPorts | null = null;
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
    this.asked++;
    for (const input of this.listening.keys()) input.onmidimessage = null;
    this.access?.removeEventListener('statechange', this.onStateChange);
    this.access = null;
    this.listening = new Map();
    this.outputs = new Map();
    this.there = new Set();
    this.missed = new Set();
    this.setStatus({ kind: 'elsewhere' });
  }

  /** Says once more which ports are there: whoever was told before did not know yet what that means for it. */
  tellAnew(): void {
    if (!this.access) return;
    this.there = new Set();
    this.tellReplugged();
  }

  async open(): Promise<void> {
    const asked = ++this.asked;
    this.setStatus({ kind: 'asking' });
    if (!this.host.requestAccess) {
      this.setStatus({ kind: 'none', why: WHY.missing });
      return;
    }
    let access: MIDIAccess;
    try {
      access = await this.host.requestAccess();
    } catch (error) {
      if (asked !== this.asked) return;
      const refused =
        error instanceof DOMException && ['NotAllowedError', 'SecurityError'].includes(error.name);
      this.setStatus({ kind: 'none', why: refused ? WHY.refused : WHY.failed });
      return;
    }
    // Asked for once more meanwhile, or left to another window: a port that both hear counts a press twice.
    if (asked !== this.asked) return;
    this.store(WANTED_KEY, true);
    this.access?.removeEventListener('statechange', this.onStateChange);
    this.access = access;
    this.access.addEventListener('statechange', this.onStateChange);
    this.status = { kind: 'on' };
    this.rebind();
  }

  list(): BrowserPort[] {
    if (!this.access) return [];
    return [
      ...keyed(this.access.inputs.values()).map((p) => seen(p, 'in')),
      ...keyed(this.access.outputs.values()).map((p) => seen(p, 'out')),
    ];
  }

  stateOf(rigPortId: string): BindingState {
    const key = this.bindings[rigPortId];
    if (key === undefined) return 'unbound';
    const ports = this.portsOf(rigPortId, key);
    if (ports.length === 0) return 'absent';
    return ports.some((p) => this.busy.has(p.id)) ? 'busy' : 'present';
  }

  /** Says which ports the rig in play has, and what for: no other port is heard or used. */
  useRig(ports: RigPorts): void {
    const isSame =
      this.rigPorts?.size === ports.size &&
      [...ports].every(([id, p]) => {
        const before = there(this.rigPorts).get(id);
        return before?.hears === p.hears && before.sends === p.sends;
      });
    if (isSame) return;
    this.rigPorts = ports;
    if (this.access) this.rebind();
  }

  boundName(rigPortId: string): string | null {
    const key = this.bindings[rigPortId];
    return key ? (this.portsOf(rigPortId, key)[0]?.name ?? nameOfKey(key)) : null;
  }

  /** Other ports of the rig in play that are bound to the same input, or to the same output. */
  sharing(rigPortId: string): readonly string[] {
    const own = this.bindings[rigPortId];
    const use = this.rigPorts?.get(rigPortId);
    if (!own || !use) return [];
    return Object.entries(this.bindings).flatMap(([id, key]) => {
      const other = there(this.rigPorts).get(id);
      const isShared = (use.hears && other?.hears) || (use.sends && other?.sends);
      return id !== rigPortId && isShared && isSameKey(key, own) ? id : [];
    });
  }

  /** @param name as it is listed. */
  bind(rigPortId: string, name: string | null): void {
    const { [rigPortId]: _old, ...others } = this.bindings;
    this.bindings = name === null ? others : { ...others, [rigPortId]: this.keyListed(rigPortId, name) };
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
    return this.status.kind === 'on' && this.inPlay().length > 0;
  }

  /** How many ports are bound by name, and the names of those that are not there. */
  boundPorts(): { readonly bound: number; readonly missing: readonly string[] } {
    const names = new Set(this.inPlay().map(([, key]) => nameOfKey(key)));
    const missing = this.inPlay().flatMap(([id, key]) =>
      this.portsOf(id, key).length === 0 ? nameOfKey(key) : [],
    );
    return { bound: names.size, missing: [...new Set(missing)] };
  }

  /** How many bound ports are there, in each direction. */
  counts(): { in: number; out: number } {
    const bound = new Map(
      this.inPlay().flatMap(([id, key]) => this.portsOf(id, key).map((p) => [p.id, p] as const)),
    );
    const count = (direction: 'in' | 'out') =>
      [...bound.values()].filter((p) => p.direction === direction).length;
    return { in: count('in'), out: count('out') };
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
    const inputs = keyed(this.access.inputs.values());
    const outputs = keyed(this.access.outputs.values());
    const listening = new Map<MIDIInput, string[]>();
    const sending = new Map<string, MIDIOutput>();
    for (const [rigPortId, key] of this.inPlay()) {
      const { hears, sends } = this.useOf(rigPortId);
      const input = hears ? found(inputs, key)?.port : undefined;
      if (input?.state === 'connected') listening.set(input, [...(listening.get(input) ?? []), rigPortId]);
      const output = sends ? found(outputs, key)?.port : undefined;
      if (output?.state === 'connected') sending.set(rigPortId, output);
    }
    if (this.hearsAll)
      for (const { port: input } of inputs)
        if (input.state === 'connected' && !listening.has(input)) listening.set(input, []);
    for (const input of this.listening.keys()) if (!listening.has(input)) input.onmidimessage = null;
    for (const input of listening.keys()) {
      // Setting a handler opens the port once more, so one that is there stays.
      if (this.listening.has(input)) continue;
      input.onmidimessage = ({ data, timeStamp }) => {
        if (!data) return;
        const rigPorts = this.listening.get(input) ?? [];
        if (rigPorts.length > 0) this.listener.received(rigPorts, data, timeStamp);
        else this.listener.receivedUnbound(this.nameOf(input), data, timeStamp);
      };
    }
    this.listening = listening;
    this.outputs = sending;
    for (const port of new Set<MIDIPort>([...listening.keys(), ...sending.values()])) this.tryOpen(port);
    this.tellReplugged();
    this.listener.changed();
  }

  private readonly onStateChange = (): void => this.rebind();

  /** Bindings of the rig in play. */
  private inPlay(): (readonly [rigPortId: string, key: PortKey])[] {
    return Object.entries(this.bindings).filter(([id]) => !this.rigPorts || this.rigPorts.has(id));
  }

  private useOf(rigPortId: string): { readonly hears: boolean; readonly sends: boolean } {
    return this.rigPorts?.get(rigPortId) ?? { hears: true, sends: true };
  }

  /** The browser's ports that a binding leads to and that are there. */
  private portsOf(rigPortId: string, key: PortKey): BrowserPort[] {
    if (!this.access) return [];
    const { hears, sends } = this.useOf(rigPortId);
    const input = hears ? found(keyed(this.access.inputs.values()), key) : undefined;
    const output = sends ? found(keyed(this.access.outputs.values()), key) : undefined;
    return [...(input ? [seen(input, 'in')] : []), ...(output ? [seen(output, 'out')] : [])].filter(
      (p) => p.connected,
    );
  }

  /** What the port of a listed name is known by, of the direction that the rig's port is for. */
  private keyListed(rigPortId: string, name: string): PortKey {
    const { hears } = this.useOf(rigPortId);
    const ports = this.access && [
      ...(hears ? keyed(this.access.inputs.values()) : []),
      ...keyed(this.access.outputs.values()),
      ...keyed(this.access.inputs.values()),
    ];
    return ports?.find((p) => p.label === name)?.key ?? keyOfName(name);
  }

  private nameOf(input: MIDIInput): string {
    return keyed(there(this.access).inputs.values()).find((p) => p.port === input)?.label ?? input.id;
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
    const ids = this.inPlay().map(([id]) => id);
    const now = new Set(ids.filter((id) => this.stateOf(id) === 'absent'));
    const there = new Set(ids.filter((id) => this.stateOf(id) === 'present'));
    for (const rigPortId of there)
      if (!this.there.has(rigPortId))
        this.listener.found(rigPortId, this.boundName(rigPortId) ?? '', this.missed.has(rigPortId));
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

/** A browser's port with what it is known by, and what it is called in lists. */
type Keyed<P> = { readonly key: PortKey; readonly label: string; readonly port: P };

const seen = ({ label, port }: Keyed<MIDIPort>, direction: 'in' | 'out'): BrowserPort => ({
  id: port.id,
  name: label,
  direction,
  connected: port.state === 'connected',
});

/** What a port is called that is not there. Example: the second of two called Blue box is `Blue box (2)`. */
const nameOfKey = ({ name, nth }: PortKey): string => (nth === 1 ? name : `${name} (${nth})`);

function keyOfName(shown: string): PortKey {
  const match = /^(.*) \((\d+)\)$/.exec(shown);
  return match && Number(match[2]) > 1
    ? { name: there(match[1]), maker: null, nth: Number(match[2]) }
    : { name: shown, maker: null, nth: 1 };
}

const isSameKey = (a: PortKey, b: PortKey): boolean =>
  a.name === b.name && a.nth === b.nth && (a.maker === b.maker || a.maker === null || b.maker === null);

/** The port that a key leads to: of the same maker, where that is known. */
const found = <P extends MIDIPort>(ports: readonly Keyed<P>[], key: PortKey): Keyed<P> | undefined =>
  ports.find((p) => isSameKey(p.key, key));

/**
 * Ports of one direction with what each is known by. Those that are gone come last, so that one plugged in again gets its
 * number back even where the browser still lists the old one. Where two makers use one name, lists name the maker too.
 */
function keyed<P extends MIDIPort>(ports: Iterable<P>): Keyed<P>[] {
  const rank = (port: MIDIPort) => (port.state === 'connected' ? 0 : 1);
  const sorted = [...ports].sort((a, b) => rank(a) - rank(b));
  const makers = new Map<string, Set<string>>();
  for (const port of sorted) {
    const name = port.name ?? port.id;
    makers.set(name, (makers.get(name) ?? new Set()).add(port.manufacturer ?? ''));
  }
  const taken = new Map<string, number>();
  return sorted.map((port) => {
    const name = port.name ?? port.id;
    const maker = port.manufacturer ?? '';
    const same = `${name}\n${maker}`;
    const nth = (taken.get(same) ?? 0) + 1;
    taken.set(same, nth);
    const key = { name, maker, nth };
    const isShared = got(makers, name).size > 1 && maker !== '';
    return { key, label: isShared ? `${nameOfKey(key)}, ${maker}` : nameOfKey(key), port };
  });
}
