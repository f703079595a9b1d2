import type { SceneDoc, SongDoc } from '@idle-step/contract';
import { RampAmount } from '@idle-step/contract';
import { useEdit } from '../../drafts/useDocs';
import { CurvePick } from '../../ui/CurvePick';
import { NumberField, Pick } from '../../ui/Fields';
import { withWay } from '../../edits/songEdits';

type Way = SceneDoc['values'][number]['way'];

/** How one value gets there: as its scene says, at once, or on a glide of its own. */
export function OwnWay({
  song,
  sceneId,
  functionId,
  way,
}: {
  song: SongDoc;
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
          <GlideTime label="Glide" time={glide.time} onTime={(time) => set({ ...glide, time })} />
          <CurvePick label="Curve" value={glide.curve} onPick={(curve) => set({ ...glide, curve })} />
        </>
      )}
    </div>
  );
}

type Time = { amount: number; unit: 's' | 'beats' };

/** A time in seconds or beats. */
export function GlideTime({ label, time, onTime }: { label: string; time: Time; onTime(time: Time): void }) {
  return (
    <span className="glide-time">
      <NumberField
        label={label}
        className="tiny"
        value={time.amount}
        schema={RampAmount}
        onCommit={(amount) => onTime({ ...time, amount })}
      />
      <Pick
        hideLabel
        label={`Unit of ${label.toLowerCase()}`}
        className="narrow"
        value={time.unit}
        options={[
          { value: 's', text: 's' },
          { value: 'beats', text: 'beats' },
        ]}
        onPick={(unit) => onTime({ ...time, unit: unit as Time['unit'] })}
      />
    </span>
  );
}
