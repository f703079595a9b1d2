import { compileWorld, type Show } from '@idle-step/core/engine';
import { writeSmf } from '@idle-step/core/formats';
import type { Song } from '@idle-step/core/show';
import { playedSong, songToSmf } from '@idle-step/core/songFile';
import { glidePoints, type GlidePoints } from '../../../edits/lineRows';

/** A song to be played from its beginning to its end, with the rig and the presets that it is played with. */
export type PlayWish = {
  readonly rig: Show['rig'];
  readonly presets: Show['presets'];
  readonly song: Song;
  /** What is wanted of it: what moves along it, or the bytes of a Standard MIDI File. */
  readonly as: 'glides' | 'file';
};
export type PlayFound = { readonly songId: string; readonly glides: readonly GlidePoints[] };

/** A song with a clock in it is tens of thousands of steps: played beside the page, which plays meanwhile. */
self.onmessage = ({ data: { rig, presets, song, as } }: MessageEvent<PlayWish>) => {
  const world = compileWorld({ rig, presets, setName: '', songs: [] });
  if (as === 'file') self.postMessage(writeSmf(songToSmf(world, song)));
  else
    self.postMessage({
      songId: song.id,
      glides: glidePoints(world, playedSong(world, song).sends),
    } satisfies PlayFound);
};
