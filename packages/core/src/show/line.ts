import { partsOf } from './parts';
import { sceneSurround } from './carried';
import type { Cue, Length, Part, Song } from './song';

/** A place in a song: its bar from 1, and the beat in it from 1 with fractions. */
export type BarBeat = { readonly bar: number; readonly beat: number };

/** From a bar on, at this beat of the song, bars have so many beats. */
type Meter = { readonly bar: number; readonly atBeat: number; readonly beatsPerBar: number };
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
      readonly beatsPerBar: number;
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
  const written = temposOf(song, meters);
  const surrounds = new Map(song.scenes.map((s, i) => [s.id, sceneSurround(song, i).tempo?.value ?? null]));
  let map = new TempoMap(song.tempoBpm, written);
  const laid: LinePart[] = [];
  let atBeat: number | null = 0;
  for (const part of parts) {
    const bpm = surrounds.get(part.sceneId) ?? null;
    if (atBeat !== null && bpm !== null) map = map.withStep(atBeat, bpm);
    const start: number = atBeat ?? 0;
    const bpmHere: number = atBeat === null ? (bpm ?? song.tempoBpm) : map.bpmAt(atBeat);
    const beats: number | null = part.length ? beatsOf(part.length, start, meters, map, bpmHere) : null;
    const startS = atBeat === null ? null : map.secondsAt(atBeat);
    const isPlaced = atBeat !== null && beats !== null && part.length?.unit !== 's';
    laid.push({
      part,
      atBeat,
      beats,
      startS,
      lengthS: !part.length
        ? null
        : part.length.unit === 's'
          ? part.length.amount
          : isPlaced
            ? map.secondsAt(start + beats!) - startS!
            : (beats! * 60) / bpmHere,
    });
    atBeat = atBeat === null || beats === null ? null : atBeat + beats;
  }
  const cues = song.line.cues
    .map((cue) => ({ cue, atBeat: beatAt({ meters }, cue) }))
    .sort((a, b) => a.atBeat - b.atBeat);
  const { loop } = song.line;
  const line = {
    meters,
    tempos: map.steps,
    parts: laid,
    cues,
    beats: song.scenes.length === 0 ? null : atBeat,
    loop: loop && {
      from: beatAt({ meters }, { bar: loop.fromBar, beat: 1 }),
      to: beatAt({ meters }, { bar: loop.toBar + 1, beat: 1 }),
    },
  };
  return { ...line, events: eventsOf(line, written) };
}

/** Bars from 1 with their beats. */
function metersOf({ beatsPerBar, line }: Song): Meter[] {
  const meters: Meter[] = [{ bar: 1, atBeat: 0, beatsPerBar }];
  const changes = line.tempos.filter((t) => t.beatsPerBar !== null).sort((a, b) => a.bar - b.bar);
  for (const { bar, beatsPerBar: beats } of changes) {
    const last = meters.at(-1)!;
    const meter = { bar, atBeat: last.atBeat + (bar - last.bar) * last.beatsPerBar, beatsPerBar: beats! };
    if (bar === last.bar) meters[meters.length - 1] = meter;
    else meters.push(meter);
  }
  return meters;
}

/** The written changes as steps of tempo. */
function temposOf(song: Song, meters: readonly Meter[]): { atBeat: number; bpm: number }[] {
  const steps: { atBeat: number; bpm: number }[] = [];
  let last = { atBeat: 0, bpm: song.tempoBpm };
  const changes = song.line.tempos.filter((t) => t.bpm !== null).sort((a, b) => a.bar - b.bar);
  for (const { bar, bpm, isGradual } of changes) {
    const to = { atBeat: beatAt({ meters }, { bar, beat: 1 }), bpm: bpm! };
    if (isGradual)
      for (let beat = Math.floor(last.atBeat) + 1; beat < to.atBeat; beat++) {
        const share = (beat - last.atBeat) / (to.atBeat - last.atBeat);
        steps.push({ atBeat: beat, bpm: round(last.bpm + (to.bpm - last.bpm) * share) });
      }
    steps.push(to);
    last = to;
  }
  return steps;
}

/** Tempos are kept to a hundredth of a bpm. */
const round = (bpm: number): number => Math.round(bpm * 100) / 100;

/** Tempo over beats, and the seconds that come of it. */
class TempoMap {
  readonly steps: readonly TempoStep[];

  constructor(
    private readonly first: number,
    private readonly given: readonly { readonly atBeat: number; readonly bpm: number }[],
  ) {
    const steps: TempoStep[] = [{ atBeat: 0, atS: 0, bpm: first }];
    for (const { atBeat, bpm } of given) {
      const last = steps.at(-1)!;
      const step = { atBeat, atS: last.atS + ((atBeat - last.atBeat) * 60) / last.bpm, bpm };
      if (atBeat === last.atBeat) steps[steps.length - 1] = step;
      else if (bpm !== last.bpm) steps.push(step);
    }
    this.steps = steps;
  }

  /** With the tempo that a scene brings. A change written at the same beat counts for more. */
  withStep(atBeat: number, bpm: number): TempoMap {
    if (this.given.some((s) => s.atBeat === atBeat)) return this;
    return new TempoMap(
      this.first,
      [...this.given, { atBeat, bpm }].sort((a, b) => a.atBeat - b.atBeat),
    );
  }

  bpmAt(beat: number): number {
    return stepAt(this.steps, beat).bpm;
  }

  secondsAt(beat: number): number {
    return secondsAt({ tempos: this.steps }, beat);
  }
}

const stepAt = (steps: readonly TempoStep[], beat: number): TempoStep =>
  steps.findLast((s) => s.atBeat <= beat) ?? steps[0]!;

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
      return to - from + (length.amount - whole) * meterAt(meters, to).beatsPerBar;
    }
  }
}

const meterAt = (meters: readonly Meter[], beat: number): Meter =>
  meters.findLast((m) => m.atBeat <= beat) ?? meters[0]!;

/** The beat of the song at a bar and beat. @returns from 0. */
export function beatAt({ meters }: Pick<SongLine, 'meters'>, { bar, beat }: BarBeat): number {
  const meter = meters.findLast((m) => m.bar <= bar) ?? meters[0]!;
  return meter.atBeat + (bar - meter.bar) * meter.beatsPerBar + beat - 1;
}

/** How many beats the bar has at a beat of the song. */
export const beatsPerBarAt = ({ meters }: Pick<SongLine, 'meters'>, beat: number): number =>
  meterAt(meters, beat).beatsPerBar;

/** The bar and beat at a beat of the song, from 0 on. */
export function barBeatAt({ meters }: Pick<SongLine, 'meters'>, beat: number): BarBeat {
  const meter = meterAt(meters, beat);
  const bars = Math.floor((beat - meter.atBeat) / meter.beatsPerBar);
  return { bar: meter.bar + bars, beat: beat - meter.atBeat - bars * meter.beatsPerBar + 1 };
}

/** When a beat of the song comes, in s from its beginning. */
export function secondsAt({ tempos }: Pick<SongLine, 'tempos'>, beat: number): number {
  const step = stepAt(tempos, beat);
  return step.atS + ((beat - step.atBeat) * 60) / step.bpm;
}

/** The beat at which the song is after so many seconds. */
export function beatAtSeconds({ tempos }: Pick<SongLine, 'tempos'>, seconds: number): number {
  const step = tempos.findLast((s) => s.atS <= seconds) ?? tempos[0]!;
  return step.atBeat + ((seconds - step.atS) * step.bpm) / 60;
}

/** The tempo at a beat, in bpm. */
export const bpmAt = ({ tempos }: Pick<SongLine, 'tempos'>, beat: number): number => stepAt(tempos, beat).bpm;

const RANK = { part: 0, tempo: 1, cue: 2 } as const;

/** @param written steps of tempo; those that scenes bring come with their scenes and are no events of their own. */
function eventsOf(
  line: Omit<SongLine, 'events'>,
  written: readonly { readonly atBeat: number; readonly bpm: number }[],
): LineEvent[] {
  const changes = new Set([...written, ...line.meters.slice(1)].map((change) => change.atBeat));
  const events: LineEvent[] = [
    ...[...changes].map((atBeat) => ({
      kind: 'tempo' as const,
      atBeat,
      bpm: written.findLast((t) => t.atBeat === atBeat)?.bpm ?? null,
      beatsPerBar: meterAt(line.meters, atBeat).beatsPerBar,
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
    if (events[middle]!.atBeat > beat) to = middle;
    else from = middle + 1;
  }
  return from;
}

/** The sum of all parts, in seconds; `null` where one has no length. */
export function partsLengthS(song: Song): number | null {
  if (song.scenes.length === 0) return null;
  const { parts } = songLine(song);
  return parts.every((p) => p.lengthS !== null) ? parts.reduce((sum, p) => sum + p.lengthS!, 0) : null;
}
