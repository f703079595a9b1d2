import { draftKey } from './draftKey';
import { type Song, PLAIN_SONG } from '@idle-step/core/show';
import type { Kept } from '@idle-step/contract';
import { applied, differenceOf, reversed, type Json } from '@idle-step/core/edits';
import { demoRig } from '@idle-step/demo';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  draftsReducer,
  edited,
  lastEdited,
  lastUndone,
  mineKept,
  pastSteps,
  rebased,
  redone,
  viewDone,
  viewsLeft,
  viewStepped,
  savingWentOn,
  takenUp,
  theirsKept,
  undone,
  wholeDone,
  wholeStepped,
  type DraftsState,
} from './draftsSlice';
import { answered, sending, UNDO_STEPS } from './saving/saving';

const song = (name: string, id = 'song'): Song => ({
  id,
  rigId: 'rig',
  name,
  tempoBpm: 100,
  beatsPerBar: 4,
  lengthS: 60,
  ...PLAIN_SONG,
  scenes: [],
});
const kept = (doc: Song, version = 1): Kept<Song> => ({
  doc,
  version,
  savedAt: '2026-01-01T10:00:00.000Z',
});
const key = draftKey('songs', 'song');
const start = (): DraftsState => draftsReducer(undefined, { type: 'start' });
const edit = (state: DraftsState, name: string, ...ids: string[]) =>
  draftsReducer(
    state,
    edited({
      resource: 'songs',
      label: name,
      edits: (ids.length === 0 ? ['song'] : ids).map((id) => ({
        kept: kept(song('kept', id)),
        doc: song(name, id),
      })),
    }),
  );
const nameIn = (state: DraftsState, k = key) => state.byKey[k]!.doc.name;
const undo = (state: DraftsState) => {
  const step = lastEdited(state);
  return step?.kind === 'draft' ? draftsReducer(state, undone({ keys: step.keys })) : state;
};
const redo = (state: DraftsState) => {
  const step = lastUndone(state);
  return step?.kind === 'draft' ? draftsReducer(state, redone({ keys: step.keys })) : state;
};

describe('undo and redo', () => {
  it('say what each step was, over all documents, the newest first', () => {
    const state = undo(edit(edit(edit(start(), 'a1'), 'b1', 'other'), 'a2'));
    expect(pastSteps(state).map((s) => s.label)).toEqual(['b1', 'a1']);
  });
  it('take back and bring back over several documents, newest first', () => {
    let state = edit(edit(edit(start(), 'a1'), 'b1', 'other'), 'a2');
    state = undo(state);
    expect(nameIn(state)).toBe('a1');
    state = undo(state);
    expect(nameIn(state, draftKey('songs', 'other'))).toBe('kept');
    state = redo(redo(state));
    expect([nameIn(state), nameIn(state, draftKey('songs', 'other'))]).toEqual(['a2', 'b1']);
  });

  it('a new edit ends what could be redone, in its document and everywhere', () => {
    const state = edit(undo(edit(start(), 'a')), 'b');
    expect(lastUndone(state)).toBeNull();
    expect(lastUndone(edit(undo(edit(start(), 'a')), 'b', 'other'))).toBeNull();
  });

  it('what is shown has its place among the steps, until it is shown no more', () => {
    let state = edit(start(), 'a1');
    state = draftsReducer(state, viewDone({ id: 'v', label: 'add the line' }));
    expect(pastSteps(state).map((s) => s.label)).toEqual(['add the line', 'a1']);
    state = draftsReducer(state, viewStepped({ way: 'undo', id: 'v' }));
    expect([lastEdited(state)!.label, lastUndone(state)!.label]).toEqual(['a1', 'add the line']);
    state = undo(state);
    // Taken back last, done again first.
    expect(lastUndone(state)!.label).toBe('a1');
    state = redo(state);
    state = draftsReducer(state, viewStepped({ way: 'redo', id: 'v' }));
    expect(pastSteps(state).map((s) => s.label)).toEqual(['add the line', 'a1']);
    expect(lastUndone(edit(draftsReducer(state, viewStepped({ way: 'undo', id: 'v' })), 'new'))).toBeNull();
    state = draftsReducer(state, viewsLeft({ ids: ['v'] }));
    expect(pastSteps(state).map((s) => s.label)).toEqual(['a1']);
  });

  it('a step over several documents stands in its place among the others', () => {
    const change = { kind: 'delete', resource: 'songs', doc: song('c', 'gone'), inForceOn: [] } as const;
    let state = edit(start(), 'a1');
    state = draftsReducer(state, wholeDone({ label: 'c was deleted', change }));
    state = edit(state, 'a2');
    expect(pastSteps(state).map((s) => s.label)).toEqual(['a2', 'c was deleted', 'a1']);
    state = undo(state);
    const whole = lastEdited(state)!;
    expect(whole.kind).toBe('whole');
    state = draftsReducer(state, wholeStepped({ way: 'undo', order: whole.order, change }));
    state = undo(state);
    // Brought back in the same order, and a new edit ends what could be done again.
    expect(lastUndone(state)!.label).toBe('a1');
    state = redo(state);
    expect(lastUndone(state)!.label).toBe('c was deleted');
    expect(
      pastSteps(draftsReducer(state, wholeStepped({ way: 'redo', order: whole.order, change })))[0]!.label,
    ).toBe('c was deleted');
    expect(lastUndone(edit(state, 'new'))).toBeNull();
  });

  it('reaches only what it is told to reach', () => {
    const state = edit(edit(start(), 'a1'), 'b1', 'other');
    const only = (step: { kind: string; key?: string }) => step.key === key;
    expect(lastEdited(state, only)!.label).toBe('a1');
    expect(pastSteps(state, () => false)).toEqual([]);
  });

  it('several documents that were edited in one step go back in one, and come again in one', () => {
    const other = draftKey('songs', 'other');
    const names = (state: DraftsState) => [nameIn(state), nameIn(state, other)];
    let state = edit(edit(edit(start(), 'before', 'other'), 'both', 'song', 'other'), 'after');
    expect(pastSteps(state).map((s) => s.label)).toEqual(['after', 'both', 'before']);
    state = undo(undo(state));
    expect(names(state)).toEqual(['kept', 'before']);
    expect(lastUndone(state)!.label).toBe('both');
    state = redo(state);
    expect(names(state)).toEqual(['both', 'both']);
    // Still one step after it was done again.
    expect(names(undo(state))).toEqual(['kept', 'before']);
    expect(names(redo(state))).toEqual(['after', 'both']);
    // Of a document that is gone only the others are taken back.
    const isHere = (step: { kind: string; key?: string }) => step.key !== other;
    expect(lastEdited(state, isHere)).toMatchObject({ label: 'both', keys: [key] });
    // After something new in one of them nothing is brought back, in the other neither.
    state = edit(undo(state), 'new', 'other');
    expect(names(redo(state))).toEqual(['kept', 'new']);
  });

  it('a document that is back goes on with its steps, from what is kept', () => {
    let state = edit(edit(start(), 'a1'), 'a2');
    state = draftsReducer(state, rebased({ key, kept: kept(song('a2'), 1) }));
    expect(state.byKey[key]).toMatchObject({ version: 1, status: { kind: 'saved' } });
    expect(nameIn(undo(state))).toBe('a1');
  });

  it('after any series of edits, undoing them all gives back the text before, and redoing them the text after', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.constantFrom('song', 'other'), fc.string()), { maxLength: 40 }),
        (edits) => {
          const after = edits.reduce((state, [id, name]) => edit(state, name, id), start());
          let state: DraftsState = after;
          for (let i = 0; i < edits.length; i++) state = undo(state);
          for (const draft of Object.values(state.byKey))
            expect(draft.doc).toEqual(song('kept', draft.doc.id));
          for (let i = 0; i < edits.length; i++) state = redo(state);
          for (const [k, draft] of Object.entries(after.byKey))
            expect(state.byKey[k]!.doc).toEqual(draft.doc);
        },
      ),
      { seed: 91 },
    );
  });

  it('keeps a bounded number of steps', () => {
    let state = start();
    for (let i = 0; i < UNDO_STEPS + 20; i++) state = edit(state, `n${i}`);
    expect(state.byKey[key]!.past).toHaveLength(UNDO_STEPS);
  });
});

describe('a draft', () => {
  it('that another window overtook goes on from the newer text, and its steps can still be undone', () => {
    const state = edit(start(), 'mine');
    const draft = answered(sending(state.byKey[key]!, 1), 1, { kind: 'kept', kept: kept(song('mine'), 2) });
    const after = draftsReducer(
      draftsReducer(state, savingWentOn({ key, draft })),
      edited({
        resource: 'songs',
        label: 'x',
        edits: [{ kept: kept(song('theirs'), 3), doc: song('theirs too') }],
      }),
    );
    expect(after.byKey[key]).toMatchObject({ version: 3, status: { kind: 'waiting' }, past: [{}, {}] });
    expect(nameIn(undo(after))).toBe('theirs');
  });

  it('undone leaves what others changed meanwhile', () => {
    const state = edit(start(), 'mine');
    const theirs = { ...song('kept'), tempoBpm: 77 };
    const draft = answered(sending(state.byKey[key]!, 1), 1, { kind: 'stale', theirs: kept(theirs, 2) });
    const after = undo(draftsReducer(state, savingWentOn({ key, draft })));
    expect(after.byKey[key]!.doc).toMatchObject({ name: 'kept', tempoBpm: 77 });
  });

  it('that a window left is taken up, unless there is one already', () => {
    const left = edit(start(), 'left').byKey[key]!;
    expect(nameIn(draftsReducer(start(), takenUp({ key, draft: left })))).toBe('left');
    expect(nameIn(draftsReducer(edit(start(), 'here'), takenUp({ key, draft: left })))).toBe('here');
  });
});

describe('a conflict', () => {
  const theirs = kept(song('theirs'), 5);
  const inConflict = () => {
    const state = edit(start(), 'mine');
    const draft = answered(sending(state.byKey[key]!, 1), 1, { kind: 'stale', theirs });
    return draftsReducer(state, savingWentOn({ key, draft }));
  };

  it('stays until it is settled, whatever is typed', () => {
    expect(edit(inConflict(), 'more').byKey[key]!.status.kind).toBe('conflict');
  });
  it('keeping mine saves over theirs', () => {
    const state = draftsReducer(inConflict(), mineKept({ key }));
    expect(state.byKey[key]).toMatchObject({
      version: 5,
      status: { kind: 'waiting' },
      doc: { name: 'mine' },
    });
  });
  it('keeping theirs can be undone', () => {
    const state = draftsReducer(inConflict(), theirsKept({ key }));
    expect(state.byKey[key]).toMatchObject({
      version: 5,
      status: { kind: 'saved' },
      doc: { name: 'theirs' },
    });
    expect(nameIn(undo(state))).toBe('mine');
  });
});

it('what a removal took is put back the same when a first try broke off half-way', () => {
  const before = demoRig as unknown as Json;
  const after = { ...demoRig, devices: demoRig.devices.slice(0, 9), cables: [] } as unknown as Json;
  const back = reversed(differenceOf(before, after));
  const once = applied(after, back);
  expect(once).toEqual(before);
  expect(applied(once, back)).toEqual(before);
});
