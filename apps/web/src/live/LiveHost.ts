import {
  bookmarkOf,
  changeShow,
  compileWorld,
  droppedDue,
  EndlessMoment,
  followedState,
  initialState,
  isUnsent,
  messageKey,
  step,
  type Bookmark,
  type Command,
  type Effect,
  type Followed,
  type LiveEvent,
  type LiveNote,
  type LiveState,
  type Show,
  type World,
} from '@idle-step/core/engine';
import { isPressed, type Heard } from '@idle-step/core/floor';
import { inputsAtComputer, outputsAtComputer, type Device, type PortLoad } from '@idle-step/core/gear';
import { encode, msPerByte, type Message } from '@idle-step/core/midi';
import { noteSentence, type PortNow } from '@idle-step/core/proof';
import type { StandInState } from '@idle-step/core/standins';
import { BoardInput } from './ports/boardInput';
import { HANDED_AHEAD_MS, type LiveClock } from './clock';
import { BoardLink } from './link/BoardLink';
import { DumpRun } from './link/DumpRun';
import { LineCheckRun } from './link/LineCheckRun';
import { Inbox } from './ports/inbox';
import { lastPressAfter, type LastPress } from './use/lastPress';
import { MidiPorts, type BrowserPort, type PortsHost, type RigPorts } from './ports/midiPorts';
import { MonitorLog } from './log/monitorLog';
import { Outbox } from './ports/outbox';
import { PortTraffic } from './ports/portTraffic';
import { Recorder } from './log/recorder';
import { RouteTraffic } from './log/routeTraffic';
import { nextSnapshot, type LiveSnapshot } from './snapshot';
import { StandInSound } from './sound/sound';
import { unboundPort } from './ports/unboundInput';
import type { HostWitness } from './witness';

/** Of several windows of this browser one plays. */
export type OtherWindow = {
  /** Has this window play, and no other. */
  playHere(): void;
  /** Silence in the one that plays. */
  panic(): void;
  /** Has this window show what that one plays, and do nothing itself. @returns ends it. */
  follow(): () => void;
};

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
  readonly link: BoardLink;
  readonly lineCheck: LineCheckRun;
  readonly dumps: DumpRun;
  private readonly inbox: Inbox;
  private readonly outbox: Outbox;
  private readonly traffic = new PortTraffic();
  private readonly routeTraffic = new RouteTraffic();
  private readonly sound: StandInSound;
  private world = compileWorld(EMPTY_SHOW, HANDED_AHEAD_MS);
  private state = initialState(this.world, 0);
  private lastPress: LastPress | null = null;
  private lastRecallMs: number | null = null;
  /** What was said last, until the next press or recall. */
  private said: string | null = null;
  private readonly listeners = new Set<() => void>();
  private isTellingSoon = false;
  private portList: readonly BrowserPort[] = [];
  private portCounts = { in: 0, out: 0 };
  private snapshot: LiveSnapshot;
  /** Whoever writes down what happens, so that it outlives the page. */
  witness: HostWitness | null = null;
  /** Whether a port that comes back hears what the scene in play says of what lies behind it. */
  private tellsAgain = true;
  /** Who is told of presses in place of the rig, while somebody practises. */
  private practise: ((controlId: string) => void) | null = null;
  /** Keeps how the rig stands now as a scene. */
  private onRaws: ((raws: LiveState['raws']) => void) | null = null;
  private onCapture: ((songId: string, sceneId: string) => void) | null = null;
  /** How the window that plays is reached from this one, where that is another. */
  otherWindow: OtherWindow | null = null;
  private isHeld = false;
  /** This window shows what another one plays. */
  private isFollowing = false;
  /** What was in force when the scene in play was recalled, or what was last said of its edits. */
  private recalledIn: World | null = null;
  private isSceneEdited = false;
  private heldShow: Show | null = null;
  /** How long the page was away, until something is recalled or it is set aside; in ms. */
  private awayMs: number | null = null;

  constructor(
    private readonly clockOf: LiveClock,
    portsHost: PortsHost,
  ) {
    this.ports = new MidiPorts(
      {
        received: (portIds, bytes, stampMs) =>
          this.inbox.receive(portIds, bytes, clockOf.ofPort(stampMs), true),
        receivedUnbound: (name, bytes, stampMs) =>
          this.inbox.receive([unboundPort(name)], bytes, clockOf.ofPort(stampMs), true),
        found: (rigPortId, name, isAgain) => this.foundPort(rigPortId, name, isAgain),
        // What a cable that was pulled out held down would hang for ever.
        lost: (portId) => {
          this.command({ kind: 'port-lost', portId });
          this.dumps.portLost(portId);
          this.lineCheck.portLost(portId);
        },
        changed: () => this.lookAtPorts(),
      },
      portsHost,
    );
    this.outbox = new Outbox(
      clockOf,
      this.log,
      this.traffic,
      this.ports,
      (line) => this.witness?.sent(line),
      (device, reply) => this.answer(device, reply),
    );
    this.inbox = new Inbox(clockOf, this.log, this.traffic, this.outbox, {
      world: () => this.world,
      message: (portId, message, atMs) => {
        this.witness?.came(portId, message);
        if (message.kind === 'sysex') {
          this.link.heard(portId, message.data);
          this.dumps.heard(portId, message.data);
        }
        if (this.lineCheck.heard(portId, message)) return;
        this.run({ kind: 'message', atMs, portId, message });
      },
      changed: () => this.touch(),
    });
    this.boards = new BoardInput(
      {
        world: () => this.world,
        state: () => this.state,
        command: (command) => this.command(command),
        arrive: (portId, bytes) => this.hear(portId, bytes),
        noWay: (deviceId) => this.addNote({ code: 'no-way', deviceId, functionId: '' }, this.world),
        unknown: (controlId, functionId) =>
          this.addNote({ code: 'value-unknown', controlId, functionId, isSent: false }, this.world),
      },
      clockOf,
    );
    this.link = new BoardLink(
      {
        world: () => this.world,
        send: (portId, message, isTaken) => this.sendAside(portId, message, isTaken),
        hear: (portId, bytes) => this.hear(portId, bytes),
        refusal: () => this.cannotSend(),
      },
      (wake) => clockOf.timer(wake),
    );
    this.dumps = new DumpRun(
      {
        world: () => this.world,
        send: (portId, message) => this.sendAside(portId, message, false),
        reaches: (deviceId, portId) =>
          this.outbox.standIns.has(deviceId) || this.ports.stateOf(portId) === 'present',
        refusal: () => this.cannotSend(),
      },
      (wake) => clockOf.timer(wake),
    );
    this.lineCheck = new LineCheckRun(
      {
        world: () => this.world,
        send: (portId, message) => this.sendAside(portId, message, false),
        refusal: () => this.cannotListen(),
        lampsAreOff: () => this.command({ kind: 'lamps' }),
      },
      (wake) => clockOf.timer(wake),
    );
    this.sound = new StandInSound(() => this.outbox.standIns);
    clockOf.wake = (atMs) => this.run({ kind: 'tick', atMs });
    this.ports.useRig(portsOfRig(this.world));
    this.snapshot = this.makeSnapshot(null);
  }

  /** Takes an edited rig, presets or set; playing goes on where it is. Another rig begins anew. */
  setShow(show: Show): void {
    if (this.isHeld || this.isFollowing) this.heldShow = show;
    else this.adopt(show);
  }

  private adopt(show: Show): void {
    const atMs = Math.max(this.clockOf.now(), this.state.atMs);
    const { world, state, effects } = changeShow(this.world, this.state, show, atMs);
    // What ends, ends in the rig in which it began.
    const before = this.world;
    this.recorder.showIs(show, atMs, effects);
    this.state = state;
    this.carryOut(effects, atMs, before);
    this.outbox.standInsOf(world);
    this.world = world;
    this.link.rigChanged();
    this.lineCheck.rigChanged();
    this.isSceneEdited = this.recalledIn !== null && isUnsent(this.recalledIn, world, this.state);
    if (before.show.rig !== show.rig) this.ports.useRig(portsOfRig(world));
    this.witness?.changed();
    this.touch();
  }

  /** Shows that come wait from now on, until what was kept of the evening is there. */
  hold(): void {
    this.isHeld = true;
  }

  /** @param bring brings back what was kept; what came meanwhile comes after it. */
  release(bring: () => void): void {
    this.isHeld = false;
    bring();
    if (this.heldShow) this.setShow(this.heldShow);
    this.heldShow = null;
  }

  /**
   * Goes on where a bookmark says, after the page was away. Nothing is sent.
   * @param standIns as `keptStandIns` gave them.
   */
  resume(bookmark: Bookmark, awayMs: number, standIns: Readonly<Record<string, unknown>>): void {
    this.command({ kind: 'resume', bookmark, awayMs });
    this.outbox.bringBack(standIns, this.clockOf.now() - awayMs);
    // Stand-ins are there at once; a port is when it is found.
    for (const portId of this.state.lostPorts)
      if (this.ports.stateOf(portId) === 'unbound')
        this.command({ kind: 'port-found', portId, isToldAgain: false });
    if (this.state.position.sceneId !== null) this.awayMs = awayMs;
    this.recalledIn = this.world;
    this.touch();
  }

  /**
   * Shows what another window plays; nothing is done here until it ends.
   * @param show what that window plays, where it is another one than before.
   * @param byMs how much later the same moment is on this window's clock, in ms.
   */
  follow(show: Show | null, followed: Followed, byMs: number): void {
    if (!this.isFollowing) {
      this.isFollowing = true;
      this.heldShow = this.world.show;
      this.clockOf.wakeAt(null);
    }
    if (show) this.adopt(show);
    this.state = followedState(this.world, this.state, followed, byMs, this.clockOf.now());
    this.recalledIn = null;
    this.isSceneEdited = false;
    this.touch();
  }

  /** Goes on by itself from where the other window stood. @returns whether it followed one. */
  unfollow(): boolean {
    if (!this.isFollowing) return false;
    const nowMs = this.clockOf.now();
    const bookmark = bookmarkOf(this.world, this.state, nowMs);
    this.isFollowing = false;
    const { here, view } = this.state;
    this.state = { ...initialState(this.world, nowMs), here, view };
    this.command({ kind: 'resume', bookmark, awayMs: 0 });
    if (this.heldShow) this.adopt(this.heldShow);
    this.heldShow = null;
    return true;
  }

  /** The stand-ins by device, on a clock that shows 0 now. */
  keptStandIns(): Record<string, StandInState> {
    return this.outbox.kept(this.clockOf.now());
  }

  setTellsAgain(on: boolean): void {
    this.tellsAgain = on;
  }

  /** Who is told of presses in place of the rig; `null` ends it. */
  practiseWith(practise: ((controlId: string) => void) | null): void {
    this.practise = practise;
  }

  /** Who keeps how the rig stands now as a scene. */
  captureWith(capture: ((songId: string, sceneId: string) => void) | null): void {
    this.onCapture = capture;
  }

  /** Lets time go at another pace: what waits is due at another moment of the computer's clock. */
  atPace(change: () => void): void {
    change();
    this.clockOf.paceChanged();
  }

  /** What was said of an edit of the scene in play is read; the scene stays as it was sent. */
  setEditAside(): void {
    this.recalledIn = this.world;
    this.isSceneEdited = false;
    this.touch();
  }

  /** What was said of having been away is read. */
  setAwayAside(): void {
    this.awayMs = null;
    this.touch();
  }

  /** Where playing stands at this moment, in full. */
  now(): { readonly world: World; readonly state: LiveState } {
    return { world: this.world, state: this.state };
  }

  /** A key of the computer, by its usage number, goes down or up. */
  key(number: number, isDown: boolean): void {
    if (this.inbox.heard) {
      this.inbox.heard = [...this.inbox.heard, { atMs: this.clockOf.now(), key: number, isDown }];
      this.touch();
    } else if (!this.lineCheck.key(number, isDown)) this.command({ kind: 'key', number, isDown });
  }

  /** Whether a key belongs to a board, or is listened to while a control is learned. */
  hearsKey(number: number): boolean {
    return this.inbox.heard !== null || this.world.keys.has(number);
  }

  command(command: Command): void {
    if (command.kind === 'panic' && this.ports.status.kind === 'elsewhere') this.otherWindow?.panic();
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
    this.inbox.receive([portId], bytes, this.clockOf.now(), false);
  }

  /** What a stand-in answers arrives in the time that its bytes take on their way back; without a cable back, nowhere. */
  private answer(device: Device, reply: Message): void {
    const portId = this.world.backs.get(device.id);
    const link = this.world.ways.get(device.id)?.path?.link ?? 'usb';
    if (portId === undefined) return;
    const bytes = encode(reply);
    this.clockOf.after(bytes.length * msPerByte(link), () => this.hear(portId, bytes));
  }

  /** Sends what is no part of playing, as a dump is, and writes it down. */
  private sendAside(portId: string, message: Message, isTaken: boolean): void {
    const atMs = this.clockOf.now();
    this.outbox.send(
      this.world,
      { kind: 'send', portId, message, functionId: null, routeId: null, dueMs: atMs, atMs },
      atMs,
      atMs,
      isTaken,
    );
    this.touch();
  }

  /** Why this window hears no feet now, or `null`. */
  private cannotListen(): string | null {
    return this.ports.status.kind === 'elsewhere' || this.isFollowing
      ? 'Another window of this browser plays and has the ports. Press Play here first.'
      : null;
  }

  /** Why this window sends nothing now, or `null`. */
  private cannotSend(): string | null {
    const why = this.cannotListen();
    if (why !== null) return why;
    return this.state.here['hands-off']
      ? 'Hands are off: nothing leaves by real ports. Switch hands off off first.'
      : null;
  }

  /** Begins or ends looking at what is touched. */
  lookAround(on: boolean): void {
    this.inbox.seen = on ? [] : null;
    this.ports.hearAll(on || this.inbox.heard !== null);
    this.touch();
  }

  /**
   * Begins (anew) or ends learning. Meanwhile what is pressed only tells what it is: nothing follows from it, and what
   * was held before still ends. @param keeps what was heard already and belongs to what is learned next.
   */
  learn(on: boolean, keeps: HeardSince | null = null): void {
    this.inbox.heard = !on ? null : keeps ? heardSince(this.inbox.heard ?? [], keeps) : [];
    this.inbox.unheardPorts.clear();
    this.ports.hearAll(on || this.inbox.seen !== null);
    if (this.state.learning !== on) this.command({ kind: 'learn', on });
    this.touch();
  }

  /** What was heard since learning began, up to this moment: the snapshot may be a frame behind. */
  heardNow(): readonly Heard[] | null {
    return this.inbox.heard;
  }

  /** Tells every position of what is moved as it arrives, however seldom the page is drawn; `null` tells nobody. */
  watchRaws(take: ((raws: LiveState['raws']) => void) | null): void {
    this.onRaws = take;
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

  private foundPort(portId: string, name: string, isAgain: boolean): void {
    this.command({ kind: 'port-found', portId, isToldAgain: isAgain && this.tellsAgain });
    // Lamps went dark with the plug, or were lit by a page that is gone.
    this.command({ kind: 'lamps' });
    if (!isAgain) return;
    this.inbox.forgetHalf(portId);
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
    if (this.isFollowing) {
      this.runOwn(event);
      return;
    }
    if (this.practise && this.isPractised(event, this.practise)) return;
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
    const { raws } = this.state;
    this.state = done.state;
    if (raws !== done.state.raws) this.onRaws?.(done.state.raws);
    this.recorder.took(timed, done.effects);
    this.routeTraffic.take(done.effects, timed.atMs);
    // What ends when hands go off still leaves; what lamps are told when they are back leaves already.
    const isHandsOff = done.state.here['hands-off'];
    if (!isHandsOff) this.outbox.isHandsOff = false;
    this.carryOut(
      done.effects,
      timed.leavesMs,
      this.world,
      event.kind === 'tick' ? timed.leavesMs : undefined,
    );
    this.outbox.isHandsOff = isHandsOff;
    this.touch();
  }

  /** In a window that follows another one: what it shows and does on this computer is its own, and nothing else is done. */
  private runOwn(event: LiveEvent): void {
    if (event.kind !== 'command') return;
    const { kind } = event.command;
    if (kind === 'view' || kind === 'here') {
      const { view, here } = step(this.world, initialStateOf(this.world, this.state), event).state;
      this.state = { ...this.state, view, here };
    } else if (PLAYED_BY.has(kind))
      this.said = 'This window follows the one that plays. Press Play here to play by this one.';
    this.touch();
  }

  /** While somebody practises, what is pressed is only told to whoever asks. @returns whether it was taken so. */
  private isPractised(event: LiveEvent, practise: (controlId: string) => void): boolean {
    const { world } = this;
    const press = pressOf(world, event);
    if (!press) return false;
    if (press.isDown) practise(press.controlId);
    return true;
  }

  /** @param fromMs what leaves later than this was due then: ports are handed it with its stamp. All else leaves at once. */
  private carryOut(
    effects: readonly Effect[],
    atMs: number,
    world: World,
    fromMs = Math.max(atMs, this.state.atMs),
  ): void {
    let wakeMs: number | null = null;
    let untaken = 0;
    for (const effect of effects) {
      switch (effect.kind) {
        case 'send':
          if (!this.outbox.send(world, effect, atMs, fromMs)) untaken++;
          break;
        case 'wake':
          wakeMs = effect.atMs;
          break;
        case 'note':
          this.addNote(effect.note, world);
          break;
        case 'capture':
          this.onCapture?.(effect.songId, effect.sceneId);
          break;
        case 'lamp':
        case 'routed':
          break;
      }
    }
    this.clockOf.wakeAt(wakeMs);
    this.witness?.changed();
    this.lastPress = lastPressAfter(this.lastPress, this.state, effects, untaken, this.clockOf.wallMs());
  }

  /** Says something of what is played, for the log and the screen. */
  note(note: LiveNote): void {
    this.addNote(note, this.world);
  }

  private addNote(note: LiveNote, world: World): void {
    if (note.code === 'recalled') {
      this.lastRecallMs = note.settlesInMs;
      this.awayMs = null;
      this.recalledIn = world;
      this.isSceneEdited = false;
    }
    this.witness?.noted(note, world);
    if (note.code === 'pressed') this.said = null;
    else this.addSentence(note.code, noteSentence(note, world));
  }

  private addSentence(code: LiveNote['code'] | 'endless', sentence: string): void {
    this.log.add({ kind: 'note', code, sentence, atMs: this.clockOf.now(), wallMs: this.clockOf.wallMs() });
    if (code === 'recalled') this.said = null;
    // A cue that goes by stands in the time line.
    else if (code !== 'cue') this.said = sentence;
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
      said: this.said,
      portsStatus: this.ports.status,
      ports: this.portList,
      portCounts: this.portCounts,
      seen: this.inbox.seen,
      heard: this.inbox.heard,
      routeCounts: this.routeTraffic.all,
      routedPairs: this.routeTraffic.last,
      isHeard: this.sound.isOn,
      awayMs: this.awayMs,
      isSceneEdited: this.isSceneEdited,
      isFollowing: this.isFollowing,
    });
  }
}

/** Commands that somebody gives who plays. */
const PLAYED_BY: ReadonlySet<Command['kind']> = new Set<Command['kind']>([
  'scene',
  'go',
  'song',
  'show',
  'key',
  'bank',
  'page',
  'switch',
  'move',
  'turn',
  'set',
  'tap',
  'line',
  'cue',
  'locate',
  'loop',
  'route',
]);

/** What a window that follows switches of itself, without anything that is played. */
const initialStateOf = (world: World, { view, here, atMs }: LiveState): LiveState => ({
  ...initialState(world, atMs),
  view,
  here,
});

/** The switch that an event presses or lets go, `null` where it is something else. */
function pressOf(world: World, event: LiveEvent): { controlId: string; isDown: boolean } | null {
  if (event.kind === 'message') {
    const control = world.inputs.get(event.portId)?.get(messageKey(event.message))?.control;
    if (!control || !isPressed(control.kind)) return null;
    const { message } = event;
    const isDown =
      message.kind === 'program' ||
      (message.kind === 'controller' && message.value > 0) ||
      (message.kind === 'note-on' && message.velocity > 0);
    return { controlId: control.id, isDown };
  }
  if (event.kind !== 'command') return null;
  const { command } = event;
  if (command.kind === 'switch') return { controlId: command.controlId, isDown: command.velocity > 0 };
  const key = command.kind === 'key' ? world.keys.get(command.number) : undefined;
  return key && command.kind === 'key' ? { controlId: key.control.id, isDown: command.isDown } : null;
}

/** What was heard from a moment on; where its input has been bound to a port meanwhile, as heard at that port. */
export type HeardSince = {
  readonly sinceMs: number;
  readonly moved: { readonly from: string; readonly to: string } | null;
};

const heardSince = (heard: readonly Heard[], { sinceMs, moved }: HeardSince): readonly Heard[] =>
  heard
    .filter((h) => h.atMs >= sinceMs)
    .map((h) => ('portId' in h && moved && h.portId === moved.from ? { ...h, portId: moved.to } : h));

/** What each port at the computer is for: a hub's or a keyboard's is heard, an interface's output sends. */
function portsOfRig({ show }: World): RigPorts {
  const ids = (ports: ReturnType<typeof inputsAtComputer>) => new Set(ports.map((at) => at.port.id));
  const heard = ids(inputsAtComputer(show.rig));
  const sending = ids(outputsAtComputer(show.rig));
  return new Map(
    [...heard, ...sending].map((id) => [id, { hears: heard.has(id), sends: sending.has(id) }] as const),
  );
}
