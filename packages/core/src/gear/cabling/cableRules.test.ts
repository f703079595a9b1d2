import { describe, expect, it } from 'vitest';
import { cable, makeDevice, makeFunction, makePort, makeRig } from '../../testing.test-support';
import {
  cableFaults,
  judgeCable,
  pathsThrough,
  rigPaths,
  computerPorts,
  type Device,
  type Port,
} from '../index';

const inPort = (part: Partial<Port> = {}) => makePort({ name: 'In', direction: 'in', ...part });
const outPort = (part: Partial<Port> = {}) => makePort({ name: 'Out', direction: 'out', ...part });
const thruPort = () => makePort({ name: 'Thru', direction: 'thru' });
const board = (name: string, ...ports: Port[]) => makeDevice({ name, role: 'controller', ports });
const gear = (name: string, channel: number, ...ports: Port[]) =>
  makeDevice({ name, channel, ports, chart: [makeFunction()] });
const box = (name: string, ...ports: Port[]) => makeDevice({ name, role: 'carrier', ports });

type Case = { devices: Device[]; cables: [Port, Port][] };
const codes = ({ devices, cables }: Case) =>
  cableFaults(
    makeRig(
      devices,
      cables.map(([from, to]) => cable(from, to)),
    ),
  ).map((f) => f.code);

/** A sound little rig, varied below: a board into an interface, and the interface into a processor. */
const fresh = () => {
  const p = {
    boardOut: outPort(),
    in1: inPort({ name: 'In 1', atComputer: true }),
    outA: outPort({ name: 'Out A', atComputer: true }),
    outB: outPort({ name: 'Out B', atComputer: true }),
    firstIn: inPort(),
    firstThru: thruPort(),
    firstOut: outPort(),
    secondIn: inPort(),
  };
  const devices = [
    board('Board', p.boardOut),
    box('Interface', p.in1, p.outA, p.outB),
    gear('First', 2, p.firstIn, p.firstThru, p.firstOut),
    gear('Second', 4, p.secondIn),
  ];
  const cables: [Port, Port][] = [
    [p.boardOut, p.in1],
    [p.outA, p.firstIn],
  ];
  return { p, devices, cables };
};

describe('each rule catches its case and lets the near one pass', () => {
  it('the rig that is varied is sound', () => {
    expect(codes(fresh())).toEqual([]);
  });

  it('from an input to an input; from a thru to an input', () => {
    const { p, devices, cables } = fresh();
    expect(codes({ devices, cables: [...cables, [p.firstIn, p.secondIn]] })).toContain('wrong-direction');
    expect(codes({ devices, cables: [...cables, [p.firstThru, p.secondIn]] })).toEqual([]);
  });

  it('from an output to an output; the same two turned round are still two outputs', () => {
    const { p, devices, cables } = fresh();
    const [fault] = judgeCable(
      makeRig(
        devices,
        cables.map(([a, b]) => cable(a, b)),
      ),
      p.outB.id,
      p.firstOut.id,
    );
    expect(fault).toMatchObject({
      code: 'wrong-direction',
      severity: 'refused',
      sentence:
        'Interface Out B and First Out are both outputs; a cable leads from an output or a thru to an input.',
    });
  });

  it('two USB devices without a host; the same with one host; two hosts', () => {
    const usb = (fromHost: boolean, toHost: boolean) => {
      const from = outPort({ link: 'usb', isUsbHost: fromHost });
      const to = inPort({ link: 'usb', isUsbHost: toHost });
      return codes({ devices: [board('Board', from), gear('Gear', 0, to)], cables: [[from, to]] });
    };
    expect(usb(false, false)).toContain('no-host');
    expect(usb(true, false)).toEqual([]);
    expect(usb(false, true)).toEqual([]);
    expect(usb(true, true)).toContain('two-hosts');
  });

  it('USB into DIN; DIN into DIN', () => {
    const { p, devices, cables } = fresh();
    const usb = outPort({ link: 'usb' });
    expect(
      codes({ devices: [...devices, board('Other', usb)], cables: [...cables, [usb, p.secondIn]] }),
    ).toContain('other-link');
    expect(codes({ devices, cables: [...cables, [p.outB, p.secondIn]] })).toEqual([]);
  });

  it('one DIN output into two inputs; into one input, and on from its thru; over USB from one host to two', () => {
    const { p, devices, cables } = fresh();
    expect(codes({ devices, cables: [...cables, [p.outA, p.secondIn]] })).toContain('split');
    expect(codes({ devices, cables: [...cables, [p.firstThru, p.secondIn]] })).toEqual([]);
    const host = outPort({ link: 'virtual', atComputer: true });
    const ins = [inPort({ link: 'virtual' }), inPort({ link: 'virtual' })] as const;
    expect(
      codes({
        devices: [box('Bus', host), gear('A', 0, ins[0]), gear('B', 1, ins[1])],
        cables: [
          [host, ins[0]],
          [host, ins[1]],
        ],
      }),
    ).toEqual([]);
  });

  it('two DIN cables into one input; through a merger', () => {
    const { p, devices, cables } = fresh();
    const other = outPort();
    const more = [...devices, board('Other', other)];
    expect(codes({ devices: more, cables: [...cables, [other, p.in1]] })).toContain('merge');
    const [mergeA, mergeB, mergeOut] = [inPort(), inPort(), outPort()];
    expect(
      codes({
        devices: [...more, box('Merger', mergeA, mergeB, mergeOut)],
        cables: [
          [p.boardOut, mergeA],
          [other, mergeB],
          [mergeOut, p.in1],
        ],
      }),
    ).toEqual([]);
  });

  it('a ring of two boxes that pass on; the same two with the computer between', () => {
    const ring = (atComputer: boolean) => {
      const [a1, a2, b1, b2] = [inPort({ atComputer }), outPort({ atComputer }), inPort(), outPort()];
      const source = outPort({ atComputer: true });
      return codes({
        devices: [box('A', a1, a2), box('B', b1, b2), board('Board', source)],
        cables: [
          [a2, b1],
          [b2, a1],
        ],
      });
    };
    expect(ring(false)).toEqual(['loop']);
    expect(ring(true)).toEqual([]);
  });

  it('a ring over thrus is told once, at its last cable, and not for a chain', () => {
    const [aIn, aThru, bIn, bThru] = [inPort(), thruPort(), inPort(), thruPort()];
    const devices = [gear('A', 0, aIn, aThru), gear('B', 1, bIn, bThru)];
    const closed = makeRig(devices, [cable(aThru, bIn), cable(bThru, aIn)]);
    const faults = cableFaults(closed).filter((f) => f.code === 'loop');
    expect(faults).toHaveLength(1);
    expect(faults[0]!.place.cableId).toBe(closed.cables[1]!.id);
    expect(faults[0]!.sentence).toContain('a ring through A, B');
    expect(codes({ devices, cables: [[aThru, bIn]] })).toEqual([]);
  });

  it('two devices on one channel of one port; on two channels; on two ports; one packed away', () => {
    const onThru = (part: Partial<Device>) => {
      const { p, devices, cables } = fresh();
      const second = { ...devices[3]!, ...part };
      return codes({
        devices: [...devices.slice(0, 3), second],
        cables: [...cables, [p.firstThru, p.secondIn]],
      });
    };
    expect(onThru({ channel: 2 })).toEqual(['same-channel']);
    expect(onThru({ channel: 3 })).toEqual([]);
    expect(onThru({ listens: { kind: 'omni' } })).toEqual(['same-channel']);
    expect(onThru({ listens: { kind: 'several', channels: [2, 9] } })).toEqual(['same-channel']);
    expect(onThru({ channel: 1, listens: { kind: 'parts', count: 2 } })).toEqual(['same-channel']);
    expect(onThru({ channel: 3, listens: { kind: 'parts', count: 2 } })).toEqual([]);
    expect(onThru({ extraChannels: [{ name: 'selected', channel: 2 }] })).toEqual(['same-channel']);
    expect(onThru({ channel: 2, away: true })).toEqual([]);
    const { p, devices, cables } = fresh();
    const same = { ...devices[3]!, channel: 2 };
    expect(
      codes({ devices: [...devices.slice(0, 3), same], cables: [...cables, [p.outB, p.secondIn]] }),
    ).toEqual([]);
  });

  it('a controller that reaches nothing; one that reaches the computer, or gear without it', () => {
    const { p, devices, cables } = fresh();
    expect(codes({ devices, cables: cables.slice(1) })).toEqual(['reaches-nothing']);
    expect(codes({ devices, cables: [[p.boardOut, p.secondIn]] })).toEqual([]);
    const [mergeIn, mergeOut] = [inPort(), outPort()];
    const dead = [...devices, box('Merger', mergeIn, mergeOut)];
    expect(codes({ devices: dead, cables: [[p.boardOut, mergeIn]] })).toEqual(['reaches-nothing']);
    expect(
      codes({ devices: [board('Keys', outPort({ link: 'usb', atComputer: true }))], cables: [] }),
    ).toEqual([]);
    expect(codes({ devices: [{ ...board('Keys', outPort()), away: true }], cables: [] })).toEqual([]);
  });

  it('both ends on one device', () => {
    const { p, devices, cables } = fresh();
    expect(codes({ devices, cables: [...cables, [p.outB, p.in1]] })).toContain('same-device');
  });

  it('a cable that is judged before it is drawn tells only what it would bring', () => {
    const { p, devices } = fresh();
    const rig = makeRig(devices, [cable(p.outA, p.firstIn)]);
    expect(cableFaults(rig).map((f) => f.code)).toEqual(['reaches-nothing']);
    expect(judgeCable(rig, p.boardOut.id, p.in1.id)).toEqual([]);
    expect(judgeCable(rig, p.outA.id, p.secondIn.id).map((f) => f.code)).toEqual(['split']);
  });
});

describe('the ways through a rig', () => {
  const { p, devices, cables } = fresh();
  const rig = makeRig(
    devices,
    [...cables, [p.firstThru, p.secondIn] as [Port, Port]].map(([a, b]) => cable(a, b)),
  );
  const words = (paths: ReturnType<typeof rigPaths>) =>
    paths.map((path) =>
      path.stops.map((s) => (s.kind === 'computer' ? 'computer' : s.device.name)).join(' > '),
    );

  it('lead from what is touched over the computer to what answers, thrus included', () => {
    expect(words(rigPaths(rig))).toEqual([
      'Board > Interface > computer > Interface > First',
      'Board > Interface > computer > Interface > First > Second',
    ]);
  });
  it('can be asked of a device and of a cable', () => {
    const paths = rigPaths(rig);
    expect(pathsThrough(paths, { deviceId: devices[3]!.id })).toHaveLength(1);
    expect(pathsThrough(paths, { cableId: rig.cables[1]!.id })).toHaveLength(2);
    expect(pathsThrough(paths, { cableId: rig.cables[2]!.id })).toHaveLength(1);
  });
  it('leave out what is packed away', () => {
    const away = { ...rig, devices: rig.devices.map((d) => (d.name === 'First' ? { ...d, away: true } : d)) };
    expect(rigPaths(away)).toEqual([]);
  });
  it('say which port of the computer a cable belongs to', () => {
    const [up, down, on] = rig.cables;
    expect([...computerPorts(rig)]).toEqual([
      [down!.id, p.outA.id],
      [on!.id, p.outA.id],
      [up!.id, p.in1.id],
    ]);
  });
});
