import type { Show } from '@idle-step/core/engine';
import { encode, hex } from '@idle-step/core/midi';
import { demoPresets, demoRig, DEMO_PORT } from '@idle-step/demo';
import { describe, expect, it } from 'vitest';
import { LiveHost } from '../LiveHost';
import { ManualClock } from '../manualClock.test-support';
import { FakeAccess, hostOf } from './fakeMidi.test-support';

const show: Show = { rig: demoRig, presets: demoPresets, setName: '', songs: [] };
const far1 = demoRig.boards[0]!.controls.find((c) => c.name === 'far 1')!;

/** The demo's rig with the input X at the port that its board speaks to. */
async function playing(...others: string[]) {
  const clock = new ManualClock();
  const access = new FakeAccess();
  const host = new LiveHost(clock, hostOf(access));
  await host.ports.open();
  host.setShow(show);
  for (const id of [DEMO_PORT.crossbarIn1, ...others]) host.ports.bind(id, 'X');
  const x = access.inputs.get('X')!;
  return {
    clock,
    access,
    host,
    x,
    hear: (bytes: number[]) => x.deliver(bytes, clock.nowMs),
    /** The messages that came, as the log has them. */
    came: () =>
      host.log
        .since(0)
        .flatMap((l) => (l.kind === 'in' ? `${l.controlName}: ${hex(encode(l.message))}` : [])),
  };
}

describe('what comes in by a port', () => {
  const down = [0xbf, far1.sends.number, 127];

  it('is put together of pieces, and of bytes that leave out their status (MIDI 1.0, running status)', async () => {
    const { hear, came } = await playing();
    hear(down.slice(0, 1));
    hear(down.slice(1, 2));
    expect(came()).toEqual([]);
    hear([...down.slice(2), far1.sends.number, 0]);
    const number = hex([far1.sends.number]);
    expect(came()).toEqual([`far 1: BF ${number} 7F`, `far 1: BF ${number} 00`]);
  });

  it('before a plug was pulled is not put together with what comes after', async () => {
    const { hear, came, access, x } = await playing();
    hear(down.slice(0, 2));
    access.plug(x, 'disconnected');
    access.plug(x, 'connected');
    hear([127]);
    expect(came()).toEqual([]);
    hear(down);
    expect(came()).toHaveLength(1);
  });

  it('is written down once where two ports of the rig are bound to it, with the moment of its stamp', async () => {
    const { clock, host, x, came } = await playing(DEMO_PORT.crossbarIn2);
    clock.go(5000);
    x.deliver(down, 4990);
    expect(came()).toHaveLength(1);
    expect(host.log.since(0).find((l) => l.kind === 'in')?.atMs).toBe(4990);
  });

  it('and is no message is said with its port, and what follows is heard', async () => {
    const { hear, came, host } = await playing();
    hear([0x12, ...down]);
    expect(host.log.since(0).filter((l) => l.kind === 'fault')).toHaveLength(1);
    expect(came()).toHaveLength(1);
  });

  it('is kept for whoever learns, the newest two thousand, and for nobody once they have done', async () => {
    const { hear, host } = await playing();
    const heard = () => host.getSnapshot().heard;
    hear(down);
    expect(heard()).toBeNull();
    host.learn(true);
    expect(heard()).toEqual([]);
    for (let i = 0; i < 2100; i++) hear([0xbf, 20, i % 128]);
    expect(heard()).toHaveLength(2000);
    expect(heard()!.at(-1)).toMatchObject({ message: { controller: 20, value: 2099 % 128 } });
    host.learn(false);
    hear(down);
    expect(heard()).toBeNull();
  });
});
