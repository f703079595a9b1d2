import { whole } from '@idle-step/contract';
import { useWorld } from '../live/use/useLive';
import { NumberField, Pick } from '../ui/Fields';
import type { Fields } from './fields';

/** The song that an action goes to: of whatever set is in play. */
export function SongFields({ action, onChange }: Fields<'song'>) {
  const { songs } = useWorld();
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

/** What an action does with the set. */
export function ShowFields({ action, onChange }: Fields<'show'>) {
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
        ]}
        onPick={(to) => onChange({ ...action, to })}
      />
      <p className="small muted">
        {action.to === 'next'
          ? 'Begins the set, then goes scene by scene, song by song and through its breaks, and ends it.'
          : action.to === 'begin'
            ? 'Works while no set runs.'
            : 'Works only while the set runs.'}
      </p>
    </>
  );
}
