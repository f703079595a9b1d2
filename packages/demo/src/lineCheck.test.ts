import {
  checkAgain,
  checkDueMs,
  checkOn,
  checkSentence,
  checkThings,
  dueThing,
  learnedIn,
  rightCount,
  startCheck,
  type CheckedControl,
  type CheckEvent,
  type Found,
  type LineCheck,
} from '@idle-step/core/check';
import { compileWorld } from '@idle-step/core/engine';
import type { Control } from '@idle-step/core/floor';
import { PLAIN_FUNCTION, PLAIN_PORT, type Device } from '@idle-step/core/gear';
import { controller, encode, noteOn, parseBytes, sysex, type Message } from '@idle-step/core/midi';
import { pedalBytes, switchBytes } from '@idle-step/core/standins';
import { describe, expect, it } from 'vitest';
import { seeded } from '../../core/src/seeded.test-support';
import { demoPresets, demoRig, demoSets, demoSongs } from './index';

const songs = demoSets[0]!.entries.flatMap((e) =>
  e.kind === 'song' ? demoSongs.filter((s) => s.id === e.songId) : [],
);
const demoWorld = compileWorld({ rig: demoRig, presets: demoPresets, setName: '', songs });

/** The demo's boards with lamps that are reached, and two devices that answer when they are asked. */
const lit = (control: Control): Control => ({
  ...control,
  hardware: { ...control.hardware, lamp: { off: 0, on: 127, blink: null } },
});
const withIn = (d: Device): Device => ({
  ...d,
  ports: [
    ...d.ports,
    { ...PLAIN_PORT, id: `${d.id} in`, name: 'lamps', direction: 'in', link: 'usb', atComputer: true },
  ],
});
const asker = (id: string): Device => ({
  ...demoRig.devices.find((d) => d.role === 'receiver')!,
  id,
  name: id,
  standIn: null,
  ports: [
    { ...PLAIN_PORT, id: `${id} in`, name: 'in', direction: 'in', link: 'usb', atComputer: true },
    { ...PLAIN_PORT, id: `${id} out`, name: 'out', direction: 'out', link: 'usb', atComputer: true },
  ],
  chart: [
    {
      ...PLAIN_FUNCTION,
      id: `${id} row`,
      name: 'Drive',
      drive: { kind: 'controller', controller: 20 },
      shape: { kind: 'switch', off: 0, on: 127 },
      request: 'F0 7E 7F 06 01 F7',
    },
  ],
});
const boardDevices = new Set(demoRig.boards.map((b) => b.deviceId));
const world = compileWorld({
  rig: {
    ...demoRig,
    boards: demoRig.boards.map((b) => ({ ...b, controls: b.controls.map(lit) })),
    devices: [
      ...demoRig.devices.map((d) => (boardDevices.has(d.id) ? withIn(d) : d)),
      asker('Askable 1'),
      asker('Askable 2'),
    ],
  },
  presets: demoPresets,
  setName: '',
  songs,
});

type Faults = Readonly<Record<string, Found>>;

/** Whoever stands at the boards: presses what is due, one after the other, and is heard as its hardware says it. */
class Feet {
  nowMs = 1000;
  presses = 0;
  sweeps = 0;
  check: LineCheck;
  readonly sent: { portId: string; message: Message }[] = [];

  constructor(
    of: typeof world,
    private readonly faults: Faults,
    private readonly random = seeded(1),
    onlyUsed = false,
  ) {
    const begun = startCheck(checkThings(of, onlyUsed), 'in-order', this.nowMs);
    this.check = begun.check;
    this.take(begun.send);
  }

  /** Is called after every event. */
  watch: (check: LineCheck) => void = () => undefined;

  event(event: CheckEvent): void {
    const { check, send } = checkOn(this.check, event);
    this.check = check;
    this.take(send);
    this.watch(check);
  }

  private take(send: readonly { portId: string; message: Message }[]): void {
    this.sent.push(...send);
    // A device hears its question and answers, unless it is broken.
    for (const { portId, message } of send)
      if (message.kind === 'sysex' && portId.endsWith(' in') && portId.startsWith('Askable')) {
        const id = portId.slice(0, -3);

        if (this.faults[id] !== 'no-answer')
          this.answers.push({ portId: `${id} out`, atMs: this.nowMs + 20 });
      }
  }
  private readonly answers: { portId: string; atMs: number }[] = [];

  /** Lets time go, with all that falls due. */
  wait(ms: number): void {
    const end = this.nowMs + ms;
    for (;;) {
      const answer = this.answers[0];
      const due = checkDueMs(this.check) ?? Infinity;
      const next = Math.min(answer?.atMs ?? Infinity, due);
      if (next > end) break;
      this.nowMs = next;
      if (answer && answer.atMs === next) {
        this.answers.shift();
        this.event({
          kind: 'message',
          atMs: next,
          portId: answer.portId,
          message: sysex([0x7e, 1, 6, 2, 0x7d]),
        });
      } else this.event({ kind: 'tick', atMs: next });
    }
    this.nowMs = end;
  }

  private say(thing: CheckedControl, bytes: readonly number[]): void {
    for (const message of parseBytes(bytes).messages)
      this.event({ kind: 'message', atMs: this.nowMs, portId: thing.portId, message });
  }

  /** What this hardware sends for its control, wrong where it is. */
  private bytesOf(
    thing: CheckedControl,
    make: (channel: number, sends: Control['sends']) => number[],
  ): number[] {
    const fault = this.faults[thing.id];
    const { sends } = thing.control;
    if (fault === 'wrong-number') return make(thing.channel, { ...sends, number: (sends.number + 64) % 120 });
    return make(fault === 'wrong-channel' ? (thing.channel + 5) % 16 : thing.channel, sends);
  }

  touch(thing: CheckedControl): void {
    if (thing.kind === 'moved') this.sweep(thing);
    else this.press(thing);
  }

  press(thing: CheckedControl, heldMs = 60 + this.random() * 120): void {
    this.presses++;
    const fault = this.faults[thing.id];
    if (fault === 'nothing') {
      this.wait(600);
      return;
    }
    const down = this.bytesOf(thing, (channel, sends) => switchBytes(channel, sends, true));
    const up = this.bytesOf(thing, (channel, sends) => switchBytes(channel, sends, false));
    this.say(thing, down);
    if (fault === 'twice') {
      this.nowMs += 3;
      if (this.random() < 0.5) this.say(thing, up);
      this.nowMs += 4;
      this.say(thing, down);
    }
    this.wait(heldMs);
    if (fault !== 'never-let-go') this.say(thing, up);
    this.wait(300 + this.random() * 500);
  }

  private sweep(thing: CheckedControl): void {
    this.sweeps++;
    const fault = this.faults[thing.id];
    const { heel, toe } = thing.control.hardware;
    const share = fault === 'short-travel' ? 0.8 : 1;
    const says = (at: number) => {
      const position = heel + (toe - heel) * at * share;
      const bytes = this.bytesOf(thing, (channel, sends) => pedalBytes(channel, sends, position));
      if (fault !== 'nothing') this.say(thing, bytes);
      if (fault === 'twice') this.say(thing, bytes);
      this.wait(20);
    };
    for (let i = 0; i <= 20; i++) says(i / 20);
    for (let i = 20; i >= 0; i--) says(i / 20);
    this.wait(400);
  }

  /** Goes through everything by feet alone, each thing once as it lies there, whatever the check says of it. */
  walk(): void {
    this.wait(1500);
    const controls = this.check.things.flatMap((t) => (t.kind === 'device' ? [] : t));
    for (const control of controls) this.touch(control);
    // What said nothing is asked for once more, and time is waited out.
    for (let i = 0; i < 200 && !this.check.isDone && !this.check.lamps; i++) {
      const due = dueThing(this.check);
      if (due && due.kind !== 'device') this.touch(due);
      this.wait(4000);
    }
    while (this.check.lamps) {
      const { boardId } = this.check.lamps;
      const own = controls.filter((c) => c.boardId === boardId && c.kind === 'switch');
      for (const c of own) if (this.faults[c.id] === 'lamp-inverted') this.press(c, 80);
      const sound = own.find((c) => this.faults[c.id] === undefined)!;
      this.press(sound, 1000);
    }
  }

  found(): Record<string, string> {
    return Object.fromEntries(
      Object.entries(this.check.results).flatMap(([id, r]) => (r.found === 'right' ? [] : [[id, r.found]])),
    );
  }
}

describe('a line check', () => {
  it('of a sound rig passes by feet alone: 14 switches in 14 presses, 2 pedals in 2 sweeps', () => {
    const feet = new Feet(demoWorld, {});
    feet.walk();
    expect([feet.check.isDone, feet.presses, feet.sweeps, feet.found()]).toEqual([true, 14, 2, {}]);
    expect(rightCount(feet.check)).toBe(16);
  });

  const controls = checkThings(world).flatMap((t) => (t.kind === 'device' ? [] : t));
  const switches = controls.filter((c) => c.kind === 'switch').map((c) => c.id);
  const pedals = controls.filter((c) => c.kind === 'moved').map((c) => c.id);
  const OF_SWITCHES = [
    'wrong-number',
    'wrong-channel',
    'nothing',
    'twice',
    'never-let-go',
    'lamp-inverted',
  ] as const;
  const OF_PEDALS = ['wrong-number', 'wrong-channel', 'nothing', 'twice', 'short-travel'] as const;

  it.each([
    ...OF_SWITCHES.map((f) => [f, switches[2]!] as const),
    ...OF_PEDALS.map((f) => [f, pedals[0]!] as const),
    ['no-answer', 'Askable 1'] as const,
  ])('finds one fault: %s at %s', (fault, id) => {
    const feet = new Feet(world, { [id]: fault });
    feet.walk();
    expect([feet.check.isDone, feet.found()]).toEqual([true, { [id]: fault }]);
    const thing = feet.check.things.find((t) => t.id === id)!;
    expect(checkSentence(thing, feet.check.results[id]!, 4)).not.toBe('');
  });

  it('finds 30 planted faults, each kind at least twice, and names each right', () => {
    const count = new Map<Found, number>();
    const walk = (seed: number, faults: Faults) => {
      const feet = new Feet(world, faults, seeded(seed));
      feet.walk();
      expect([feet.check.isDone, feet.found()], `walk ${seed}`).toEqual([true, faults]);
      for (const fault of Object.values(faults)) count.set(fault, (count.get(fault) ?? 0) + 1);
    };
    const at = (...places: number[]) => places.map((i) => switches[i]!);
    const [a, b, c, d, e, f] = at(0, 2, 4, 7, 9, 12) as [string, string, string, string, string, string];
    walk(1, {
      [a]: 'wrong-number',
      [b]: 'wrong-channel',
      [c]: 'twice',
      [d]: 'never-let-go',
      [e]: 'nothing',
      [f]: 'lamp-inverted',
    });
    walk(2, {
      [f]: 'wrong-number',
      [e]: 'wrong-channel',
      [d]: 'twice',
      [b]: 'never-let-go',
      [c]: 'nothing',
      [a]: 'lamp-inverted',
    });
    walk(3, {
      [pedals[0]!]: 'short-travel',
      [pedals[1]!]: 'nothing',
      'Askable 2': 'no-answer',
      [a]: 'never-let-go',
    });
    walk(4, {
      [pedals[0]!]: 'wrong-channel',
      [pedals[1]!]: 'short-travel',
      'Askable 1': 'no-answer',
      [f]: 'twice',
    });
    walk(5, { [pedals[0]!]: 'twice', [pedals[1]!]: 'wrong-number', [a]: 'nothing', [b]: 'nothing' });
    walk(6, {
      [a]: 'twice',
      [b]: 'never-let-go',
      [c]: 'wrong-number',
      [d]: 'wrong-channel',
      [e]: 'lamp-inverted',
      [f]: 'nothing',
    });
    expect([...count.values()].reduce((x, y) => x + y)).toBe(30);
    expect([count.size, Math.min(...count.values())]).toEqual([8, 2]);
  });

  it('whatever is broken, what is told is what is broken (200 rigs)', () => {
    for (let seed = 1; seed <= 200; seed++) {
      const random = seeded(seed);
      const one = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
      const faults: Record<string, Found> = {};
      // The last switch of each board stays sound: somebody has to hold one when the lamps are asked for.
      const soundOnes = new Set(
        controls.filter((c, i) => controls[i + 1]?.boardId !== c.boardId).map((c) => c.id),
      );
      for (const id of switches) if (!soundOnes.has(id) && random() < 0.3) faults[id] = one(OF_SWITCHES);
      for (const id of pedals) if (random() < 0.4) faults[id] = one(OF_PEDALS);
      for (const id of ['Askable 1', 'Askable 2']) if (random() < 0.4) faults[id] = 'no-answer';
      const feet = new Feet(world, faults, random);
      feet.walk();
      expect([feet.check.isDone, feet.found()], `rig ${seed}`).toEqual([true, faults]);
    }
  });

  it('for the evening goes through what the set uses only', () => {
    const all = checkThings(demoWorld).map((t) => t.id);
    expect(checkThings(demoWorld, true).map((t) => t.id)).toEqual(all);
    // Two switches that do nothing any more, in no bank that can be got to.
    const idle = new Set([all[1], all[13]]);
    const presets = demoPresets.map((p) => ({
      ...p,
      banks: p.banks.map((b) => ({ ...b, assignments: b.assignments.filter((a) => !idle.has(a.controlId)) })),
    }));
    const fewer = compileWorld({ rig: demoRig, presets, setName: '', songs });
    expect(checkThings(fewer).map((t) => t.id)).toEqual(all);
    expect(checkThings(fewer, true).map((t) => t.id)).toEqual(all.filter((id) => !idle.has(id)));
  });

  it('lights the lamp of what is due alone, and darkens all at its end', () => {
    const feet = new Feet(world, {});
    const values = new Map<string, number>();
    const isLit: boolean[] = [];
    let heard = 0;
    feet.watch = ({ lamps }) => {
      for (const { portId, message } of feet.sent.slice(heard))
        if (message.kind === 'controller' || message.kind === 'note-on')
          values.set(`${portId} ${encode(message).slice(0, 2).join(' ')}`, encode(message)[2]!);
      heard = feet.sent.length;
      const lit = [...values].flatMap(([lamp, value]) => (value > 0 ? lamp : []));
      const due = dueThing(feet.check);
      const own =
        due && due.kind !== 'device' && due.control.hardware.lamp
          ? [`${due.lampPortId} ${switchBytes(due.channel, due.control.sends, true).slice(0, 2).join(' ')}`]
          : [];
      if (lamps === null && !feet.check.isDone) expect(lit).toEqual(own);
      isLit.push(lit.length === 1);
    };
    feet.walk();
    expect(isLit.filter(Boolean).length).toBeGreaterThan(10);
    expect(values.size).toBeGreaterThan(10);
    expect([...values.values()].every((v) => v === 0)).toBe(true);
  });

  it('says which one was pressed in place of the one that is due', () => {
    const feet = new Feet(demoWorld, {});
    const things = controls.map((c) => feet.check.things.find((t) => t.id === c.id) as CheckedControl);
    feet.press(things[5]!);
    expect([feet.check.hint?.thingId, dueThing(feet.check)?.id]).toEqual([things[5]!.id, things[0]!.id]);
    feet.press(things[0]!);
    expect([feet.check.hint, dueThing(feet.check)?.id]).toEqual([null, things[1]!.id]);
    // Twice the same means that it says what another one should.
    feet.press(things[6]!);
    feet.press(things[6]!);
    expect(feet.check.results[things[1]!.id]?.found).toBe('wrong-number');
    expect(feet.check.results[things[1]!.id]?.heard?.sends).toEqual(things[6]!.control.sends);
  });

  it('is not bothered by notes, clocks and what was held before', () => {
    const feet = new Feet(demoWorld, {});
    const [first] = feet.check.things as [CheckedControl];
    const say = (message: Message, portId = first.portId) =>
      feet.event({ kind: 'message', atMs: feet.nowMs, portId, message });
    say({ kind: 'clock' } as Message);
    say(noteOn(first.channel, 60, 100));
    say(noteOn(3, 60, 100), 'elsewhere');
    for (const message of parseBytes(switchBytes(first.channel, first.control.sends, false)).messages)
      say(message);
    feet.wait(100);
    expect([feet.check.results, dueThing(feet.check)?.id]).toEqual([{}, first.id]);
  });

  it('at random goes on until it is stopped, never with the same twice running', () => {
    const begun = startCheck(checkThings(demoWorld), 'at-random', 0, 7);
    let { check } = begun;
    const order: string[] = [];
    let atMs = 0;
    for (let i = 0; i < 48; i++) {
      const due = dueThing(check)!;
      order.push(due.id);
      check = checkOn(check, { kind: 'put-off', atMs: (atMs += 1000) }).check;
    }
    expect(new Set(order.slice(0, 16)).size).toBe(16);
    expect(order.slice(0, 16)).not.toEqual(order.slice(16, 32));
    expect(order.every((id, i) => id !== order[i + 1])).toBe(true);
    check = checkOn(check, { kind: 'stop', atMs }).check;
    expect([check.isDone, dueThing(check)]).toEqual([true, null]);
  });

  it('goes back to single ones, and takes for right what was learned anew', () => {
    const [first, second] = switches as [string, string];
    const feet = new Feet(demoWorld, { [first]: 'wrong-channel', [second]: 'nothing' });
    feet.walk();
    const { heard } = feet.check.results[first]!;
    const thing = feet.check.things.find((t) => t.id === first) as CheckedControl;
    feet.check = learnedIn(feet.check, { ...thing.control, channel: heard!.channel }, heard!.channel);
    expect(feet.found()).toEqual({ [second]: 'nothing' });
    const { check } = checkAgain(feet.check, [second], feet.nowMs);
    expect([check.isDone, dueThing(check)?.id]).toEqual([false, second]);
    const mended = new Feet(demoWorld, {});
    mended.nowMs = feet.nowMs;
    mended.check = check;
    mended.press(dueThing(check) as CheckedControl);
    expect([mended.check.isDone, mended.found()]).toEqual([true, {}]);
    expect(checkAgain(check, ['gone'], 0).check).toBe(check);
  });

  it('asks again for what was under a foot when its cable was pulled out', () => {
    const feet = new Feet(demoWorld, {});
    const [first] = controls;
    const say = (value: number) =>
      feet.event({
        kind: 'message',
        atMs: feet.nowMs,
        portId: first!.portId,
        message: controller(first!.channel, 36, value),
      });
    say(127);
    feet.event({ kind: 'port-lost', atMs: feet.nowMs, portId: 'elsewhere' });
    expect(feet.check.touch).not.toBeNull();
    feet.event({ kind: 'port-lost', atMs: feet.nowMs, portId: first!.portId });
    feet.wait(3000);
    expect([feet.check.results, dueThing(feet.check)?.id]).toEqual([{}, first!.id]);
    feet.press(first!);
    expect(feet.check.results[first!.id]?.found).toBe('right');
  });
  it('of nothing is done at once', () => {
    const none = startCheck([], 'in-order', 0).check;
    expect([none.isDone, checkDueMs(none)]).toEqual([true, null]);
  });
});
