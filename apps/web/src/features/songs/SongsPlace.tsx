import type { SongDoc } from '@idle-step/contract';
import { FileUp, Plus } from 'lucide-react';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { NavLink, useNavigate, useParams } from 'react-router-dom';
import { useCreateDoc } from '../../drafts/useDocChanges';
import { useRig, useSets, useSongs } from '../../drafts/useDocs';
import { usePlace, useWorld } from '../../live/useLive';
import { useChosenSet } from '../../live/useShow';
import { IconButton } from '../../ui/IconButton';
import { SearchField } from '../../ui/SearchField';
import { useFileChooser } from '../../files/useFileChooser';
import { CueSheet } from './CueSheet';
import { readSongFile, SmfPanel, type ReadSong } from './SmfPanel';
import { newSong } from '../../edits/songEdits';
import { freeName } from '../../words/names';
import { minutes } from '../../words/times';

/** From so many songs on they are looked for. */
const SEARCHED_FROM = 8;

/** Whether every word that was typed stands in the title, the key, the remark or a tag. */
function isLike({ name, key, remark, tags }: SongDoc, wanted: string): boolean {
  const text = [name, key, remark, ...tags].join(' ').toLowerCase();
  return wanted
    .toLowerCase()
    .trim()
    .split(/\s+/)
    .every((word) => text.includes(word));
}

/** The scenes of each song, and the state that the whole rig should be in for each. */
export function SongsPlace() {
  const { rig } = useRig();
  const songs = useSongs(rig?.id);
  const set = useChosenSet(useSets(rig?.id));
  const world = useWorld();
  const place = usePlace();
  const { songId } = useParams();
  const create = useCreateDoc();
  const navigate = useNavigate();
  const [sentence, setSentence] = useState<string | null>(null);
  const [wanted, setWanted] = useState('');
  const [read, setRead] = useState<ReadSong | null>(null);
  const open = async (file: File) => {
    if (!rig) return;
    const result = await readSongFile(world, rig, file);
    setSentence(typeof result === 'string' ? result : null);
    setRead(typeof result === 'string' ? null : result);
  };
  const chooser = useFileChooser('MIDI file', '.mid,.midi,audio/midi', (file) => void open(file));
  if (!rig) return null;
  const inSet =
    set?.entries.flatMap((e) => (e.kind === 'song' ? (songs.find((s) => s.id === e.songId) ?? []) : [])) ??
    [];
  const others = songs.filter((s) => !inSet.includes(s));
  const found = songs.filter((s) => isLike(s, wanted));
  const song =
    songId === undefined
      ? (world.songs[place.songIndex]?.song ?? inSet[0] ?? others[0])
      : songs.find((s) => s.id === songId);
  const shown = songs.find((s) => s.id === song?.id);
  const add = async () => {
    const made = newSong(
      rig.id,
      freeName(
        songs.map((s) => s.name),
        'New song',
      ),
    );
    const refused = await create('songs', made);
    setSentence(refused?.sentence ?? null);
    if (!refused) void navigate(`/songs/${made.id}`);
  };
  const make = async (made: SongDoc) => {
    const name = freeName(
      songs.map((s) => s.name),
      made.name,
    );
    const refused = await create('songs', { ...made, name });
    setSentence(refused?.sentence ?? null);
    if (refused) return;
    setRead(null);
    void navigate(`/songs/${made.id}`);
  };
  return (
    <div className="songs-place">
      <aside className="song-list" aria-label="Songs">
        <div className="song-list-head">
          <h2>{set?.name ?? 'Songs'}</h2>
          <IconButton icon={FileUp} label="Open a MIDI file as a song" onClick={chooser.choose} />
          {chooser.input}
          <IconButton icon={Plus} label="Add a song" onClick={() => void add()} />
        </div>
        {sentence && (
          <p className="field-error px-2" role="alert">
            {sentence}
          </p>
        )}
        {songs.length >= SEARCHED_FROM && (
          <div className="song-search">
            <SearchField
              label="Find a song"
              placeholder="Title, key or tag"
              value={wanted}
              onChange={setWanted}
            />
          </div>
        )}
        {wanted.trim() === '' ? (
          <>
            <SongLinks songs={inSet} numbered current={shown} />
            {others.length > 0 && set && <h3 className="muted list-rest">not in this set</h3>}
            <SongLinks songs={others} numbered={false} current={shown} />
          </>
        ) : (
          <SongLinks songs={found} numbered={false} current={shown} />
        )}
        {wanted.trim() !== '' && found.length === 0 && <p className="muted px-2">No song is like that.</p>}
        <p className="song-list-foot small muted">
          {songs.length} songs, {minutes(inSet.reduce((s, x) => s + x.lengthS, 0))} in the set
        </p>
      </aside>
      {read ? (
        <SmfPanel read={read} onMake={() => void make(read.song)} onLeave={() => setRead(null)} />
      ) : shown ? (
        <CueSheet key={shown.id} rig={rig} song={shown} />
      ) : (
        <div className="work-pad">
          <div className="empty-place">
            {songId === undefined ? (
              <>
                <h2>No song yet</h2>
                <p>
                  A song has scenes such as verse and chorus; each says what the rig should be in it, and
                  carries the rest over from the scene before.
                </p>
              </>
            ) : (
              <>
                <h2>This song is gone</h2>
                <p>It may have been deleted in another window. The songs that are there stand on the left.</p>
              </>
            )}
            <Button variant="go" onClick={() => void add()}>
              Write a song
            </Button>
          </div>
        </div>
      )}
    </div>
  );
}

function SongLinks({
  songs,
  numbered,
  current,
}: {
  songs: readonly SongDoc[];
  numbered: boolean;
  current: SongDoc | undefined;
}) {
  return (
    <ol>
      {songs.map((song, i) => (
        <li key={`${song.id}/${i}`}>
          <NavLink to={`/songs/${song.id}`} className={song.id === current?.id ? 'on' : ''}>
            <span className="num muted">{numbered ? i + 1 : ''}</span>
            <span className="song-name">{song.name}</span>
            <span className="num">{song.tempoBpm}</span>
          </NavLink>
        </li>
      ))}
    </ol>
  );
}
