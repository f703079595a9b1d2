import { PLAIN_FUNCTION } from '../../gear';
import { endsNote } from '../../midi';
import { hearTempo, PLAIN_TEMPO, type ClockTempo } from '../clockTempo';
import { controllerRow, rangeShape, switchShape, withAt, type StandIn } from '../standIn';
import { nth } from '../../sure';

/** A pattern at work: since when, and whether it goes round. */
export type PadPattern = { readonly sinceMs: number; readonly bpm: number; readonly isRound: boolean };

/** Sixteen pads with two patterns. All 0–127; a pad that is not struck has velocity 0. */
export type PadInstrumentState = {
  readonly velocities: readonly number[];
  readonly pressure: number;
  readonly cutoff: number;
  readonly level: number;
  /** Patterns play round instead of once. */
  readonly isRound: boolean;
  readonly patterns: readonly (PadPattern | null)[];
  readonly tempo: ClockTempo;
  readonly said: string;
};

export const PADS = 16;
/** The note of the first pad. Invented gear, invented number. */
export const FIRST_PAD = 36;
/** Steps of a pattern, four to a beat. */
export const PATTERN_STEPS = 16;
const CC = { level: 7, cutoff: 74, first: 80, second: 81, round: 82 } as const;

/** Pads struck at each step. Invented gear, invented patterns. */
const PATTERNS: readonly (readonly (readonly number[])[])[] = [
  Array.from({ length: PATTERN_STEPS }, (_, i) =>
    i % 8 === 0 ? [0] : i % 8 === 4 ? [4] : i % 2 === 0 ? [8] : [],
  ),
  Array.from({ length: PATTERN_STEPS }, (_, i) => (i % 6 === 0 ? [2, 9] : i % 4 === 2 ? [6] : [])),
];

const patternRow = (name: string, number: number) => ({ ...controllerRow(name, number, switchShape) });

export const padInstrument: StandIn<PadInstrumentState> = {
  title: 'Pad instrument',
  chart: [
    ...Array.from({ length: PADS }, (_, i) => ({
      name: `Pad ${i + 1}`,
      drive: { kind: 'note' as const, note: FIRST_PAD + i },
      shape: { kind: 'range' as const, min: 0, max: 127, shownFrom: 0 },
      ...PLAIN_FUNCTION,
    })),
    {
      name: 'Pressure',
      drive: { kind: 'channel-pressure' },
      shape: rangeShape,
      ...PLAIN_FUNCTION,
    },
    controllerRow('Cutoff', CC.cutoff, rangeShape),
    controllerRow('Level', CC.level, rangeShape),
    patternRow('Pattern 1', CC.first),
    patternRow('Pattern 2', CC.second),
    controllerRow('Patterns go round', CC.round, switchShape),
  ],
  initial: {
    velocities: Array.from({ length: PADS }, () => 0),
    pressure: 0,
    cutoff: 127,
    level: 100,
    isRound: false,
    patterns: [null, null],
    tempo: PLAIN_TEMPO,
    said: '',
  },
  receive(state, message, channel, atMs) {
    const tempo = hearTempo(state.tempo, message, atMs);
    if (tempo !== state.tempo) return { ...state, tempo };
    if (!('channel' in message) || message.channel !== channel) return state;
    if (message.kind === 'note-on' || message.kind === 'note-off') {
      const pad = message.note - FIRST_PAD;
      if (pad < 0 || pad >= PADS)
        return { ...state, said: `there is no pad for note ${message.note}; they begin at ${FIRST_PAD}` };
      const velocity = endsNote(message) ? 0 : message.velocity;
      return { ...state, velocities: withAt(state.velocities, pad, velocity), said: '' };
    }
    if (message.kind === 'channel-pressure') return { ...state, pressure: message.pressure };
    if (message.kind !== 'controller') return state;
    const { controller, value } = message;
    if (controller === CC.cutoff) return { ...state, cutoff: value };
    if (controller === CC.level) return { ...state, level: value };
    if (controller === CC.round) return { ...state, isRound: value >= 64 };
    const index = controller - CC.first;
    if (index !== 0 && index !== 1) return state;
    const { bpm } = state.tempo;
    const pattern = value >= 64 ? { sinceMs: atMs, bpm, isRound: state.isRound } : null;
    return { ...state, patterns: withAt(state.patterns, index, pattern) };
  },
};

/** The step that a pattern is at, 0–15, or `null` when it does not play or has played once. */
export function patternStep(pattern: PadPattern | null, atMs: number): number | null {
  if (!pattern) return null;
  const stepMs = 60_000 / pattern.bpm / 4;
  const step = Math.floor((atMs - pattern.sinceMs) / stepMs);
  if (step < 0 || (!pattern.isRound && step >= PATTERN_STEPS)) return null;
  return step % PATTERN_STEPS;
}

/** How hard each pad sounds at a time, 0–127: by hand, or struck by a pattern. */
export function padsAt(state: PadInstrumentState, atMs: number): readonly number[] {
  const struck = state.patterns.flatMap((p, i) => {
    const step = patternStep(p, atMs);
    return step === null ? [] : nth(nth(PATTERNS, i), step);
  });
  return state.velocities.map((v, i) => (struck.includes(i) ? Math.max(v, 90) : v));
}
