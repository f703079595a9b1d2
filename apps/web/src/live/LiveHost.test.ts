import { bookmarkOf, followedOf, type Show } from '@idle-step/core/engine';
import { demoPresets, demoRig, DEMO_PORT } from '@idle-step/demo';
import { encode, hex } from '@idle-step/core/midi';
import { portName } from '@idle-step/core/routing';
import { describe, expect, it } from 'vitest';
import { LiveHost } from './LiveHost';
import { ManualClock } from './manualClock.test-support';
import { FakeAccess, hostOf } from './ports/fakeMidi.test-support';

describe('the live host', () => {
  const show: Show = { rig: demoRig, presets: demoPresets, setName: '', songs: [] };
  const plank = demoRig.boards[0]!;
  const kelpline = demoRig.devices.find((d) => d.name === 'Kelpline')!;
  const far1 = plank.controls.find((c) => c.name === 'far 1')!;

  async function playing() {
    const clock = new ManualClock();
    const access = new FakeAccess();
    const host = new LiveHost(clock, hostOf(access));
    await host.ports.open();
    host.setShow(show);
    host.ports.bind(DEMO_PORT.crossbarIn1, 'X');
    host.ports.bind(DEMO_PORT.crossbarOutA, 'Out');
    const input = access.inputs.get('X')!;
    const { sent } = access.outputs.get('Out')!;
    return { clock, host, input, sent, access };
  }
  const press = (down: boolean) => [0xbf, far1.sends.number, down ? 127 : 0];
  const lines = (host: LiveHost, kind: string) => host.log.since(0).filter((l) => l.kind === kind);

  it('a stamp an hour ahead counts as now, is said once, and holds nothing up', async () => {
    const { clock, host, input, sent } = await playing();
    input.deliver(press(true), clock.nowMs + 3_600_000);
    input.deliver(press(false), clock.nowMs + 3_600_000);
    expect(sent.length).toBeGreaterThan(0);
    expect(lines(host, 'ahead')).toHaveLength(1);
    expect(host.getSnapshot().state.atMs).toBe(clock.nowMs);
    input.deliver(press(true), clock.nowMs);
    input.deliver(press(false), clock.nowMs + 60_000);
    expect(lines(host, 'ahead')).toHaveLength(2);
  });

  it('a glide is handed over with its times before they come, and a press in the middle of it leaves at once', async () => {
    const { clock, host, input, access } = await playing();
    const { path } = host.now().world.ways.get(kelpline.id)!;
    expect(path!.portId).toBe(DEMO_PORT.crossbarOutA);
    const [glided, ...others] = kelpline.chart.filter(
      (f) => f.drive.kind === 'controller' && f.shape.kind === 'range' && f.settleMs === 0,
    );
    const far2 = plank.controls.find((c) => c.name === 'far 2')!;
    const does = (functionId: string, part: object) => [{ id: crypto.randomUUID(), functionId, ...part }];
    const glide = { kind: 'ramp', from: 0, to: 127, time: { amount: 2, unit: 's' }, curve: 'linear' };
    const pressesOf = new Map<string, unknown>([
      [far1.id, does(glided!.id, glide)],
      [far2.id, does(others[0]!.id, { kind: 'set', value: 5 })],
    ]);
    const presets = demoPresets.map((preset) => ({
      ...preset,
      banks: preset.banks.map((bank) => ({
        ...bank,
        assignments: bank.assignments.map((a) =>
          pressesOf.has(a.controlId) ? { ...a, press: pressesOf.get(a.controlId) as typeof a.press } : a,
        ),
      })),
    }));
    host.setShow({ ...show, presets });
    // As far from the start of this process as its clock allows, so that what is to come is to come for the ports too.
    clock.go(performance.now() + 60_000);
    const begunMs = clock.nowMs;
    const { sent, stamps } = access.outputs.get('Out')!;
    stamps.length = 0;
    sent.length = 0;
    input.deliver(press(true), begunMs);
    // With the press: where it begins, and what is due 10 ms later. (At 20 ms it is still the same value.)
    expect(stamps).toEqual([undefined, begunMs + 10]);
    clock.go(begunMs + 495);
    const handed = stamps.slice(1).map((ms) => ms! - begunMs);
    expect(handed.at(-1)).toBeCloseTo(500, 6);
    expect(handed.every((ms, i) => i === 0 || ms > handed[i - 1]!)).toBe(true);
    const before = stamps.length;
    input.deliver([0xbf, far2.sends.number, 127], clock.nowMs);
    expect(stamps.slice(before)).toEqual([undefined]);
    // One that takes over has to be the last word.
    host.command({ kind: 'set', functionId: glided!.id, value: 3 });
    expect(stamps.at(-1)).toBeCloseTo(begunMs + 500, 6);
    expect(sent.at(-1)).toEqual(expect.arrayContaining([3]));
    expect(lines(host, 'out').every((l) => l.kind === 'out' && l.lateMs === 0)).toBe(true);
  });

  it('what came at an input that nothing is bound to is learned, and not played or told', async () => {
    const { clock, host, input, sent, access } = await playing();
    host.ports.bind(DEMO_PORT.crossbarIn1, null);
    const told = host.log.total;
    host.learn(true);
    input.deliver(press(true), clock.nowMs);
    input.deliver(press(false), clock.nowMs);
    expect(host.getSnapshot().heard!.map((h) => 'portId' in h && h.portId)).toEqual([
      'browser:X',
      'browser:X',
    ]);
    host.learn(false);
    input.deliver(press(true), clock.nowMs);
    expect(host.getSnapshot().heard).toBeNull();
    expect(sent).toEqual([]);
    expect(host.log.total).toBe(told);
    expect(access.inputs.get('Y')!.onmidimessage).toBeNull();
  });

  it('an edit never rewrites what was: lines keep the names that they came with', async () => {
    const { clock, host, input } = await playing();
    input.deliver(press(true), clock.nowMs);
    const words = () =>
      host.log.since(0).flatMap((l) =>
        l.kind === 'in' || l.kind === 'out'
          ? [
              {
                port: portName(l.rig, l.portId),
                device: l.device?.name,
                about: l.fn?.name ?? l.controlName,
              },
            ]
          : [],
      );
    const before = words();
    expect(before.every((w) => w.device !== undefined && w.about !== '')).toBe(true);
    const renamed = (d: (typeof demoRig.devices)[number]) => ({
      ...d,
      name: `${d.name} 2`,
      chart: d.chart.map((fn) => ({ ...fn, name: 'Other' })),
      ports: d.ports.map((p) => ({ ...p, name: 'Elsewhere' })),
    });
    host.setShow({ ...show, rig: { ...demoRig, devices: demoRig.devices.map(renamed) } });
    expect(words()).toEqual(before);
    clock.go(clock.nowMs + 1000);
    input.deliver(press(false), clock.nowMs);
    input.deliver(press(true), clock.nowMs + 500);
    expect(words().at(-1)!.port).toContain('Elsewhere');
  });

  it('what no port and no stand-in took is not shown as sent', async () => {
    const { clock, host, input, sent } = await playing();
    input.deliver(press(true), clock.nowMs);
    input.deliver(press(false), clock.nowMs);
    const outgoing = () => host.log.since(0).flatMap((l) => (l.kind === 'out' ? l : []));
    expect(outgoing().every((l) => l.taken)).toBe(true);
    expect(host.getSnapshot().lastPress!.untaken).toBe(0);
    // Real gear only, and its port is bound to nothing.
    const standIn = null;
    host.setShow({
      ...show,
      rig: { ...demoRig, devices: demoRig.devices.map((d) => ({ ...d, standIn })) },
    });
    host.ports.bind(DEMO_PORT.crossbarOutA, null);
    const before = outgoing().length;
    const heard = sent.length;
    clock.go(clock.nowMs + 1000);
    input.deliver(press(true), clock.nowMs);
    input.deliver(press(false), clock.nowMs);
    const lost = outgoing().slice(before);
    expect(lost.length).toBeGreaterThan(0);
    expect(lost.every((l) => !l.taken && !l.real)).toBe(true);
    expect(sent).toHaveLength(heard);
    const { messages, untaken } = host.getSnapshot().lastPress!;
    expect(untaken).toBe(messages);
  });

  it('an input that nothing feeds is told apart once other ports are bound', async () => {
    const { host } = await playing();
    expect(host.portNow(DEMO_PORT.crossbarIn1)).toBe('open');
    expect(host.portNow(DEMO_PORT.crossbarIn2)).toBe('unfed');
    host.ports.bind(DEMO_PORT.crossbarIn1, null);
    host.ports.bind(DEMO_PORT.crossbarOutA, null);
    expect(host.portNow(DEMO_PORT.crossbarIn2)).toBe('unbound');
  });

  it('asks to be woken only for times to come, and tells the core how late it was', async () => {
    const { clock, host, input } = await playing();
    for (let i = 0; i < 20; i++) {
      input.deliver(press(i % 2 === 0), clock.nowMs - 3);
      clock.go(clock.nowMs + 30, 7);
    }
    expect(clock.wakes.every((w) => w === null || w > 1000)).toBe(true);
    const { recording } = host.recorder.recording!;
    for (const entry of recording.entries)
      if (entry.kind === 'event') expect(entry.event.leavesMs).toBeGreaterThanOrEqual(entry.event.atMs);
  });

  it('learning lets go of what is down, and nothing else happens', async () => {
    const { clock, host, input, sent } = await playing();
    host.learn(true);
    input.deliver(press(true), clock.nowMs);
    input.deliver(press(false), clock.nowMs);
    expect([sent, host.getSnapshot().heard?.length]).toEqual([[], 2]);
    host.learn(false);
    input.deliver(press(true), clock.nowMs);
    expect(sent.length).toBeGreaterThan(0);
  });

  it('a press on the screen sends what its hardware would, with contacts that bounce', async () => {
    const { host, sent } = await playing();
    host.boards.pressSwitch(far1.id, true);
    expect(sent.length).toBeGreaterThan(0);
    expect(host.getSnapshot().lastPress).toMatchObject({ controlId: far1.id });
  });

  it('notes that the page left sounding end at stand-ins at once, and at a port when it is told to be there', async () => {
    const { host, sent } = await playing();
    const { world, state } = host.now();
    const note = (portId: string) => ({ portId, channel: 3, note: 60 });
    const sounding = [note(DEMO_PORT.crossbarOutA), note(DEMO_PORT.crossbarOutB)];
    host.resume(bookmarkOf(world, { ...state, sounding }, 1000), 500, {});
    const out = () =>
      host.log.since(0).flatMap((l) => (l.kind === 'out' ? `${l.portId} ${hex(encode(l.message))}` : []));
    expect(out()).toEqual([`${DEMO_PORT.crossbarOutB} 83 3C 40`]);
    expect(host.now().state.lostPorts).toEqual([DEMO_PORT.crossbarOutA]);
    host.ports.tellAnew();
    expect(sent).toEqual([[0x83, 60, 64]]);
    expect([host.now().state.lostPorts, host.now().state.hung]).toEqual([[], []]);
  });

  it('follows another window without doing anything, and goes on from there by itself', async () => {
    const { clock, host, input } = await playing();
    input.deliver(press(true), clock.nowMs);
    input.deliver(press(false), clock.nowMs);
    clock.go(clock.nowMs + 1000);
    const first = host.now().state;
    const { host: second, input: foot, sent } = await playing();
    second.follow(show, followedOf(first), 0);
    expect(second.now().state.registers).toEqual(first.registers);
    foot.deliver(press(true), clock.nowMs);
    second.command({ kind: 'show', to: 'begin' });
    expect(sent).toEqual([]);
    expect(second.getSnapshot().said).toContain('follows the one that plays');
    expect(second.unfollow()).toBe(true);
    expect(second.unfollow()).toBe(false);
    expect(sent).toEqual([]);
    expect(second.now().state.registers).toEqual(first.registers);
    foot.deliver(press(true), clock.nowMs);
    expect(sent.length).toBeGreaterThan(0);
  });

  it('what needs the ports is refused with its reason, and sends nothing', async () => {
    const { host, sent } = await playing();
    const tried = () => ({
      check: host.lineCheck.start('in-order', false),
      dump: host.dumps.identify(kelpline.id),
      board: host.link.cannot(plank.id),
    });
    // A check only listens, so that hands off does not matter to it.
    host.command({ kind: 'here', thing: 'hands-off', to: 'on' });
    const handsOff = 'Hands are off: nothing leaves by real ports. Switch hands off off first.';
    expect(tried()).toMatchObject({ check: null, dump: handsOff });
    expect(host.lineCheck.isRunning).toBe(true);
    host.lineCheck.stop();
    sent.length = 0;
    host.command({ kind: 'here', thing: 'hands-off', to: 'off' });
    const elsewhere = 'Another window of this browser plays and has the ports. Press Play here first.';
    host.ports.leaveToOther();
    expect(tried()).toMatchObject({ check: elsewhere, dump: elsewhere });
    expect([host.lineCheck.isRunning, host.dumps.getSnapshot(), sent]).toEqual([false, null, []]);
    // So does one that shows what another window plays, whatever ports it sees.
    const { host: second } = await playing();
    second.follow(show, followedOf(host.now().state), 0);
    expect(second.lineCheck.start('in-order', false)).toBe(elsewhere);
    expect(second.dumps.identify(kelpline.id)).toBe(elsewhere);
    second.unfollow();
    expect(second.lineCheck.start('in-order', false)).toBeNull();
  });

  it('a stand-in that was told something is another one in the next snapshot', async () => {
    const { clock, host, input } = await playing();
    const kelpline = demoRig.devices.find((d) => d.name === 'Kelpline')!.id;
    const before = host.getSnapshot().standIns;
    input.deliver(press(true), clock.nowMs);
    const after = host.getSnapshot().standIns;
    expect(after).not.toBe(before);
    expect(after.get(kelpline)).not.toBe(before.get(kelpline));
  });

  it('what was said can be read until the next press, whatever comes in meanwhile', async () => {
    const { clock, host, input } = await playing();
    host.command({ kind: 'show', to: 'end' });
    const { said } = host.getSnapshot();
    expect(said).toMatch(/[a-z]/);
    // A clock, or a foot on a pedal.
    for (let i = 0; i < 50; i++) input.deliver([0xb0, 1, i], clock.nowMs);
    expect(host.getSnapshot().said).toBe(said);
    input.deliver(press(true), clock.nowMs);
    expect(host.getSnapshot().said).not.toBe(said);
  });

  it('a part of the snapshot that has not changed is the same object', async () => {
    const { clock, host, input } = await playing();
    const before = host.getSnapshot();
    input.deliver([0xb0, 1, 1], clock.nowMs);
    clock.go(clock.nowMs + 5);
    expect(host.getSnapshot().world).toBe(before.world);
    expect(host.getSnapshot().state).toBe(before.state);
  });

  it('opening another rig ends what is held in this one', async () => {
    const { host, sent } = await playing();
    host.boards.pressSwitch(far1.id, true);
    sent.length = 0;
    host.setShow({ ...show, rig: { ...demoRig, id: 'other', devices: [], cables: [], boards: [] } });
    expect(host.getSnapshot().state.held).toEqual({});
  });
});
