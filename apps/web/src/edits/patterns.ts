import type { NamedSong } from '@idle-step/core/sheet';
import { PLAIN_SCENE, type Song } from '@idle-step/core/show';
import { copyOf } from './songEdits';

/** The tag of songs that others are made after. */
export const PATTERN_TAG = 'pattern';

export const isPattern = (song: Pick<Song, 'tags'>): boolean => song.tags.includes(PATTERN_TAG);

/** The song as a pattern for others, or as one no more. A song with 20 tags already loses its last one. */
export const withPattern = (song: Song, on: boolean): Song => {
  const others = song.tags.filter((t) => t !== PATTERN_TAG);
  return { ...song, tags: on ? [...others.slice(0, 19), PATTERN_TAG] : others };
};

/**
 * A new song with the scenes, the order, the cues and the bar of another one; its tempo and key are its own where the list
 * says them. @param keepsValues whether its scenes set what those of the other one set.
 */
export function songLike(like: Song, { name, tempoBpm, key }: NamedSong, keepsValues: boolean): Song {
  const copy = copyOf(like);
  return {
    ...withPattern(copy, false),
    name,
    tempoBpm: tempoBpm ?? like.tempoBpm,
    key,
    scenes: keepsValues
      ? copy.scenes
      : copy.scenes.map(({ id, name: sceneName, colour }) => ({
          ...PLAIN_SCENE,
          id,
          name: sceneName,
          colour,
        })),
  };
}
