import { controller, noteOn, program, realTime } from '@idle-step/core/midi';
import { describe, expect, it } from 'vitest';
import { FakeAccess, FakeInput, FakeOutput, hostOf } from './fakeMidi.test-support';
import { MidiPorts, type PortsHost, type PortsListener } from './midiPorts';

/** Somebody who listens to nothing. */
const DEAF: PortsListener = {
  received: () => undefined,
  receivedUnbound: () => undefined,
  found: () => undefined,
  lost: () => undefined,
  changed: () => undefined,
};

describe('bindings are one relation', () => {
  async function opened() {
    const access = new FakeAccess();
    const heard: string[] = [];
    const listener = {
      received: (portIds: readonly string[], bytes: Uint8Array) =>
        void heard.push(`${portIds.join('+')} ${bytes[0]}`),
      receivedUnbound: (name: string, bytes: Uint8Array) => void heard.push(`? ${name} ${bytes[0]}`),
      found: (portId: string, _name: string, isAgain: boolean) => {
        if (isAgain) heard.push(`${portId} again`);
      },
      lost: (portId: string) => void heard.push(`${portId} lost`),
      changed: () => undefined,
    };
    const ports = new MidiPorts(listener, hostOf(access));
    await ports.open();
    const from = (name: string): string[] => {
      heard.length = 0;
      access.inputs.get(name)!.deliver([0xf8], 0);
      return [...heard];
    };
    return { access, ports, heard, from };
  }

  it('two that are swapped, one after the other, both hear', async () => {
    const { ports, from } = await opened();
    ports.bind('a', 'X');
    ports.bind('b', 'Y');
    ports.bind('a', 'Y');
    ports.bind('b', 'X');
    expect([from('X'), from('Y')]).toEqual([['b 248'], ['a 248']]);
  });

  it('of two on one input, unbinding one leaves the other hearing', async () => {
    const { ports, from } = await opened();
    ports.bind('a', 'X');
    ports.bind('b', 'X');
    expect(from('X')).toEqual(['a+b 248']);
    ports.bind('a', null);
    expect(from('X')).toEqual(['b 248']);
    ports.bind('b', null);
    expect(from('X')).toEqual([]);
  });

  it('an answer of the browser that comes after they were left to another window opens none', async () => {
    const access = new FakeAccess();
    const answers: (() => void)[] = [];
    const requestAccess = () =>
      new Promise<MIDIAccess>((resolve) => answers.push(() => resolve(access as unknown as MIDIAccess)));
    const ports = new MidiPorts(DEAF, { ...hostOf(access), requestAccess });
    ports.bind('a', 'X');
    const open = ports.open();
    ports.leaveToOther();
    answers[0]!();
    await open;
    expect([ports.status.kind, access.inputs.get('X')!.onmidimessage]).toEqual(['elsewhere', null]);
    const again = ports.open();
    answers[1]!();
    await again;
    expect(ports.status.kind).toBe('on');
    expect(access.inputs.get('X')!.onmidimessage).not.toBeNull();
  });

  it('one that is pulled out and put in again is bound again and says so', async () => {
    const { access, ports, heard, from } = await opened();
    ports.bind('a', 'X');
    const input = access.inputs.get('X')!;
    access.plug(input, 'disconnected');
    expect([heard.splice(0), from('X')]).toEqual([['a lost'], []]);
    access.plug(input, 'connected');
    expect(heard).toContain('a again');
    expect(from('X')).toEqual(['a 248']);
  });

  it('a port of the rig is heard and sent to as the rig in play says, also when that changes', async () => {
    const { access, ports, from } = await opened();
    ports.bind('a', 'X');
    const use = (hears: boolean, sends: boolean) => ports.useRig(new Map([['a', { hears, sends }]]));
    const sends = (): boolean => {
      const { sent } = access.outputs.get('Out')!;
      const before = sent.length;
      const isTaken = ports.send('a', realTime('start'));
      expect(sent.length - before).toBe(isTaken ? 1 : 0);
      return isTaken;
    };
    use(true, false);
    expect(from('X')).toEqual(['a 248']);
    use(false, false);
    expect(from('X')).toEqual([]);
    use(true, false);
    expect(from('X')).toEqual(['a 248']);
    use(false, true);
    ports.bind('a', 'Out');
    expect(sends()).toBe(true);
    use(false, false);
    expect(sends()).toBe(false);
    use(false, true);
    expect(sends()).toBe(true);
    // Told the same once more nothing is bound anew.
    const { onmidimessage } = access.inputs.get('X')!;
    use(false, true);
    expect([access.inputs.get('X')!.onmidimessage, sends()]).toEqual([onmidimessage, true]);
    ports.useRig(new Map([['b', { hears: true, sends: true }]]));
    expect(sends()).toBe(false);
  });

  it('what nothing is bound to is heard only while all are', async () => {
    const { access, ports, from } = await opened();
    ports.bind('a', 'X');
    expect(from('Y')).toEqual([]);
    ports.hearAll(true);
    expect(from('Y')).toEqual(['? Y 248']);
    expect(from('X')).toEqual(['a 248']);
    ports.bind('b', 'Y');
    expect(from('Y')).toEqual(['b 248']);
    // Pulled out and plugged in again while learning: heard once, as before.
    const y = access.inputs.get('Y')!;
    ports.bind('b', null);
    access.plug(y, 'disconnected');
    access.plug(y, 'connected');
    expect(from('Y')).toEqual(['? Y 248']);
    ports.hearAll(false);
    expect(from('Y')).toEqual([]);
  });

  it('what is handed over ahead has its stamp, and nothing newer of the same thing leaves before it', async () => {
    const { access, ports } = await opened();
    ports.bind('a', 'Out');
    ports.bind('b', 'Out');
    const { stamps } = access.outputs.get('Out')!;
    const soon = performance.now() + 60_000;
    const tick = realTime('clock');
    ports.send('a', tick);
    ports.send('a', tick, performance.now() - 5);
    ports.send('a', tick, soon);
    ports.send('a', controller(0, 7, 1), soon);
    // By another port of the rig, at the same output: a press, and something planned for before.
    ports.send('b', controller(0, 7, 2));
    ports.send('b', controller(0, 7, 3), soon - 1000);
    ports.send('a', tick, soon + 10);
    ports.send('a', realTime('stop'));
    expect(stamps).toEqual([undefined, undefined, soon, soon, soon, soon, soon + 10, soon + 10]);
    // Nothing to do with it: at once, and so is what may not stand behind that.
    stamps.length = 0;
    ports.send('b', controller(0, 11, 5));
    ports.send('b', noteOn(0, 60, 90));
    ports.send('b', program(1, 3));
    // A new sound on the channel waits for what was said to the one before, and the note that is played on it for both.
    ports.send('b', program(0, 3));
    ports.send('b', noteOn(0, 62, 90));
    expect(stamps).toEqual([undefined, undefined, undefined, soon, soon]);
  });

  it('a port is found once when it is first there, and again when it was gone', async () => {
    const access = new FakeAccess();
    const found: string[] = [];
    const ports = new MidiPorts(
      {
        ...DEAF,
        found: (portId, name, isAgain) => void found.push(`${portId} ${name} ${isAgain ? 'again' : 'first'}`),
        lost: (portId) => void found.push(`${portId} lost`),
      },
      hostOf(access),
    );
    await ports.open();
    ports.bind('a', 'Out');
    ports.bind('b', 'X');
    const out = access.outputs.get('Out')!;
    for (const state of ['disconnected', 'connected'] as const) access.plug(out, state);
    expect(found).toEqual(['a Out first', 'b X first', 'a lost', 'a Out again']);
  });

  it('what is remembered and is no binding is left alone', async () => {
    for (const text of ['null', '3', '"x"', '{"a":4}', '{']) {
      const access = new FakeAccess();
      const host = hostOf(access);
      host.storage.setItem('idle-step.ports', text);
      const ports = new MidiPorts(DEAF, host);
      await ports.open();
      expect(ports.boundName('a')).toBeNull();
    }
  });
});

describe('ports of the browser', () => {
  async function openedWith(access: FakeAccess, host: PortsHost = hostOf(access)) {
    const heard: string[] = [];
    const ports = new MidiPorts(
      { ...DEAF, received: (portIds, bytes) => void heard.push(`${portIds.join('+')} ${bytes[0]}`) },
      host,
    );
    await ports.open();
    return { ports, heard };
  }
  const of = (...ports: FakeInput[]) => new Map(ports.map((p) => [p.id, p]));

  it('of one name and maker are numbered, of two makers named by them', async () => {
    const access = new FakeAccess();
    const [one, two, other] = [
      new FakeInput('Box', '1', 'Alder'),
      new FakeInput('Box', '2', 'Alder'),
      new FakeInput('Pad', '3', 'Birch'),
    ];
    Object.assign(access, { inputs: of(one, two, other), outputs: new Map() });
    const { ports, heard } = await openedWith(access);
    expect(ports.list().map((p) => p.name)).toEqual(['Box', 'Box (2)', 'Pad']);
    ports.bind('a', 'Box (2)');
    one.deliver([0xf8], 0);
    two.deliver([0xfa], 0);
    expect(heard).toEqual(['a 250']);
    const elm = new FakeInput('Box', '4', 'Elm');
    access.inputs.set('4', elm);
    expect(ports.list().map((p) => p.name)).toEqual(['Box, Alder', 'Box (2), Alder', 'Pad', 'Box, Elm']);
    expect(ports.boundName('a')).toBe('Box (2), Alder');
  });

  it('one that is plugged in again as another port is the same one, by its name', async () => {
    const access = new FakeAccess();
    const { ports, heard } = await openedWith(access);
    ports.bind('a', 'X');
    access.plug(access.inputs.get('X')!, 'disconnected');
    expect([ports.stateOf('a'), ports.boundName('a'), ports.boundPorts()]).toEqual([
      'absent',
      'X',
      { bound: 1, missing: ['X'] },
    ]);
    const back = new FakeInput('X', 'another id');
    access.inputs.set('another id', back);
    access.plug(back, 'connected');
    back.deliver([0xfa], 0);
    expect([ports.stateOf('a'), heard]).toEqual(['present', ['a 250']]);
    expect(ports.boundPorts()).toEqual({ bound: 1, missing: [] });
  });

  it('are bound as on the last visit, also where only the name that is shown was kept then', async () => {
    const access = new FakeAccess();
    access.inputs.set('2', new FakeInput('X', '2'));
    const host = hostOf(access);
    host.storage.setItem('idle-step.ports', JSON.stringify({ a: 'Y', b: 'X (2)', c: 'Gone (1)' }));
    const { ports, heard } = await openedWith(access, host);
    access.inputs.get('Y')!.deliver([0xf8], 0);
    access.inputs.get('2')!.deliver([0xfa], 0);
    expect(heard).toEqual(['a 248', 'b 250']);
    expect(['a', 'b', 'c', 'd'].map((id) => [ports.stateOf(id), ports.boundName(id)])).toEqual([
      ['present', 'Y'],
      ['present', 'X (2)'],
      ['absent', 'Gone (1)'],
      ['unbound', null],
    ]);
    // The next visit opens them without a question, and one that never opened any does not.
    const again = new MidiPorts(DEAF, host);
    await again.resume();
    expect([again.status.kind, again.stateOf('b')]).toEqual(['on', 'present']);
    const fresh = new MidiPorts(DEAF, hostOf(access));
    await fresh.resume();
    expect(fresh.status.kind).toBe('off');
  });

  it('one that another program holds is busy until it opens', async () => {
    const access = new FakeAccess();
    const x = access.inputs.get('X')!;
    x.isHeld = true;
    const { ports } = await openedWith(access);
    ports.bind('a', 'X');
    await Promise.resolve();
    await Promise.resolve();
    expect(ports.stateOf('a')).toBe('busy');
    x.isHeld = false;
    access.plug(x, 'connected');
    await Promise.resolve();
    await Promise.resolve();
    expect(ports.stateOf('a')).toBe('present');
  });

  it('are counted once each, and share what is bound to the same way only', async () => {
    const access = new FakeAccess();
    access.outputs.set('X', new FakeOutput('X', 'X out'));
    const { ports } = await openedWith(access);
    const both = { hears: true, sends: true };
    ports.useRig(
      new Map([
        ['in', { hears: true, sends: false }],
        ['in 2', { hears: true, sends: false }],
        ['out', { hears: false, sends: true }],
        ['both', both],
      ]),
    );
    expect([ports.isAnyBound, ports.counts()]).toEqual([false, { in: 0, out: 0 }]);
    for (const id of ['in', 'in 2', 'out', 'not of this rig']) ports.bind(id, 'X');
    expect([ports.isAnyBound, ports.counts()]).toEqual([true, { in: 1, out: 1 }]);
    expect([ports.sharing('in'), ports.sharing('out'), ports.sharing('both')]).toEqual([['in 2'], [], []]);
    ports.bind('both', 'X');
    expect(ports.sharing('both')).toEqual(['in', 'in 2', 'out']);
    expect(ports.sharing('not of this rig')).toEqual([]);
  });

  it('one that vanishes between the look and the message takes none', async () => {
    const access = new FakeAccess();
    const out = access.outputs.get('Out')!;
    const { ports } = await openedWith(access);
    ports.bind('a', 'Out');
    expect(ports.send('a', realTime('start'))).toBe(true);
    out.send = () => {
      throw new DOMException('gone', 'InvalidStateError');
    };
    expect(ports.send('a', realTime('start'))).toBe(false);
    out.state = 'disconnected';
    expect([ports.send('a', realTime('start')), ports.send('b', realTime('start'))]).toEqual([false, false]);
    expect(out.sent).toHaveLength(1);
  });

  it.each<[string, PortsHost['requestAccess'], string]>([
    ['a browser without them', null, 'This browser has no MIDI ports; everything works with the stand-ins.'],
    [
      'a person who says no',
      () => Promise.reject(new DOMException('no', 'NotAllowedError')),
      'The browser was told not to open MIDI ports; everything works with the stand-ins.',
    ],
    [
      'a page that may not ask',
      () => Promise.reject(new DOMException('no', 'SecurityError')),
      'The browser was told not to open MIDI ports; everything works with the stand-ins.',
    ],
    [
      'a computer whose MIDI does not start',
      () => Promise.reject(new Error('no sequencer')),
      'The MIDI system of this computer did not start; everything works with the stand-ins.',
    ],
  ])('there are none with %s, and it says why', async (_, requestAccess, why) => {
    const access = new FakeAccess();
    const { ports } = await openedWith(access, { ...hostOf(access), requestAccess });
    expect(ports.status).toEqual({ kind: 'none', why });
    expect([ports.list(), ports.isAnyBound, ports.send('a', realTime('start'))]).toEqual([[], false, false]);
  });

  it('work without a place to remember them in', async () => {
    const access = new FakeAccess();
    const storage = {
      getItem: () => null,
      setItem: () => {
        throw new DOMException('full', 'QuotaExceededError');
      },
    };
    const { ports, heard } = await openedWith(access, { ...hostOf(access), storage });
    ports.bind('a', 'X');
    access.inputs.get('X')!.deliver([0xf8], 0);
    expect([ports.status.kind, heard]).toEqual(['on', ['a 248']]);
  });
});
