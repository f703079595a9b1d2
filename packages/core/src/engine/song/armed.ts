import type { Device } from '../../gear';
import { assumedAt, valueAt, type Known } from '../state/known';
import type { World } from '../world/world';

/** A track that is armed as far as is known. */
export type ArmedTrack = { readonly device: Device; readonly track: string };

/** The tracks that listen to the instrument now, each once, in the order of their charts; hosts that are packed away have none. */
export function armedTracks(world: World, state: Known): ArmedTrack[] {
  const tracks = new Map<string, ArmedTrack>();
  for (const reached of world.functions.values()) {
    const { device, fn } = reached;
    if (fn.arms !== null && !device.away && valueAt(state, reached) === 1)
      tracks.set(`${device.id}/${fn.arms}`, { device, track: fn.arms });
  }
  return [...tracks.values()];
}

/**
 * Why no track is known to be armed: every host is packed away, nothing tells of some track whether it is, or none is.
 * A rig that arms nothing has none.
 */
export function armingNow(world: World, state: Known): 'none' | 'unknown' | 'away' {
  const rows = [...world.functions.values()].filter(({ fn }) => fn.arms !== null);
  const there = rows.filter(({ device }) => !device.away);
  if (rows.length > 0 && there.length === 0) return 'away';
  return there.some((reached) => assumedAt(state, reached) === undefined) ? 'unknown' : 'none';
}
