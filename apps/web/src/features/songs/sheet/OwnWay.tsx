import type { Scene, Song } from '@idle-step/core/show';
import { useEdit } from '../../../drafts/useDocs';
import { CurvePick } from '../../../ui/CurvePick';
import { Pick } from '../../../ui/Fields';
import { GlideTime } from '../../../ui/GlideTime';
import { withWay } from '../../../edits/songEdits';

type Way = Scene['values'][number]['way'];

/** How one value gets there: as its scene says, at once, or on a glide of its own. */
export function OwnWay({
  song,
  sceneId,
  functionId,
  way,
}: {
  song: Song;
  sceneId: string;
  functionId: string;
  way: Way;
}) {
  const edit = useEdit('songs');
  const set = (next: Way) =>
    edit(song.id, 'change how a value gets there', (s) => withWay(s, sceneId, functionId, next));
  const glide = way?.kind === 'glide' ? way : null;
  return (
    <div className="own-way">
      <Pick
        label="Gets there"
        value={way?.kind ?? 'scene'}
        options={[
          { value: 'scene', text: 'as the scene' },
          { value: 'at-once', text: 'at once' },
          { value: 'glide', text: 'by a glide' },
        ]}
        onPick={(kind) =>
          set(
            kind === 'scene'
              ? null
              : kind === 'at-once'
                ? { kind }
                : { kind: 'glide', time: { amount: 4, unit: 'beats' }, curve: 'linear' },
          )
        }
      />
      {glide && (
        <>
          <GlideTime
            label="Glide"
            unitLabel="Unit of the glide"
            time={glide.time}
            onTime={(time) => set({ ...glide, time })}
          />
          <CurvePick label="Curve" value={glide.curve} onPick={(curve) => set({ ...glide, curve })} />
        </>
      )}
    </div>
  );
}
