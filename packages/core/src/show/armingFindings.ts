import type { Finding } from '../edits';
import type { ArmingFunction, Cell } from './carried';
import type { Song } from './song';
import { got, nth } from '../sure';

/**
 * What is odd about the tracks that a scene leaves armed: none, where the song says what is armed, or two that listen to
 * one input, which is then heard twice.
 * @param cells what every function is told to be in the scene. @param sceneIndex from 0.
 */
export function armingFinding(
  song: Song,
  cells: ReadonlyMap<string, Cell>,
  arming: readonly ArmingFunction[],
  sceneIndex: number,
): Finding<'none-armed' | 'two-armed'> | null {
  const said = arming.filter((fn) => cells.has(fn.id));
  const armed = said.filter((fn) => got(cells, fn.id).value === 1);
  const scene = nth(song.scenes, sceneIndex);
  if (said.length > 0 && armed.length === 0)
    return {
      code: 'none-armed',
      severity: 'warned',
      place: { sceneId: scene.id },
      sentence: `No track is armed in ${scene.name}: nothing of the instrument is heard.`,
      mends: [],
    };
  for (const one of armed) {
    const other = armed.find((fn) => fn.input !== '' && fn.input === one.input && fn.track !== one.track);
    if (other)
      return {
        code: 'two-armed',
        severity: 'warned',
        place: { sceneId: scene.id, functionIds: [one.id, other.id] },
        sentence: `${one.name} and ${other.name} are both armed in ${scene.name}, and both listen to ${one.input}.`,
        mends: [],
      };
  }
  return null;
}
