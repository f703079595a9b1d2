import { IDS_AT_MOST, type Kept } from '@idle-step/contract';
import { api, type AnyDoc, type DocOf, type LoadedResource } from '../api/api';
import type { AppDispatch, RootState } from '../store';

type Thunk<T> = (dispatch: AppDispatch, getState: () => RootState) => T;

/** What is being fetched, so that two places that want the same ask once. */
const underWay = new Map<string, Promise<boolean>>();

/**
 * Brings songs or sets into the page that are not in it yet.
 * @returns whether the server has answered for all of them; what is gone is not there all the same.
 */
export const loadDocs =
  (resource: LoadedResource, rigId: string, ids: readonly string[]): Thunk<Promise<boolean>> =>
  async (dispatch, getState) => {
    // The list of what is open has to be there before anything can be put into it.
    const { songs, sets } = api.endpoints;
    const open: { readonly data?: readonly Kept<AnyDoc>[] | undefined } = await (resource === 'songs'
      ? dispatch(songs.initiate(rigId, { subscribe: false }))
      : dispatch(sets.initiate(rigId, { subscribe: false })));
    if (!open.data) return false;
    const have = new Set(open.data.map((k) => k.doc.id));
    const missing = [...new Set(ids)].filter((id) => !have.has(id));
    const chunks = Array.from({ length: Math.ceil(missing.length / IDS_AT_MOST) }, (_, i) =>
      missing.slice(i * IDS_AT_MOST, (i + 1) * IDS_AT_MOST),
    );
    const answers = await Promise.all(
      chunks.map((chunk) => {
        const key = `${resource}/${rigId}/${chunk.join()}`;
        const running = underWay.get(key) ?? fetchSome(resource, rigId, chunk)(dispatch, getState);
        underWay.set(key, running);
        return running.finally(() => underWay.delete(key));
      }),
    );
    return answers.every(Boolean);
  };

const fetchSome =
  (resource: LoadedResource, rigId: string, ids: readonly string[]): Thunk<Promise<boolean>> =>
  async (dispatch) => {
    const { data } = await dispatch(
      api.endpoints.some.initiate({ resource, ids }, { forceRefetch: true, subscribe: false }),
    );
    if (!data) return false;
    const put = (list: Kept<AnyDoc>[]) => {
      const have = new Set(list.map((k) => k.doc.id));
      list.push(...data.filter((k) => !have.has(k.doc.id)));
    };
    dispatch(api.util.updateQueryData(resource, rigId, put));
    return true;
  };

/** Fetches what a list lacks after its first page, page after page. @returns whether all of it is there. */
export const loadRest =
  (resource: LoadedResource, rigId: string): Thunk<Promise<boolean>> =>
  (dispatch, getState) => {
    const key = `rest of ${resource}/${rigId}`;
    const running = underWay.get(key) ?? fetchRest(resource, rigId)(dispatch, getState);
    underWay.set(key, running);
    return running.finally(() => underWay.delete(key));
  };

const fetchRest =
  (resource: LoadedResource, rigId: string): Thunk<Promise<boolean>> =>
  async (dispatch, getState) => {
    const list = resource === 'songs' ? 'songList' : 'setList';
    for (;;) {
      const now = api.endpoints[list].select(rigId)(getState()).data;
      if (!now || now.items.length >= now.total) return true;
      const from = now.items.length;
      const { data } = await dispatch(
        api.endpoints.listPage.initiate({ resource, rigId, from }, { forceRefetch: true, subscribe: false }),
      );
      if (!data) return false;
      const add = (page: { items: { id: string }[] }) => {
        const have = new Set(page.items.map((i) => i.id));
        page.items.push(...data.items.filter((i) => !have.has(i.id)));
      };
      // The items are of the kind of the list that they were asked for.
      dispatch(api.util.updateQueryData(list, rigId, add as never));
      // Lines that were listed already, or none: somebody made or deleted one meanwhile.
      if (api.endpoints[list].select(rigId)(getState()).data?.items.length === from) return true;
    }
  };

/**
 * Some documents as the server keeps them, in the order asked for, without opening them here; those that are gone are
 * missing. `null` where the server does not answer.
 */
export const docsOf =
  <R extends LoadedResource>(resource: R, ids: readonly string[]): Thunk<Promise<DocOf[R][] | null>> =>
  async (dispatch) => {
    const docs: DocOf[R][] = [];
    const wanted = [...new Set(ids)];
    for (let at = 0; at < wanted.length; at += IDS_AT_MOST) {
      const some = { resource, ids: wanted.slice(at, at + IDS_AT_MOST) };
      const { data } = await dispatch(
        api.endpoints.some.initiate(some, { subscribe: false, forceRefetch: true }),
      );
      if (!data) return null;
      // It answers with documents of the kind that it was asked for.
      docs.push(...data.map((k) => k.doc as DocOf[R]));
    }
    return docs;
  };
