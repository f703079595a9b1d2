import { SMF_TEXT, smfClock, type SmfEvent, type SmfFile, type SmfTrack } from '../formats';
import { isUsable, messagesFor, readFunction, takesValue, type Device } from '../gear';
import type { Message } from '../midi';
import {
  glideSteps,
  glideStepMs,
  lengthBeats,
  partName,
  partsOf,
  PLAIN_SCENE,
  PLAIN_SONG,
  sceneCells,
  tempoIn,
  type OwnWay,
  type Part,
  type Scene,
  type SceneValue,
  type Song,
} from '../show';
import { scenePlan, type World } from '../engine';

/** Ticks to a quarter note in files that are written here. A beat is a quarter note. */
export const TICKS = 480;
/** A part of unknown length is written with so many bars. Our own choice. */
const BARS_WHERE_UNKNOWN = 8;

/**
 * A song as a Standard MIDI File: the tempo and meter map with a marker at each part, and a track for each device with
 * everything that is sent, glides in their steps.
 */
export function songToSmf(world: World, song: Song): SmfFile {
  const map: SmfEvent[] = [
    { tick: 0, kind: 'text', type: SMF_TEXT.trackName, text: song.name },
    { tick: 0, kind: 'meter', numerator: song.beatsPerBar, denominator: 4 },
  ];
  const byDevice = new Map<string, { device: Device; events: SmfEvent[] }>();
  const at = (device: Device, tick: number, messages: readonly Message[]) => {
    const track = byDevice.get(device.id) ?? { device, events: [] };
    byDevice.set(device.id, track);
    for (const message of messages) track.events.push({ tick, kind: 'message', message });
  };
  let tick = 0;
  let bpm = 0;
  let before: number | null = null;
  for (const part of partsOf(song)) {
    const to = song.scenes.findIndex((s) => s.id === part.sceneId);
    if (to < 0) continue;
    const tempo = tempoIn(song, part.sceneId);
    if (tempo !== bpm) map.push({ tick, kind: 'tempo', usPerQuarter: Math.round(60_000_000 / tempo) });
    bpm = tempo;
    map.push({ tick, kind: 'text', type: SMF_TEXT.marker, text: partName(song, part) });
    const ticksAfter = (ms: number) => Math.round((ms * bpm * TICKS) / 60_000);
    for (const line of scenePlan(world, song, before, to).lines) {
      const { device, fn } = world.functions.get(line.functionId)!;
      const glide = before === null ? null : glideOf(song, before, to, line.functionId, fn.shape.kind);
      if (!glide || line.reason === 'reloaded') at(device, tick + ticksAfter(line.atMs), line.messages);
      else
        for (const step of glideSteps(
          glide.from,
          line.value,
          glide.curve,
          glide.ms,
          glideStepMs([line.wireMs]),
        ))
          at(device, tick + ticksAfter(line.atMs + step.atMs), messagesFor(device, fn, step.value));
    }
    const length = part.length ?? { amount: BARS_WHERE_UNKNOWN, unit: 'bars' as const };
    tick += Math.round(lengthBeats(length, bpm, song.beatsPerBar) * TICKS);
    before = to;
  }
  const tracks: SmfTrack[] = [
    { events: map, endTick: tick },
    ...[...byDevice.values()].map(({ device, events }) => {
      const sorted = events.toSorted((a, b) => a.tick - b.tick);
      const name: SmfEvent = { tick: 0, kind: 'text', type: SMF_TEXT.trackName, text: device.name };
      return { events: [name, ...sorted], endTick: Math.max(tick, sorted.at(-1)?.tick ?? 0) };
    }),
  ];
  return { format: 1, division: { kind: 'quarter', ticks: TICKS }, tracks };
}

/** How a range gets from one scene to another over time; `null` where it is set at once. */
function glideOf(song: Song, from: number, to: number, functionId: string, shape: string) {
  if (shape !== 'range') return null;
  const start = sceneCells(song, from).get(functionId)?.value;
  const cell = sceneCells(song, to).get(functionId);
  const scene = song.scenes[to]!;
  const own: OwnWay | null = cell?.setIn === to ? cell.way : null;
  const way = own?.kind === 'at-once' ? null : (own ?? scene.transition);
  if (start === undefined || !way || way.time.amount <= 0) return null;
  const { amount, unit } = way.time;
  const ms = unit === 's' ? amount * 1000 : (amount * 60_000) / tempoIn(song, scene.id);
  return { from: start, curve: way.curve, ms };
}

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
    .flatMap((track) => {
      const { id } = world.show.rig.devices.find((d) => d.name === nameOf(track)) ?? { id: null };
      return track.events.map((e) => ({ ...e, deviceId: id }));
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
  starts.forEach((marker, i) => {
    // What stands before the first marker belongs to its part.
    const from = i === 0 ? 0 : marker.tick;
    const to = starts[i + 1]?.tick ?? Infinity;
    for (const e of all) {
      if (e.kind !== 'message' || e.tick < from || e.tick >= to) continue;
      const { message } = e;
      if (message.kind === 'note-on' || message.kind === 'note-off') {
        notes++;
        continue;
      }
      const found = world.rows.flatMap(({ device, fn }) => {
        const isOther = e.deviceId !== null && e.deviceId !== device.id;
        if (isOther || fn.shape.kind === 'trigger' || !isUsable(device, fn)) return [];
        const value = readFunction(device, fn, message, null);
        return value !== null && takesValue(fn.shape, value)
          ? [{ id: fn.id, deviceId: device.id, value }]
          : [];
      });
      const [first] = found;
      if (!first) unknown++;
      else for (const { id, deviceId, value } of found) if (deviceId === first.deviceId) state.set(id, value);
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
