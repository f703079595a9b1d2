import type { Action } from '../floor';
import { barBeatAt, type SongLine } from './line';
import type { Cue, Song } from './song';
import { nth, there } from '../sure';

/** A point of a curve that is drawn over a song: a beat from its beginning, and a value as the function's shape says. */
export type CurvePoint = { readonly beat: number; readonly value: number };

/** Beats this close are one place: bars and beats are kept with decimals. */
const SAME_BEAT = 1e-6;

/** A glide of a cue that is a stretch of a curve: from one value to another, evenly, over beats. */
type Stretch = Action & { readonly kind: 'ramp' };
const isStretch = (action: Action, functionId: string): action is Stretch =>
  action.kind === 'ramp' &&
  action.functionId === functionId &&
  action.from !== null &&
  action.time.unit === 'beats' &&
  action.curve === 'linear' &&
  !action.delay &&
  !action.isOff;

/** The points of the curve that a function goes along in a song, earliest first; empty where none is drawn. */
export function curveOf({ cues }: Pick<SongLine, 'cues'>, functionId: string): readonly CurvePoint[] {
  const points: CurvePoint[] = [];
  const add = (beat: number, value: number) => {
    const last = points.at(-1);
    if (last && Math.abs(last.beat - beat) < SAME_BEAT && last.value === value) return;
    points.push({ beat, value });
  };
  for (const { cue, atBeat } of cues)
    for (const action of cue.actions) {
      if (!isStretch(action, functionId)) continue;
      add(atBeat, there(action.from));
      add(atBeat + action.time.amount, action.to);
    }
  return points;
}

/**
 * A song with a curve in place of the one that a function had: a cue at each point, from which it glides evenly to the
 * next. Stretches are put into cues that are there already; a cue that has nothing else to do goes with its stretch.
 * @param points at least two, at different beats; fewer take the curve away.
 * @param name of the cues that are made.
 */
export function withCurve(
  song: Song,
  line: Pick<SongLine, 'cues' | 'meters'>,
  functionId: string,
  points: readonly CurvePoint[],
  name: string,
  newId: () => string,
): Song {
  const kept = song.line.cues.flatMap((cue): Cue[] => {
    const actions = cue.actions.filter((a) => !isStretch(a, functionId));
    if (actions.length === cue.actions.length) return [cue];
    return actions.length === 0 ? [] : [{ ...cue, actions }];
  });
  const beatOf = new Map(line.cues.map(({ cue, atBeat }) => [cue.id, atBeat]));
  const sorted = [...points].sort((a, b) => a.beat - b.beat);
  const cues = [...kept];
  for (const [i, { beat, value }] of sorted.entries()) {
    const next = sorted[i + 1];
    if (!next || next.beat - beat < SAME_BEAT) continue;
    const stretch: Action = {
      id: newId(),
      kind: 'ramp',
      functionId,
      from: value,
      to: next.value,
      time: { amount: next.beat - beat, unit: 'beats' },
      curve: 'linear',
    };
    const at = cues.findIndex((c) => Math.abs((beatOf.get(c.id) ?? -1) - beat) < SAME_BEAT);
    if (at >= 0) cues[at] = { ...nth(cues, at), actions: [...nth(cues, at).actions, stretch] };
    else cues.push({ id: newId(), name, ...barBeatAt(line, beat), actions: [stretch] });
  }
  return { ...song, line: { ...song.line, cues } };
}
