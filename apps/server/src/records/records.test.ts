import 'reflect-metadata';
import { demoRig } from '@idle-step/demo';
import type { GearRecord, Problem } from '@idle-step/contract';
import { describe, expect, it } from 'vitest';
import { servedDemo } from '../served.test-support';

const served = servedDemo('/api/records');

const board = demoRig.boards[0]!.id;
const recordOf = (part: Partial<GearRecord> = {}): GearRecord => ({
  id: board,
  rigId: demoRig.id,
  aboutId: board,
  at: '2026-11-30T19:00:00.000Z',
  what: { kind: 'board', sent: 'unknown', stored: null },
  ...part,
});
const keep = async (record: unknown, id = board) => {
  const answer = await fetch(`${served.base}/${id}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(record),
  });
  return { status: answer.status, body: (await answer.json()) as GearRecord & Problem };
};
const list = async (rigId = demoRig.id): Promise<GearRecord[]> =>
  (await fetch(`${served.base}?rigId=${rigId}`)).json() as never;

describe('what is known of real gear', () => {
  it('is kept, replaced by the last word, listed with the newest first, and forgotten', async () => {
    expect(await list()).toEqual([]);
    const first = recordOf();
    expect(await keep(first)).toEqual({ status: 200, body: first });
    const dump: GearRecord = {
      id: crypto.randomUUID(),
      rigId: demoRig.id,
      aboutId: demoRig.devices[5]!.id,
      at: '2026-11-30T20:00:00.000Z',
      what: { kind: 'dump', name: 'All sounds', remark: 'before the tour', bytes: '8H1JU/c=' },
    };
    expect((await keep(dump, dump.id)).status).toBe(200);
    const sent = { presetId: null, bytes: 'SVNCAQ==', at: '2026-11-30T19:05:00.000Z' };
    const last = recordOf({ at: '2026-11-30T19:05:00.000Z', what: { kind: 'board', sent, stored: sent } });
    expect((await keep(last)).status).toBe(200);
    expect(await list()).toEqual([dump, last]);
    expect(await list(crypto.randomUUID())).toEqual([]);
    expect((await fetch(`${served.base}/${dump.id}`, { method: 'DELETE' })).status).toBe(204);
    expect(await list()).toEqual([last]);
    expect((await fetch(`${served.base}/${dump.id}`, { method: 'DELETE' })).status).toBe(404);
  });

  it('is the later word when two windows write at once, whichever comes first', async () => {
    const id = crypto.randomUUID();
    const words = Array.from({ length: 6 }, (_, i) =>
      recordOf({
        id,
        at: `2026-11-30T21:0${i}:00.000Z`,
        what: { kind: 'board', sent: 'unknown', stored: null },
      }),
    );
    const answers = await Promise.all(words.map((w) => keep(w, id)));
    expect(answers.map((a) => a.status)).toEqual(words.map(() => 200));
    expect((await list()).filter((r) => r.id === id)).toEqual([words[5]]);
    // One that was late is answered with what is known now.
    expect(await keep(words[2], id)).toEqual({ status: 200, body: words[5] });
    // What a clock in the future said does not stand for ever.
    const future = recordOf({ id, at: '2099-01-01T00:00:00.000Z' });
    expect((await keep(future, id)).body).toEqual(future);
    expect((await keep(words[3], id)).body).toEqual(words[3]);
    await fetch(`${served.base}/${id}`, { method: 'DELETE' });
  });

  it.each([
    ['of a rig that is gone', { rigId: crypto.randomUUID() }, 404, 'There is no rig'],
    ['of an unknown kind', { what: { kind: 'dream' } as never }, 422, ''],
    [
      'with bytes that are none',
      { what: { kind: 'dump', name: 'x', remark: '', bytes: '€' } as never },
      422,
      '',
    ],
    [
      'without a name',
      { what: { kind: 'dump', name: '', remark: '', bytes: '' } as never },
      422,
      'A dump has a name.',
    ],
    [
      'under another identifier',
      { id: crypto.randomUUID() },
      422,
      'its identifier is not that of the address',
    ],
  ])('%s is refused', async (_, part, status, words) => {
    const before = await list();
    const { status: got, body } = await keep(recordOf(part));
    expect([got, body.detail.includes(words)]).toEqual([status, true]);
    expect(await list()).toEqual(before);
  });
});
