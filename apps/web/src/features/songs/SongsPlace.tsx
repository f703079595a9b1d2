import type { FullRig } from '@idle-step/core/routing';
import type { Song } from '@idle-step/core/show';
import { readBookTable } from '@idle-step/core/sheet';
import { readSongCsv, writeSongCsv } from '@idle-step/core/formats';
import { FileDown, FileUp, Plus } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useNavigate, useParams } from 'react-router-dom';
import { useCreateDoc } from '../../drafts/useDocChanges';
import { useOpened, usePresets, useRig, useSetList, useSongList } from '../../drafts/useDocs';
import { useSongIndex, useWorld } from '../../live/use/useLive';
import { useInPlay } from '../../live/use/useShow';
import { IconButton } from '../../ui/IconButton';
import type { SongSummary } from '@idle-step/contract';
import { faultsText } from '../../files/faultsText';
import { readSongFile, type ReadSong } from '../../files/songFiles';
import { readTextFile, TEXT_FILE_LIMIT } from '../../files/readTextFile';
import { saveTextFile } from '../../files/saveTextFile';
import { useFileChooser } from '../../files/useFileChooser';
import { CueSheet } from './sheet/CueSheet';
import { PasteTable } from './book/PasteTable';
import { SongCsvPanel } from './files/SongCsvPanel';
import { SongList } from './SongList';
import { SmfPanel } from './files/SmfPanel';
import { songsFromCsv, type SongsFromCsv } from '../../edits/csvLists';
import { copyOf, newSong } from '../../edits/songEdits';
import { freeName } from '../../words/names';

/** A wait that is seen, in ms. */
const LONG_MS = 300;

/** Whether something has been going on for so long that one would like to be told. */
function useIsLong(isOn: boolean): boolean {
  const [isLong, setIsLong] = useState(false);
  useEffect(() => {
    if (!isOn) return;
    const timer = window.setTimeout(() => setIsLong(true), LONG_MS);
    return () => {
      window.clearTimeout(timer);
      setIsLong(false);
    };
  }, [isOn]);
  return isLong;
}

/** A file that was opened: a song, a list of songs or the table of a book, looked at before it is taken. */
function useOpenedFile(rig: FullRig | null, songs: readonly SongSummary[]) {
  const world = useWorld();
  const [sentence, setSentence] = useState<string | null>(null);
  const [read, setRead] = useState<ReadSong | null>(null);
  const [list, setList] = useState<{ fileName: string; songs: SongsFromCsv } | null>(null);
  const [table, setTable] = useState<string | null>(null);
  const open = async (file: File) => {
    if (!rig) return;
    if (/\.(csv|tsv)$/i.test(file.name)) {
      const text = await readTextFile(file, TEXT_FILE_LIMIT, 'lists of songs');
      // A row a scene: the whole songs, as the book saves them.
      const book = text.error === undefined ? readBookTable(text.text) : null;
      if (text.error === undefined && book?.ok && book.value.fixed.has('scene')) {
        setTable(text.text);
        setSentence(null);
        return;
      }
      const rows = text.error === undefined ? readSongCsv(text.text) : null;
      setRead(null);
      setList(rows?.ok ? { fileName: file.name, songs: songsFromCsv(rows.value, songs, rig.id) } : null);
      setSentence(text.error ?? (rows && !rows.ok ? faultsText(file.name, rows.error) : null));
      return;
    }
    setList(null);
    const result = await readSongFile(world, rig, file);
    setSentence(typeof result === 'string' ? result : null);
    setRead(typeof result === 'string' ? null : result);
  };
  return { sentence, setSentence, read, setRead, list, setList, table, setTable, open };
}

/** The scenes of each song, and the state that the whole rig should be in for each. */
export function SongsPlace() {
  const { rig } = useRig();
  const { items: songs, total, isFetched } = useSongList(rig?.id);
  const presets = usePresets(rig?.id);
  const sets = useSetList(rig?.id).items;
  const { set } = useInPlay(rig?.id);
  const world = useWorld();
  const songIndex = useSongIndex();
  const { songId, room = '' } = useParams();
  const create = useCreateDoc();
  const navigate = useNavigate();
  const { sentence, setSentence, read, setRead, list, setList, table, setTable, open } = useOpenedFile(
    rig,
    songs,
  );
  const chooser = useFileChooser(
    'MIDI file, or list of songs as CSV',
    '.mid,.midi,audio/midi,.csv,.tsv,text/csv',
    (file) => void open(file),
  );
  const first = set?.entries.find((e) => e.kind === 'song');
  const wanted = songId ?? world.songs[songIndex]?.song.id ?? first?.songId ?? songs[0]?.id;
  const { shown, isLeaving } = useShownSong(rig, wanted);
  if (!rig) return null;
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
    if (!refused) void navigate(`/songs/${made.id}`, { state: { madeId: made.id } });
  };
  const make = async (made: Song) => {
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
          <IconButton
            icon={FileUp}
            label="Open a MIDI file as a song, or a CSV file as songs"
            onClick={chooser.choose}
          />
          {chooser.input}
          <IconButton
            icon={FileDown}
            label="Save the list as CSV"
            disabled={songs.length === 0}
            onClick={() => saveTextFile(`${rig.name}, songs.csv`, 'text/csv', writeSongCsv(songs))}
          />
          <IconButton icon={Plus} label="Add a song" onClick={() => void add()} />
        </div>
        {sentence && (
          <p className="field-error px-2" role="alert">
            {sentence}
          </p>
        )}
        {isFetched && (
          <SongList rigId={rig.id} songs={songs} total={total} set={set} sets={sets} shownId={wanted} />
        )}
      </aside>
      {table !== null ? (
        <div className="work-pad flex-grow-1">
          <PasteTable
            rig={rig}
            presets={presets}
            set={set}
            start={table}
            onTaken={(id) => {
              setTable(null);
              if (id) void navigate(`/songs/${id}`);
            }}
            onLeave={() => setTable(null)}
          />
        </div>
      ) : list ? (
        <SongCsvPanel
          rigId={rig.id}
          read={list.songs}
          fileName={list.fileName}
          onLeave={() => setList(null)}
        />
      ) : read ? (
        <SmfPanel read={read} onMake={() => void make(read.song)} onLeave={() => setRead(null)} />
      ) : shown ? (
        <CueSheet
          rig={rig}
          song={shown}
          room={room}
          isLeaving={isLeaving}
          onDuplicate={() => void make(copyOf(shown))}
        />
      ) : shown === undefined && (wanted !== undefined || !isFetched) ? (
        <p className="work-pad muted">Loading …</p>
      ) : (
        <div className="work-pad">
          <NoSong isGone={songId !== undefined} onAdd={() => void add()} />
        </div>
      )}
    </div>
  );
}

function NoSong({ isGone, onAdd }: { isGone: boolean; onAdd(): void }) {
  return (
    <div className="empty-place">
      {!isGone ? (
        <>
          <h2>No song yet</h2>
          <p>
            A song has scenes such as verse and chorus; each says what the rig should be in it, and carries
            the rest over from the scene before.
          </p>
        </>
      ) : (
        <>
          <h2>This song is gone</h2>
          <p>It may have been deleted in another window. The songs that are there stand on the left.</p>
        </>
      )}
      <div className="d-flex gap-2">
        <Button variant="go" onClick={onAdd}>
          Write a song
        </Button>
        <Link className="btn btn-quiet" to="/songs/book">
          Paste songs from a spreadsheet
        </Link>
      </div>
    </div>
  );
}

/** The song that is wanted; until that has come the one before it, out of reach where that takes long. */
function useShownSong(rig: FullRig | null, wanted: string | undefined) {
  const opened = useOpened('songs', rig?.id, wanted);
  const [last, setLast] = useState<{ readonly rigId: string; readonly id: string } | null>(null);
  if (opened && opened.id !== last?.id) setLast({ rigId: opened.rigId, id: opened.id });
  const before = useOpened('songs', rig?.id, last?.rigId === rig?.id ? last?.id : undefined);
  const isComing = opened === undefined && wanted !== undefined;
  const isLong = useIsLong(isComing);
  return { shown: isComing && before ? before : opened, isLeaving: isComing && isLong };
}
