import type { Device } from '../gear';
import type { LiveState } from './liveState';
import type { World } from './world';

/** A track that is armed as far as is known. */
export type ArmedTrack = { readonly device: Device; readonly track: string };

/** The tracks that listen to the instrument now, each once, in the order of their charts. */
export function armedTracks(world: World, state: Pick<LiveState, 'values'>): ArmedTrack[] {
  const tracks = new Map<string, ArmedTrack>();
  for (const { device, fn } of world.functions.values()) {
    if (fn.arms !== null && state.values[fn.id] === 1)
      tracks.set(`${device.id}/${fn.arms}`, { device, track: fn.arms });
  }
  return [...tracks.values()];
}
