import type { Board, Preset } from '../floor';
import type { Device } from '../gear';
import { encode, hex, type Message } from '../midi';
import { cable, makeDevice, makePort, makeRig } from '../testing.test-support';
import {
  changeShow,
  compileWorld,
  initialState,
  step,
  type Command,
  type Effect,
  type LiveEvent,
  type LiveState,
  type Show,
  type World,
} from './index';

/** Shows and worlds that are played in tests. */

export const makeShow = (rig: Show['rig'], part: Partial<Show> = {}): Show => ({
  rig,
  presets: [],
  setName: '',
  songs: [],
  ...part,
});

export const worldOf = (rig: Show['rig'], part: Partial<Show> = {}): World =>
  compileWorld(makeShow(rig, part));

type Boards = { readonly device: Device; readonly board: Board; readonly preset: Preset };

/** One device on channel 1 behind the port `out` of the computer, and a board beside it. */
export function showWithGear(
  gear: Partial<Device>,
  { device, board, preset }: Boards,
  link: 'usb' | 'din' = 'usb',
): Show {
  const out = makePort({ id: 'out', direction: 'out', link, atComputer: true });
  const gearIn = makePort({ id: 'gear-in', direction: 'in', link });
  const ports = gear.ports?.length ? gear.ports : [gearIn];
  const own = makeDevice({ id: 'gear', channel: 0, ...gear, ports });
  const box = makeDevice({ id: 'box', role: 'carrier', ports: [out] });
  return makeShow(makeRig([device, box, own], [cable(out, own.ports[0] ?? gearIn)], [board]), {
    presets: [preset],
  });
}

export type Sent = {
  /** When it was handed over, and when it leaves, in ms. */
  readonly handedMs: number;
  readonly atMs: number;
  readonly portId: string;
  readonly message: Message;
};

/** A world that is played, event by event. */
export class Playing {
  world: World;
  state: LiveState;
  /** What the last event brought about. */
  effects: readonly Effect[] = [];
  /** Everything that was sent, also as times to a thousandth of a ms with bytes. Example: `100 B0 15 01`. */
  readonly messages: Sent[] = [];
  readonly sent: string[] = [];
  /** The codes of all notes. */
  readonly codes: string[] = [];
  /** When it wants to be woken; never is infinite. */
  wakeMs = Infinity;

  constructor(of: World | Show, atMs = 0) {
    this.world = 'show' in of ? of : compileWorld(of);
    this.state = initialState(this.world, atMs);
  }

  run(event: LiveEvent): this {
    return this.take(event.atMs, step(this.world, this.state, event));
  }

  hear(atMs: number, message: Message, portId = 'board-out'): this {
    return this.run({ kind: 'message', atMs, portId, message });
  }

  do(atMs: number, command: Command): this {
    return this.run({ kind: 'command', atMs, command });
  }

  tick(atMs: number): this {
    return this.run({ kind: 'tick', atMs });
  }

  /** A tick whenever one is asked for, up to a time. */
  wait(untilMs: number): this {
    while (this.wakeMs <= untilMs) this.tick(this.wakeMs);
    return this;
  }

  edit(atMs: number, show: Show): this {
    const changed = changeShow(this.world, this.state, show, atMs);
    this.world = changed.world;
    return this.take(atMs, changed);
  }

  private take(handedMs: number, done: { state: LiveState; effects: readonly Effect[] }): this {
    this.state = done.state;
    this.effects = done.effects;
    this.wakeMs = Infinity;
    for (const e of done.effects) {
      if (e.kind === 'wake') this.wakeMs = e.atMs;
      if (e.kind === 'note') this.codes.push(e.note.code);
      if (e.kind !== 'send') continue;
      const { atMs, portId, message } = e;
      this.messages.push({ handedMs, atMs, portId, message });
      this.sent.push(`${Math.round(atMs * 1000) / 1000} ${hex(encode(message))}`);
    }
    return this;
  }

  /** What was sent since it was asked last. */
  fresh(): string[] {
    return this.sent.splice(0);
  }

  /** What the last event sent, with its port. Example: `out B0 15 01`. */
  lastSent(): string[] {
    return this.effects.flatMap((e) => (e.kind === 'send' ? `${e.portId} ${hex(encode(e.message))}` : []));
  }
}

/** Plays events as they are given, with no tick between them. */
export function play(world: World, events: readonly LiveEvent[]) {
  const playing = new Playing(world);
  for (const event of events) playing.run(event);
  return playing;
}
