import type { SmfEvent } from '../formats';
import { barBeatAt, beatAt, PLAIN_LINE, PLAIN_SONG, songLine, type Song, type TempoChange } from '../show';

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

/** Without one it is 120 bpm. Source: Standard MIDI Files 1.0, "Set Tempo" (from memory). */
export function bpmOf(event: SmfEvent | undefined): number {
  const us = event?.kind === 'tempo' ? event.usPerQuarter : 500_000;
  return Math.min(400, Math.max(20, Math.round((60_000_000 / us) * 100) / 100));
}

/**
 * The changes of tempo and bar that are written at bars, and no scene brings. Tempos between two bars make the next one
 * at a bar a gradual change.
 */
export function mapOf(
  all: readonly SmfEvent[],
  starts: ReadonlySet<number>,
  beatOf: (tick: number) => number,
  freshId: () => string,
): { readonly tempos: TempoChange[]; readonly beatsPerBar: number } {
  const meters = all.flatMap((e) => (e.kind === 'meter' ? [{ tick: e.tick, beats: beatsOf(e) }] : []));
  const beatsPerBar = meters.findLast((m) => m.tick === 0)?.beats ?? meters[0]?.beats ?? 4;
  const tempos: TempoChange[] = [];
  const plain = { id: '', bpm: null, beatsPerBar: null, isGradual: false };
  const barOf = (tick: number): number | null => {
    const at = barBeatAt(songLine({ ...EMPTY, beatsPerBar, line: { ...PLAIN_LINE, tempos } }), beatOf(tick));
    return at.beat === 1 ? at.bar : null;
  };
  for (const { tick, beats } of meters) {
    const bar = barOf(tick);
    if (tick > 0 && bar !== null) tempos.push({ ...plain, id: freshId(), bar, beatsPerBar: beats });
  }
  let between = false;
  for (const e of all) {
    if (e.kind !== 'tempo' || e.tick === 0) continue;
    const bar = barOf(e.tick);
    if (bar === null) {
      between = true;
      continue;
    }
    if (between || !starts.has(e.tick)) {
      const same = tempos.findIndex((t) => t.bar === bar);
      const change = {
        ...(tempos[same] ?? { ...plain, id: freshId(), bar }),
        bpm: bpmOf(e),
        isGradual: between,
      };
      if (same >= 0) tempos[same] = change;
      else tempos.push(change);
    }
    between = false;
  }
  const inOrder = tempos.sort((a, b) => a.bar - b.bar);
  const first = bpmOf(all.findLast((e) => e.kind === 'tempo' && e.tick === 0));
  return { tempos: straightened(inOrder, first, beatsPerBar).slice(0, 200), beatsPerBar };
}

/** Gradual changes that lie on the straight way from the one before to the one after are no changes of their own. */
function straightened(tempos: readonly TempoChange[], first: number, beatsPerBar: number): TempoChange[] {
  const line = songLine({ ...EMPTY, beatsPerBar, line: { ...PLAIN_LINE, tempos } });
  const beat = ({ bar }: TempoChange) => beatAt(line, { bar, beat: 1 });
  const kept: TempoChange[] = [];
  let last = { at: 0, bpm: first };
  tempos.forEach((t, i) => {
    const next = tempos.slice(i + 1).find((other) => other.bpm !== null);
    if (t.bpm !== null && t.isGradual && next?.isGradual) {
      const share = (beat(t) - last.at) / (beat(next) - last.at);
      if (Math.abs(last.bpm + (next.bpm! - last.bpm) * share - t.bpm) < OFF_THE_WAY_BPM) {
        if (t.beatsPerBar !== null) kept.push({ ...t, bpm: null, isGradual: false });
        return;
      }
    }
    kept.push(t);
    if (t.bpm !== null) last = { at: beat(t), bpm: t.bpm };
  });
  return kept;
}

/** Tempos are rounded to a hundredth, in the file and here. */
const OFF_THE_WAY_BPM = 0.03;

/** Quarter notes to the bar, as far as they are whole; 1–16. */
function beatsOf({ numerator, denominator }: SmfEvent & { kind: 'meter' }): number {
  const quarters = (numerator * 4) / denominator;
  return Math.min(16, Math.max(1, Number.isInteger(quarters) ? quarters : numerator));
}
