import { IDS_AT_MOST, type Kept, type Page } from '@idle-step/contract';
import type { FetchBaseQueryError } from '@reduxjs/toolkit/query';

/** Lines fetched at once: the first come soon, and thousands in a few answers. */
const LINES_AT_ONCE = 500;

type Answer<T> = { data: T; error?: undefined } | { error: FetchBaseQueryError; data?: undefined };
type Base = (url: string) => unknown;
type Entries = Record<string, { endpointName?: string; originalArgs?: unknown; data?: unknown } | undefined>;

export const pageUrl = (resource: string, rigId: string, from: number): string =>
  `${resource}/summaries?rigId=${rigId}&from=${from}&count=${LINES_AT_ONCE}`;

/** What an endpoint has for a rig. */
function cached<T>(state: unknown, endpoint: string, rigId: string): T | undefined {
  const { queries } = (state as { api: { queries: Entries } }).api;
  const found = Object.values(queries).find((q) => q?.endpointName === endpoint && q.originalArgs === rigId);
  // An endpoint answers with what its name says.
  return found?.data as T | undefined;
}

/** What the server has under an address. The base query of RTK does not know its type; whoever asks says it. */
const answerOf = async <T>(base: Base, url: string): Promise<Answer<T>> => (await base(url)) as Answer<T>;

/** The documents of a rig that were loaded before, as they are now; none at first. */
export async function loadedAgain<D extends { id: string }>(
  resource: 'songs' | 'sets',
  rigId: string,
  getState: () => unknown,
  base: Base,
): Promise<Answer<Kept<D>[]>> {
  const ids = (cached<Kept<D>[]>(getState(), resource, rigId) ?? []).map((k) => k.doc.id);
  const found: Kept<D>[] = [];
  for (let at = 0; at < ids.length; at += IDS_AT_MOST) {
    const url = `${resource}?ids=${ids.slice(at, at + IDS_AT_MOST).join(',')}`;
    const answer = await answerOf<Kept<D>[]>(base, url);
    if (answer.error) return answer;
    found.push(...answer.data);
  }
  // What was loaded while this was on its way stays.
  const asked = new Set(ids);
  const since = (cached<Kept<D>[]>(getState(), resource, rigId) ?? []).filter((k) => !asked.has(k.doc.id));
  return { data: [...found, ...since] };
}

/** The first page of a list; all of it where it was whole before, so that it does not shrink while it is looked at. */
export async function firstOrAll<T>(
  resource: 'songs' | 'sets',
  rigId: string,
  state: unknown,
  base: Base,
): Promise<Answer<Page<T>>> {
  const before = cached<Page<T>>(state, resource === 'songs' ? 'songList' : 'setList', rigId);
  const wanted = before ? Math.max(before.items.length, 1) : 1;
  const items: T[] = [];
  for (;;) {
    const answer = await answerOf<Page<T>>(base, pageUrl(resource, rigId, items.length));
    if (answer.error) return answer;
    items.push(...answer.data.items);
    const { total } = answer.data;
    if (items.length >= Math.min(wanted, total) || answer.data.items.length === 0)
      return { data: { total, items } };
  }
}
