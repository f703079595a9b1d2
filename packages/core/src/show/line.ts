import { partsOf } from './parts';
import { sceneSurround } from './carried';
import type { BeatUnit, Cue, Length, Part, Song } from './song';
import { lastOf, nth, there } from '../sure';

/** A place in a song: its bar from 1, and the beat of that bar from 1 with fractions. */
export type BarBeat = { readonly bar: number; readonly beat: number };

/** From a bar on, at this beat of the song, bars have so many beats of this kind. */
export type Meter = {
  readonly bar: number;
  readonly atBeat: number;
  readonly beatsPerBar: number;
  readonly beatUnit: BeatUnit;
};

/** How many quarter notes a beat of a bar is. */
export const quartersOf = (beatUnit: BeatUnit): number => 4 / beatUnit;

/** How many quarter notes a bar has. */
export const barQuarters = ({ beatsPerBar, beatUnit }: Pick<Meter, 'beatsPerBar' | 'beatUnit'>): number =>
  beatsPerBar * quartersOf(beatUnit);
/** From a beat of the song on it has this tempo. */
export type TempoStep = { readonly atBeat: number; readonly atS: number; readonly bpm: number };

/** A part to scale; `null` where a length before it, or its own, is not known. */
export type LinePart = {
  readonly part: Part;
  readonly atBeat: number | null;
  readonly beats: number | null;
  readonly startS: number | null;
  readonly lengthS: number | null;
};

/** What happens at a beat of the song, in the order of beats; at one beat the part, then the tempo, then the cues. */
export type LineEvent =
  | { readonly kind: 'part'; readonly atBeat: number; readonly partIndex: number }
  /** `bpm` is `null` where only the bar changes. */
  | {
      readonly kind: 'tempo';
      readonly atBeat: number;
      readonly bpm: number | null;
      readonly meter: Meter;
    }
  | { readonly kind: 'cue'; readonly atBeat: number; readonly cue: Cue };

/** A song laid out in time. Beats are quarter notes, counted from 0 at its beginning. */
export type SongLine = {
  readonly meters: readonly Meter[];
  readonly tempos: readonly TempoStep[];
  readonly parts: readonly LinePart[];
  /** Cues as they come; those at one beat in the order in which they are written. */
  readonly cues: readonly { readonly cue: Cue; readonly atBeat: number }[];
  readonly events: readonly LineEvent[];
  /** `null` where a part's length is not known. */
  readonly beats: number | null;
  /** Where the loop begins and where it turns back, in beats. */
  readonly loop: { readonly from: number; readonly to: number } | null;
};

/**
 * Lays a song out in time: its own tempo and bar, those that scenes bring as their parts begin, and the changes that are
 * written. A gradual change takes a step at each beat.
 *
 * @param parts in the order in which they are played, where some are left out.
 */
export function songLine(song: Song, parts: readonly Part[] = partsOf(song)): SongLine {
  const meters = metersOf(song);
  const changes = placedChanges(song, meters);
  let laid = layOut(song, parts, meters, changes, []);
  // A gradual change begins at the tempo of the scene that it begins in, which may move what comes after it.
  if (changes.some((c) => c.isGradual))
    for (let again = 0; again < PASSES; again++) {
      const next = layOut(song, parts, meters, changes, laid.brought);
      const isSettled = sameSteps(next.brought, laid.brought);
      laid = next;
      if (isSettled) break;
    }
  const cues = song.line.cues
    .map((cue) => ({ cue, atBeat: beatAt({ meters }, cue) }))
    .sort((a, b) => a.atBeat - b.atBeat);
  const { loop } = song.line;
  const line = {
    meters,
    tempos: laid.map.steps,
    parts: laid.parts,
    cues,
    beats: song.scenes.length === 0 ? null : laid.endBeat,
    loop: loop && {
      from: beatAt({ meters }, { bar: loop.fromBar, beat: 1 }),
      to: beatAt({ meters }, { bar: loop.toBar + 1, beat: 1 }),
    },
  };
  return { ...line, events: eventsOf(line, laid.written) };
}

/** How often a song is laid out again at the most, until nothing moves any more. */
const PASSES = 4;

type Step = { readonly atBeat: number; readonly bpm: number };

const sameSteps = (a: readonly Step[], b: readonly Step[]): boolean =>
  a.length === b.length &&
  a.every((step, i) => step.atBeat === nth(b, i).atBeat && step.bpm === nth(b, i).bpm);

/** @param expected the tempos that scenes were found to bring before; those ahead of a part are taken from it. */
function layOut(
  song: Song,
  parts: readonly Part[],
  meters: readonly Meter[],
  changes: readonly PlacedChange[],
  expected: readonly Step[],
) {
  const surrounds = new Map(song.scenes.map((s, i) => [s.id, sceneSurround(song, i).tempo?.value ?? null]));
  let brought: readonly Step[] = [];
  let written = temposOf(song, changes, expected);
  let map = new TempoMap(song.tempoBpm, written, expected);
  const laid: LinePart[] = [];
  let atBeat: number | null = 0;
  for (const part of parts) {
    const bpm = surrounds.get(part.sceneId) ?? null;
    if (atBeat !== null && bpm !== null) {
      const here = atBeat;
      brought = [...brought.filter((s) => s.atBeat !== here), { atBeat: here, bpm }];
      const ahead = expected.filter((s) => s.atBeat > here);
      written = temposOf(song, changes, [...brought, ...ahead]);
      map = new TempoMap(song.tempoBpm, written, [...brought, ...ahead]);
    }
    const start: number = atBeat ?? 0;
    const bpmHere: number = atBeat === null ? (bpm ?? song.tempoBpm) : map.bpmAt(atBeat);
    const beats: number | null = part.length ? beatsOf(part.length, start, meters, map, bpmHere) : null;
    laid.push({ part, atBeat, beats, startS: null, lengthS: beats === null ? null : (beats * 60) / bpmHere });
    atBeat = atBeat === null || beats === null ? null : atBeat + beats;
  }
  // Seconds are told by the map as it is in the end.
  const timed = laid.map((p): LinePart => {
    const startS = p.atBeat === null ? null : map.secondsAt(p.atBeat);
    if (p.part.length?.unit === 's') return { ...p, startS, lengthS: p.part.length.amount };
    if (startS === null || p.beats === null) return { ...p, startS };
    return { ...p, startS, lengthS: map.secondsAt(there(p.atBeat) + p.beats) - startS };
  });
  return { parts: timed, map, written, brought, endBeat: atBeat };
}

/** Bars from 1 with their beats. */
function metersOf({ beatsPerBar, beatUnit, line }: Song): Meter[] {
  const meters: Meter[] = [{ bar: 1, atBeat: 0, beatsPerBar, beatUnit }];
  const changes = line.tempos
    .filter((t) => t.beatsPerBar !== null)
    .sort((a, b) => a.bar - b.bar || a.beat - b.beat);
  for (const { beatsPerBar: beats, beatUnit: unit, ...place } of changes) {
    const last = lastOf(meters);
    const atBeat = beatAt({ meters }, place);
    if (atBeat < last.atBeat) continue;
    // Within a bar a new one begins.
    const at = barBeatAt({ meters }, atBeat);
    const meter = {
      bar: at.beat > 1 + SAME_BEAT ? at.bar + 1 : at.bar,
      atBeat,
      beatsPerBar: there(beats),
      beatUnit: unit ?? last.beatUnit,
    };
    if (atBeat === last.atBeat) meters[meters.length - 1] = meter;
    else meters.push(meter);
  }
  return meters;
}

/** Places that lie closer than this are one, in beats: what sums of fractions leave over. */
const SAME_BEAT = 1e-9;

type PlacedChange = Step & { readonly isGradual: boolean; readonly sinceBeat: number | null };

/** The written changes of tempo in their order. */
const placedChanges = (song: Song, meters: readonly Meter[]): readonly PlacedChange[] =>
  song.line.tempos
    .filter((t) => t.bpm !== null)
    .map((t) => ({
      atBeat: beatAt({ meters }, t),
      bpm: there(t.bpm),
      isGradual: t.isGradual,
      sinceBeat: t.since && beatAt({ meters }, t.since),
    }))
    .sort((a, b) => a.atBeat - b.atBeat);

/** The written changes as steps of tempo. @param brought tempos that scenes bring, in their order. */
function temposOf(song: Song, changes: readonly PlacedChange[], brought: readonly Step[]): readonly Step[] {
  const steps: Step[] = [];
  let lastBeat = 0;
  for (const { atBeat, bpm, isGradual, sinceBeat } of changes) {
    if (isGradual) {
      const scene = brought.findLast((s) => s.atBeat < atBeat);
      const before = Math.max(lastBeat, scene?.atBeat ?? 0);
      const from = sinceBeat === null ? before : Math.min(Math.max(lastBeat, sinceBeat), atBeat);
      const first = tempoAt(song.tempoBpm, steps, brought, from);
      for (let beat = Math.floor(from + SAME_BEAT) + 1; beat < atBeat - SAME_BEAT; beat++) {
        const share = (beat - from) / (atBeat - from);
        steps.push({ atBeat: beat, bpm: round(first + (bpm - first) * share) });
      }
    }
    steps.push({ atBeat, bpm });
    lastBeat = atBeat;
  }
  return steps;
}

/** The tempo at a beat: the last one that was written or brought; at one beat the written one counts for more. */
function tempoAt(first: number, written: readonly Step[], brought: readonly Step[], beat: number): number {
  const step = written.findLast((s) => s.atBeat <= beat);
  const scene = brought.findLast((s) => s.atBeat <= beat);
  if (!step || !scene) return (step ?? scene)?.bpm ?? first;
  return step.atBeat >= scene.atBeat ? step.bpm : scene.bpm;
}

/** Tempos are kept to a hundredth of a bpm. */
const round = (bpm: number): number => Math.round(bpm * 100) / 100;

/** Tempo over beats, and the seconds that come of it. A change written where a scene brings one counts for more. */
class TempoMap {
  readonly steps: readonly TempoStep[];

  constructor(first: number, written: readonly Step[], brought: readonly Step[]) {
    const places = new Set(written.map((s) => s.atBeat));
    const given = [...written, ...brought.filter((s) => !places.has(s.atBeat))];
    const steps: TempoStep[] = [{ atBeat: 0, atS: 0, bpm: first }];
    for (const { atBeat, bpm } of given.sort((a, b) => a.atBeat - b.atBeat)) {
      const last = lastOf(steps);
      const step = { atBeat, atS: last.atS + ((atBeat - last.atBeat) * 60) / last.bpm, bpm };
      if (atBeat === last.atBeat) steps[steps.length - 1] = step;
      else if (bpm !== last.bpm) steps.push(step);
    }
    this.steps = steps;
  }

  bpmAt(beat: number): number {
    return stepAt(this.steps, beat).bpm;
  }

  secondsAt(beat: number): number {
    return secondsAt({ tempos: this.steps }, beat);
  }
}

const stepAt = (steps: readonly TempoStep[], beat: number): TempoStep =>
  steps.findLast((s) => s.atBeat <= beat) ?? nth(steps, 0);

/** How many beats a length takes from a beat on. @param bpm the tempo for a length in seconds. */
function beatsOf(length: Length, from: number, meters: readonly Meter[], map: TempoMap, bpm: number): number {
  switch (length.unit) {
    case 'beats':
      return length.amount;
    case 's':
      return map.steps.length === 1
        ? (length.amount * bpm) / 60
        : beatAtSeconds({ tempos: map.steps }, map.secondsAt(from) + length.amount) - from;
    case 'bars': {
      const whole = Math.floor(length.amount);
      const { bar, beat } = barBeatAt({ meters }, from);
      const to = beatAt({ meters }, { bar: bar + whole, beat });
      return to - from + (length.amount - whole) * barQuarters(meterAt({ meters }, to));
    }
  }
}

/** The bars at a beat of the song. */
export const meterAt = ({ meters }: Pick<SongLine, 'meters'>, beat: number): Meter =>
  meters.findLast((m) => m.atBeat <= beat + SAME_BEAT) ?? nth(meters, 0);

/** The beat of the song, in quarter notes from 0, at a bar and its beat. */
export function beatAt({ meters }: Pick<SongLine, 'meters'>, { bar, beat }: BarBeat): number {
  const meter = meters.findLast((m) => m.bar <= bar) ?? nth(meters, 0);
  return meter.atBeat + (bar - meter.bar) * barQuarters(meter) + (beat - 1) * quartersOf(meter.beatUnit);
}

/** The bar and its beat at a beat of the song, from 0 on. */
export function barBeatAt({ meters }: Pick<SongLine, 'meters'>, beat: number): BarBeat {
  const meter = meterAt({ meters }, beat);
  const quarters = barQuarters(meter);
  const since = Math.max(0, beat - meter.atBeat);
  const bars = Math.floor(since / quarters + SAME_BEAT);
  const inBar = Math.max(0, since - bars * quarters);
  return { bar: meter.bar + bars, beat: inBar / quartersOf(meter.beatUnit) + 1 };
}

/** When a beat of the song comes, in s from its beginning. */
export function secondsAt({ tempos }: Pick<SongLine, 'tempos'>, beat: number): number {
  const step = stepAt(tempos, beat);
  return step.atS + ((beat - step.atBeat) * 60) / step.bpm;
}

/** The beat at which the song is after so many seconds. */
export function beatAtSeconds({ tempos }: Pick<SongLine, 'tempos'>, seconds: number): number {
  const step = tempos.findLast((s) => s.atS <= seconds) ?? nth(tempos, 0);
  return step.atBeat + ((seconds - step.atS) * step.bpm) / 60;
}

/** The tempo at a beat, in bpm. */
export const bpmAt = ({ tempos }: Pick<SongLine, 'tempos'>, beat: number): number => stepAt(tempos, beat).bpm;

const RANK = { part: 0, tempo: 1, cue: 2 } as const;

/** @param written steps of tempo; those that scenes bring come with their scenes and are no events of their own. */
function eventsOf(line: Omit<SongLine, 'events'>, written: readonly Step[]): LineEvent[] {
  const changes = new Set([...written, ...line.meters.slice(1)].map((change) => change.atBeat));
  const events: LineEvent[] = [
    ...[...changes].map((atBeat) => ({
      kind: 'tempo' as const,
      atBeat,
      bpm: written.findLast((t) => t.atBeat === atBeat)?.bpm ?? null,
      meter: meterAt(line, atBeat),
    })),
    ...line.parts.flatMap((p, partIndex) =>
      p.atBeat === null ? [] : [{ kind: 'part' as const, atBeat: p.atBeat, partIndex }],
    ),
    ...line.cues.map(({ cue, atBeat }) => ({ kind: 'cue' as const, atBeat, cue })),
  ];
  return events.sort((a, b) => a.atBeat - b.atBeat || RANK[a.kind] - RANK[b.kind]);
}

/** Place of the first event after a beat; the number of events where none is. */
export function firstAfter(events: readonly LineEvent[], beat: number): number {
  let [from, to] = [0, events.length];
  while (from < to) {
    const middle = (from + to) >> 1;
    if (nth(events, middle).atBeat > beat) to = middle;
    else from = middle + 1;
  }
  return from;
}

/** The sum of all parts, in seconds; `null` where one has no length. */
export function partsLengthS(song: Song): number | null {
  if (song.scenes.length === 0) return null;
  const { parts } = songLine(song);
  return parts.every((p) => p.lengthS !== null) ? parts.reduce((sum, p) => sum + there(p.lengthS), 0) : null;
}
