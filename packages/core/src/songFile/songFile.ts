import { SMF_TEXT, smfClock, type SmfEvent, type SmfFile, type SmfTrack } from '../formats';
import { compileWorld, drivenBy, initialState, step, type LiveEvent, type World } from '../engine';
import { takesValue, type Device } from '../gear';
import { NO_SEQUENCES, readSequence, type Message, type SequenceMemory } from '../midi';
import {
  lengthBeats,
  lengthSeconds,
  partName,
  partsOf,
  PLAIN_SCENE,
  PLAIN_SONG,
  tempoIn,
  type Part,
  type Scene,
  type SceneValue,
  type Song,
} from '../show';

/** Ticks to a quarter note in files that are written here. A beat is a quarter note. */
export const TICKS = 480;
/** A part of unknown length is written with so many bars. Our own choice. */
const BARS_WHERE_UNKNOWN = 8;

/**
 * A song as a Standard MIDI File: the tempo and meter map with a marker at each part, and a track for each device with
 * everything that is sent when the parts are played one after the other, as it is played on the stage.
 */
export function songToSmf({ show }: World, song: Song): SmfFile {
  const world = compileWorld({ ...show, songs: [song], entryIds: ['song'], leftOut: [] });
  const map: SmfEvent[] = [
    { tick: 0, kind: 'text', type: SMF_TEXT.trackName, text: song.name },
    { tick: 0, kind: 'meter', numerator: song.beatsPerBar, denominator: 4 },
  ];
  const tracks = new Map<Device, SmfEvent[]>();
  let state = initialState(world, 0);
  let wakeMs = Infinity;
  let [startMs, tick, bpm] = [0, 0, 0];
  const run = (event: LiveEvent) => {
    const done = step(world, state, event);
    state = done.state;
    wakeMs = Infinity;
    for (const effect of done.effects) {
      if (effect.kind === 'wake') wakeMs = effect.atMs;
      if (effect.kind !== 'send') continue;
      const device =
        world.functions.get(effect.functionId ?? '')?.device ?? world.devicesBehind.get(effect.portId)?.[0];
      if (!device) continue;
      const at = tick + Math.round(((effect.atMs - startMs) * bpm * TICKS) / 60_000);
      const events = tracks.get(device) ?? [];
      tracks.set(device, events);
      events.push({ tick: at, kind: 'message', message: effect.message });
    }
  };
  const playTo = (endMs: number) => {
    while (wakeMs < endMs) run({ kind: 'tick', atMs: wakeMs });
  };
  for (const part of partsOf(song)) {
    bpm = tempoIn(song, part.sceneId);
    if (map.findLast((e) => e.kind === 'tempo')?.usPerQuarter !== usOf(bpm))
      map.push({ tick, kind: 'tempo', usPerQuarter: usOf(bpm) });
    map.push({ tick, kind: 'text', type: SMF_TEXT.marker, text: partName(song, part) });
    run({ kind: 'command', atMs: startMs, command: { kind: 'scene', to: 'next' } });
    const length = part.length ?? { amount: BARS_WHERE_UNKNOWN, unit: 'bars' as const };
    const endMs = startMs + lengthSeconds(length, bpm, song.beatsPerBar) * 1000;
    playTo(endMs);
    tick += Math.round(lengthBeats(length, bpm, song.beatsPerBar) * TICKS);
    startMs = endMs;
  }
  const endTick = tick;
  // What glides in the last part comes to its end.
  playTo(Infinity);
  return {
    format: 1,
    division: { kind: 'quarter', ticks: TICKS },
    tracks: [
      { events: map, endTick },
      ...[...tracks].map(([device, events]): SmfTrack => {
        const name: SmfEvent = { tick: 0, kind: 'text', type: SMF_TEXT.trackName, text: device.name };
        return { events: [name, ...events], endTick: Math.max(endTick, events.at(-1)?.tick ?? 0) };
      }),
    ],
  };
}

/** Microseconds to a quarter note. */
const usOf = (bpm: number): number => Math.round(60_000_000 / bpm);

/** What came of a file. */
export type SongFromSmf = {
  readonly song: Omit<Song, 'id' | 'rigId' | 'lengthS'> & { readonly lengthS: number };
  /** Channel messages that no device of the rig answers to, by what they are. */
  readonly unknown: number;
  /** Notes: they are played and not set, so they are left out. */
  readonly notes: number;
};

/**
 * A song from a Standard MIDI File: each marker begins a part (without markers the file is one), what programs and
 * controllers come to until the next one is its scene, and parts that are the same in name and state are one scene that
 * comes again. The file's own times give the lengths and tempos.
 *
 * @param freshId makes identifiers.
 */
export function songFromSmf(world: World, file: SmfFile, name: string, freshId: () => string): SongFromSmf {
  const clock = smfClock(file);
  // A track that is called after a device is for it alone; of others each message goes to the first that answers to it.
  const all = file.tracks
    .flatMap((track, i) => {
      const { id } = world.show.rig.devices.find((d) => d.name === nameOf(track)) ?? { id: null };
      return track.events.map((e) => ({ ...e, track: i, deviceId: id }));
    })
    .sort((a, b) => a.tick - b.tick);
  const endTick = Math.max(0, ...file.tracks.map((t) => t.endTick));
  const beatTicks = file.division.kind === 'quarter' ? file.division.ticks : null;
  const meter = all.find((e) => e.kind === 'meter');
  const beatsPerBar = meter?.kind === 'meter' ? Math.min(16, meter.numerator) : 4;
  const markers = all.flatMap((e) => (e.kind === 'text' && e.type === SMF_TEXT.marker ? [e] : []));
  const starts = markers.length > 0 ? markers : [{ tick: 0, text: 'Song' }];
  const tempoAt = (tick: number): number => {
    const last = all.findLast((e) => e.kind === 'tempo' && e.tick <= tick);
    const us = last?.kind === 'tempo' ? last.usPerQuarter : 500_000;
    return Math.min(400, Math.max(20, Math.round((60_000_000 / us) * 100) / 100));
  };
  const songBpm = tempoAt(starts[0]!.tick);
  let notes = 0;
  let unknown = 0;
  const scenes: Scene[] = [];
  const parts: Part[] = [];
  const state = new Map<string, number>();
  const hear = reader(world);
  let heard = 0;
  starts.forEach((marker, i) => {
    // What stands before the first marker belongs to its part.
    const to = starts[i + 1]?.tick ?? Infinity;
    for (; heard < all.length && all[heard]!.tick < to; heard++) {
      const e = all[heard]!;
      if (e.kind !== 'message') continue;
      if (e.message.kind === 'note-on' || e.message.kind === 'note-off') {
        notes++;
        continue;
      }
      const driven = hear(e.track, e.deviceId, e.message);
      if (driven === 'half') continue;
      if (driven) state.set(driven.functionId, driven.value);
      else unknown++;
    }
    const sceneName = marker.text.trim().slice(0, 80) || `Part ${i + 1}`;
    const bpm = tempoAt(marker.tick);
    const values: SceneValue[] = [...state].map(([functionId, value]) => ({ functionId, value, way: null }));
    const twin = scenes.find(
      (s) => s.name === sceneName && (s.tempoBpm ?? songBpm) === bpm && sameValues(s.values, values),
    );
    const scene = twin ?? {
      ...PLAIN_SCENE,
      id: freshId(),
      name: sceneName,
      values,
      tempoBpm: bpm,
    };
    if (!twin) scenes.push(scene);
    const endsAt = starts[i + 1]?.tick ?? endTick;
    const beats = beatTicks === null ? null : (endsAt - marker.tick) / beatTicks;
    const bars = beats === null ? null : beats / beatsPerBar;
    parts.push({
      id: freshId(),
      sceneId: scene.id,
      name: '',
      length:
        bars !== null && Number.isInteger(bars)
          ? { amount: bars, unit: 'bars' }
          : beats !== null && Number.isInteger(beats)
            ? { amount: beats, unit: 'beats' }
            : { amount: Math.round(clock(endsAt) - clock(marker.tick)) / 1000, unit: 's' },
      remark: '',
    });
  });
  return {
    song: {
      ...PLAIN_SONG,
      name: (file.tracks[0] && nameOf(file.tracks[0])) || name,
      tempoBpm: songBpm,
      beatsPerBar,
      lengthS: Math.round(clock(endTick)) / 1000,
      scenes: onlyChanges(scenes, songBpm),
      parts,
    },
    unknown,
    notes,
  };
}

type Heard = { readonly functionId: string; readonly value: number };

/**
 * Tells what each message of a track drives, by the tables that play it; `half` for one that is a part of something
 * spread over several (bank select, parameter numbers, the halves of 14 bits), and `null` for what nothing answers to.
 */
function reader(world: World) {
  const memories = new Map<string, SequenceMemory>();
  const ports = [...new Set([...world.ways.values()].flatMap((way) => way.path?.portId ?? []))];
  return (track: number, deviceId: string | null, message: Message): Heard | 'half' | null => {
    const own = deviceId === null ? undefined : world.ways.get(deviceId)?.path?.portId;
    for (const portId of own === undefined ? ports : [own]) {
      const key = `${track}/${portId}`;
      const { memory, sequence } = readSequence(memories.get(key) ?? NO_SEQUENCES, message);
      memories.set(key, memory);
      const driven = drivenBy(world, portId, message, sequence);
      const isOwn = deviceId === null || driven?.reached.device.id === deviceId;
      if (
        driven &&
        isOwn &&
        driven.reached.fn.shape.kind !== 'trigger' &&
        takesValue(driven.reached.fn.shape, driven.value)
      )
        return { functionId: driven.reached.fn.id, value: driven.value };
    }
    return message.kind === 'controller' && HALVES.has(message.controller) ? 'half' : null;
  };
}

/** Bank select, data entry, and the numbers of parameters: never anything by themselves. Source: MIDI 1.0 (from memory). */
const HALVES: ReadonlySet<number> = new Set([0, 32, 6, 38, 98, 99, 100, 101]);

/** The name of a track, or empty. */
function nameOf(track: SmfTrack): string {
  const name = track.events.find((e) => e.kind === 'text' && e.type === SMF_TEXT.trackName);
  return name?.kind === 'text' ? name.text.trim().slice(0, 80) : '';
}

const sameValues = (a: readonly SceneValue[], b: readonly SceneValue[]): boolean => {
  const of = new Map(a.map((v) => [v.functionId, v.value]));
  return of.size === b.length && b.every((v) => of.get(v.functionId) === v.value);
};

/** Scenes that say only what the one to their left does not. */
function onlyChanges(scenes: readonly Scene[], songBpm: number): Scene[] {
  let before = new Map<string, number>();
  let bpm = songBpm;
  return scenes.map((scene) => {
    const values = scene.values.filter((v) => before.get(v.functionId) !== v.value);
    const tempoBpm = scene.tempoBpm === bpm ? null : scene.tempoBpm;
    before = new Map(scene.values.map((v) => [v.functionId, v.value]));
    bpm = scene.tempoBpm ?? bpm;
    return { ...scene, values, tempoBpm };
  });
}
