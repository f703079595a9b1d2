import { whole } from '@idle-step/contract';
import type { World } from '@idle-step/core/engine';
import type { Target } from '@idle-step/core/floor';
import { barBeatAt, songLine } from '@idle-step/core/show';
import { useSongIndex } from '../live/use/useLive';
import { NumberField, Pick } from '../ui/Fields';
import { barBeatText } from '../words/times';
import type { ActionHome, Fields } from './fields';

const WAYS = [
  { value: 'next', text: 'the next' },
  { value: 'previous', text: 'the one before' },
  { value: 'at', text: 'by number' },
] as const;

/** The scene that an action goes to: of whatever song is in play, or in a cue one of its own song. */
export function SceneFields({ home, action, onChange }: Fields<'scene'> & { home: ActionHome }) {
  const scenes = home.kind === 'cue' ? home.song.scenes : [];
  const first = scenes[0];
  return (
    <>
      <Pick
        label="Which"
        value={action.to.kind}
        options={[
          ...WAYS,
          { value: 'again', text: 'this one again, with all of it' } as const,
          ...(first || action.to.kind === 'is' ? [{ value: 'is', text: 'by name' } as const] : []),
        ]}
        onPick={(kind) =>
          onChange({
            ...action,
            to: kind === 'at' ? { kind, index: 0 } : kind === 'is' ? { kind, sceneId: first!.id } : { kind },
          })
        }
      />
      {action.to.kind === 'at' && (
        <Numbered label="Scene" index={action.to.index} onPick={(to) => onChange({ ...action, to })} />
      )}
      {action.to.kind === 'is' && (
        <Pick
          label="Scene"
          value={action.to.sceneId}
          options={scenes.map((s) => ({ value: s.id, text: s.name }))}
          onPick={(sceneId) => onChange({ ...action, to: { kind: 'is', sceneId } })}
        />
      )}
    </>
  );
}

/** The cue that an action goes to: those of the song in play, or of the song that the cue stands in, by their places. */
export function CueFields({
  world,
  home,
  action,
  onChange,
}: Fields<'cue'> & { world: World; home: ActionHome }) {
  const songIndex = useSongIndex();
  const line = home.kind === 'cue' ? songLine(home.song) : world.songs[songIndex]?.line;
  const at = action.to.kind === 'at' ? line?.cues[action.to.index] : undefined;
  return (
    <>
      <Pick
        label="Which"
        value={action.to.kind}
        options={WAYS}
        onPick={(kind) => onChange({ ...action, to: kind === 'at' ? { kind, index: 0 } : { kind } })}
      />
      {action.to.kind === 'at' && (
        <>
          <Numbered label="Cue" index={action.to.index} onPick={(to) => onChange({ ...action, to })} />
          <span className="small muted">
            {at && line
              ? `${at.cue.name || 'without a name'}, bar ${barBeatText(barBeatAt(line, at.atBeat))}`
              : 'no such cue in this song'}
          </span>
        </>
      )}
    </>
  );
}

function Numbered({ label, index, onPick }: { label: string; index: number; onPick(to: Target): void }) {
  return (
    <NumberField
      label={label}
      className="narrow"
      value={index}
      shownOffset={1}
      schema={whole(label, 0, label === 'Cue' ? 499 : 199)}
      onCommit={(next) => onPick({ kind: 'at', index: next })}
    />
  );
}
