import type { FullRig } from '@idle-step/core/routing';
import type { Song } from '@idle-step/core/show';
import type { Preset } from '@idle-step/core/floor';
import type { Kept, Page, Resource } from '@idle-step/contract';
import { applied, differenceOf, reversed, type Difference } from '@idle-step/core/edits';
import { api, type AnyDoc } from '../../api/api';
import { failureOf } from '../../api/problem';
import type { AppDispatch, RootState } from '../../store';
import { rememberKept } from '../saving/autosave';
import { draftKey } from '../draftKey';
import { rebased } from '../draftsSlice';
import { loadDocs } from '../loadDocs';
import { textOf, upToDate } from '../saving/saving';
import { findKept } from '../useDocs';
import type { Loss, WholeChange } from './wholeStep';
import { there } from '@idle-step/core/sure';

type Thunk<T> = (dispatch: AppDispatch, getState: () => RootState) => T;
type TakenOut = WholeChange & { readonly kind: 'take-out' };
type Deleted = WholeChange & { readonly kind: 'delete' };
type TakenIn = WholeChange & { readonly kind: 'take-in' };
type Texts = {
  readonly rig: FullRig;
  readonly songs: readonly Song[];
  readonly presets: readonly Preset[];
};

/** What is on its way to the server is waited for so long, and one that does not answer so long, in ms. */
const SAVED_WITHIN_MS = 20_000;
const OFF_WITHIN_MS = 4000;
const LOOK_EVERY_MS = 100;
const UNREACHABLE = 'The server does not answer, so nothing was changed.';
const GONE = 'It is gone already.';
const UNSAVED = 'Something typed before is not saved yet; settle that first. Nothing was changed.';

/** What of a rig goes: an edit, or one that was made before. */
type Change = ((rig: FullRig) => FullRig) | Difference;

/**
 * Removes parts of a rig together with everything that points at them in songs and presets, in one save of the server.
 * @returns what it did, by which it is taken back and done again; or why nothing was removed.
 */
export const takeOut =
  (rigId: string, change: Change): Thunk<Promise<TakenOut | { readonly sentence: string }>> =>
  async (dispatch) => {
    if (!(await dispatch(allSaved()))) return { sentence: UNSAVED };
    const before = dispatch(textsOf(rigId));
    if (!before) return { sentence: 'The rig is gone.' };
    const rig = typeof change === 'function' ? change(before.rig) : withDifference(before.rig, change);
    // What songs lose is known of those that are in the page.
    const losers = await dispatch(api.endpoints.losers.initiate(rig));
    const songIds = (losers.data ?? []).flatMap((u) => (u.kind === 'song' ? u.id : []));
    if (!losers.data || !(await dispatch(loadDocs('songs', rigId, songIds))))
      return { sentence: UNREACHABLE };
    const whole = dispatch(textsOf(rigId)) ?? before;
    const refused = await dispatch(put('rigs', rig, true));
    if (refused) return { sentence: refused };
    await dispatch(fetchUsers(rigId));
    const after = there(dispatch(textsOf(rigId)));
    return {
      kind: 'take-out',
      rigId,
      rig: differenceBetween(before.rig, after.rig),
      songs: losses(whole.songs, after.songs),
      presets: losses(before.presets, after.presets),
      gone: before.presets.filter((p) => !after.presets.some((q) => q.id === p.id)),
    };
  };

/**
 * Puts back what was taken out: the parts first, then what pointed at them, then which preset is in force. What was
 * changed since stays. Resolves to why it could not, or `null`.
 */
export const bringBack =
  ({ rigId, rig, songs, presets, gone }: TakenOut): Thunk<Promise<string | null>> =>
  async (dispatch) => {
    if (!(await dispatch(allSaved()))) return UNSAVED;
    if (
      !(await dispatch(
        loadDocs(
          'songs',
          rigId,
          songs.map((s) => s.id),
        ),
      ))
    )
      return UNREACHABLE;
    await dispatch(fetchUsers(rigId));
    const now = dispatch(textsOf(rigId));
    if (!now) return 'The rig is gone.';
    const whole = withDifference(now.rig, reversed(rig));
    const isGone = new Set(gone.map((p) => p.id));
    const boards = whole.boards.map((b) =>
      b.presetId !== null && isGone.has(b.presetId) ? { ...b, presetId: null } : b,
    );
    const steps: Thunk<Promise<string | null>>[] = [
      put('rigs', { ...whole, boards }),
      ...losesBack('songs', songs, now.songs),
      ...losesBack('presets', presets, now.presets),
      // After a try that broke off some may be there already.
      ...gone.flatMap((doc) => (now.presets.some((p) => p.id === doc.id) ? [] : [create('presets', doc)])),
      ...(gone.length > 0 ? [put('rigs', whole)] : []),
    ];
    for (const step of steps) {
      const refused = await dispatch(step);
      if (refused) return refused;
    }
    await dispatch(fetchUsers(rigId));
    return null;
  };

/**
 * Keeps what comes from another rig: gear first, then presets, songs and sets, and which preset is in force. Where one of
 * them is refused, those before it go again.
 * @returns what it did; or why nothing was taken in.
 */
export const takeIn =
  (change: TakenIn): Thunk<Promise<TakenIn | { readonly sentence: string }>> =>
  async (dispatch) => {
    if (!(await dispatch(allSaved()))) return { sentence: UNSAVED };
    const before = dispatch(textsOf(change.rigId))?.rig;
    if (!before) return { sentence: 'The rig is gone.' };
    const whole = withDifference(before, change.rig);
    const isNew = (boardId: string) => !before.boards.some((b) => b.id === boardId);
    const bare: FullRig = {
      ...whole,
      boards: whole.boards.map((b) => (isNew(b.id) ? { ...b, presetId: null } : b)),
    };
    const steps: Thunk<Promise<string | null>>[] = [
      ...(change.rig.length > 0 ? [put('rigs', bare)] : []),
      ...change.docs.map(({ resource, doc }) => create(resource, doc)),
      ...(whole.boards.some((b) => isNew(b.id) && b.presetId !== null) ? [put('rigs', whole)] : []),
    ];
    for (const [i, step] of steps.entries()) {
      const refused = await dispatch(step);
      if (refused === null) continue;
      const kept = change.docs.slice(0, Math.max(0, i - (change.rig.length > 0 ? 1 : 0)));
      await dispatch(sendBack({ ...change, docs: kept }));
      return { sentence: refused };
    }
    return change;
  };

/** Takes away again what came from another rig. Resolves to why it could not, or `null`. */
export const sendBack =
  ({ rigId, rig, docs }: TakenIn): Thunk<Promise<string | null>> =>
  async (dispatch) => {
    if (!(await dispatch(allSaved()))) return UNSAVED;
    for (const { resource, doc } of docs.toReversed()) {
      const done = await dispatch(deleteDoc(resource, doc.id));
      // After a try that broke off some may be gone already.
      if ('sentence' in done && done.sentence !== GONE) return done.sentence;
    }
    const now = dispatch(textsOf(rigId))?.rig;
    if (!now || rig.length === 0) return null;
    return dispatch(put('rigs', withDifference(now, reversed(rig))));
  };

const losesBack = (resource: 'songs' | 'presets', losses: readonly Loss[], docs: readonly AnyDoc[]) =>
  losses.flatMap(({ id, difference }) => {
    const doc = docs.find((d) => d.id === id);
    return doc ? [put(resource, withDifference(doc, reversed(difference)))] : [];
  });

/** Keeps a document at once; its steps go on from what is then kept. Resolves to why it was refused, or `null`. */
const put =
  (resource: Resource, doc: AnyDoc, isTakingOut = false): Thunk<Promise<string | null>> =>
  async (dispatch, getState) => {
    const state = getState();
    const version = Math.max(
      findKept(state.api, resource, doc.id)?.version ?? 0,
      state.drafts.byKey[draftKey(resource, doc.id)]?.version ?? 0,
    );
    const saved = await dispatch(
      api.endpoints.saveDoc.initiate({ resource, doc, version, takeOut: isTakingOut }),
    );
    return saved.data ? dispatch(taken(resource, saved.data)) : sentenceOf(saved.error);
  };

/**
 * Deletes a document; its steps stay, and go on when it is brought back. Unsaved text goes with it. A preset is no
 * longer in force then.
 * @returns what it did; or why it was refused, with where it is in use.
 */
export const deleteDoc =
  (resource: Resource, id: string): Thunk<Promise<Deleted | { readonly sentence: string }>> =>
  async (dispatch, getState) => {
    // What was typed last is part of what comes back.
    await dispatch(allSaved(draftKey(resource, id)));
    const state = getState();
    const kept = findKept(state.api, resource, id);
    if (!kept) return { sentence: GONE };
    const draft = upToDate(state.drafts.byKey[draftKey(resource, id)], kept);
    const { doc, version } = draft ?? kept;
    // The rig is saved along with it where a preset is in force: not into a save that is under way.
    if ('boardId' in doc && !(await dispatch(allSaved(draftKey('rigs', doc.rigId)))))
      return { sentence: UNSAVED };
    const result = await dispatch(api.endpoints.deleteDoc.initiate({ resource, id, version }));
    if (result.error) return { sentence: sentenceOf(result.error) };
    // What was typed and not saved is in the text that comes back; nothing is left to be sent.
    dispatch(
      rebased({ key: draftKey(resource, id), kept: { doc, version, savedAt: new Date().toISOString() } }),
    );
    forget(dispatch, resource, doc);
    const rig = 'boardId' in doc ? dispatch(textsOf(doc.rigId))?.rig : undefined;
    const inForceOn = rig?.boards.flatMap((b) => (b.presetId === id ? b.id : [])) ?? [];
    if (rig && inForceOn.length > 0) await dispatch(put('rigs', inForce(rig, inForceOn, null)));
    return { kind: 'delete', resource, doc, inForceOn };
  };

/** Keeps a document that was deleted, and puts a preset in force again. Resolves to why it was refused, or `null`. */
export const bringDocBack =
  ({ resource, doc, inForceOn }: Deleted): Thunk<Promise<string | null>> =>
  async (dispatch) => {
    if (inForceOn.length > 0 && !(await dispatch(allSaved()))) return UNSAVED;
    const refused = await dispatch(create(resource, doc));
    if (refused !== null || inForceOn.length === 0 || !('rigId' in doc)) return refused;
    const rig = dispatch(textsOf(doc.rigId))?.rig;
    return rig ? dispatch(put('rigs', inForce(rig, inForceOn, doc.id))) : null;
  };

const inForce = (rig: FullRig, boardIds: readonly string[], presetId: string | null): FullRig => ({
  ...rig,
  boards: rig.boards.map((b) => (boardIds.includes(b.id) ? { ...b, presetId } : b)),
});

const create =
  (resource: Resource, doc: AnyDoc): Thunk<Promise<string | null>> =>
  async (dispatch) => {
    const created = await dispatch(api.endpoints.createDoc.initiate({ resource, doc }));
    return created.data ? dispatch(taken(resource, created.data)) : sentenceOf(created.error);
  };

const taken =
  (resource: Resource, kept: Kept<AnyDoc>): Thunk<null> =>
  (dispatch) => {
    dispatch(rebased({ key: draftKey(resource, kept.doc.id), kept }));
    rememberKept(dispatch, resource, kept);
    return null;
  };

/** Whether everything typed is saved, or what was typed into one document; waits for what is on its way. */
export const allSaved =
  (only?: string): Thunk<Promise<boolean>> =>
  async (_, getState) => {
    const sinceMs = performance.now();
    for (;;) {
      const { byKey } = getState().drafts;
      const kinds = (only === undefined ? Object.values(byKey) : [byKey[only]]).map((d) => d?.status.kind);
      const open = kinds.filter((kind) => kind !== undefined && kind !== 'saved');
      if (open.length === 0) return true;
      // Somebody has to settle these first.
      if (open.some((kind) => kind === 'refused' || kind === 'conflict')) return false;
      const waitsMs = open.includes('off') ? OFF_WITHIN_MS : SAVED_WITHIN_MS;
      if (performance.now() - sinceMs > waitsMs) return false;
      await new Promise((resolve) => setTimeout(resolve, LOOK_EVERY_MS));
    }
  };

/** The texts of a rig and of what may point at its parts, as they are here. */
const textsOf =
  (rigId: string): Thunk<Texts | null> =>
  (_, getState) => {
    const state = getState();
    const rig = findKept(state.api, 'rigs', rigId);
    if (!rig) return null;
    const here = <D extends AnyDoc>(resource: Resource, kept: Kept<D>) =>
      textOf(state.drafts.byKey[draftKey(resource, kept.doc.id)], kept);
    return {
      rig: here('rigs', rig),
      songs: (api.endpoints.songs.select(rigId)(state).data ?? []).map((k) => here('songs', k)),
      presets: (api.endpoints.presets.select(rigId)(state).data ?? []).map((k) => here('presets', k)),
    };
  };

const fetchUsers =
  (rigId: string): Thunk<Promise<unknown>> =>
  (dispatch) => {
    const fresh = { forceRefetch: true, subscribe: false } as const;
    return Promise.all([
      dispatch(api.endpoints.songs.initiate(rigId, fresh)),
      dispatch(api.endpoints.presets.initiate(rigId, fresh)),
    ]);
  };

const withDifference = <D extends AnyDoc>(doc: D, difference: Difference): D => applied(doc, difference);
const differenceBetween = (before: AnyDoc, after: AnyDoc): Difference => differenceOf(before, after);

const losses = (before: readonly AnyDoc[], after: readonly AnyDoc[]): Loss[] =>
  before.flatMap((doc) => {
    const now = after.find((d) => d.id === doc.id);
    const difference = now ? differenceBetween(doc, now) : [];
    return difference.length > 0 ? [{ id: doc.id, difference }] : [];
  });

function sentenceOf(error: Parameters<typeof failureOf>[0]): string {
  const failure = failureOf(error);
  if (failure.kind === 'unreachable') return UNREACHABLE;
  const { detail, users } = failure.problem;
  const names = users?.map((u) => u.name).join(', ');
  return names ? `${detail} It stands in: ${names}. Take it out there first.` : detail;
}

function forget(dispatch: AppDispatch, resource: Resource, doc: AnyDoc): void {
  const remove = (list: { doc: { id: string } }[]) => {
    const index = list.findIndex((k) => k.doc.id === doc.id);
    if (index >= 0) list.splice(index, 1);
  };
  const args = 'rigId' in doc ? doc.rigId : undefined;
  dispatch(api.util.updateQueryData(resource, args, remove));
  if (resource !== 'songs' && resource !== 'sets') return;
  const unlist = <T extends { readonly id: string }>({ items, total }: Page<T>): Page<T> => {
    const others = items.filter((i) => i.id !== doc.id);
    return { items: others, total: total - (items.length - others.length) };
  };
  if (args === undefined) return;
  if (resource === 'songs') dispatch(api.util.updateQueryData('songList', args, unlist));
  else dispatch(api.util.updateQueryData('setList', args, unlist));
}
