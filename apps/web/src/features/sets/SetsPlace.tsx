import { Name, type SetEntryDoc, type SetlistDoc, type SongDoc } from '@idle-step/contract';
import { Coffee, Plus, Spotlight, Trash2, X } from 'lucide-react';
import { useState } from 'react';
import { Button, Dropdown } from 'react-bootstrap';
import { Link, NavLink, useNavigate, useParams } from 'react-router-dom';
import { useSteps } from '../../drafts/useSteps';
import { useCreateDoc } from '../../drafts/useDocChanges';
import { useEdit, useRig, useSets, useSongs } from '../../drafts/useDocs';
import { useChosenSet } from '../../live/useShow';
import { useAppDispatch } from '../../store';
import { Cloth } from '../../ui/Cloth';
import { TextField, TypedField } from '../../ui/Fields';
import { IconButton } from '../../ui/IconButton';
import { moved } from '../../ui/moved';
import { SortableList } from '../../ui/SortableList';
import { PLAIN_SET } from '@idle-step/core/show';
import { pauseEntry, songEntry } from '../../edits/songEdits';
import { PlaceHint } from '../../documents/PlaceHint';
import { SaveState } from '../../documents/SaveState';
import { screenChanged } from '../../screen/screenSlice';
import { freeName } from '../../words/names';
import { minutes, parseMinutes } from '../../words/times';

/** Scenes named in a line of the running order; the rest is counted. */
const SCENES_SHOWN = 4;

/** The running order of an evening. */
export function SetsPlace() {
  const { rig } = useRig();
  const sets = useSets(rig?.id);
  const songs = useSongs(rig?.id);
  const chosen = useChosenSet(sets);
  const { setId } = useParams();
  const create = useCreateDoc();
  const navigate = useNavigate();
  const [sentence, setSentence] = useState<string | null>(null);
  if (!rig) return null;
  const set = setId === undefined ? chosen : sets.find((s) => s.id === setId);
  const add = async () => {
    const name = freeName(
      sets.map((s) => s.name),
      'New set',
    );
    const made: SetlistDoc = { ...PLAIN_SET, id: crypto.randomUUID(), rigId: rig.id, name };
    const refused = await create('sets', made);
    setSentence(refused?.sentence ?? null);
    if (!refused) void navigate(`/sets/${made.id}`);
  };
  return (
    <div className="songs-place">
      <aside className="song-list" aria-label="Sets">
        <div className="song-list-head">
          <h2>Sets</h2>
          <IconButton icon={Plus} label="Add a set" onClick={() => void add()} />
        </div>
        {sentence && (
          <p className="field-error px-2" role="alert">
            {sentence}
          </p>
        )}
        <ol>
          {sets.map((s) => (
            <li key={s.id}>
              <NavLink to={`/sets/${s.id}`} className={s.id === set?.id ? 'on two' : 'two'}>
                <span className="song-name">{s.name}</span>
                <span className="small muted">{s.id === chosen?.id ? 'in play' : ''}</span>
              </NavLink>
            </li>
          ))}
        </ol>
      </aside>
      {set ? (
        <RunningOrder key={set.id} set={set} songs={songs} isChosen={set.id === chosen?.id} />
      ) : (
        <div className="work-pad">
          <div className="empty-place">
            <h2>{setId === undefined ? 'No set yet' : 'This set is gone'}</h2>
            <p>A set is the running order of an evening: songs and breaks, in order, with their times.</p>
            <Button variant="go" onClick={() => void add()}>
              Make a set
            </Button>
          </div>
        </div>
      )}
    </div>
  );
}

function RunningOrder({
  set,
  songs,
  isChosen,
}: {
  set: SetlistDoc;
  songs: readonly SongDoc[];
  isChosen: boolean;
}) {
  const edit = useEdit('sets');
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const { deleteDoc } = useSteps();
  const change = (label: string, entries: (old: SetEntryDoc[]) => SetEntryDoc[]) =>
    edit(set.id, label, (s) => ({ ...s, entries: entries(s.entries) }));
  const lengthOf = (e: SetEntryDoc) =>
    e.kind === 'song' ? (songs.find((s) => s.id === e.songId)?.lengthS ?? 0) : e.lengthS;
  const starts = set.entries.map((_, i) => set.entries.slice(0, i).reduce((sum, e) => sum + lengthOf(e), 0));
  const total = set.entries.reduce((sum, e) => sum + lengthOf(e), 0);
  const songCount = set.entries.filter((e) => e.kind === 'song').length;
  const deleteSet = () => deleteDoc('sets', set.id, set.name, () => void navigate('/sets'));
  return (
    <div className="work-pad running-order">
      <div className="place-head">
        <h1 className="visually-hidden">{set.name}</h1>
        <TextField
          hideLabel
          label="Name of the set"
          className="song-title"
          value={set.name}
          schema={Name}
          onCommit={(name) => edit(set.id, 'rename a set', (s) => ({ ...s, name }))}
        />
        <span className="muted">
          {songCount} songs, {minutes(total)}
        </span>
        <SaveState resource="sets" id={set.id} />
        <span className="gap" />
        <Button
          variant="bare"
          className="btn-icon"
          aria-label={`Delete ${set.name}`}
          title="Delete this set; it can be brought back"
          onClick={() => void deleteSet()}
        >
          <Trash2 size={16} strokeWidth={1.75} aria-hidden="true" />
        </Button>
        <Button variant="quiet" onClick={() => change('add a break', (e) => [...e, pauseEntry('break')])}>
          <Coffee size={16} strokeWidth={1.75} aria-hidden="true" />
          Break
        </Button>
        <AddSong songs={songs} onAdd={(songId) => change('add a song', (e) => [...e, songEntry(songId)])} />
        {isChosen ? (
          <Button variant="go" onClick={() => void navigate('/stage')}>
            <Spotlight size={16} strokeWidth={1.75} aria-hidden="true" />
            Stage
          </Button>
        ) : (
          <Button variant="go" onClick={() => dispatch(screenChanged({ setId: set.id }))}>
            Put in play
          </Button>
        )}
      </div>
      <PlaceHint place="sets" />
      {set.entries.length === 0 ? (
        <div className="empty-place">
          <h2>An empty evening</h2>
          <p>
            Add songs in the order in which you play them; drag a line by its handle, or move it with Alt and
            an arrow.
          </p>
        </div>
      ) : (
        <>
          <div className="order-head small muted" aria-hidden="true">
            <span />
            <span />
            <span>Song</span>
            <span>Begins at</span>
            <span>Length</span>
            <span>Tempo</span>
            <span>Scenes</span>
            <span />
          </div>
          <SortableList
            items={set.entries}
            label="Running order"
            className="order"
            nameOf={(e) =>
              e.kind === 'song' ? (songs.find((s) => s.id === e.songId)?.name ?? 'gone') : e.name
            }
            onMove={(from, to) => change('move a line', (e) => moved(e, from, to))}
            classOf={(e) => e.kind}
            render={(entry, i, handle) => (
              <>
                {handle}
                <EntryCells
                  entry={entry}
                  number={set.entries.slice(0, i + 1).filter((e) => e.kind === 'song').length}
                  song={entry.kind === 'song' ? songs.find((s) => s.id === entry.songId) : undefined}
                  startS={starts[i]!}
                  onChange={(next) =>
                    change('change a break', (e) => e.map((x) => (x.id === next.id ? next : x)))
                  }
                />
                <IconButton
                  icon={X}
                  label="Take this line out"
                  onClick={() => change('take a line out', (e) => e.filter((x) => x.id !== entry.id))}
                />
              </>
            )}
          />
        </>
      )}
    </div>
  );
}

function AddSong({ songs, onAdd }: { songs: readonly SongDoc[]; onAdd(songId: string): void }) {
  return (
    <Dropdown align="end">
      <Dropdown.Toggle variant="quiet" className="no-caret" disabled={songs.length === 0}>
        <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
        Song
      </Dropdown.Toggle>
      <Dropdown.Menu className="long-menu">
        {songs.map((s) => (
          <Dropdown.Item key={s.id} as="button" onClick={() => onAdd(s.id)}>
            {s.name}
          </Dropdown.Item>
        ))}
      </Dropdown.Menu>
    </Dropdown>
  );
}

type EntryProps = {
  entry: SetEntryDoc;
  number: number;
  song: SongDoc | undefined;
  startS: number;
  onChange(entry: SetEntryDoc): void;
};

function EntryCells({ entry, number, song, startS, onChange }: EntryProps) {
  if (entry.kind !== 'song')
    return (
      <>
        <span />
        <TextField
          hideLabel
          label="Name of the break"
          value={entry.name}
          schema={Name}
          onCommit={(name) => onChange({ ...entry, name })}
        />
        <span className="num">{minutes(startS)}</span>
        <TypedField
          hideLabel
          numeric
          label="Length of the break"
          className="narrow"
          shown={minutes(entry.lengthS)}
          parse={parseMinutes}
          onCommit={(lengthS) => onChange({ ...entry, lengthS })}
        />
        <span />
        <span />
      </>
    );
  if (!song) return <span className="text-danger">a song that is gone; take the line out</span>;
  return (
    <>
      <span className="num muted">{number}</span>
      <Link to={`/songs/${song.id}`} className="order-song">
        {song.name}
      </Link>
      <span className="num">{minutes(startS)}</span>
      <span className="num">{minutes(song.lengthS)}</span>
      <span className="num">{song.tempoBpm} bpm</span>
      <span className="order-scenes">
        {song.scenes.slice(0, SCENES_SHOWN).map((s) => (
          <Cloth key={s.id} text={s.name} />
        ))}
        {song.scenes.length > SCENES_SHOWN && (
          <span className="muted small">+{song.scenes.length - SCENES_SHOWN}</span>
        )}
      </span>
    </>
  );
}
