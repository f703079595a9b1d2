import type { FullRig } from '@idle-step/core/routing';
import type { Preset } from '@idle-step/core/floor';
import type { Song, Setlist } from '@idle-step/core/show';
import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import { firstOrAll, loadedAgain, pageUrl } from './lists';
import type {
  Backup,
  Backups,
  BinLine,
  BroughtBack,
  EveningLine,
  EveningLog,
  GearRecord,
  Kept,
  Page,
  ProblemUser,
  SetSummary,
  SongSummary,
  Resource,
  Revision,
  RigFile,
} from '@idle-step/contract';

/** The document of each resource. */
export type DocOf = { rigs: FullRig; presets: Preset; songs: Song; sets: Setlist };
export type AnyDoc = DocOf[Resource];

/** Documents of which only those that are open are in the page. */
export type LoadedResource = 'songs' | 'sets';

/** How often the server is asked whether it still saves, in ms. */
export const HEALTH_EVERY_MS = 4000;

/** What the server keeps. Rigs and presets are fetched whole, songs and sets as lists and by name; edits live in the drafts. */
export const api = createApi({
  reducerPath: 'api',
  baseQuery: fetchBaseQuery({ baseUrl: '/api' }),
  refetchOnFocus: true,
  refetchOnReconnect: true,
  tagTypes: ['bin', 'evenings', 'records', 'backups'],
  endpoints: (build) => ({
    rigs: build.query<Kept<FullRig>[], void>({ query: () => 'rigs' }),
    presets: build.query<Kept<Preset>[], string>({ query: (rigId) => `presets?rigId=${rigId}` }),
    /** Those songs of a rig that are open here: none until they are asked for by `loadDocs`. */
    songs: build.query<Kept<Song>[], string>({
      queryFn: (rigId, { getState }, _options, base) => loadedAgain<Song>('songs', rigId, getState, base),
    }),
    sets: build.query<Kept<Setlist>[], string>({
      queryFn: (rigId, { getState }, _options, base) => loadedAgain<Setlist>('sets', rigId, getState, base),
    }),
    /** Some documents by their identifiers. */
    some: build.query<Kept<AnyDoc>[], { resource: LoadedResource; ids: readonly string[] }>({
      query: ({ resource, ids }) => `${resource}?ids=${ids.join(',')}`,
      keepUnusedDataFor: 0,
    }),
    /** The list of a rig's songs: its first page at once, the others by `loadRest`. */
    songList: build.query<Page<SongSummary>, string>({
      queryFn: (rigId, { getState }, _options, base) =>
        firstOrAll<SongSummary>('songs', rigId, getState(), base),
    }),
    setList: build.query<Page<SetSummary>, string>({
      queryFn: (rigId, { getState }, _options, base) =>
        firstOrAll<SetSummary>('sets', rigId, getState(), base),
    }),
    listPage: build.query<
      Page<SongSummary | SetSummary>,
      { resource: LoadedResource; rigId: string; from: number }
    >({
      query: ({ resource, rigId, from }) => pageUrl(resource, rigId, from),
      keepUnusedDataFor: 0,
    }),
    /** The sets in which a song stands. */
    setsWith: build.query<Page<SetSummary>, { rigId: string; songId: string }>({
      query: ({ rigId, songId }) => `sets/summaries?rigId=${rigId}&songId=${songId}`,
      keepUnusedDataFor: 5,
    }),
    /** Who would lose something if a rig were saved so. */
    losers: build.mutation<ProblemUser[], FullRig>({
      query: (rig) => ({ url: `rigs/${rig.id}/losers`, method: 'POST', body: rig }),
    }),
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
    /** The evenings of a rig, the last one first. */
    evenings: build.query<EveningLine[], string>({
      query: (rigId) => `evenings?rigId=${rigId}`,
      providesTags: ['evenings'],
    }),
    evening: build.query<EveningLog, string>({ query: (id) => `evenings/${id}`, keepUnusedDataFor: 5 }),
    deleteEvening: build.mutation<void, string>({
      query: (id) => ({ url: `evenings/${id}`, method: 'DELETE' }),
      invalidatesTags: ['evenings'],
    }),
    backups: build.query<Backups, void>({ query: () => 'backups', providesTags: ['backups'] }),
    makeBackup: build.mutation<Backup, void>({
      query: () => ({ url: 'backups', method: 'POST' }),
      invalidatesTags: ['backups'],
    }),
    /** What is known of the gear of a rig, the newest first. */
    records: build.query<GearRecord[], string>({
      query: (rigId) => `records?rigId=${rigId}`,
      providesTags: ['records'],
    }),
    keepRecord: build.mutation<GearRecord, GearRecord>({
      query: (record) => ({ url: `records/${record.id}`, method: 'PUT', body: record }),
    }),
    forgetRecord: build.mutation<void, string>({
      query: (id) => ({ url: `records/${id}`, method: 'DELETE' }),
      invalidatesTags: ['records'],
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
    /** A new rig with everything that belongs to it. */
    createWhole: build.mutation<Kept<FullRig>, RigFile>({
      query: (body) => ({ url: 'whole-rigs', method: 'POST', body }),
    }),
    deleteWhole: build.mutation<void, { id: string; version: number }>({
      query: ({ id, version }) => ({
        url: `whole-rigs/${id}`,
        method: 'DELETE',
        headers: { 'If-Match': `"${version}"` },
      }),
      invalidatesTags: ['bin'],
    }),
    /** One rig alone, asked for when it is not known whether it is there. */
    rig: build.query<Kept<FullRig>, string>({ query: (id) => `rigs/${id}`, keepUnusedDataFor: 0 }),
    /** What was deleted, the last first; only what has `name` in its name. */
    bin: build.query<Page<BinLine>, { name: string; count: number }>({
      query: ({ name, count }) => `bin?name=${encodeURIComponent(name)}&count=${count}`,
      providesTags: ['bin'],
    }),
    bringBack: build.mutation<BroughtBack, { resource: Resource; id: string }>({
      query: ({ resource, id }) => ({ url: `bin/${resource}/${id}`, method: 'POST' }),
      invalidatesTags: ['bin'],
    }),
    emptyBin: build.mutation<void, { resource: Resource; id: string }>({
      query: ({ resource, id }) => ({ url: `bin/${resource}/${id}`, method: 'DELETE' }),
      invalidatesTags: ['bin'],
    }),
    createDoc: build.mutation<Kept<AnyDoc>, { resource: Resource; doc: AnyDoc }>({
      query: ({ resource, doc }) => ({ url: resource, method: 'POST', body: doc }),
      // One that was deleted before leaves the bin by it.
      invalidatesTags: ['bin'],
    }),
    deleteDoc: build.mutation<void, { resource: Resource; id: string; version: number }>({
      query: ({ resource, id, version }) => ({
        url: `${resource}/${id}`,
        method: 'DELETE',
        headers: { 'If-Match': `"${version}"` },
      }),
      invalidatesTags: ['bin'],
    }),
  }),
});

export const {
  useRigsQuery,
  usePresetsQuery,
  useSongsQuery,
  useSetsQuery,
  useSongListQuery,
  useSetListQuery,
  useSetsWithQuery,
  useLosersMutation,
  useRevisionsQuery,
  useLazyRevisionsQuery,
  useNameRevisionMutation,
  useLazyRevisionQuery,
  useEveningsQuery,
  useEveningQuery,
  useDeleteEveningMutation,
  useBackupsQuery,
  useMakeBackupMutation,
  useRecordsQuery,
  useHealthQuery,
  useBinQuery,
} = api;
