import { cutText } from '../typed';
import { SMF_TEXT, smfClock, type SmfFile, type SmfTrack } from '../formats';
import type { World } from '../engine';
import {
  barBeatAt,
  beatAt,
  PLAIN_LINE,
  PLAIN_SCENE,
  PLAIN_SONG,
  songLine,
  type Length,
  type Part,
  type Scene,
  type SceneValue,
  type Song,
  type SongLine,
} from '../show';
import { CueList } from './cueList';
import { heardIn, isOfScene, runsOf, splitAtStart } from './moves';
import { bpmOf, EMPTY, mapOf } from './tempoMap';
import { lastOf } from '../sure';

/** What came of a file. */
export type SongFromSmf = {
  readonly song: Omit<Song, 'id' | 'rigId' | 'lengthS'> & { readonly lengthS: number };
  /** Channel messages that no device of the rig answers to, by what they are. */
  readonly unknown: number;
  /** Notes: they are played and not set, so they are left out. */
  readonly notes: number;
  /** Tempos below 20 and above 400 bpm, which became these. */
  readonly limited: number;
  /** Changes of tempo and bar that a song cannot hold. */
  readonly leftOut: number;
};

/**
 * A song from a Standard MIDI File: each marker begins a part (without markers the file is one), what programs and
 * controllers come to as it begins is its scene, and parts that are the same in name and state are one scene that comes
 * again. What moves later is a cue at its bar and beat: a run of one function's values glides. The file's own times give
 * the lengths, tempos and bars.
 *
 * @param freshId makes identifiers.
 */
export function songFromSmf(world: World, file: SmfFile, name: string, freshId: () => string): SongFromSmf {
  const clock = smfClock(file);
  const all = eventsOf(world, file);
  const markers = all.flatMap((e) => (e.kind === 'text' && e.type === SMF_TEXT.marker ? [e] : []));
  // What stands before the first marker belongs to its part.
  const starts = (markers.length > 0 ? markers : [{ tick: 0, text: 'Song' }]).map((m, i) => ({
    tick: i === 0 ? 0 : m.tick,
    text: m.text,
  }));
  const songBpm = bpmOf(all.findLast((e) => e.kind === 'tempo' && e.tick === 0));
  const { division } = file;
  const beatOf = (tick: number) =>
    division.kind === 'quarter' ? tick / division.ticks : (clock(tick) * songBpm) / 60_000;
  const map = mapOf(all, new Set(starts.map((m) => m.tick)), beatOf, freshId);
  const { tempos, beatsPerBar, beatUnit, limited, leftOut } = map;
  const line = songLine({
    ...EMPTY,
    tempoBpm: songBpm,
    beatsPerBar,
    beatUnit,
    line: { ...PLAIN_LINE, tempos },
  });
  const endTick = Math.max(0, ...file.tracks.map((t) => t.endTick));
  const { moves, notes, unknown } = heardIn(world, all, beatOf);
  const stretches = starts.map(({ tick, text }, i) => {
    const toTick = starts[i + 1]?.tick ?? endTick;
    const seconds = Math.round(clock(toTick) - clock(tick)) / 1000;
    return {
      name: cutText(text.trim(), 80) || `Part ${i + 1}`,
      from: beatOf(tick),
      to: beatOf(toTick),
      bpm: bpmOf(all.findLast((e) => e.kind === 'tempo' && e.tick <= tick)),
      length: lengthOf(line, beatOf(tick), beatOf(toTick), division.kind === 'quarter') ?? {
        amount: seconds,
        unit: 's',
      },
    };
  });
  const { scenes, parts, cues } = partsFrom(stretches, moves, songBpm, line, freshId);
  for (const e of all)
    if (e.kind === 'text' && e.type === SMF_TEXT.cuePoint) cues.nameAt(beatOf(e.tick), e.text);
  return {
    song: {
      ...PLAIN_SONG,
      name: (file.tracks[0] && nameOf(file.tracks[0])) || name,
      tempoBpm: songBpm,
      beatsPerBar,
      beatUnit,
      lengthS: Math.round(clock(endTick)) / 1000,
      scenes: onlyChanges(scenes, map.isMoving),
      parts,
      line: { ...PLAIN_LINE, tempos, cues: cues.list() },
    },
    unknown,
    notes,
    limited,
    leftOut,
  };
}

/** All events in their order. A track that is called after a device is for it alone; others go to the first that answers. */
const eventsOf = (world: World, file: SmfFile) =>
  file.tracks
    .flatMap((track, i) => {
      const { id } = world.show.rig.devices.find((d) => d.name === nameOf(track)) ?? { id: null };
      return track.events.map((e) => ({ ...e, track: i, deviceId: id }));
    })
    .sort((a, b) => a.tick - b.tick);

/** From one marker to the next, in beats. */
type Stretch = {
  readonly name: string;
  readonly from: number;
  readonly to: number;
  readonly bpm: number;
  readonly length: Length;
};

/** Scenes, parts and cues of stretches: what stands as one begins is its scene, what moves in it is a cue. */
function partsFrom(
  stretches: readonly Stretch[],
  moves: ReturnType<typeof heardIn>['moves'],
  songBpm: number,
  line: SongLine,
  freshId: () => string,
) {
  const scenes: Scene[] = [];
  const cues = new CueList(line, freshId);
  const state = new Map<string, number>();
  const parts = stretches.map(({ name, from, to, bpm, length }, i): Part => {
    const isLast = i === stretches.length - 1;
    const own = moves.filter((m) => m.atBeat >= from && (isLast || m.atBeat < to));
    const runs = runsOf(own).flatMap((run) => splitAtStart(run, from));
    for (const run of runs) if (isOfScene(run, from)) state.set(run.functionId, lastOf(run.values).value);
    const values: SceneValue[] = [...state].map(([functionId, value]) => ({ functionId, value, way: null }));
    const twin = scenes.find(
      (s) => s.name === name && (s.tempoBpm ?? songBpm) === bpm && sameValues(s.values, values),
    );
    const scene = twin ?? { ...PLAIN_SCENE, id: freshId(), name, values, tempoBpm: bpm };
    if (!twin) scenes.push(scene);
    for (const run of runs) {
      if (isOfScene(run, from)) continue;
      cues.add(run);
      state.set(run.functionId, lastOf(run.values).value);
    }
    return { id: freshId(), sceneId: scene.id, name: '', length, remark: '' };
  });
  return { scenes, parts, cues };
}

/** A length in bars where it runs from bar to bar, else in quarter notes; `null` where the file counts in seconds. */
function lengthOf(line: SongLine, from: number, to: number, isCounted: boolean): Length | null {
  if (!isCounted) return null;
  const [a, b] = [barBeatAt(line, from), barBeatAt(line, to)];
  const isWhole = (at: number): boolean => Math.abs(at - 1) < 1e-9;
  const bars = b.bar - a.bar;
  // Bars that are cut short between are counted, and so are no length.
  if (isWhole(a.beat) && isWhole(b.beat) && beatAt(line, { bar: a.bar + bars, beat: 1 }) === to)
    return { amount: bars, unit: 'bars' };
  return { amount: to - from, unit: 'beats' };
}

/** The name of a track, or empty. */
function nameOf(track: SmfTrack): string {
  const name = track.events.find((e) => e.kind === 'text' && e.type === SMF_TEXT.trackName);
  return name?.kind === 'text' ? cutText(name.text.trim(), 80) : '';
}

const sameValues = (a: readonly SceneValue[], b: readonly SceneValue[]): boolean => {
  const of = new Map(a.map((v) => [v.functionId, v.value]));
  return of.size === b.length && b.every((v) => of.get(v.functionId) === v.value);
};

/**
 * Scenes that say only what the one to their left does not. Where the tempo changes at all each says its own: a part
 * comes after another one than its scene does in the sheet, or after a change within that.
 */
function onlyChanges(scenes: readonly Scene[], isMoving: boolean): Scene[] {
  let before = new Map<string, number>();
  return scenes.map((scene) => {
    const values = scene.values.filter((v) => before.get(v.functionId) !== v.value);
    before = new Map(scene.values.map((v) => [v.functionId, v.value]));
    return { ...scene, values, tempoBpm: isMoving ? scene.tempoBpm : null };
  });
}
