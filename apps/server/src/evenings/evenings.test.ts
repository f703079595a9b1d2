import 'reflect-metadata';
import { demoRig, demoSets } from '@idle-step/demo';
import {
  PROBLEM,
  type EveningLine,
  type EveningLog,
  type EveningReport,
  type Problem,
} from '@idle-step/contract';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { servedDemo } from '../served.test-support';

const served = servedDemo('/api/evenings');

type Entry = EveningReport['entries'][number];

const head = (part: Partial<EveningReport['evening']> = {}): EveningReport['evening'] => ({
  id: crypto.randomUUID(),
  rigId: demoRig.id,
  setId: demoSets[0]!.id,
  setName: 'Lock 9 landing',
  startedAt: '2026-11-26T19:00:00.000Z',
  endedAt: null,
  plan: [],
  ...part,
});
const press = (number: number, label = 'On'): Entry => ({
  kind: 'press',
  number,
  atMs: number * 100,
  control: 'near 5',
  label,
});

async function tell(report: unknown): Promise<{ status: number; body: { lineCount: number } & Problem }> {
  const answer = await fetch(served.base, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(report),
  });
  return { status: answer.status, body: (await answer.json()) as never };
}
const logOf = async (id: string): Promise<EveningLog> =>
  (await fetch(`${served.base}/${id}`)).json() as never;

describe('the log of an evening', () => {
  it('is whole and there once, in whatever pieces and however often it is told (60 evenings)', async () => {
    const pieces = fc.array(
      fc.record({ from: fc.nat({ max: 40 }), count: fc.integer({ min: 0, max: 20 }) }),
      { minLength: 1, maxLength: 8 },
    );
    await fc.assert(
      fc.asyncProperty(pieces, async (told) => {
        const evening = head();
        const known = new Set<number>();
        for (const { from, count } of told) {
          const entries = Array.from({ length: count }, (_, i) => press(from + i));
          for (const { number } of entries) known.add(number);
          expect(await tell({ evening, entries })).toMatchObject({
            status: 200,
            body: { lineCount: known.size },
          });
        }
        const log = await logOf(evening.id);
        const wanted = [...known].sort((a, b) => a - b);
        expect(log.entries).toEqual(wanted.map((n) => press(n)));
      }),
      { numRuns: 60, seed: 5 },
    );
  });

  it('a line that was told stays as it was; the head follows what is told last', async () => {
    const evening = head();
    await tell({ evening, entries: [press(0, 'first')] });
    await tell({
      evening: { ...evening, endedAt: '2026-11-26T20:00:00.000Z' },
      entries: [press(0, 'other')],
    });
    expect(await logOf(evening.id)).toEqual({
      evening: { ...evening, endedAt: '2026-11-26T20:00:00.000Z' },
      entries: [press(0, 'first')],
    });
  });

  it('two windows that tell the same at the same moment tell it once', async () => {
    const evening = head();
    const entries = Array.from({ length: 300 }, (_, i) => press(i));
    const answers = await Promise.all(Array.from({ length: 6 }, () => tell({ evening, entries })));
    expect(answers.map((a) => a.status)).toEqual([200, 200, 200, 200, 200, 200]);
    expect((await logOf(evening.id)).entries).toHaveLength(300);
  });

  it('the list has the last evening first, with its lines counted', async () => {
    const late = head({ startedAt: '2027-01-02T19:00:00.000Z' });
    await tell({ evening: late, entries: [press(0), press(1)] });
    const list = (await (await fetch(`${served.base}?rigId=${demoRig.id}`)).json()) as EveningLine[];
    expect(list[0]).toEqual({ ...late, lineCount: 2 });
  });

  it('is deleted with all its lines', async () => {
    const evening = head();
    await tell({ evening, entries: [press(0)] });
    expect((await fetch(`${served.base}/${evening.id}`, { method: 'DELETE' })).status).toBe(204);
    expect((await fetch(`${served.base}/${evening.id}`)).status).toBe(404);
    expect((await fetch(`${served.base}/${evening.id}`, { method: 'DELETE' })).status).toBe(404);
  });

  it.each([
    ['a rig that is gone', { evening: head({ rigId: crypto.randomUUID() }), entries: [] }, 404, PROBLEM.gone],
    [
      'bytes that are none',
      { evening: head(), entries: [{ ...press(0), kind: 'message' }] },
      422,
      PROBLEM.invalid,
    ],
    [
      'a line before the beginning',
      { evening: head(), entries: [{ ...press(0), atMs: -1 }] },
      422,
      PROBLEM.invalid,
    ],
    [
      'too many at once',
      { evening: head(), entries: Array.from({ length: 2001 }, (_, i) => press(i)) },
      422,
      PROBLEM.invalid,
    ],
  ])('%s is refused, and nothing of it is kept', async (_what, report, status, type) => {
    const answer = await tell(report);
    expect([answer.status, answer.body.type]).toEqual([status, type]);
    expect((await fetch(`${served.base}/${report.evening.id}`)).status).toBe(404);
  });
});
