import {
  boardOn,
  memoryBytes,
  memoryOf,
  memoryShow,
  newMemoryBoard,
  readMemory,
  type MemoryBoard,
} from '@idle-step/core/memory';
import { encode, hex } from '@idle-step/core/midi';
import { dumpFrame, startJob } from '@idle-step/core/transfer';
import { describe, expect, it } from 'vitest';
import { overLink } from '../../core/src/memory/boardLink.test-support';
import { seeded } from '../../core/src/seeded.test-support';
import {
  all,
  controls,
  feet,
  heldOtherwise,
  hosted,
  isOn,
  own,
  played,
  playsOtherwise,
  ready,
  rig,
  tenBanks,
} from './memoryRuns.test-support';
import { randomPreset, tenAndTwo } from './randomPresets.test-support';

describe('the memory of a board', () => {
  it.each(all.map((a) => [a.preset.name, a] as const))(
    '%s is read as it was written',
    (_, { board, preset }) => {
      const { memory } = memoryOf(rig, board, preset);
      expect(readMemory(memoryBytes(memory))).toEqual({ ok: true, value: memory });
    },
  );

  it('of any preset is read as it was written', () => {
    for (let seed = 1; seed <= 60; seed++) {
      const { memory } = memoryOf(rig, tenAndTwo, randomPreset(tenAndTwo, 1 + (seed % 4), seeded(seed)));
      expect(readMemory(memoryBytes(memory))).toEqual({ ok: true, value: memory });
    }
  });

  it('that is damaged or cut off is refused or is another one, and never throws', () => {
    const random = seeded(3);
    const bytes = memoryBytes(memoryOf(rig, tenAndTwo, randomPreset(tenAndTwo, 2, random)).memory);
    let refused = 0;
    for (let i = 0; i < 200; i++) {
      const damaged = Uint8Array.from(bytes);
      const at = Math.floor(random() * bytes.length);
      damaged[at] = damaged[at]! ^ (1 + Math.floor(random() * 255));
      const read = readMemory(damaged);
      if (!read.ok) {
        refused++;
        expect(read.error).toMatch(/\.$/);
      } else {
        const show = memoryShow(read.value, tenAndTwo, 'din');
        played(show, feet(tenAndTwo, 20, random));
      }
      expect(readMemory(bytes.subarray(0, at)).ok).toBe(false);
    }
    expect(refused).toBeGreaterThan(40);
  });

  it.each(all.map((a, i) => [a.preset.name, a, i] as const))(
    'plays %s as this application does',
    (_, { board, preset }, i) => {
      const events = feet(board, 2000, seeded(i + 1));
      const told = own(board, preset, events);
      expect(told.length).toBeGreaterThan(900);
      expect(told).toEqual(hosted(board, preset, events));
    },
  );

  it('plays any preset as this application does: 10,000 presses', () => {
    let count = 0;
    for (let seed = 1; seed <= 40; seed++) {
      const { failed, count: told } = playsOtherwise(seed);
      count += told;
      expect(failed).toBeNull();
    }
    expect(count).toBeGreaterThan(5000);
  });
});

const faulty = { lost: 0.02, damaged: 0.05, slowMs: 0 };

describe('a board with a memory', () => {
  it.each([1, 2, 3, 4, 5])('gets ten banks of twelve over a bad link in 1.3 of their time, %d', (seed) => {
    const bytes = tenBanks();
    const start = { ...ready(), faults: faulty, seed: seed * 1000 };
    const { job, board, tookMs } = overLink(startJob('send', { bytes, controls }, 0), start);
    expect(job.end).toBe('done');
    expect(job.read).toEqual(bytes);
    expect(board.working).toEqual(bytes);
    // Its bytes once there and once back, packed, with what stands around each packet.
    const packets = Math.ceil(bytes.length / 112);
    const needMs = 2 * (bytes.length * (8 / 7) + packets * (9 + 6)) * 0.32;
    expect(tookMs / needMs).toBeLessThan(1.3);
  });

  it('takes what it is sent however it is damaged on the way: 300 of 300', () => {
    const { memory } = memoryOf(rig, tenAndTwo, randomPreset(tenAndTwo, 1, seeded(4)));
    const bytes = memoryBytes(memory);
    const ends = new Map<string | null, number[]>();
    for (let seed = 1; seed <= 300; seed++) {
      const start = { ...ready(), faults: faulty, seed: seed * 7919 };
      const { job } = overLink(startJob('send', { bytes, controls }, 0), start);
      ends.set(job.end, [...(ends.get(job.end) ?? []), seed]);
    }
    expect([...ends].filter(([end]) => end !== 'done')).toEqual([]);
  });

  it('is deaf where it was not switched on for it', () => {
    const start = isOn(newMemoryBoard(tenAndTwo, 'din', 5), 0, []);
    const { job, board } = overLink(startJob('send', { bytes: tenBanks(), controls }, 0), start);
    expect([job.end, board.working]).toEqual(['no-answer', null]);
  });

  it('that was sent nothing yet cancels where its memory is asked for', () => {
    const data = Uint8Array.from(dumpFrame({ kind: 'request', device: 5 }));
    const { replies } = boardOn(ready(), { kind: 'message', atMs: 10, message: { kind: 'sysex', data } });
    // MIDI 1.0 Detailed Specification, handshaking messages: Cancel is F0 7E <device> 7D pp F7.
    expect(replies.map((r) => hex(encode(r.message)))).toEqual(['F0 7E 05 7D 00 F7']);
  });

  it('forgets at power-off what was not stored', () => {
    const bytes = tenBanks();
    const sent = overLink(startJob('send', { bytes, controls }, 0), ready());
    const off = (b: MemoryBoard) => boardOn(b, { kind: 'power', atMs: 1e6, on: false, held: [] }).board;
    const again = overLink(startJob('look', { bytes, controls }, 2e6), isOn(off(sent.board), 2e6), 2e6);
    expect(again.job.held).toEqual({ working: null, stored: null });
    const stored = overLink(startJob('store', { bytes, controls }, sent.atMs), sent.board, sent.atMs);
    expect(stored.job.end).toBe('done');
    const kept = overLink(startJob('read', { bytes, controls }, 2e6), isOn(off(stored.board), 2e6), 2e6);
    expect([kept.job.end, kept.job.read]).toEqual(['done', bytes]);
  });

  it('is as it was where sending is cancelled in the middle', () => {
    const before = memoryBytes(memoryOf(rig, tenAndTwo, randomPreset(tenAndTwo, 1, seeded(5))).memory);
    const start = { ...ready(), working: before };
    const { job, board } = overLink(startJob('send', { bytes: tenBanks(), controls }, 0), start, 0, [
      { atMs: 900, what: 'cancel' },
    ]);
    expect([job.end, board.working, board.receiving.bytes]).toEqual(['cancelled', before, []]);
  });

  it('with another number of controls is sent nothing', () => {
    const { job, sentBytes } = overLink(startJob('send', { bytes: tenBanks(), controls: 9 }, 0), ready());
    expect([job.end, sentBytes]).toEqual(['other-controls', 2 * 6]);
  });

  it('that is slow has this application wait', () => {
    const bytes = tenBanks().subarray(0, 1000);
    const start = { ...ready(), faults: { lost: 0, damaged: 0, slowMs: 60 } };
    const { job, tookMs } = overLink(startJob('send', { bytes, controls }, 0), start);
    // Nine packets, the head and the end are each thought about; what is no memory is not taken.
    expect([job.end, tookMs > 11 * 60]).toEqual(['differs', true]);
  });

  it('is played from what was sent, as this application would play it', () => {
    const random = seeded(8);
    const preset = randomPreset(tenAndTwo, 3, random);
    const bytes = memoryBytes(memoryOf(rig, tenAndTwo, preset).memory);
    const sent = overLink(startJob('send', { bytes, controls }, 0), ready());
    const stored = overLink(startJob('store', { bytes, controls }, sent.atMs), sent.board, sent.atMs);
    let board = boardOn(stored.board, { kind: 'power', atMs: 0, on: false, held: [] }).board;
    board = isOn(board, 0, []);
    const told: string[] = [];
    const events = feet(tenAndTwo, 300, random);
    for (const { command, atMs } of events.flatMap((e) => (e.kind === 'command' ? e : []))) {
      if (command.kind !== 'switch' && command.kind !== 'move' && command.kind !== 'turn') continue;
      const done = boardOn(board, { kind: 'foot', atMs, command });
      board = done.board;
      told.push(...done.replies.map((r) => `${r.atMs.toFixed(3)} ${hex(encode(r.message))}`));
    }
    const after = boardOn(board, { kind: 'tick', atMs: events.at(-1)!.atMs + 20_000 });
    told.push(...after.replies.map((r) => `${r.atMs.toFixed(3)} ${hex(encode(r.message))}`));
    expect(told).toEqual(
      played(memoryShow(memoryOf(rig, tenAndTwo, preset).memory, tenAndTwo, 'din'), events),
    );
  });

  it('never holds anything else than a job says that it does', () => {
    const ends = new Map<string, number>();
    for (let seed = 1; seed <= 150; seed++) expect(heldOtherwise(seed, ends), `seed ${seed}`).toBeNull();
    expect([...ends.keys()].sort()).toEqual(['cancelled', 'done', 'no-answer', 'refused']);
    expect(ends.get('done')).toBeGreaterThan(50);
  });
});
