import { whole } from '@idle-step/contract';
import { Camera, ListMusic, ListOrdered, Monitor, Music2 } from 'lucide-react';
import { NumberField, Pick } from '../../ui/Fields';
import type { ActionEntry, Fields } from '../entry';
import { Numbered, WAYS } from '../NumberedTarget';
import { there } from '@idle-step/core/sure';

export const SCENE: ActionEntry<'scene'> = {
  text: 'go to a scene',
  sign: ListMusic,
  words({ to }, world) {
    const value =
      to.kind === 'at'
        ? String(to.index + 1)
        : to.kind === 'is'
          ? (world.songs.flatMap((s) => s.song.scenes).find((s) => s.id === to.sceneId)?.name ??
            'one that is gone')
          : to.kind;
    return { title: 'Scene', value };
  },
  instead: () => 'sends what the scene changes',
  fields: SceneFields,
  begin: () => ({ kind: 'scene', to: { kind: 'next' } }),
};

/** The scene that an action goes to: of whatever song is in play, or in a cue one of its own song. */
function SceneFields({ home, action, onChange }: Fields<'scene'>) {
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
            to:
              kind === 'at'
                ? { kind, index: 0 }
                : kind === 'is'
                  ? { kind, sceneId: there(first).id }
                  : { kind },
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

export const SONG: ActionEntry<'song'> = {
  text: 'go to a song',
  sign: Music2,
  words: ({ to }) => ({ title: 'Song', value: typeof to === 'object' ? String(to.index + 1) : to }),
  instead: () => 'sends its first scene',
  fields: SongFields,
  begin: () => ({ kind: 'song', to: 'next' }),
};

/** The song that an action goes to: of whatever set is in play. */
function SongFields({ world: { songs }, action, onChange }: Fields<'song'>) {
  const { to } = action;
  return (
    <>
      <Pick
        label="Which"
        value={typeof to === 'object' ? 'at' : to}
        options={[
          { value: 'next', text: 'the next' },
          { value: 'previous', text: 'the one before' },
          { value: 'again', text: 'this one from its beginning' },
          { value: 'at', text: 'by its place in the set' },
        ]}
        onPick={(way) => onChange({ ...action, to: way === 'at' ? { index: 0 } : way })}
      />
      {typeof to === 'object' && (
        <>
          <NumberField
            label="Song"
            className="narrow"
            value={to.index}
            shownOffset={1}
            schema={whole('Song', 0, 999)}
            onCommit={(index) => onChange({ ...action, to: { index } })}
          />
          <span className="small muted">{songs[to.index]?.song.name ?? 'no such song in this set'}</span>
        </>
      )}
    </>
  );
}

export const SHOW: ActionEntry<'show'> = {
  text: 'begin, walk or end the set',
  sign: ListOrdered,
  words: ({ to }) => ({
    title: 'Set',
    value: { begin: 'begin', end: 'end', next: 'go on', previous: 'go back', encore: 'encore' }[to],
  }),
  instead: () => 'sends what comes',
  fields: ShowFields,
  begin: () => ({ kind: 'show', to: 'next' }),
};

/** What an action does with the set. */
function ShowFields({ action, onChange }: Fields<'show'>) {
  return (
    <>
      <Pick
        label="Does with it"
        value={action.to}
        options={[
          { value: 'next', text: 'go on to the next thing' },
          { value: 'previous', text: 'go back to the thing before' },
          { value: 'begin', text: 'begin it' },
          { value: 'end', text: 'end it' },
          { value: 'encore', text: 'go to the encore' },
        ]}
        onPick={(to) => onChange({ ...action, to })}
      />
      <p className="small muted">
        {action.to === 'next'
          ? 'Begins the set, then goes scene by scene, song by song and through its breaks, and ends it.'
          : action.to === 'begin'
            ? 'Works while no set runs.'
            : action.to === 'encore'
              ? 'The first song of the set that is marked as an encore.'
              : 'Works only while the set runs.'}
      </p>
    </>
  );
}

export const VIEW: ActionEntry<'view'> = {
  text: 'turn the view of the stage',
  sign: Monitor,
  words: ({ to }) => ({ title: 'View of the stage', value: to }),
  instead: () => 'sends nothing',
  fields: ({ action, onChange }) => (
    <Pick
      label="Which"
      value={action.to}
      options={[
        { value: 'next', text: 'the next view' },
        { value: 'previous', text: 'the view before' },
      ]}
      onPick={(to) => onChange({ ...action, to })}
    />
  ),
  begin: () => ({ kind: 'view', to: 'next' }),
};

export const CAPTURE: ActionEntry<'capture'> = {
  text: 'capture into the scene',
  sign: Camera,
  words: () => ({ title: 'Capture', value: 'into the scene' }),
  instead: () => 'sends nothing',
  fields: () => (
    <p className="small muted">
      What stands otherwise than the scene in play says becomes part of it. It can be undone in Songs.
    </p>
  ),
  begin: () => ({ kind: 'capture' }),
};
