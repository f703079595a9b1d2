import { PLAIN_SONG, type Song } from '@idle-step/core/show';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { RootState } from '../../store';
import { draftKey } from '../draftKey';
import { Autosave } from './autosave';
import { saveOnLeaving } from './leaving';
import { sending, typed, type Draft } from './saving';

type Sent = { url: string; init: RequestInit };

describe('a page that is left', () => {
  let sent: Sent[] = [];
  let page = new EventTarget();
  const song: Song = {
    id: 'song',
    rigId: 'rig',
    name: 'Before',
    tempoBpm: 100,
    beatsPerBar: 4,
    lengthS: 60,
    ...PLAIN_SONG,
    scenes: [],
  };
  const kept = { doc: song, version: 7, savedAt: '2026-01-01T10:00:00.000Z' };
  const typedIn = (name: string): Draft =>
    typed(undefined, 'songs', kept, { ...song, name }, { label: 'name', order: 1 });
  /** Leaves a page on which a document stands like this. @returns what was asked of the server. */
  const leave = (draft: Draft): Sent[] => {
    const key = draftKey('songs', 'song');
    saveOnLeaving(() => ({ drafts: { byKey: { [key]: draft } } }) as RootState, new Autosave());
    page.dispatchEvent(new Event('pagehide'));
    return sent;
  };

  beforeEach(() => {
    sent = [];
    page = new EventTarget();
    vi.stubGlobal('window', page);
    vi.stubGlobal('fetch', (url: string, init: RequestInit) => {
      sent.push({ url, init });
      return Promise.resolve(new Response());
    });
  });
  afterEach(() => vi.unstubAllGlobals());

  it('sends what waits for its turn once more, over the version that it was made from', () => {
    const [only, ...more] = leave(typedIn('After'));
    expect([only!.url, only!.init.method, only!.init.keepalive, more.length]).toEqual([
      '/api/songs/song',
      'PUT',
      true,
      0,
    ]);
    expect(only!.init.headers).toMatchObject({ 'If-Match': '"7"' });
    expect(JSON.parse(String(only!.init.body))).toEqual({ ...song, name: 'After' });
  });

  it('sends nothing that is on its way already', () =>
    expect(leave(sending(typedIn('After'), 1))).toEqual([]));

  it('sends nothing that is saved', () =>
    expect(leave({ ...typedIn('After'), status: { kind: 'saved', at: kept.savedAt } })).toEqual([]));

  // WHATWG Fetch: what is sent with keepalive has at most 64 KiB.
  it('sends nothing that is too long to outlive it', () =>
    expect(leave(typedIn('x'.repeat(60_000)))).toEqual([]));
});
