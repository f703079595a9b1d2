import type { Middleware } from '@reduxjs/toolkit';
import type { Resource } from '@idle-step/contract';
import { api } from '../../api/api';
import { openChannel } from '../../storage/channel';

const CHANNEL = 'idle-step.kept';
/** Saves that come one after the other while somebody types are fetched together, in ms. */
const TOGETHER_MS = 300;

/** The part of the store that holds what the server answered. */
type Answers = { readonly api: ReturnType<typeof api.reducer> };
type KeptIn = { readonly resource: Resource; readonly rigId: string };

/** Tells the other windows of this browser what this one had kept, and fetches what another one had. */
export const withOtherWindows: Middleware = ({ dispatch, getState }) => {
  const channel = openChannel(CHANNEL);
  const waiting = new Map<string, KeptIn>();
  const fetchAgain = () => {
    for (const { resource, rigId } of waiting.values())
      // The type of the store is made of this middleware, so it cannot be named here.
      for (const again of queriesOf(resource, rigId, getState())) void dispatch(again as never);
    waiting.clear();
  };
  channel?.addEventListener('message', ({ data }: MessageEvent<KeptIn>) => {
    if (waiting.size === 0) window.setTimeout(fetchAgain, TOGETHER_MS);
    waiting.set(`${data.resource}/${data.rigId}`, data);
  });
  return (next) => (action) => {
    const result = next(action);
    if (api.endpoints.saveDoc.matchFulfilled(action) || api.endpoints.createDoc.matchFulfilled(action)) {
      const { resource, doc } = action.meta.arg.originalArgs;
      channel?.postMessage({ resource, rigId: 'rigId' in doc ? doc.rigId : doc.id } satisfies KeptIn);
    }
    return result;
  };
};

/** The questions that this window has an answer to, and that have another one now. */
function queriesOf(resource: Resource, rigId: string, state: Answers): unknown[] {
  const anew = { subscribe: false, forceRefetch: true } as const;
  const { rigs, presets, songs, sets, songList, setList } = api.endpoints;
  const asked = <T extends { status: string }>(answer: T) => answer.status !== 'uninitialized';
  switch (resource) {
    case 'rigs':
      return asked(rigs.select()(state)) ? [rigs.initiate(undefined, anew)] : [];
    case 'presets':
      return asked(presets.select(rigId)(state)) ? [presets.initiate(rigId, anew)] : [];
    case 'songs':
      return [
        ...(asked(songs.select(rigId)(state)) ? [songs.initiate(rigId, anew)] : []),
        ...(asked(songList.select(rigId)(state)) ? [songList.initiate(rigId, anew)] : []),
      ];
    case 'sets':
      return [
        ...(asked(sets.select(rigId)(state)) ? [sets.initiate(rigId, anew)] : []),
        ...(asked(setList.select(rigId)(state)) ? [setList.initiate(rigId, anew)] : []),
      ];
  }
}
