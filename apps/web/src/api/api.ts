import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import type {
  Kept,
  PresetDoc,
  Resource,
  Revision,
  RigDoc,
  RigFile,
  SetlistDoc,
  SongDoc,
} from '@idle-step/contract';

/** The document of each resource. */
export type DocOf = { rigs: RigDoc; presets: PresetDoc; songs: SongDoc; sets: SetlistDoc };
export type AnyDoc = DocOf[Resource];

/** How often the server is asked whether it still saves, in ms. */
export const HEALTH_EVERY_MS = 4000;

/** What the server keeps. Lists are small enough to be fetched whole; edits live in the drafts. */
export const api = createApi({
  reducerPath: 'api',
  baseQuery: fetchBaseQuery({ baseUrl: '/api' }),
  refetchOnFocus: true,
  refetchOnReconnect: true,
  endpoints: (build) => ({
    rigs: build.query<Kept<RigDoc>[], void>({ query: () => 'rigs' }),
    presets: build.query<Kept<PresetDoc>[], string>({ query: (rigId) => `presets?rigId=${rigId}` }),
    songs: build.query<Kept<SongDoc>[], string>({ query: (rigId) => `songs?rigId=${rigId}` }),
    sets: build.query<Kept<SetlistDoc>[], string>({ query: (rigId) => `sets?rigId=${rigId}` }),
    /** A page of saves, the newest first, older than `before` where that is given. */
    revisions: build.query<Revision[], { resource: Resource; id: string; before?: number }>({
      query: ({ resource, id, before }) =>
        `${resource}/${id}/revisions${before === undefined ? '' : `?before=${before}`}`,
      keepUnusedDataFor: 0,
    }),
    nameRevision: build.mutation<
      Revision,
      { resource: Resource; id: string; version: number; name: string | null }
    >({
      query: ({ resource, id, version, name }) => ({
        url: `${resource}/${id}/revisions/${version}/name`,
        method: 'PUT',
        body: { name },
      }),
    }),
    revision: build.query<Kept<AnyDoc>, { resource: Resource; id: string; version: number }>({
      query: ({ resource, id, version }) => `${resource}/${id}/revisions/${version}`,
    }),
    health: build.query<{ status: 'ok' }, void>({ query: () => 'health' }),
    /** With `takeOut`, what the save removes is also taken out of the documents that use it. */
    saveDoc: build.mutation<
      Kept<AnyDoc>,
      { resource: Resource; doc: AnyDoc; version: number; takeOut?: boolean }
    >({
      query: ({ resource, doc, version, takeOut }) => ({
        url: `${resource}/${doc.id}${takeOut ? '?inUse=take-out' : ''}`,
        method: 'PUT',
        headers: { 'If-Match': `"${version}"` },
        body: doc,
      }),
    }),
    /** A rig with everything that belongs to it. */
    whole: build.query<RigFile, string>({ query: (id) => `whole-rigs/${id}`, keepUnusedDataFor: 0 }),
    createWhole: build.mutation<Kept<RigDoc>, RigFile>({
      query: (body) => ({ url: 'whole-rigs', method: 'POST', body }),
    }),
    deleteWhole: build.mutation<RigFile, { id: string; version: number }>({
      query: ({ id, version }) => ({
        url: `whole-rigs/${id}`,
        method: 'DELETE',
        headers: { 'If-Match': `"${version}"` },
      }),
    }),
    createDoc: build.mutation<Kept<AnyDoc>, { resource: Resource; doc: AnyDoc }>({
      query: ({ resource, doc }) => ({ url: resource, method: 'POST', body: doc }),
    }),
    deleteDoc: build.mutation<void, { resource: Resource; id: string; version: number }>({
      query: ({ resource, id, version }) => ({
        url: `${resource}/${id}`,
        method: 'DELETE',
        headers: { 'If-Match': `"${version}"` },
      }),
    }),
  }),
});

export const {
  useRigsQuery,
  usePresetsQuery,
  useSongsQuery,
  useSetsQuery,
  useRevisionsQuery,
  useLazyRevisionsQuery,
  useNameRevisionMutation,
  useLazyRevisionQuery,
  useHealthQuery,
} = api;
