import { readRecording, recordingJsonSchema, writeRecording } from '@idle-step/contract';
import {
  compileWorld,
  firstDifference,
  initialState,
  placeOf,
  Replay,
  sentBy,
  sentIn,
  step,
  type Command,
  type Effect,
  type LiveEvent,
  type RecordedEntry,
  type SentBytes,
  type Show,
} from '@idle-step/core/engine';
import { controller, noteOff, noteOn, sysex, type Message } from '@idle-step/core/midi';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DEMO_PORT as PORT, demoPresets, demoRig, demoSongs } from './index';

const songs = demoSongs.slice(0, 5);
/** The last scene of the first song is left out this evening, and the last song glides. */
const leftOut = songs.map((s, i) => (i === 0 ? [s.scenes[2]!.id] : []));
const show: Show = { rig: demoRig, presets: demoPresets, setName: 'Tour', songs, leftOut };
const START_MS = 1234.5;

type Deed =
  { readonly message: Message; readonly portId: string } | { readonly command: Command } | 'tick' | 'edit';

const deed: fc.Arbitrary<Deed> = fc.oneof(
  fc.record({
    portId: fc.constantFrom(PORT.crossbarIn1, PORT.crossbarIn2),
    message: fc.oneof(
      fc
        .tuple(fc.integer({ min: 31, max: 40 }), fc.constantFrom(0, 127))
        .map(([n, v]) => controller(15, n, v)),
      fc
        .tuple(fc.integer({ min: 4, max: 5 }), fc.integer({ min: 0, max: 127 }))
        .map(([n, v]) => controller(15, n, v)),
      fc.integer({ min: 30, max: 80 }).map((n) => noteOn(13, n, 90)),
      fc.integer({ min: 30, max: 80 }).map((n) => noteOff(13, n)),
      fc.constant(sysex([0x7d, 1, 2])),
    ),
  }),
  fc.record({
    command: fc.constantFrom<Command>(
      { kind: 'scene', to: 'next' },
      { kind: 'song', to: 'next' },
      { kind: 'tap' },
      { kind: 'panic' },
      { kind: 'route', routeId: demoRig.routing.routes[1]!.id, part: 'route', to: 'toggle' },
    ),
  }),
  fc.constant<Deed>('tick'),
  fc.constant<Deed>('edit'),
);

/** Plays as the page does: what comes, the ticks that are asked for, and edits on the way. */
function play(deeds: readonly (readonly [Deed, number])[]): { entries: RecordedEntry[]; sent: SentBytes[] } {
  const replayed: RecordedEntry[] = [];
  const sent: SentBytes[] = [];
  let world = compileWorld(show);
  let state = initialState(world, START_MS);
  let nowMs = START_MS;
  const run = (event: LiveEvent) => {
    replayed.push({ kind: 'event', event });
    const done = step(world, state, event);
    state = done.state;
    sent.push(...sentIn(done.effects));
  };
  for (const [next, afterMs] of deeds) {
    nowMs += afterMs;
    if (next === 'tick') run({ kind: 'tick', atMs: nowMs });
    else if (next === 'edit') {
      // Through a replay of what was so far, so that the edit is taken over in the one way there is.
      const edited = { ...show, setName: `Tour ${nowMs}` };
      replayed.push({ kind: 'show', atMs: nowMs, show: edited });
      const replay = new Replay({ startedAtMs: START_MS, show, entries: replayed });
      let last: readonly Effect[] = [];
      for (let done = replay.next(); done; done = replay.next()) last = done.effects;
      world = replay.world;
      state = replay.state;
      sent.push(...sentIn(last));
    } else if ('command' in next) run({ kind: 'command', atMs: nowMs, command: next.command });
    else run({ kind: 'message', atMs: nowMs, ...next });
  }
  return { entries: replayed, sent };
}

const never = (): never => {
  throw new Error('no event');
};

describe('a recording', () => {
  it('written, read and played again gives the same bytes at the same times', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(deed, fc.integer({ min: 0, max: 900 })), { minLength: 1, maxLength: 25 }),
        (deeds) => {
          const { entries, sent } = play(deeds);
          const text = writeRecording({ startedAtMs: START_MS, show, entries }, sent, '2026-03-01 20:00');
          const read = readRecording(text);
          if (read.error !== undefined) throw new Error(read.error);
          expect(firstDifference(sentBy(read.recording), sent)).toBeNull();
          expect(read.sent).toEqual(sent);
        },
      ),
      { seed: 77, numRuns: 40 },
    );
  }, 60_000);

  it('is played step by step, and says when the next entry comes', () => {
    const entries: RecordedEntry[] = [10, 20].map((ms) => ({
      kind: 'event',
      event: { kind: 'command', atMs: START_MS + ms, command: { kind: 'scene', to: 'next' } },
    }));
    const replay = new Replay({ startedAtMs: START_MS, show, entries });
    expect([replay.position, replay.nextAtMs]).toEqual([0, START_MS + 10]);
    expect(sentIn(replay.next()!.effects).length).toBeGreaterThan(0);
    expect([replay.position, replay.nextAtMs]).toEqual([1, START_MS + 20]);
    replay.next();
    expect([replay.next(), replay.nextAtMs]).toEqual([null, null]);
    expect(placeOf(replay.world, replay.state)).toEqual({ songIndex: 0, sceneIndex: 1, partIndex: 1 });
  });

  it('whose waits are long is played in pieces, and gives the same bytes', () => {
    const start: RecordedEntry = {
      kind: 'event',
      event: { kind: 'command', atMs: START_MS, command: { kind: 'line', to: 'start' } },
    };
    const end: RecordedEntry = { kind: 'event', event: { kind: 'tick', atMs: START_MS + 300_000 } };
    const replay = new Replay({ startedAtMs: START_MS, show, entries: [start, end] });
    const sent: SentBytes[] = [];
    let [pieces, longest, before] = [0, 0, START_MS];
    for (let done = replay.next(); done; done = replay.next()) {
      sent.push(...sentIn(done.effects));
      pieces++;
      longest = Math.max(longest, replay.state.atMs - before);
      before = replay.state.atMs;
    }
    expect(pieces).toBeGreaterThan(20);
    expect(longest).toBeLessThanOrEqual(10_000);
    const world = compileWorld(show);
    const begun = step(world, initialState(world, START_MS), start.kind === 'event' ? start.event : never());
    const whole = step(world, begun.state, { kind: 'tick', atMs: START_MS + 300_000 });
    expect(sent).toEqual(sentIn([...begun.effects, ...whole.effects]));
    expect(sent.length).toBeGreaterThan(3);
  });

  it.each([
    [
      'an edit that sets the rig to nothing',
      { kind: 'edit', atMs: 5, changes: [{ kind: 'put', path: ['rig'], to: null }] },
      /^Entry 1 leaves no rig that could be played: /,
    ],
    [
      'a tick in thirty thousand years',
      { kind: 'tick', atMs: 1e15 },
      /^Entry 1 comes more than a week after the beginning/,
    ],
    [
      'one that leaves then',
      { kind: 'tick', atMs: 5, leavesMs: 1e15 },
      /^Entry 1 comes more than a week after the beginning/,
    ],
  ])('%s is refused with its place', (_what, entry, sentence) => {
    const file = JSON.parse(writeRecording({ startedAtMs: 0, show, entries: [] }, [], 'today')) as {
      entries: unknown[];
    };
    file.entries = [entry];
    expect(readRecording(JSON.stringify(file))).toMatchObject({ error: expect.stringMatching(sentence) });
  });

  const good = () =>
    JSON.parse(
      writeRecording(
        {
          startedAtMs: 0,
          show,
          entries: [
            {
              kind: 'event',
              event: { kind: 'message', atMs: 5, portId: PORT.crossbarIn1, message: controller(15, 36, 127) },
            },
            { kind: 'event', event: { kind: 'tick', atMs: 9 } },
          ],
        },
        [],
        '',
      ),
    ) as { entries: Record<string, unknown>[]; shows: unknown[]; format: string };

  it.each<[string, (file: ReturnType<typeof good>) => void, string]>([
    [
      'another format',
      (f) => (f.format = 'notes'),
      'This file does not say that it is a recording of Idle Step. (at format)',
    ],
    ['no rig', (f) => (f.shows = []), 'The recording has no rig. (at shows)'],
    [
      'times that fall',
      (f) => (f.entries[1]!.atMs = 4),
      'Entry 2 comes before the one above it; times only rise.',
    ],
    [
      'half a message',
      (f) => (f.entries[0]!.bytes = 'BF 24'),
      'Entry 1 is to be one whole message, and BF 24 is not.',
    ],
    [
      'bytes in lower case',
      (f) => (f.entries[0]!.bytes = 'bf 24 7f'),
      'Bytes are hexadecimal pairs with spaces between; B0 07 40 would be right. (at entries.0.bytes)',
    ],
    [
      'a rig that is not there',
      (f) => f.entries.push({ kind: 'show', atMs: 10, show: 3 }),
      'Entry 3 goes over to rig 3, and there are 1.',
    ],
  ])('with %s is refused whole', (_, spoil, sentence) => {
    const file = good();
    expect(readRecording(JSON.stringify(file)).error).toBeUndefined();
    spoil(file);
    expect(readRecording(JSON.stringify(file)).error).toBe(sentence);
  });

  it('of 200 edits, two equal tape marks among them, is opened again and is small', () => {
    let edited = show;
    const entries: RecordedEntry[] = [];
    const [first, second] = show.rig.devices;
    for (let i = 0; i < 200; i++) {
      const devices = edited.rig.devices.map((d) =>
        d.id === second!.id ? { ...d, name: `Device ${i}`, mark: i === 100 ? first!.mark : second!.mark } : d,
      );
      edited = { ...edited, rig: { ...edited.rig, devices } };
      entries.push({ kind: 'show', atMs: START_MS + i, show: edited });
    }
    const text = writeRecording({ startedAtMs: START_MS, show, entries }, [], '');
    const read = readRecording(text);
    if (read.error !== undefined) throw new Error(read.error);
    expect(read.recording.entries).toEqual(entries);
    expect(text.length).toBeLessThan(2 * JSON.stringify(show).length);
  });

  it('of the first released form still opens', () => {
    const file = JSON.parse(writeRecording({ startedAtMs: START_MS, show, entries: [] }, [], '')) as Record<
      string,
      unknown
    >;
    const old = {
      ...file,
      version: 1,
      shows: [show, show],
      entries: [{ kind: 'show', atMs: START_MS, show: 1 }],
    };
    const read = readRecording(JSON.stringify(old));
    if (read.error !== undefined) throw new Error(read.error);
    expect(read.recording.entries).toEqual([{ kind: 'show', atMs: START_MS, show }]);
  });

  it('that is no JSON is refused', () => {
    expect(readRecording('{').error).toMatch(/^This is no JSON: /);
  });

  it('tells where two runs part', () => {
    const a = [{ atMs: 1, portId: 'p', bytes: '90 01 01' }];
    expect(firstDifference(a, [...a])).toBeNull();
    expect(firstDifference(a, [])).toEqual({ index: 0, a: a[0], b: null });
    expect(firstDifference(a, [{ ...a[0]!, bytes: '90 01 02' }])?.index).toBe(0);
  });

  it('has a published schema', async () => {
    // With `npx vitest run -u` the file is written anew after a change.
    const schema = `${JSON.stringify(recordingJsonSchema(), null, 2)}\n`;
    await expect(schema).toMatchFileSnapshot('../../../docs/recording.schema.json');
  });
});
