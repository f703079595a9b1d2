import { compileWorld, initialState, sentIn, step, type LiveEvent } from '@idle-step/core/engine';
import { controller, noteOn, program, realTime, sysex, type Message } from '@idle-step/core/midi';
import { demoPresets, demoRig, demoSongs } from '@idle-step/demo';
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { MessageTape } from './messageTape';
import { Recorder } from './recorder';

const messages = fc.oneof(
  fc.tuple(fc.nat(15), fc.nat(127), fc.nat(127)).map((m): Message => controller(...m)),
  fc.tuple(fc.nat(15), fc.nat(127), fc.nat(127)).map((m): Message => noteOn(...m)),
  fc.tuple(fc.nat(15), fc.nat(127)).map((m): Message => program(...m)),
  fc.uint8Array({ max: 127, maxLength: 9 }).map((data): Message => sysex(data)),
  fc.constantFrom<Message>(realTime('clock'), realTime('stop')),
);
const taped = fc.record(
  {
    atMs: fc.double({ min: 0, max: 1e8, noNaN: true }),
    leavesMs: fc.double({ min: 0, max: 1e8, noNaN: true }),
    portId: fc.constantFrom('a', 'b', 'c'),
    message: messages,
  },
  { requiredKeys: ['atMs', 'portId', 'message'] },
);

it('a tape gives back every message as it was put on, in its place', () => {
  fc.assert(
    fc.property(fc.array(fc.option(taped), { maxLength: 60 }), (list) => {
      const tape = new MessageTape();
      for (const m of list) {
        if (m) tape.push(m);
        else tape.leave({ atMs: 7 });
      }
      expect(Array.from({ length: tape.length }, (_, i) => tape.at(i))).toEqual(list);
    }),
  );
});

it('a tape goes on when its first room is full', () => {
  const tape = new MessageTape();
  for (let i = 0; i < 5000; i++)
    tape.push({ atMs: i, portId: i % 2 ? 'x' : 'y', message: controller(i % 16, 1, i % 128) });
  expect(tape.at(4999)).toEqual({ atMs: 4999, portId: 'x', message: controller(4999 % 16, 1, 4999 % 128) });
  expect(tape.at(0)).toEqual({ atMs: 0, portId: 'y', message: controller(0, 1, 0) });
});

it('a recording is what happened, entry by entry, with what was sent', () => {
  const show = { rig: demoRig, presets: demoPresets, setName: '', songs: demoSongs };
  const world = compileWorld(show);
  const { board, device, path } = world.boards[0]!;
  const number = board.controls.find((c) => c.kind === 'footswitch')!.sends.number;
  const says = (value: number) => controller(device.channel, number, value);
  const events: LiveEvent[] = [
    { kind: 'message', atMs: 10, portId: path!.portId, message: says(127) },
    { kind: 'tick', atMs: 60 },
    { kind: 'tick', atMs: 70, leavesMs: 90 },
    { kind: 'command', atMs: 100, command: { kind: 'panic' } },
    { kind: 'message', atMs: 120, leavesMs: 121.5, portId: path!.portId, message: says(0) },
  ];
  const recorder = new Recorder();
  expect(recorder.recording).toBe(null);
  recorder.showIs(show, 0, []);
  let state = initialState(world, 0);
  const sent = events.flatMap((event) => {
    const result = step(world, state, event);
    state = result.state;
    recorder.took(event, result.effects);
    return sentIn(result.effects);
  });
  recorder.showIs({ ...show, setName: 'again' }, 130, []);
  const kept = recorder.recording!;
  expect(kept.recording.entries.map((e) => (e.kind === 'event' ? e.event : e.show.setName))).toEqual([
    ...events,
    'again',
  ]);
  expect(sent.length).toBeGreaterThan(3);
  expect(kept.sent).toEqual(sent);
  recorder.showIs({ ...show, rig: { ...demoRig, id: 'another' } }, 140, []);
  expect(recorder.length).toBe(0);
  // Before the first rig has come there is nothing to keep.
  recorder.showIs({ ...show, rig: { ...demoRig, id: '' } }, 150, []);
  expect(recorder.recording).toBeNull();
});
