import { describe, expect, it } from 'vitest';
import { cable, makeDevice, makePort, makeRig } from '../../testing.test-support';
import { Cabling, type Device, type Rig } from '../index';

const port = (id: string, direction: 'in' | 'out' | 'thru', part = {}) =>
  makePort({ id, direction, ...part });
const pathTo = (rig: Rig, device: Device) => new Cabling(rig).pathTo(device);

const computerOut = port('computer-out', 'out', { atComputer: true });
const interfaceDevice = makeDevice({
  role: 'carrier',
  ports: [port('computer-in', 'in', { atComputer: true }), computerOut],
});

describe('the way to a device', () => {
  it('is its own port where that is at the computer', () => {
    const host = makeDevice({ ports: [port('host', 'in', { link: 'virtual', atComputer: true })] });
    expect(pathTo(makeRig([host]), host)).toEqual({ portId: 'host', link: 'virtual', latencyMs: 0 });
  });

  it('leads over a cable to the interface, at the speed of DIN', () => {
    const processor = makeDevice({ ports: [port('in', 'in')] });
    const rig = makeRig([interfaceDevice, processor], [cable(computerOut, processor.ports[0]!)]);
    expect(pathTo(rig, processor)).toEqual({ portId: 'computer-out', link: 'din', latencyMs: 0 });
  });

  it('leads through a thru, and through a carrier in between', () => {
    const first = makeDevice({ ports: [port('first-in', 'in'), port('first-thru', 'thru')] });
    const hub = makeDevice({ role: 'carrier', ports: [port('hub-in', 'in'), port('hub-out', 'out')] });
    const last = makeDevice({ ports: [port('last-in', 'in')] });
    const [firstIn, firstThru] = first.ports;
    const [hubIn, hubOut] = hub.ports;
    const rig = makeRig(
      [interfaceDevice, first, hub, last],
      [cable(computerOut, firstIn!), cable(firstThru!, hubIn!), cable(hubOut!, last.ports[0]!)],
    );
    expect(pathTo(rig, last)).toEqual({ portId: 'computer-out', link: 'din', latencyMs: 0 });
  });

  it('does not leave a receiver by its out: only a thru repeats', () => {
    const first = makeDevice({ ports: [port('a-in', 'in'), port('a-out', 'out')] });
    const last = makeDevice({ ports: [port('b-in', 'in')] });
    const rig = makeRig(
      [interfaceDevice, first, last],
      [cable(computerOut, first.ports[0]!), cable(first.ports[1]!, last.ports[0]!)],
    );
    expect(pathTo(rig, last)).toBeNull();
  });

  it('is none without a cable, with a cable to a port that is gone, or while a device is away', () => {
    const lone = makeDevice({ ports: [port('lone', 'in')] });
    expect(pathTo(makeRig([interfaceDevice, lone]), lone)).toBeNull();
    const gone = { id: 'x', fromPortId: 'nowhere', toPortId: 'lone' };
    expect(pathTo(makeRig([interfaceDevice, lone], [gone]), lone)).toBeNull();
    const packed = { ...interfaceDevice, away: true };
    expect(pathTo(makeRig([packed, lone], [cable(computerOut, lone.ports[0]!)]), lone)).toBeNull();
  });

  it('ends on a loop of cables', () => {
    const a = makeDevice({ ports: [port('la-in', 'in'), port('la-thru', 'thru')] });
    const b = makeDevice({ ports: [port('lb-in', 'in'), port('lb-thru', 'thru')] });
    const rig = makeRig([a, b], [cable(a.ports[1]!, b.ports[0]!), cable(b.ports[1]!, a.ports[0]!)]);
    expect(pathTo(rig, a)).toBeNull();
  });

  it('from a board leads over the interface to the computer', () => {
    const board = makeDevice({ role: 'controller', ports: [port('board', 'out')] });
    const rig = makeRig([board, interfaceDevice], [cable(board.ports[0]!, interfaceDevice.ports[0]!)]);
    expect(new Cabling(rig).pathFrom(board)).toEqual({ portId: 'computer-in', link: 'din', latencyMs: 0 });
  });
});
