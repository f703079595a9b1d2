import { type Song, type Scene, tempoIn } from '@idle-step/core/show';

/** Example: `4 beats = 2.40 s`, `0.5 s`. */
export const glideTimeWords = (
  { amount, unit }: { readonly amount: number; readonly unit: 's' | 'beats' },
  bpm: number,
): string =>
  unit === 's'
    ? `${amount} s`
    : `${amount} ${amount === 1 ? 'beat' : 'beats'} = ${((amount * 60) / bpm).toFixed(2)} s`;

/** How a scene is come into, in words. */
export const transitionWords = (song: Song, scene: Scene): string =>
  scene.transition ? glideTimeWords(scene.transition.time, tempoIn(song, scene.id)) : 'at once';
