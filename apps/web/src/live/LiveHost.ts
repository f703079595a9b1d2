import {
  adoptWorld,
  compileWorld,
  functionOf,
  initialState,
  step,
  type Command,
  type Effect,
  type LiveEvent,
  type LiveState,
  type Show,
  type World,
} from '@idle-step/core/engine';
import { relativeByte, relativeRange, type Heard } from '@idle-step/core/floor';
import { look, readFunction, type PortLoad, type Seen } from '@idle-step/core/gear';
import type { PortNow } from '@idle-step/core/proof';
import { encode, StreamParser, type Message, type Sequence } from '@idle-step/core/midi';
import {
  bounces,
  feedStandIn,
  pedalBytes,
  startStandIn,
  switchBytes,
  tremble,
  type StandInState,
} from '@idle-step/core/standins';
import { MidiPorts, type BrowserPort, type PortsStatus } from './midiPorts';
import { MonitorLog } from './monitorLog';
import { PortTraffic } from './portTraffic';
import { Recorder } from './recorder';
import { StandInSound } from './sound';
import { RouteTraffic, type RouteCounts, type RoutedPair } from './routeTraffic';

/** What the last press did, for the line beside the floor. */
export type LastPress = {
  readonly wallMs: number;
  readonly controlId: string;
  readonly label: string;
  readonly messages: number;
  /** It has not fired yet: a second press or a hold could still come. */
  readonly waits: boolean;
  readonly settledInMs: number;
  readonly trouble: string | null;
};

/** What the screen is drawn from: one unchanging object a frame. */
export type LiveSnapshot = {
  readonly world: World;
  readonly state: LiveState;
  readonly standIns: ReadonlyMap<string, StandInState>;
  readonly lastPress: LastPress | null;
  readonly lastRecallMs: number | null;
  readonly portsStatus: PortsStatus;
  readonly ports: readonly BrowserPort[];
  readonly portCounts: { readonly in: number; readonly out: number };
  /** What was touched since looking began, the last first; `null` when nobody looks. */
  readonly seen: readonly Seen[] | null;
  /** What was heard since learning began, in order; `null` when nobody learns. */
  readonly heard: readonly Heard[] | null;
  /** What each route let through, by route. */
  readonly routeCounts: ReadonlyMap<string, RouteCounts>;
  /** The last messages that routes took in, with what they sent on. */
  readonly routedPairs: readonly RoutedPair[];
  /** The stand-ins are heard. */
  readonly isHeard: boolean;
};

/** A report that comes later than this after its function was told is a change of its own, in ms. */
const REPORT_WITHIN_MS = 2000;

/** Messages that are kept while learning. */
const HEARD_AT_MOST = 2000;

const EMPTY_SHOW: Show = {
  rig: { id: '', name: '', middleC: 3, devices: [], cables: [], boards: [] },
  presets: [],
  setName: '',
  songs: [],
};

/**
 * Plays the rig in this window: owns the clock, the timers, the real ports, the stand-ins and the log, and drives
 * the core's `step` with them. Lives outside React, which reads a snapshot at frame rate.
 */
export class LiveHost {
  readonly log = new MonitorLog();
  readonly ports = new MidiPorts({
    received: (portId, bytes, atMs) => this.receive(portId, bytes, atMs, true),
    replugged: (rigPortId, name) => this.tellPort(rigPortId, name),
    // What a cable that was pulled out held down would hang for ever.
    lost: (portId) => this.command({ kind: 'port-lost', portId }),
    changed: () => this.lookAtPorts(),
  });
  private world = compileWorld(EMPTY_SHOW);
  private state = initialState(this.world, 0);
  private started = false;
  private readonly standIns = new Map<string, StandInState>();
  private readonly parsers = new Map<string, StreamParser>();
  private readonly traffic = new PortTraffic();
  private readonly routeTraffic = new RouteTraffic();
  readonly recorder = new Recorder();
  private readonly sound = new StandInSound(() => this.standIns);
  /** What each function was told last, and when: a report soon after is compared with it. */
  private readonly told = new Map<string, { value: number; atMs: number }>();
  private seen: readonly Seen[] | null = null;
  private heard: readonly Heard[] | null = null;
  private lastPress: LastPress | null = null;
  private lastRecallMs: number | null = null;
  private wakeTimer: number | undefined;
  private readonly listeners = new Set<() => void>();
  private frame = 0;
  private portList: readonly BrowserPort[] = [];
  private portCounts = { in: 0, out: 0 };
  private shownState = this.state;
  private snapshot: LiveSnapshot = this.makeSnapshot();

  /** Takes an edited rig, presets or set; playing goes on where it is. */
  setShow(show: Show): void {
    const before = this.world;
    this.world = compileWorld(show);
    const startsMs = Math.max(this.now(), this.arrivedAtMs);
    this.arrivedAtMs = startsMs;
    const sameSet = this.started && before.show.rig.id === show.rig.id;
    this.state = sameSet ? adoptWorld(before, this.world, this.state) : initialState(this.world, startsMs);
    this.recorder.showIs(show, startsMs);
    this.started = show.rig.id !== '';
    for (const device of show.rig.devices) {
      const running = this.standIns.get(device.id);
      if (device.standIn && running?.kind !== device.standIn)
        this.standIns.set(device.id, startStandIn(device.standIn));
      if (!device.standIn) this.standIns.delete(device.id);
    }
    // A tick brings the lamps in line with the edited world.
    this.run({ kind: 'tick', atMs: this.now() });
  }

  command(command: Command): void {
    this.run({ kind: 'command', atMs: this.now(), command });
  }

  /**
   * A switch of a board goes down or up under a finger or the mouse: its stand-in sends what the hardware would.
   * @param velocity 1–127, how hard it is struck.
   */
  pressSwitch(controlId: string, down: boolean, velocity = 127): void {
    const control = this.world.controls.get(controlId)?.control;
    if (!control) return;
    const { switching, edge } = control.hardware;
    // Hardware that tells one of its movements only says nothing at the other.
    if (switching === 'latching' || edge !== 'both') {
      if (down === (edge === 'up')) return;
      const next = switching === 'latching' ? !this.state.latched[controlId] : true;
      this.fromBoard(controlId, {
        bytes: (channel) => switchBytes(channel, control.sends, next, velocity),
        command: { kind: 'switch', controlId, velocity: next ? velocity : 0 },
      });
      return;
    }
    // Contacts that bounce do so on the screen too, so that waiting them out can be tried at home.
    for (const { afterMs, isDown } of bounces(down, control.hardware.debounceMs)) {
      const say = () =>
        this.fromBoard(controlId, {
          bytes: (channel) => switchBytes(channel, control.sends, isDown, velocity),
          command: { kind: 'switch', controlId, velocity: isDown ? velocity : 0 },
        });
      if (afterMs === 0) say();
      else window.setTimeout(say, afterMs);
    }
  }

  /** `position` 0–127 of its travel, or how it follows from where the pedal is at this moment. */
  movePedal(controlId: string, to: number | ((at: number) => number)): void {
    const control = this.world.controls.get(controlId)?.control;
    if (!control) return;
    const at = this.state.pedals[controlId] ?? 0;
    const wanted = Math.round(Math.min(127, Math.max(0, typeof to === 'number' ? to : to(at))));
    if (control.hardware.encoding !== 'absolute') {
      this.turnEncoder(controlId, Math.sign(wanted - at));
      return;
    }
    // The stand-in stands where a worn pedal would, so that its real ends are heard.
    const { heel, toe } = control.hardware;
    const stands = heel + ((toe - heel) * wanted) / 127;
    for (const raw of tremble(stands, control.hardware))
      this.fromBoard(controlId, {
        bytes: (channel) => pedalBytes(channel, control.sends, raw),
        command: { kind: 'move', controlId, travel: wanted },
      });
  }

  /** An encoder is turned by some detents, to the right above 0. */
  turnEncoder(controlId: string, detents: number): void {
    const control = this.world.controls.get(controlId)?.control;
    if (!control || detents === 0) return;
    const { encoding } = control.hardware;
    if (encoding === 'absolute') {
      this.movePedal(controlId, (at) => at + detents);
      return;
    }
    const { least, most } = relativeRange(encoding);
    const byte = relativeByte(encoding, Math.min(most, Math.max(least, detents)));
    this.fromBoard(controlId, {
      bytes: (channel) => pedalBytes(channel, control.sends, byte),
      command: { kind: 'turn', controlId, detents },
    });
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  readonly getSnapshot = (): LiveSnapshot => this.snapshot;

  clearLog(): void {
    this.log.clear();
    this.touch();
  }

  private lookAtPorts(): void {
    this.portList = this.ports.list();
    this.portCounts = this.ports.counts();
    this.touch();
  }

  /** Lets the stand-ins be heard, or silences them. */
  hearStandIns(on: boolean): void {
    if (on) this.sound.start();
    else this.sound.stop();
    this.touch();
  }

  /** Now, on the clock of events. */
  clock(): number {
    return this.now();
  }

  /** What a port is at this moment: open, pulled out, or of stand-ins only. */
  portNow(rigPortId: string): PortNow {
    const state = this.ports.stateOf(rigPortId);
    return state === 'unbound' ? 'unbound' : state === 'present' ? 'open' : 'absent';
  }

  /** Bytes arrive at a port as if its hardware had sent them. */
  hear(portId: string, bytes: readonly number[]): void {
    this.receive(portId, bytes, this.now(), false);
  }

  /** Begins or ends looking at what is touched. */
  lookAround(on: boolean): void {
    this.seen = on ? [] : null;
    this.touch();
  }

  /**
   * Begins (anew) or ends learning. Meanwhile what is pressed only tells what it is: nothing follows from it.
   */
  learn(on: boolean): void {
    this.heard = on ? [] : null;
    this.touch();
  }

  /** What each port carried in the last second, by rig port. */
  loads(): ReadonlyMap<string, PortLoad> {
    return this.traffic.loads(this.now());
  }

  /**
   * What a control says when it is used on the screen: as bytes by its cable, or, where there is no hardware or this
   * application is not in its way, as a command.
   */
  private fromBoard(controlId: string, said: { bytes(channel: number): number[]; command: Command }): void {
    const entry = this.world.controls.get(controlId);
    if (!entry) return;
    const { board, device, path } = this.world.boards[entry.boardIndex]!;
    if (board.isOnScreen || board.mode === 'standalone') {
      this.command(said.command);
      return;
    }
    if (!path) {
      this.addNote({ code: 'no-way', deviceId: device.id, functionId: '' });
      return;
    }
    const bytes = said.bytes(entry.control.channel ?? device.channel);
    if (bytes.length > 0) this.receive(path.portId, bytes, this.now(), false);
  }

  private receive(portId: string, bytes: ArrayLike<number>, atMs: number, real: boolean): void {
    this.receivesReal = real;
    let parser = this.parsers.get(portId);
    if (!parser) {
      parser = new StreamParser({
        message: (message) => this.receiveMessage(portId, message),
        fault: (fault) => {
          this.log.add({ kind: 'fault', atMs: this.now(), wallMs: Date.now(), portId, fault });
          this.touch();
        },
      });
      this.parsers.set(portId, parser);
    }
    this.arrivedAtMs = Math.max(atMs, this.arrivedAtMs);
    parser.push(bytes);
  }

  /** Events reach the core in order of time, whatever time stamps the ports give. */
  private arrivedAtMs = 0;

  private receivesReal = false;

  private receiveMessage(portId: string, message: Message): void {
    const atMs = this.arrivedAtMs;
    const sequence = this.traffic.take('in', portId, message, this.now());
    if (this.seen && this.learns(portId)) this.seen = look(this.seen, portId, message);
    const report = this.reportOf(portId, message, sequence);
    this.log.add({
      kind: 'in',
      atMs,
      wallMs: Date.now(),
      portId,
      message,
      sequence,
      functionId: report?.functionId ?? null,
      real: this.receivesReal,
      expected: report?.expected ?? null,
    });
    if (this.heard && this.learns(portId)) {
      this.heard = [...this.heard, { atMs, portId, message }].slice(-HEARD_AT_MOST);
      this.touch();
    } else this.run({ kind: 'message', atMs, portId, message });
  }

  private learns(portId: string): boolean {
    return this.world.show.rig.devices.some((d) => d.ports.some((p) => p.id === portId && p.learns));
  }

  /** The function that reports with a message, and what it was told just before. */
  private reportOf(
    portId: string,
    message: Message,
    sequence: Sequence | null,
  ): { functionId: string; expected: number | null } | null {
    for (const { device, fn } of this.world.reports.get(portId) ?? []) {
      if (readFunction(device, fn, message, sequence) === null) continue;
      const told = this.told.get(fn.id);
      const expected = told && this.now() - told.atMs <= REPORT_WITHIN_MS ? told.value : null;
      this.told.delete(fn.id);
      return { functionId: fn.id, expected };
    }
    return null;
  }

  private tellPort(rigPortId: string, name: string): void {
    // Half a message from before the plug was pulled is not continued, and lamps went dark with it.
    this.parsers.delete(rigPortId);
    this.command({ kind: 'lamps' });
    this.log.add({ kind: 'port', atMs: this.now(), wallMs: Date.now(), portId: rigPortId, name });
    this.touch();
  }

  private run(event: LiveEvent): void {
    const atMs = Math.max(event.atMs, this.arrivedAtMs);
    this.arrivedAtMs = atMs;
    const timed = { ...event, atMs };
    const { state, effects } = step(this.world, this.state, timed);
    this.state = state;
    this.recorder.took(timed, effects);
    this.routeTraffic.take(effects, atMs);
    this.carryOut(effects, atMs);
    this.touch();
  }

  private carryOut(effects: readonly Effect[], atMs: number): void {
    let sent = 0;
    for (const effect of effects) {
      switch (effect.kind) {
        case 'send':
          sent++;
          this.send(effect.portId, effect.message, effect.functionId, atMs);
          break;
        case 'wake':
          this.wakeAt(effect.atMs);
          break;
        case 'note':
          this.addNote(effect.note);
          break;
        case 'lamp':
        case 'routed':
          break;
      }
    }
    this.rememberPress(effects, sent);
  }

  private send(portId: string, message: Message, functionId: string | null, atMs: number): void {
    const real = this.ports.send(portId, encode(message));
    for (const device of this.world.devicesBehind.get(portId) ?? []) {
      const standIn = this.standIns.get(device.id);
      if (standIn) this.standIns.set(device.id, feedStandIn(standIn, message, device.channel, atMs));
    }
    const sequence = this.traffic.take('out', portId, message, this.now());
    const known = functionId ?? functionOf(this.world, portId, message, sequence)?.fn.id ?? null;
    const reached = known === null ? undefined : this.world.functions.get(known);
    const value = reached ? readFunction(reached.device, reached.fn, message, sequence) : null;
    if (known !== null && value !== null) this.told.set(known, { value, atMs: this.now() });
    this.log.add({
      kind: 'out',
      atMs,
      wallMs: Date.now(),
      portId,
      message,
      sequence,
      functionId: known,
      real,
      expected: null,
    });
  }

  private wakeAt(atMs: number): void {
    window.clearTimeout(this.wakeTimer);
    // Timers may fire a little early; a rounded-up wait spares a second one.
    this.wakeTimer = window.setTimeout(
      () => this.run({ kind: 'tick', atMs: this.now() }),
      Math.max(0, Math.ceil(atMs - this.now())),
    );
  }

  private addNote(note: Extract<Effect, { kind: 'note' }>['note']): void {
    if (note.code === 'recalled') this.lastRecallMs = note.settlesInMs;
    if (note.code === 'pressed') return;
    this.log.add({ kind: 'note', atMs: this.now(), wallMs: Date.now(), note });
    this.touch();
  }

  private rememberPress(effects: readonly Effect[], sent: number): void {
    const pressed = effects.flatMap((e) => (e.kind === 'note' && e.note.code === 'pressed' ? e.note : []))[0];
    if (!pressed) {
      this.countLatePress(sent);
      return;
    }
    const recalled = effects.flatMap((e) =>
      e.kind === 'note' && e.note.code === 'recalled' ? e.note : [],
    )[0];
    const trouble = effects.flatMap((e) =>
      e.kind === 'note' && e.note.code !== 'pressed' && e.note.code !== 'recalled' ? e.note.code : [],
    )[0];
    this.lastPress = {
      wallMs: Date.now(),
      controlId: pressed.controlId,
      label: pressed.label,
      messages: sent + this.messagesPending(),
      waits: this.state.held[pressed.controlId]?.gesture.isPending ?? false,
      settledInMs: recalled?.settlesInMs ?? 0,
      trouble: trouble ?? null,
    };
  }

  /** What a press sends that had to wait first belongs to it all the same. */
  private countLatePress(sent: number): void {
    if (!this.lastPress?.waits || this.state.held[this.lastPress.controlId]?.gesture.isPending) return;
    this.lastPress = { ...this.lastPress, waits: false, messages: sent + this.messagesPending() };
  }

  private messagesPending(): number {
    return this.state.pending.reduce((n, p) => n + p.messages.length, 0);
  }

  private now(): number {
    return performance.now();
  }

  /** Tells the screen once a frame; with the page hidden, at once, since no frame comes then. */
  private touch(): void {
    if (this.frame !== 0) return;
    const tell = () => {
      this.frame = 0;
      this.snapshot = this.makeSnapshot();
      for (const listener of this.listeners) listener();
    };
    if (document.hidden) tell();
    else this.frame = requestAnimationFrame(tell);
  }

  /** The last snapshot again when nothing of it changed: then nothing is drawn anew. */
  private makeSnapshot(): LiveSnapshot {
    const before = this.snapshot as LiveSnapshot | undefined;
    if (before && !isShallowEqual(before.state, this.state)) this.shownState = this.state;
    else this.shownState = before?.state ?? this.state;
    const next: LiveSnapshot = {
      world: this.world,
      state: this.shownState,
      standIns: sameMap(before?.standIns, this.standIns),
      lastPress: this.lastPress,
      lastRecallMs: this.lastRecallMs,
      portsStatus: this.ports.status,
      ports: this.portList,
      portCounts: this.portCounts,
      seen: this.seen,
      heard: this.heard,
      routeCounts: this.routeTraffic.all,
      routedPairs: this.routeTraffic.last,
      isHeard: this.sound.isOn,
    };
    return before && isShallowEqual(before, next) ? before : next;
  }
}

const isShallowEqual = <T extends object>(a: T, b: T): boolean =>
  (Object.keys(b) as (keyof T)[]).every((key) => a[key] === b[key]);

/** The map shown before, while it holds the same things. */
function sameMap<K, V>(before: ReadonlyMap<K, V> | undefined, now: ReadonlyMap<K, V>): ReadonlyMap<K, V> {
  const isSame = before?.size === now.size && [...now].every(([key, value]) => before.get(key) === value);
  return isSame ? before : new Map(now);
}
