import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Kept } from '@idle-step/contract';
import type { AnyDoc } from '../../api/api';
import { Journal, type Left } from './journal';
import { Saver, type SaveRequest } from './saver';
import { keepMine, typed, type Draft, type Outcome } from './saving';
import { anySavingRun, whatSavingLoses } from './saving.test-support';

type Song = { id: string; rigId: string; name: string; tempoBpm: number };
const song = (part: Partial<Song> = {}): AnyDoc =>
  ({ id: 's', rigId: 'r', name: 'kept', tempoBpm: 100, ...part }) as unknown as AnyDoc;
const kept = (doc: AnyDoc, version: number): Kept<AnyDoc> => ({ doc, version, savedAt: `at ${version}` });

/** A page by hand: what is sent waits until the test answers. */
function page() {
  const sent: { request: SaveRequest; answer: (outcome: Outcome) => void }[] = [];
  const timers: (() => void)[] = [];
  let draft: Draft | undefined;
  const saver = new Saver({
    draft: () => draft,
    change: (_, next) => void (draft = next),
    send: (request, answer) => void sent.push({ request, answer }),
    after: (_, call) => void timers.push(call),
  });
  let order = 0;
  return {
    sent,
    draft: () => draft!,
    type(part: Partial<Song>) {
      const doc = { ...(draft?.doc ?? song()), ...part } as AnyDoc;
      draft = typed(draft, 'songs', kept(song(), 1), doc, { label: '', order: ++order });
      saver.look('s');
    },
    mine() {
      draft = keepMine(draft!);
      saver.look('s');
    },
    time: () => timers.splice(0).forEach((call) => call()),
  };
}

describe('saving a document', () => {
  it('an edit while a save is under way waits for its answer and is saved from the new version', () => {
    const p = page();
    p.type({ name: 'a' });
    p.time();
    p.type({ name: 'b' });
    p.time();
    expect(p.sent).toHaveLength(1);
    p.sent[0]!.answer({ kind: 'kept', kept: kept(song({ name: 'a' }), 2) });
    p.time();
    expect(p.sent[1]!.request).toMatchObject({ version: 2, doc: { name: 'b' } });
  });

  it('one that was refused says why and is not sent again before something else is typed', () => {
    const problem = {
      type: '/problems/invalid',
      title: 'Refused',
      status: 422,
      detail: 'A song needs a name.',
    };
    const p = page();
    p.type({ name: '' });
    p.time();
    p.sent[0]!.answer({ kind: 'refused', problem });
    expect(p.draft().status).toEqual({ kind: 'refused', problem });
    p.time();
    expect(p.sent).toHaveLength(1);
    p.type({ name: 'a' });
    p.time();
    expect(p.sent[1]!.request).toMatchObject({ version: 1, doc: { name: 'a' } });
    // What was typed before the answer came may be what mends it.
    p.type({ name: 'b' });
    p.sent[1]!.answer({ kind: 'refused', problem });
    expect(p.draft().status).toEqual({ kind: 'waiting' });
    p.time();
    expect(p.sent[2]!.request).toMatchObject({ version: 1, doc: { name: 'b' } });
  });

  it('a save that was stored and whose answer was lost is no change elsewhere', () => {
    const p = page();
    p.type({ name: 'a' });
    p.time();
    p.sent[0]!.answer({ kind: 'lost' });
    p.type({ name: 'ab' });
    p.time();
    p.sent[1]!.answer({ kind: 'stale', theirs: kept(song({ name: 'a' }), 2) });
    expect(p.draft().status.kind).toBe('waiting');
    p.time();
    expect(p.sent[2]!.request).toMatchObject({ version: 2, doc: { name: 'ab' } });
  });

  it('an answer that comes twice, or after its attempt was given up, changes nothing', () => {
    const p = page();
    p.type({ name: 'a' });
    p.time();
    const late = { kind: 'kept', kept: kept(song({ name: 'a' }), 2) } as const;
    p.sent[0]!.answer({ kind: 'lost' });
    p.time();
    p.sent[0]!.answer(late);
    expect(p.draft()).toMatchObject({ version: 1, status: { kind: 'in-flight' } });
    p.sent[1]!.answer({ kind: 'stale', theirs: late.kept });
    p.sent[1]!.answer({ kind: 'lost' });
    expect(p.draft()).toMatchObject({ version: 2, status: { kind: 'saved' } });
  });

  it('a server that can store nothing now is told why, and asked again', () => {
    const p = page();
    p.type({ name: 'a' });
    p.time();
    p.sent[0]!.answer({ kind: 'lost', why: 'The disk is full.' });
    expect(p.draft().status).toEqual({ kind: 'off', why: 'The disk is full.' });
    p.time();
    p.sent[1]!.answer({ kind: 'kept', kept: kept(song({ name: 'a' }), 2) });
    expect(p.draft().status.kind).toBe('saved');
  });

  it('different fields that two windows edited come together without a question', () => {
    const p = page();
    p.type({ name: 'mine' });
    p.time();
    p.sent[0]!.answer({ kind: 'stale', theirs: kept(song({ tempoBpm: 90 }), 2) });
    p.time();
    expect(p.sent[1]!.request).toMatchObject({ version: 2, doc: { name: 'mine', tempoBpm: 90 } });
  });

  it('the same field is asked about, and "keep mine" after a third save elsewhere asks no more', () => {
    const p = page();
    p.type({ name: 'mine' });
    p.time();
    p.sent[0]!.answer({ kind: 'stale', theirs: kept(song({ name: 'theirs' }), 2) });
    expect(p.draft().status).toMatchObject({ kind: 'conflict', disputed: [['name']] });
    p.mine();
    p.time();
    p.sent[1]!.answer({ kind: 'stale', theirs: kept(song({ name: 'theirs', tempoBpm: 77 }), 3) });
    p.time();
    expect(p.sent[2]!.request).toMatchObject({ version: 3, doc: { name: 'mine', tempoBpm: 77 } });
  });

  it('what two closed windows left of one text is all there until each was taken up', () => {
    const items = new Map<string, string>();
    const storage = {
      get length() {
        return items.size;
      },
      key: (i: number) => [...items.keys()][i] ?? null,
      getItem: (key: string) => items.get(key) ?? null,
      setItem: (key: string, value: string) => void items.set(key, value),
      removeItem: (key: string) => void items.delete(key),
    };
    for (const name of ['first', 'second']) {
      const draft = typed(undefined, 'songs', kept(song(), 1), song({ name }), { label: '', order: 1 });
      new Journal(storage, name).note('songs/s', draft);
    }
    const names = (left: readonly Left[]) => left.map((l) => l.draft.doc.name);
    const third = new Journal(storage, 'third');
    expect(names(third.left((id) => id === 'first'))).toEqual(['second']);
    const left = third.left(() => false);
    expect(names(left)).toEqual(['first', 'second']);
    left[0]!.taken();
    expect(names(new Journal(storage, 'fourth').left(() => false))).toEqual(['second']);
  });

  it('loses nothing that was typed and asks nobody about their own text, in 2,000 random runs', () => {
    fc.assert(
      fc.property(anySavingRun, (run) => {
        expect(whatSavingLoses(run)).toBeNull();
      }),
      { seed: 301, numRuns: 2000 },
    );
  }, 120_000);
});
