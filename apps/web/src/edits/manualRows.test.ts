import { demoRig } from '@idle-step/demo';
import { describe, expect, it } from 'vitest';
import { lookAtManual, takeManual } from './manualRows';

const kelpline = demoRig.devices.find((d) => d.name === 'Kelpline')!;

describe('what a manual says, looked at before it is taken', () => {
  it('is rows for this device; a name that is taken is numbered, and a kept number is said', () => {
    const kept = { ...kelpline, keptNumbers: [{ from: 50, to: 52 }] };
    const look = lookAtManual(kept, 'CC 50 Snapshot\nCC 60 Shimmer on/off\nCC 61 Shimmer', 3);
    expect(look.rows.map((r) => r.name)).toEqual(['Snapshot (2)', 'Shimmer', 'Shimmer (2)']);
    expect(look.lines.map((l) => l.sentences)).toEqual([
      [
        'Kelpline has a Snapshot already, so this one is called Snapshot (2).',
        'Kelpline keeps CC 50 for its own hardware.',
      ],
      [],
      ['Kelpline has a Shimmer already, so this one is called Shimmer (2).'],
    ]);
    const taken = takeManual(kept, look);
    expect('chart' in taken && taken.chart.at(-1)!.name).toBe('Shimmer (2)');
  });

  it('leaves what cannot be a row in the field, each line with its reason', () => {
    const text = 'CC 60 Shimmer\nwhat is this 3\nCC 61 Echo ch 99\nCC 62 Glow';
    const look = lookAtManual(kelpline, text, 3);
    expect(look.rows.map((r) => r.name)).toEqual(['Shimmer', 'Glow']);
    expect(look.left).toBe('what is this 3\nCC 61 Echo ch 99');
    expect(look.lines.filter((l) => l.kind === 'refused').map((l) => l.sentences.length)).toEqual([1, 1]);
    expect(lookAtManual(kelpline, look.left, 3)).toMatchObject({ rows: [], left: look.left });
  });

  it('takes no more than a chart holds', () => {
    const full = {
      ...kelpline,
      chart: Array.from({ length: 1999 }, (_, i) => ({
        ...kelpline.chart[0]!,
        id: `${i}`,
        name: `Row ${i}`,
      })),
    };
    const look = lookAtManual(full, 'CC 60 Shimmer\nCC 61 Glow', 3);
    expect(look.rows).toHaveLength(1);
    expect(look.lines[1]).toMatchObject({
      kind: 'refused',
      sentences: ['Kelpline has 2000 rows; a chart holds no more.'],
    });
  });
});
