import { traitsOf } from '../engine';
import { partsOf, type Song } from '../show';
import { keysOf } from '../sure';

/** What a Standard MIDI File of a song does not hold, or holds otherwise. */
export type NotInFile =
  /** Layers and routes that scenes switch. */
  | 'layers'
  /** Banks and pages of boards that scenes turn to. */
  | 'banks'
  /** They are written as the steps that they are sent in. */
  | 'glides'
  /** Parts of unknown length are written with eight bars. */
  | 'lengths'
  | 'loop'
  /** A clock that it sends, or follows: a file has a tempo map instead. */
  | 'clock'
  /** Actions of cues that go somewhere else. */
  | 'away'
  | 'remarks'
  /** Colours, key and tags. */
  | 'looks';

/** What is lost of a song in a file of it, in the order in which it is told. */
export function notInFile(song: Song): readonly NotInFile[] {
  const { scenes, line, parts } = song;
  const actions = line.cues.flatMap((c) => c.actions).filter((a) => !a.isOff);
  const isSaid: Readonly<Record<NotInFile, boolean>> = {
    layers: scenes.some((s) => s.routes.length > 0),
    banks: scenes.some((s) => s.banks.length > 0),
    glides:
      scenes.some((s) => s.transition !== null || s.values.some((v) => v.way?.kind === 'glide')) ||
      actions.some((a) => a.kind === 'ramp'),
    lengths: partsOf(song).some((p) => p.length === null),
    loop: line.loop !== null,
    clock: line.follows !== null || actions.some((a) => a.kind === 'clock'),
    away: actions.some((a) => traitsOf(a).leadsAway),
    remarks: song.remark !== '' || scenes.some((s) => s.remark !== '') || parts.some((p) => p.remark !== ''),
    looks: song.key !== '' || song.tags.length > 0 || scenes.some((s) => s.colour !== null),
  };
  return keysOf(isSaid).filter((what) => isSaid[what]);
}
