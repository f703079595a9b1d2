import {
  compileWorld,
  initialState,
  step,
  traitsOf,
  valueOf,
  type LiveEvent,
  type LiveState,
  type World,
} from '../engine';
import { isInSmf, SMF_TEXT, type SmfEvent, type SmfFile, type SmfTrack } from '../formats';
import type { Device } from '../gear';
import type { Message } from '../midi';
import { beatAtSeconds, partName, partsOf, songLine, type Song, type SongLine } from '../show';
import { usOf } from './tempoMap';

/** Ticks to a quarter note in files that are written here. A beat is a quarter note. */
export const TICKS = 480;
/** A part of unknown length is written with so many bars. */
const BARS_WHERE_UNKNOWN = 8;

/**
 * A song as a Standard MIDI File: the tempo and meter map with a marker at each part and a cue point at each cue, and a
 * track for each device with everything that is sent when the time line is played, as it is played on the stage; but what
 * comes in real time, as a clock does: the map says that.
 */
export function songToSmf(world: World, song: Song): SmfFile {
  const { line, sends } = playedSong(world, song);
  const tickOf = (beat: number) => Math.round(beat * TICKS);
  const map: SmfEvent[] = [
    { tick: 0, kind: 'text', type: SMF_TEXT.trackName, text: song.name },
    ...line.meters.map(({ atBeat, beatsPerBar, beatUnit }) => ({
      tick: tickOf(atBeat),
      kind: 'meter' as const,
      numerator: beatsPerBar,
      denominator: beatUnit,
    })),
    ...line.tempos.map(({ atBeat, bpm }) => ({
      tick: tickOf(atBeat),
      kind: 'tempo' as const,
      usPerQuarter: usOf(bpm),
    })),
    ...line.parts.map(({ part, atBeat }) => ({
      tick: tickOf(atBeat ?? 0),
      kind: 'text' as const,
      type: SMF_TEXT.marker,
      text: partName(song, part),
    })),
    ...line.cues.map(({ cue, atBeat }) => ({
      tick: tickOf(atBeat),
      kind: 'text' as const,
      type: SMF_TEXT.cuePoint,
      text: cue.name,
    })),
  ];
  const tracks = new Map<Device, SmfEvent[]>();
  for (const { atBeat, portId, message, functionId } of sends) {
    if (!isInSmf(message)) continue;
    const device = world.functions.get(functionId ?? '')?.device ?? world.devicesBehind.get(portId)?.[0];
    if (!device) continue;
    const events = tracks.get(device) ?? [];
    tracks.set(device, events);
    events.push({ tick: tickOf(atBeat), kind: 'message', message });
  }
  const endTick = tickOf(line.beats ?? 0);
  return {
    format: 1,
    division: { kind: 'quarter', ticks: TICKS },
    tracks: [
      { events: map.sort((a, b) => a.tick - b.tick), endTick: Math.max(endTick, ...map.map((e) => e.tick)) },
      ...[...tracks].map(([device, events]): SmfTrack => {
        const name: SmfEvent = { tick: 0, kind: 'text', type: SMF_TEXT.trackName, text: device.name };
        return { events: [name, ...events], endTick: Math.max(endTick, events.at(-1)?.tick ?? 0) };
      }),
    ],
  };
}

/** The song as its file plays it: every part has a length and begins by itself, and nothing turns back. */
const asPlayed = (song: Song): Song => ({
  ...song,
  parts: partsOf(song).map((p) => ({
    ...p,
    length: p.length ?? { amount: BARS_WHERE_UNKNOWN, unit: 'bars' },
  })),
  line: {
    ...song.line,
    partsByTime: true,
    follows: null,
    loop: null,
    cues: song.line.cues.map((c) => ({ ...c, actions: c.actions.filter((a) => !traitsOf(a).leadsAway) })),
  },
});

/** One message of a song as it is played. */
export type PlayedSend = {
  readonly atBeat: number;
  readonly portId: string;
  readonly message: Message;
  readonly functionId: string | null;
  /** What the function is told, `null` where none is. */
  readonly value: number | null;
};

/**
 * Everything that is sent when the time line of a song is played from its beginning to its end by itself, as on the stage:
 * parts of unknown length have eight bars, and nothing leads away or turns back.
 */
export function playedSong(
  { show }: World,
  song: Song,
): { readonly line: SongLine; readonly sends: readonly PlayedSend[] } {
  const timed = asPlayed(song);
  const line = songLine(timed);
  const world = compileWorld({ ...show, songs: [timed], entryIds: ['song'], leftOut: [] });
  const sends: PlayedSend[] = [];
  let state = initialState(world, 0);
  let wakeMs = Infinity;
  const run = (event: LiveEvent) => {
    const done = step(world, state, event);
    state = done.state;
    wakeMs = Infinity;
    for (const effect of done.effects) {
      if (effect.kind === 'wake') wakeMs = effect.atMs;
      if (effect.kind !== 'send') continue;
      const { portId, message, functionId } = effect;
      const atBeat = beatAtSeconds(line, effect.atMs / 1000);
      sends.push({
        atBeat,
        portId,
        message,
        functionId,
        value: valueOf(world, state, functionId ?? '') ?? null,
      });
    }
  };
  run({ kind: 'command', atMs: 0, command: { kind: 'line', to: 'start' } });
  // What glides at the end comes to its end; a clock that a cue has started would go on for ever.
  while (wakeMs < Infinity && (state.line?.isRunning || isMoving(state))) run({ kind: 'tick', atMs: wakeMs });
  return { line, sends };
}

const isMoving = ({ ramps, delayed, pending }: LiveState): boolean =>
  ramps.length > 0 || delayed.length > 0 || pending.length > 0;
