import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  applied,
  differenceOf,
  isSameJson,
  mapReferences,
  merged,
  referencesIn,
  reversed,
  squashed,
  takenOut,
  type Json,
} from './index';

const field = fc.oneof(fc.integer({ min: 0, max: 3 }), fc.constantFrom('a', 'b', null, true));
const row = (id: fc.Arbitrary<string>) =>
  fc.record(
    { id, name: field, list: fc.array(field, { maxLength: 2 }), deep: fc.record({ x: field, y: field }) },
    { requiredKeys: ['id'] },
  );
const rows = fc.uniqueArray(row(fc.constantFrom('r0', 'r1', 'r2', 'r3', 'r4')), {
  maxLength: 5,
  selector: (r) => r.id,
});
const anyDoc = fc.record(
  {
    name: field,
    tempo: field,
    scenes: rows,
    cells: rows,
    note: field,
    plain: fc.array(field, { maxLength: 3 }),
  },
  { requiredKeys: ['name', 'scenes'] },
) as fc.Arbitrary<Json>;

describe('a difference', () => {
  const laws = (check: (a: Json, b: Json, c: Json) => void) =>
    fc.assert(
      fc.property(anyDoc, anyDoc, anyDoc, (a, b, c) => void check(a, b, c)),
      {
        seed: 201,
        numRuns: 2000,
      },
    );

  it('makes the one text into the other', () =>
    laws((a, b) => expect(applied(a, differenceOf(a, b))).toEqual(b)));
  it('letter by letter', () =>
    laws((a, b) => {
      const there = differenceOf(a, b);
      expect(JSON.stringify(applied(applied(a, there), reversed(there)))).toBe(JSON.stringify(a));
    }));
  it('and back', () =>
    laws((a, b) => expect(isSameJson(applied(b, reversed(differenceOf(a, b))), a)).toBe(true)));
  it('is nothing between equal texts', () =>
    laws((a) => expect(differenceOf(a, structuredClone(a))).toEqual([])));
  it('and another come to one that does both', () =>
    laws((a, b, c) => {
      const one = squashed(differenceOf(a, b), differenceOf(b, c));
      expect(isSameJson(applied(a, one), c)).toBe(true);
      expect(isSameJson(applied(c, reversed(one)), a)).toBe(true);
    }));
  it('is plain data', () =>
    laws((a, b) => {
      const difference = differenceOf(a, b);
      expect(applied(a, JSON.parse(JSON.stringify(difference)) as typeof difference)).toEqual(b);
    }));

  it('names a row by its id, so that a moved one has not changed', () => {
    const [x, y] = [
      { id: 'x', v: 1 },
      { id: 'y', v: 2 },
    ];
    expect(differenceOf({ rows: [x, y] }, { rows: [y, { ...x, v: 3 }] })).toEqual([
      { kind: 'put', path: ['rows', { row: 'x' }, 'v'], from: 1, to: 3 },
      { kind: 'order', path: ['rows'], from: ['x', 'y'], to: ['y', 'x'] },
    ]);
  });

  it('leaves out what has no place any more, and keeps rows that it does not know', () => {
    const rename = differenceOf({ rows: [{ id: 'x', v: 1 }] }, { rows: [{ id: 'x', v: 2 }] });
    expect(applied({ rows: [{ id: 'z', v: 0 }] }, rename)).toEqual({ rows: [{ id: 'z', v: 0 }] });
    const turn = differenceOf({ rows: [{ id: 'x' }, { id: 'y' }] }, { rows: [{ id: 'y' }, { id: 'x' }] });
    const grown = { rows: [{ id: 'x' }, { id: 'new' }, { id: 'y' }] };
    expect(applied(grown, turn)).toEqual({ rows: [{ id: 'y' }, { id: 'x' }, { id: 'new' }] });
  });
});

describe('two texts made from one', () => {
  const base = {
    name: 'n',
    tempo: 100,
    scenes: [
      { id: 'a', name: 'A' },
      { id: 'b', name: 'B' },
    ],
  };

  it('come together where they changed different fields', () => {
    const both = merged(base, { ...base, name: 'mine' }, { ...base, tempo: 90 });
    expect(both).toEqual({
      mine: { ...base, name: 'mine', tempo: 90 },
      theirs: { ...base, name: 'mine', tempo: 90 },
      disputed: [],
    });
  });
  it('dispute only the field that both changed', () => {
    const both = merged(base, { ...base, name: 'mine', tempo: 1 }, { ...base, name: 'theirs' });
    expect(both.disputed).toEqual([['name']]);
    expect(both.mine).toEqual({ ...base, name: 'mine', tempo: 1 });
    expect(both.theirs).toEqual({ ...base, name: 'theirs', tempo: 1 });
  });
  it('do not dispute what both changed alike', () =>
    expect(merged(base, { ...base, tempo: 7 }, { ...base, tempo: 7 }).disputed).toEqual([]));
  it('both add rows', () => {
    const mine = { ...base, scenes: [...base.scenes, { id: 'c', name: 'C' }] };
    const theirs = { ...base, scenes: [{ id: 'd', name: 'D' }, ...base.scenes] };
    const both = merged(base, mine, theirs);
    expect(both.disputed).toEqual([]);
    expect((both.mine as typeof base).scenes.map((s) => s.id).sort()).toEqual(['a', 'b', 'c', 'd']);
  });
  it('dispute a row that one removed and the other changed', () => {
    const mine = { ...base, scenes: [{ id: 'a', name: 'mine' }, base.scenes[1]!] };
    const theirs = { ...base, scenes: [base.scenes[1]!] };
    expect(merged(base, mine, theirs).disputed).toHaveLength(1);
  });
  it('dispute the order of rows only where both put them into different ones', () => {
    const rows = (...ids: string[]) => ({ ...base, scenes: ids.map((id) => ({ id, name: id })) });
    const was = rows('a', 'b', 'c');
    expect(merged(was, rows('b', 'a', 'c'), rows('a', 'c', 'b')).disputed).toHaveLength(1);
    const alike = merged(was, rows('c', 'b', 'a'), rows('c', 'b', 'a'));
    expect([alike.disputed, alike.mine]).toEqual([[], rows('c', 'b', 'a')]);
    // One has taken a row out, and the other has turned those round that are left.
    const turned = merged(was, rows('a', 'c'), rows('c', 'b', 'a'));
    expect([turned.disputed, turned.mine]).toEqual([[], rows('c', 'a')]);
    const back = merged(was, rows('c', 'b', 'a'), rows('a', 'c'));
    expect([back.disputed, back.mine]).toEqual([[], rows('c', 'a')]);
    const added = merged(was, rows('b', 'a', 'c'), rows('a', 'b', 'c', 'd'));
    expect([added.disputed, added.mine]).toEqual([[], rows('b', 'a', 'c', 'd')]);
  });
  it('keep the order that one has put rows into, whatever the other adds or takes out', () => {
    const ids = ['a', 'b', 'c', 'd', 'e'];
    const rows = (list: readonly string[]) => ({ scenes: list.map((id) => ({ id })) });
    const shuffled = fc.shuffledSubarray(ids, { minLength: 5, maxLength: 5 });
    fc.assert(
      fc.property(shuffled, fc.subarray(ids), fc.nat(5), (order, left, at) => {
        const changed = rows([...left.slice(0, at), 'new', ...left.slice(at)]);
        const expected = order.filter((id) => left.includes(id));
        for (const both of [
          merged(rows(ids), rows(order), changed),
          merged(rows(ids), changed, rows(order)),
        ]) {
          const now = both.mine.scenes.map((s) => s.id);
          expect([both.disputed, now.filter((id) => id !== 'new'), now.length]).toEqual([
            [],
            expected,
            expected.length + 1,
          ]);
        }
      }),
      { seed: 203, numRuns: 1000 },
    );
  });
  it('never dispute what was sent from here and stored without an answer', () => {
    const sent = { ...base, name: 'first' };
    expect(merged(base, { ...base, name: 'second' }, sent, [sent])).toMatchObject({
      mine: { name: 'second' },
      disputed: [],
    });
    // Taken back since it was sent: that too is a wish.
    expect(merged(base, base, sent, [sent])).toMatchObject({ mine: { name: 'n' }, disputed: [] });
  });
  it('with one side unchanged are the other side', () => {
    fc.assert(
      fc.property(anyDoc, anyDoc, (a, b) => {
        expect(isSameJson(merged(a, a, b).mine, b)).toBe(true);
        expect(isSameJson(merged(a, b, a).mine, b)).toBe(true);
        expect(merged(a, b, b).disputed).toEqual([]);
      }),
      { seed: 202, numRuns: 1000 },
    );
  });
});

describe('what points elsewhere', () => {
  const board = {
    id: 'board',
    presetId: 'p1',
    rows: [
      { id: 'r1', functionId: 'f1', label: 'one' },
      { id: 'r2', functionId: 'f2', label: 'two' },
    ],
    sets: { armedFunctionIds: ['f1', 'f2'] },
    lamp: { functionId: 'f2', stops: [1] },
  };
  const isGone = (...ids: string[]) => takenOut(board, ({ id }) => ids.includes(id));

  it('is found wherever it stands, with its place', () =>
    expect(referencesIn(board).map((r) => `${r.kind} ${r.id} ${r.path.join('.')}`)).toEqual([
      'preset p1 presetId',
      'function f1 rows.0.functionId',
      'function f2 rows.1.functionId',
      'function f1 sets.armedFunctionIds.0',
      'function f2 sets.armedFunctionIds.1',
      'function f2 lamp.functionId',
    ]));
  it('is led elsewhere, and what points nowhere else stays the same', () => {
    const led = mapReferences(board, ({ id }) => (id === 'f1' ? 'f9' : id));
    expect(led.rows).toEqual([{ id: 'r1', functionId: 'f9', label: 'one' }, board.rows[1]]);
    expect(led.rows[1]).toBe(board.rows[1]);
    expect(led.sets).toEqual({ armedFunctionIds: ['f9', 'f2'] });
    expect(mapReferences(board, ({ id }) => id)).toBe(board);
  });
  it('goes with its row where it is gone, or leaves a field empty that may be', () => {
    expect(isGone('f2')).toEqual({
      ...board,
      rows: [board.rows[0]],
      sets: { armedFunctionIds: ['f1'] },
      lamp: null,
    });
    expect(isGone('p1')).toEqual({ ...board, presetId: null });
    expect(isGone('x')).toBe(board);
    expect(takenOut({ id: 'action', functionId: 'f1' }, () => true)).toBeNull();
  });
});
