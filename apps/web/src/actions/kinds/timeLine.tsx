import { barBeatAt, songLine } from '@idle-step/core/show';
import { Bookmark, Metronome, OctagonX, Repeat, Timer } from 'lucide-react';
import { useSongIndex } from '../../live/use/useLive';
import { Pick } from '../../ui/Fields';
import { barBeatText } from '../../words/times';
import type { ActionEntry, Fields } from '../entry';
import { Numbered, WAYS } from '../NumberedTarget';

export const LINE: ActionEntry<'line'> = {
  text: 'run the time line',
  sign: Timer,
  words: ({ to }) => ({ title: 'Time line', value: to === 'toggle' ? 'run or stop' : to }),
  instead: () => 'sends what its cues say',
  fields: ({ action, onChange }) => (
    <Pick
      label="Does with it"
      value={action.to}
      options={[
        { value: 'toggle', text: 'run or stop' },
        { value: 'start', text: 'start from the beginning' },
        'continue',
        'stop',
      ]}
      onPick={(to) => onChange({ ...action, to })}
    />
  ),
  begin: () => ({ kind: 'line', to: 'toggle' }),
};

export const CUE: ActionEntry<'cue'> = {
  text: 'go to a cue',
  sign: Bookmark,
  words: ({ to }) => ({ title: 'Cue', value: to.kind === 'at' ? String(to.index + 1) : to.kind }),
  instead: () => 'sends what the cue says',
  fields: (props) => <CueFields {...props} />,
  begin: () => ({ kind: 'cue', to: { kind: 'next' } }),
};

/** The cue that an action goes to: those of the song in play, or of the song that the cue stands in, by their places. */
function CueFields({ world, home, action, onChange }: Fields<'cue'>) {
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

export const LOOP: ActionEntry<'loop'> = {
  text: 'switch the loop',
  sign: Repeat,
  words: ({ to }) => ({ title: 'Loop', value: to === 'toggle' ? 'on or off' : to }),
  instead: () => 'sends nothing',
  fields: ({ action, onChange }) => (
    <Pick
      label="Switches it"
      value={action.to}
      options={[{ value: 'toggle', text: 'on or off' }, 'on', 'off']}
      onPick={(to) => onChange({ ...action, to })}
    />
  ),
  begin: () => ({ kind: 'loop', to: 'toggle' }),
};

export const TAP: ActionEntry<'tap'> = {
  text: 'tap the tempo',
  sign: Metronome,
  words: () => ({ title: 'Tap', value: 'tempo' }),
  instead: () => 'sends nothing',
  fields: () => <p className="small muted">The time between two taps is a beat.</p>,
  begin: () => ({ kind: 'tap' }),
};

export const SONG_TEMPO: ActionEntry<'song-tempo'> = {
  text: 'back to the song’s tempo',
  sign: Metronome,
  words: () => ({ title: 'Tempo', value: 'of the song' }),
  instead: () => 'sends nothing',
  fields: () => (
    <p className="small muted">
      The tempo that is written where the song stands, in place of one that was tapped.
    </p>
  ),
  begin: () => ({ kind: 'song-tempo' }),
};

export const PANIC: ActionEntry<'panic'> = {
  text: 'panic',
  sign: OctagonX,
  words: () => ({ title: 'Panic', value: '' }),
  instead: () => 'silences everything',
  fields: () => (
    <p className="small muted">
      Ends every note and lifts dampers on every channel in use; all sound off where the device takes it.
    </p>
  ),
  begin: () => ({ kind: 'panic' }),
};
