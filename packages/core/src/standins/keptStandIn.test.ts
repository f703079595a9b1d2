import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { channelPressure, controller, noteOn, program, realTime, type Message } from '../midi';
import { feedStandIn, movedInTime, readStandIn, STAND_INS, startStandIn, type StandInState } from './index';

const value = fc.nat(127);
const message: fc.Arbitrary<Message> = fc.oneof(
  fc
    .record({ channel: fc.nat(4), number: value, value })
    .map((m) => controller(m.channel, m.number, m.value)),
  fc.record({ channel: fc.nat(1), value: fc.nat(12) }).map((m) => program(m.channel, m.value)),
  fc.record({ channel: fc.nat(1), note: value, value }).map((m) => noteOn(m.channel, m.note, m.value)),
  value.map((v) => channelPressure(0, v)),
  fc.constant(realTime('clock')),
);
const evening = fc.array(fc.record({ afterMs: fc.nat(3000), message }), { maxLength: 40 });
type Evening = readonly { readonly afterMs: number; readonly message: Message }[];

/** Feeds messages one after another from a time on. */
function feed(standIn: StandInState, events: Evening, fromMs: number): StandInState {
  let atMs = fromMs;
  for (const { afterMs, message: told } of events) standIn = feedStandIn(standIn, told, 0, (atMs += afterMs));
  return standIn;
}

/** An empty track of a looper has no times, whatever stands there. */
const heardOf = (standIn: StandInState): StandInState =>
  standIn.kind !== 'looper'
    ? standIn
    : {
        ...standIn,
        state: {
          ...standIn.state,
          tracks: standIn.state.tracks.map((t) =>
            t.phase === 'empty' ? { ...t, startedAtMs: 0, takenFromMs: 0 } : t,
          ),
        },
      };

describe('a stand-in that is kept while the page is away', () => {
  it.each(Object.keys(STAND_INS) as StandInState['kind'][])('%s goes on as it would have', (kind) => {
    fc.assert(
      fc.property(evening, evening, fc.integer({ min: -50_000, max: 50_000 }), (first, then, byMs) => {
        const before = feed(startStandIn(kind), first, 1000);
        const kept = readStandIn(JSON.parse(JSON.stringify(movedInTime(before, -200_000))));
        const after = feed(movedInTime(kept!, 200_000 + byMs), then, 200_000 + byMs);
        expect(heardOf(movedInTime(after, -byMs))).toEqual(heardOf(feed(before, then, 200_000)));
      }),
      { seed: 12, numRuns: 300 },
    );
  });

  it.each([
    null,
    7,
    {},
    { kind: 'gone', state: {} },
    { kind: 'looper', state: { tracks: 4 } },
    { kind: 'string-processor' },
  ])('%j is none', (kept) => expect(readStandIn(kept)).toBeNull());
});
