import {
  changeShow,
  compileWorld,
  droppedDue,
  EndlessMoment,
  initialState,
  step,
  type Command,
  type Effect,
  type LiveEvent,
  type LiveNote,
  type Show,
  type World,
} from '@idle-step/core/engine';
import type { PortLoad } from '@idle-step/core/gear';
import { noteSentence, type PortNow } from '@idle-step/core/proof';
import { BoardInput } from './boardInput';
import type { LiveClock } from './clock';
import { Inbox } from './inbox';
import { lastPressAfter, type LastPress } from './lastPress';
import { MidiPorts, type BrowserPort, type PortsHost } from './midiPorts';
import { MonitorLog } from './monitorLog';
import { Outbox } from './outbox';
import { PortTraffic } from './portTraffic';
import { Recorder } from './recorder';
import { RouteTraffic } from './routeTraffic';
import { nextSnapshot, type LiveSnapshot } from './snapshot';
import { StandInSound } from './sound';
import { unboundPort } from './unboundInput';

const EMPTY_SHOW: Show = {
  rig: { id: '', name: '', middleC: 3, devices: [], cables: [], boards: [] },
  presets: [],
  setName: '',
  songs: [],
};

/**
 * Plays the rig in this window: owns the real ports, the stand-ins and the log, and drives the core's `step` with them
 * on the clock that it is handed. Lives outside React, which reads a snapshot at frame rate.
 */
export class LiveHost {
  readonly log = new MonitorLog();
  readonly recorder = new Recorder();
  readonly ports: MidiPorts;
  readonly boards: BoardInput;
  private readonly inbox: Inbox;
  private readonly outbox: Outbox;
  private readonly traffic = new PortTraffic();
  private readonly routeTraffic = new RouteTraffic();
  private readonly sound: StandInSound;
  private world = compileWorld(EMPTY_SHOW);
  private state = initialState(this.world, 0);
  private lastPress: LastPress | null = null;
  private lastRecallMs: number | null = null;
  private readonly listeners = new Set<() => void>();
  private isTellingSoon = false;
  private portList: readonly BrowserPort[] = [];
  private portCounts = { in: 0, out: 0 };
  private snapshot: LiveSnapshot;

  constructor(
    private readonly clockOf: LiveClock,
    portsHost: PortsHost,
  ) {
    this.ports = new MidiPorts(
      {
        received: (portId, bytes, stampMs) => this.inbox.receive(portId, bytes, stampMs, true),
        receivedUnbound: (name, bytes, stampMs) =>
          this.inbox.receive(unboundPort(name), bytes, stampMs, true),
        replugged: (rigPortId, name) => this.tellPort(rigPortId, name),
        // What a cable that was pulled out held down would hang for ever.
        lost: (portId) => this.command({ kind: 'port-lost', portId }),
        changed: () => this.lookAtPorts(),
      },
      portsHost,
    );
    this.outbox = new Outbox(clockOf, this.log, this.traffic, this.ports);
    this.inbox = new Inbox(clockOf, this.log, this.traffic, this.outbox, {
      world: () => this.world,
      message: (portId, message, atMs) => this.run({ kind: 'message', atMs, portId, message }),
      changed: () => this.touch(),
    });
    this.boards = new BoardInput(
      {
        world: () => this.world,
        state: () => this.state,
        command: (command) => this.command(command),
        arrive: (portId, bytes) => this.hear(portId, bytes),
        noWay: (deviceId) => this.addNote({ code: 'no-way', deviceId, functionId: '' }, this.world),
      },
      clockOf,
    );
    this.sound = new StandInSound(() => this.outbox.standIns);
    clockOf.wake = () => this.run({ kind: 'tick', atMs: clockOf.now() });
    this.snapshot = this.makeSnapshot(null);
  }

  /** Takes an edited rig, presets or set; playing goes on where it is. Another rig begins anew. */
  setShow(show: Show): void {
    const atMs = Math.max(this.clockOf.now(), this.state.atMs);
    const { world, state, effects } = changeShow(this.world, this.state, show, atMs);
    // What ends, ends in the rig in which it began.
    const before = this.world;
    this.recorder.showIs(show, atMs, effects);
    this.state = state;
    this.carryOut(effects, atMs, before);
    this.outbox.standInsOf(world);
    this.world = world;
    this.touch();
  }

  /** Keeps everything from real ports while one edits, or lets it out again. What sounds is ended first. */
  setHandsOff(on: boolean): void {
    if (on) this.command({ kind: 'panic' });
    this.outbox.isHandsOff = on;
    // What the boards' own lamps were not told meanwhile.
    if (!on) this.command({ kind: 'lamps' });
    this.touch();
  }

  command(command: Command): void {
    this.run({ kind: 'command', atMs: this.clockOf.now(), command });
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

  /** Lets the stand-ins be heard, or silences them. */
  hearStandIns(on: boolean): void {
    if (on) this.sound.start();
    else this.sound.stop();
    this.touch();
  }

  /** Now, on the clock of events. */
  clock(): number {
    return this.clockOf.now();
  }

  /** What an input is at this moment: open, pulled out, of stand-ins only, or forgotten while others are bound. */
  portNow(rigPortId: string): PortNow {
    const state = this.ports.stateOf(rigPortId);
    if (state === 'unbound') return this.ports.isAnyBound ? 'unfed' : 'unbound';
    return state === 'present' ? 'open' : 'absent';
  }

  /** Bytes arrive at a port as if its hardware had sent them. */
  hear(portId: string, bytes: readonly number[]): void {
    this.inbox.receive(portId, bytes, this.clockOf.now(), false);
  }

  /** Begins or ends looking at what is touched. */
  lookAround(on: boolean): void {
    this.inbox.seen = on ? [] : null;
    this.ports.hearAll(on || this.inbox.heard !== null);
    this.touch();
  }

  /**
   * Begins (anew) or ends learning. Meanwhile what is pressed only tells what it is: nothing follows from it, and what
   * was held before still ends.
   */
  learn(on: boolean): void {
    this.inbox.heard = on ? [] : null;
    this.inbox.unheardPorts.clear();
    this.ports.hearAll(on || this.inbox.seen !== null);
    if (this.state.learning !== on) this.command({ kind: 'learn', on });
    this.touch();
  }

  /** Ports that spoke since learning began and are not enabled for learning. */
  unheardPorts(): readonly string[] {
    return [...this.inbox.unheardPorts];
  }

  /** What each port carried in the last second, by rig port. */
  loads(): ReadonlyMap<string, PortLoad> {
    return this.traffic.loads(this.clockOf.now());
  }

  private lookAtPorts(): void {
    this.portList = this.ports.list();
    this.portCounts = this.ports.counts();
    this.touch();
  }

  private tellPort(portId: string, name: string): void {
    // Lamps went dark with the plug.
    this.inbox.forgetHalf(portId);
    this.command({ kind: 'lamps' });
    const { rig } = this.world.show;
    this.log.add({
      kind: 'port',
      atMs: this.clockOf.now(),
      wallMs: this.clockOf.wallMs(),
      portId,
      rig,
      name,
    });
    this.touch();
  }

  private run(event: LiveEvent): void {
    const timed = { ...event, leavesMs: this.clockOf.now() };
    let done;
    try {
      done = step(this.world, this.state, timed);
    } catch (error) {
      if (!(error instanceof EndlessMoment)) throw error;
      // Playing goes on without what would never end.
      this.addSentence('endless', `${error.message} It was dropped; playing goes on.`);
      this.state = droppedDue(this.state);
      done = step(this.world, this.state, timed);
    }
    this.state = done.state;
    this.recorder.took(timed, done.effects);
    this.routeTraffic.take(done.effects, timed.atMs);
    this.carryOut(done.effects, timed.leavesMs, this.world);
    this.touch();
  }

  private carryOut(effects: readonly Effect[], atMs: number, world: World): void {
    let wakeMs: number | null = null;
    let untaken = 0;
    for (const effect of effects) {
      switch (effect.kind) {
        case 'send':
          if (!this.outbox.send(world, effect.portId, effect.message, effect.functionId, atMs)) untaken++;
          break;
        case 'wake':
          wakeMs = effect.atMs;
          break;
        case 'note':
          this.addNote(effect.note, world);
          break;
        case 'lamp':
        case 'routed':
          break;
      }
    }
    this.clockOf.wakeAt(wakeMs);
    this.lastPress = lastPressAfter(this.lastPress, this.state, effects, untaken, this.clockOf.wallMs());
  }

  private addNote(note: LiveNote, world: World): void {
    if (note.code === 'recalled') this.lastRecallMs = note.settlesInMs;
    if (note.code !== 'pressed') this.addSentence(note.code, noteSentence(note, world));
  }

  private addSentence(code: LiveNote['code'] | 'endless', sentence: string): void {
    this.log.add({ kind: 'note', code, sentence, atMs: this.clockOf.now(), wallMs: this.clockOf.wallMs() });
    this.touch();
  }

  /** Tells the screen once a frame. */
  private touch(): void {
    if (this.isTellingSoon) return;
    this.isTellingSoon = true;
    this.clockOf.atFrame(() => {
      this.isTellingSoon = false;
      const next = this.makeSnapshot(this.snapshot);
      if (next === this.snapshot) return;
      this.snapshot = next;
      for (const listener of this.listeners) listener();
    });
  }

  private makeSnapshot(before: LiveSnapshot | null): LiveSnapshot {
    return nextSnapshot(before, {
      world: this.world,
      state: this.state,
      standIns: this.outbox.standIns,
      lastPress: this.lastPress,
      lastRecallMs: this.lastRecallMs,
      portsStatus: this.ports.status,
      ports: this.portList,
      portCounts: this.portCounts,
      seen: this.inbox.seen,
      heard: this.inbox.heard,
      routeCounts: this.routeTraffic.all,
      routedPairs: this.routeTraffic.last,
      isHandsOff: this.outbox.isHandsOff,
      isHeard: this.sound.isOn,
    });
  }
}
