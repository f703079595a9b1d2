import { compileWorld, type World } from '@idle-step/core/engine';
import type { RigWithBoards } from '@idle-step/core/floor';
import { PLAIN_PORT } from '@idle-step/core/gear';
import { memoryBytes, memoryOf, receiveKeys } from '@idle-step/core/memory';
import { parseBytes, type Message } from '@idle-step/core/midi';
import { demoPresets, demoRig } from '@idle-step/demo';
import { beforeEach, describe, expect, it } from 'vitest';
import { BoardLink, type LinkRun } from './BoardLink';
import { HandClock } from './handClock.test-support';

const [plank] = demoRig.boards;
const board = { ...plank!, mode: 'standalone' as const };
const preset = demoPresets.find((p) => p.id === board.presetId)!;

/** The demo's rig with an in for the board, by a USB port of its own. */
const rig: RigWithBoards = {
  ...demoRig,
  boards: demoRig.boards.map((b) => (b.id === board.id ? board : b)),
  devices: demoRig.devices.map((d) =>
    d.id === board.deviceId
      ? {
          ...d,
          ports: [
            ...d.ports,
            { ...PLAIN_PORT, id: 'in', name: 'In', direction: 'in', link: 'usb', atComputer: true },
          ],
        }
      : d,
  ),
};
const bytes = memoryBytes(memoryOf(rig, board, preset).memory);

/** A link on a clock that is moved by hand. */
class Bench extends HandClock {
  world: World = compileWorld({ rig, presets: [preset], setName: '', songs: [] });
  refusal: string | null = null;
  readonly ended: LinkRun[] = [];
  readonly sent: { portId: string; message: Message; isTaken: boolean }[] = [];
  readonly heard: number[][] = [];
  readonly link = new BoardLink(
    {
      world: () => this.world,
      send: (portId, message, isTaken) => this.sent.push({ portId, message, isTaken }),
      hear: (portId, data) => {
        this.heard.push([...data]);
        for (const m of parseBytes(data).messages) if (m.kind === 'sysex') this.link.heard(portId, m.data);
      },
      refusal: () => this.refusal,
    },
    this.timerOf,
    () => this.nowMs,
  );

  constructor() {
    super();
    this.link.onEnd = (run) => this.ended.push(run);
  }

  receiving(): void {
    this.link.simulate(board.id, true);
    this.link.atBoard(board.id, {
      kind: 'power',
      atMs: this.nowMs,
      on: true,
      held: receiveKeys(board).map((k) => k.id),
    });
  }
}

let bench: Bench;
beforeEach(() => {
  bench = new Bench();
});
const start = () => bench.link.start('send', board.id, { presetId: preset.id, bytes });

describe('jobs with a board', () => {
  it.each([0, 40])('arrive at a simulated board, with timers %d ms late', (lateMs) => {
    bench.receiving();
    expect(start()).toBeNull();
    bench.go(20_000, lateMs);
    expect(bench.ended.map((r) => [r.job.kind, r.job.end, r.presetId])).toEqual([
      ['send', 'done', preset.id],
    ]);
    expect(bench.link.getSnapshot().boards.get(board.id)?.working).toEqual(bytes);
    expect(new Set(bench.sent.map((s) => `${s.portId} ${s.isTaken}`))).toEqual(new Set(['in true']));
    expect(bench.dueMs).toBeNull();
  });

  it('say why they cannot begin', () => {
    const why = () => bench.link.cannot(board.id);
    expect(why()).toBeNull();
    bench.refusal = 'Hands are off.';
    expect(start()).toBe('Hands are off.');
    bench.world = compileWorld({ rig: demoRig, presets: [preset], setName: '', songs: [] });
    expect(why()).toContain('No cable leads from the computer to Plank 10');
    expect(bench.link.cannot('gone')).toContain('not in the rig');
    expect(bench.sent).toEqual([]);
  });

  it('are one at a time, and end where nobody answers', () => {
    expect(start()).toBeNull();
    expect(bench.link.cannot(board.id)).toBe('A transfer with this board is on its way.');
    expect(bench.link.cannot('another')).toContain(
      'A transfer with another board is on its way; wait for it',
    );
    expect(start()).not.toBeNull();
    bench.go(60_000);
    expect(bench.ended.map((r) => r.job.end)).toEqual(['no-answer']);
    expect(start()).toBeNull();
  });

  it('end when they are cancelled, and when their board is taken out of the rig', () => {
    bench.receiving();
    start();
    bench.go(50);
    bench.link.cancel();
    expect(bench.ended.map((r) => r.job.end)).toEqual(['cancelled']);
    bench.go(1000);
    expect(bench.link.getSnapshot().boards.get(board.id)?.working).toBeNull();
    start();
    bench.world = compileWorld({ rig: { ...rig, boards: [] }, presets: [], setName: '', songs: [] });
    bench.link.rigChanged();
    expect(bench.ended.map((r) => r.job.end)).toEqual(['cancelled', 'cancelled']);
    expect(bench.link.getSnapshot().boards.size).toBe(0);
  });

  it('end at once where a board has nothing to give', () => {
    bench.receiving();
    const before = bench.nowMs;
    expect(bench.link.start('read', board.id, { presetId: null, bytes: new Uint8Array() })).toBeNull();
    bench.go(300);
    expect(bench.ended.map((r) => [r.job.kind, r.job.end])).toEqual([['read', 'empty']]);
    expect(bench.nowMs - before).toBeLessThanOrEqual(300);
  });

  it('hear nothing more of a board that is simulated no longer', () => {
    bench.receiving();
    start();
    bench.go(50);
    expect(bench.link.getSnapshot().run?.job.identity).not.toBeNull();
    const [heard, sent] = [bench.heard.length, bench.sent.length];
    bench.link.simulate(board.id, false);
    expect(bench.link.getSnapshot().boards.size).toBe(0);
    bench.go(60_000);
    expect(bench.heard.length).toBe(heard);
    // What is sent now is taken by nobody.
    expect(bench.sent.slice(sent).filter((s) => s.isTaken)).toEqual([]);
    expect(bench.ended.map((r) => r.job.end)).toEqual(['no-answer']);
  });

  it('do not hear what comes by another port', () => {
    start();
    bench.link.heard('elsewhere', [0x7e, 1, 6, 2, 0x7d, 0x53, 0x12, board.controls.length, 0, 0, 0, 0, 1]);
    expect(bench.link.getSnapshot().run?.job.identity).toBeNull();
  });
});

describe('a simulated board', () => {
  it('that was sent a preset plays it into its port, and shows what it sent', () => {
    bench.receiving();
    start();
    bench.go(20_000);
    const power = (on: boolean) =>
      bench.link.atBoard(board.id, { kind: 'power', atMs: bench.nowMs, on, held: [] });
    bench.link.start('store', board.id, { presetId: preset.id, bytes });
    bench.go(21_000);
    power(false);
    power(true);
    const before = bench.heard.length;
    const far1 = board.controls[0]!.id;
    for (const velocity of [127, 0])
      bench.link.atBoard(board.id, {
        kind: 'foot',
        atMs: bench.nowMs,
        command: { kind: 'switch', controlId: far1, velocity },
      });
    bench.go(22_000);
    // far 1 toggles Drive: controller 24, channel 3.
    expect(bench.heard.slice(before)).toEqual([[0xb2, 24, 127]]);
    expect(bench.link.getSnapshot().sent.get(board.id)).toHaveLength(1);
  });
});
