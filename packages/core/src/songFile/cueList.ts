import { cutText } from '../typed';
import type { Action } from '../floor';
import { barBeatAt, type Cue, type SongLine } from '../show';
import type { Run } from './moves';
import { lastOf, nth } from '../sure';

/** Cues by their places; what happens at one beat is one cue. */
export class CueList {
  private readonly byBeat = new Map<number, { id: string; name: string; actions: Action[] }>();

  constructor(
    private readonly line: SongLine,
    private readonly freshId: () => string,
  ) {}

  add({ functionId, values }: Run): void {
    const [first, last] = [nth(values, 0), lastOf(values)];
    const { actions } = this.at(first.atBeat);
    if (values.length < 3) {
      for (const { atBeat, value } of values)
        this.at(atBeat).actions.push({ id: this.freshId(), kind: 'set', functionId, value });
      return;
    }
    const amount = Math.round((last.atBeat - first.atBeat) * 100) / 100;
    actions.push({
      id: this.freshId(),
      kind: 'ramp',
      functionId,
      from: null,
      to: last.value,
      time: { amount, unit: 'beats' },
      curve: 'linear',
    });
  }

  nameAt(beat: number, name: string): void {
    this.at(beat).name = cutText(name.trim(), 80);
  }

  list(): Cue[] {
    return [...this.byBeat]
      .sort(([a], [b]) => a - b)
      .map(([beat, cue]) => {
        const at = barBeatAt(this.line, beat);
        return { ...cue, bar: at.bar, beat: Math.round(at.beat * 1e6) / 1e6 };
      });
  }

  private at(beat: number): { id: string; name: string; actions: Action[] } {
    // A beat has 960 places at the most, as files have.
    const key = Math.round(beat * 960) / 960;
    const cue = this.byBeat.get(key) ?? { id: this.freshId(), name: '', actions: [] };
    this.byBeat.set(key, cue);
    return cue;
  }
}
