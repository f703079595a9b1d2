import type { SmfEvent } from '../formats';
import {
  barBeatAt,
  beatAt,
  BEAT_UNITS,
  PLAIN_LINE,
  PLAIN_SONG,
  PLAIN_TEMPO_CHANGE,
  songLine,
  TEMPO_CHANGES,
  type BarBeat,
  type BeatUnit,
  type Song,
  type SongLine,
  type TempoChange,
} from '../show';
import { isOneOf, lastOf, nth } from '../sure';

/** A song without anything in it, to lay a tempo map out with. */
export const EMPTY: Song = {
  ...PLAIN_SONG,
  id: '',
  rigId: '',
  name: '',
  tempoBpm: 120,
  beatsPerBar: 4,
  lengthS: 0,
  scenes: [],
};

/** Tempos that a song holds, in bpm. */
const [SLOWEST, FASTEST] = [20, 400];
/** Beats that a bar holds. */
const MOST_BEATS = 32;

/** Microseconds to a quarter note. */
export const usOf = (bpm: number): number => Math.round(60_000_000 / bpm);

/**
 * The tempo of a file in bpm, not below 20 and not above 400: to a hundredth where that is written as the same number of
 * microseconds, else exactly. Without one it is 120. Source: Standard MIDI Files 1.0, "Set Tempo".
 */
export function bpmOf(event: SmfEvent | undefined): number {
  const us = event?.kind === 'tempo' ? event.usPerQuarter : 500_000;
  const exact = Math.min(FASTEST, Math.max(SLOWEST, 60_000_000 / Math.max(1, us)));
  const short = Math.round(exact * 100) / 100;
  return usOf(short) === usOf(exact) ? short : exact;
}

/** The tempos and bars of a file, and what of them a song cannot hold. */
export type FileMap = {
  readonly tempos: readonly TempoChange[];
  readonly beatsPerBar: number;
  readonly beatUnit: BeatUnit;
  /** Whether its tempo changes at all. */
  readonly isMoving: boolean;
  /** Tempos that are slower or faster than a song can be. */
  readonly limited: number;
  /** Bars that have more beats, or shorter ones, than a song's, and changes that are more than it holds. */
  readonly leftOut: number;
};

type Event = SmfEvent & { readonly tick: number };
type MeterEvent = Event & { readonly kind: 'meter' };

/**
 * The changes of tempo and bar of a file at their exact places. Steps from beat to beat that lie on one straight way are
 * one gradual change. Those at the start of a part are left to its scene.
 * @param starts where parts begin.
 */
export function mapOf(
  all: readonly Event[],
  starts: ReadonlySet<number>,
  beatOf: (tick: number) => number,
  freshId: () => string,
): FileMap {
  const changes = new Changes(freshId);
  const meters = all.filter((e): e is MeterEvent => e.kind === 'meter');
  const known = meters.filter(isKnown);
  const first = known.findLast((m) => m.tick === 0);
  // Source: Standard MIDI Files 1.0, "Time Signature": without one it is 4/4.
  const beatsPerBar = first?.numerator ?? 4;
  const beatUnit: BeatUnit = first?.denominator ?? 4;
  const lineNow = (): SongLine =>
    songLine({
      ...EMPTY,
      beatsPerBar,
      beatUnit,
      line: { ...PLAIN_LINE, tempos: changes.list() },
    });
  let line = lineNow();
  for (const { tick, numerator, denominator } of known) {
    if (tick === 0) continue;
    changes.at(exactPlace(line, beatOf(tick)), { beatsPerBar: numerator, beatUnit: denominator });
    line = lineNow();
  }
  const tempoEvents = all.filter((e) => e.kind === 'tempo');
  const steps = stepsOf(tempoEvents, beatOf);
  const startBeats = new Set([...starts].map(beatOf));
  for (const step of gradual(steps)) {
    const isSudden = step.since === null;
    if (step.atBeat === 0 || (isSudden && startBeats.has(step.atBeat))) continue;
    changes.at(exactPlace(line, step.atBeat), {
      bpm: step.bpm,
      isGradual: !isSudden,
      since: step.since === null ? null : exactPlace(line, step.since),
    });
  }
  const list = changes.list();
  return {
    tempos: list.slice(0, TEMPO_CHANGES),
    beatsPerBar,
    beatUnit,
    isMoving: steps.length > 1,
    limited: tempoEvents.filter((e) => e.kind === 'tempo' && isLimited(e.usPerQuarter)).length,
    leftOut: meters.length - known.length + Math.max(0, list.length - TEMPO_CHANGES),
  };
}

const isKnown = (meter: MeterEvent): meter is MeterEvent & { readonly denominator: BeatUnit } =>
  meter.numerator >= 1 && meter.numerator <= MOST_BEATS && isOneOf(BEAT_UNITS, meter.denominator);

const isLimited = (us: number): boolean => us <= 0 || 60_000_000 / us < SLOWEST || 60_000_000 / us > FASTEST;

/** A place that is reckoned back to the very beat that it stands for. */
function exactPlace(line: SongLine, beat: number): BarBeat {
  const at = barBeatAt(line, beat);
  // What fractions leave over is taken away where nothing is lost by it.
  const short = { bar: at.bar, beat: Math.round(at.beat * 1e6) / 1e6 };
  return Math.abs(beatAt(line, short) - beat) < 1e-9 ? short : at;
}

/** Changes by their places, what happens at one place as one. */
class Changes {
  private readonly byPlace = new Map<string, TempoChange>();

  constructor(private readonly freshId: () => string) {}

  at({ bar, beat }: BarBeat, part: Partial<TempoChange>): void {
    const key = `${bar}/${beat}`;
    const plain = { ...PLAIN_TEMPO_CHANGE, id: this.byPlace.get(key)?.id ?? this.freshId(), bar, beat };
    this.byPlace.set(key, { ...(this.byPlace.get(key) ?? plain), ...part });
  }

  list(): TempoChange[] {
    return [...this.byPlace.values()].sort((a, b) => a.bar - b.bar || a.beat - b.beat);
  }
}

type TempoStep = { readonly atBeat: number; readonly bpm: number };

/** The tempos of a file over its beats: the last one at each place, and none that changes nothing. */
function stepsOf(events: readonly Event[], beatOf: (tick: number) => number): TempoStep[] {
  const steps: TempoStep[] = [{ atBeat: 0, bpm: bpmOf(undefined) }];
  for (const e of events) {
    const step = { atBeat: beatOf(e.tick), bpm: bpmOf(e) };
    if (step.atBeat === lastOf(steps).atBeat) steps[steps.length - 1] = step;
    else steps.push(step);
  }
  return steps.filter((s, i) => i === 0 || s.bpm !== nth(steps, i - 1).bpm);
}

/** Fewer steps than these are steps. */
const GRADUAL_FROM = 3;

/** Steps as they are, or those of one straight way as its end, with the beat that it begins at. */
function gradual(steps: readonly TempoStep[]): (TempoStep & { readonly since: number | null })[] {
  const out: (TempoStep & { since: number | null })[] = [{ ...nth(steps, 0), since: null }];
  for (let i = 1; i < steps.length;) {
    const way = longestWay(steps, i);
    const end = nth(steps, way?.to ?? i);
    out.push({ ...end, since: way?.since ?? null });
    i = (way?.to ?? i) + 1;
  }
  return out;
}

/** The longest straight way of steps from beat to beat that begins with one; `null` where there is none. */
function longestWay(steps: readonly TempoStep[], from: number): { to: number; since: number } | null {
  const before = nth(steps, from - 1);
  const first = nth(steps, from);
  if (!Number.isInteger(first.atBeat)) return null;
  let last = from;
  while (last + 1 < steps.length && nth(steps, last + 1).atBeat === nth(steps, last).atBeat + 1) last++;
  // It may end within a beat.
  const beyond = steps[last + 1];
  const ends = beyond && beyond.atBeat < nth(steps, last).atBeat + 1 ? last + 1 : last;
  const since = Math.max(first.atBeat - 1, before.atBeat);
  for (let to = ends; to - from + 1 >= GRADUAL_FROM; to--)
    if (isStraight(steps, before.bpm, since, from, to)) return { to, since };
  return null;
}

function isStraight(
  steps: readonly TempoStep[],
  first: number,
  since: number,
  from: number,
  to: number,
): boolean {
  const end = nth(steps, to);
  for (let i = from; i < to; i++) {
    const { atBeat, bpm } = nth(steps, i);
    const share = (atBeat - since) / (end.atBeat - since);
    // As it is reckoned when the song is laid out.
    if (Math.round((first + (end.bpm - first) * share) * 100) / 100 !== bpm) return false;
  }
  return true;
}
