import type { Song } from '@idle-step/core/show';
import type { World } from '@idle-step/core/engine';
import { useMemo } from 'react';
import { glideRows, type GlideRow } from '../../../edits/lineRows';
import { askWorker, useWorker } from '../../../ui/hooks/useWorker';
import type { PlayFound, PlayWish } from './songPlayer.worker';

const makeWorker = (): Worker =>
  new Worker(new URL('./songPlayer.worker.ts', import.meta.url), { type: 'module' });

/** What moves along a song when it is played, found in a worker; after an edit what it was before, until it is known. */
export function useGlides(world: World, song: Song): readonly GlideRow[] {
  const { rig, presets } = world.show;
  const wish = useMemo<PlayWish>(() => ({ rig, presets, song, as: 'glides' }), [rig, presets, song]);
  const found = useWorker<PlayWish, PlayFound>(makeWorker, wish);
  const points = found?.songId === song.id ? found.glides : null;
  return useMemo(() => glideRows(world, points ?? []), [world, points]);
}

/** A song as a Standard MIDI File, as it is played. @throws where it could not be made. */
export const songFile = ({ show: { rig, presets } }: World, song: Song) =>
  askWorker<PlayWish, Uint8Array<ArrayBuffer>>(makeWorker, { rig, presets, song, as: 'file' });
