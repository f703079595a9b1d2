import { entriesInOrder, type Song } from '@idle-step/core/show';
import type { FullRig } from '@idle-step/core/routing';
import {
  allCueRows,
  bookColumns,
  bookLines,
  isBookTable,
  sheetState,
  writeBookCsv,
  type BookLine,
} from '@idle-step/core/sheet';
import type { SetSummary, SongSummary } from '@idle-step/contract';
import { ClipboardPaste, Plus } from 'lucide-react';
import { useDeferredValue, useMemo, useState, type ClipboardEvent, type KeyboardEvent } from 'react';
import { Button } from 'react-bootstrap';
import { NavLink, useSearchParams } from 'react-router-dom';
import {
  useAllOpened,
  useEdit,
  useOpened,
  usePresets,
  useRig,
  useSetList,
  useSongList,
} from '../../../drafts/useDocs';
import { useViewStep } from '../../../drafts/useViewStep';
import { oncePerDoc } from '../../../drafts/saving/steady';
import { withNewSceneAfter } from '../../../edits/songEdits';
import { SONG_ORDERS, songLines, type SongOrder } from '../../../edits/songList';
import { saveTextFile } from '../../../files/saveTextFile';
import { useWorld } from '../../../live/use/useLive';
import { useChosenSet } from '../../../live/use/useShow';
import { Pick } from '../../../ui/Fields';
import { SearchField } from '../../../ui/SearchField';
import { useStateOf } from '../../../ui/useStateOf';
import { counted } from '../../../words/counted';
import { ORDER_WORDS } from '../../../words/orderWords';
import { AddRow } from '../sheet/AddRow';
import { BookBar } from './BookBar';
import { BookGrid } from './BookGrid';
import { PasteTable } from './PasteTable';
import { SongsLike } from './SongsLike';
import { useBookGrid, type BookPlace as Place } from './useBookGrid';

/** Songs that the book shows at the most; more are found by title, key or tag. */
const SONGS_SHOWN = 200;
const ALL = 'all';
const NONE: readonly string[] = [];

/** What is shown above the table. */
type Panel = { readonly kind: 'table'; readonly text: string } | { readonly kind: 'like' } | null;

/** All songs of a set or of a search as one table, a row a scene. */
export function BookPlace() {
  const { rig } = useRig();
  return rig && <BookOf key={rig.id} rig={rig} />;
}

/** Which songs are shown: those of a set, or all, found by what is typed, in an order. */
function useBookSongs(rigId: string) {
  const list = useSongList(rigId);
  const sets = useSetList(rigId);
  const chosen = useChosenSet(sets.items);
  const [params, setParams] = useSearchParams();
  const askedFor = params.get('song');
  const first = params.get('set') ?? chosen?.id ?? ALL;
  const firstSet = useOpened('sets', rigId, first === ALL ? undefined : first) ?? null;
  // A song that one comes from is shown, also where it stands in no set.
  const isOutside =
    params.get('set') === null &&
    askedFor !== null &&
    firstSet !== null &&
    !firstSet.entries.some((e) => e.kind === 'song' && e.songId === askedFor);
  const scope = isOutside ? ALL : first;
  const set = isOutside ? null : firstSet;
  const [wanted, setWanted] = useState('');
  const [order, setOrder] = useState<SongOrder>('set');
  const search = useDeferredValue(wanted);
  const found = useMemo(() => songsFound(list.items, set, search, order), [list.items, set, search, order]);
  const ids = useMemo(
    () => [...found.keys()].filter((id, i) => i < SONGS_SHOWN || id === askedFor),
    [found, askedFor],
  );
  const { docs: songs, isLoaded } = useAllOpened('songs', rigId, ids);
  return {
    askedFor,
    list,
    sets: sets.items,
    set,
    scope,
    setScope: (id: string) => setParams({ set: id }, { replace: true }),
    wanted,
    setWanted,
    order,
    setOrder,
    songs,
    numbers: found,
    count: found.size,
    isLoaded: isLoaded && list.isFetched && sets.isFetched && (scope === ALL || set !== null),
  };
}

/** The songs of a set, or of all, that are like what is typed, with their numbers in the set. */
function songsFound(
  songs: readonly SongSummary[],
  set: DocSet,
  wanted: string,
  order: SongOrder,
): ReadonlyMap<string, number | null> {
  const inSet = set && new Set(entriesInOrder(set).flatMap((e) => (e.kind === 'song' ? e.songId : [])));
  const among = inSet && wanted.trim() === '' ? songs.filter((s) => inSet.has(s.id)) : songs;
  const found = new Map<string, number | null>();
  for (const line of songLines(among, set, wanted, order))
    if (line.kind === 'song' && !found.has(line.song.id)) found.set(line.song.id, line.number);
  return found;
}
type DocSet = Parameters<typeof songLines>[1];

function BookOf({ rig }: { rig: FullRig }) {
  const book = useBookSongs(rig.id);
  const presets = usePresets(rig.id);
  const editSong = useEdit('songs');
  const world = useWorld();
  const { songs } = book;
  const [brought, setBrought] = useStateOf<readonly string[]>(rig.id, NONE);
  const asStep = useViewStep(rig.id);
  const [at, setAt] = useStateOf<Place | null>(
    rig.id,
    book.askedFor === null ? null : { songId: book.askedFor, sceneIndex: 0, column: 'scene' },
  );
  const [panel, setPanel] = useState<Panel>(null);
  const lines = useMemo(() => bookLines(songs), [songs]);
  const columns = useMemo(() => bookColumns(rig, presets, songs, brought), [rig, presets, songs, brought]);
  const sheets = useMemo(() => oncePerDoc((song: Song) => sheetState(song, world)), [world]);
  const grid = useBookGrid({ of: `book of ${rig.id}`, lines, columns, sheets, at, onMove: setAt });
  const place = {
    row: at ? lines.findIndex((l) => l.song.id === at.songId && l.sceneIndex === at.sceneIndex) : -1,
    col: at ? columns.findIndex((c) => c.key === at.column) : -1,
  };
  const addLine = (key: string) => {
    const title = allCueRows(rig, presets).find((r) => r.key === key)?.title ?? '';
    asStep(`add the line ${title}`.trim(), {
      redo: () => setBrought((list) => [...list.filter((k) => k !== key), key]),
      undo: () => setBrought((list) => list.filter((k) => k !== key)),
    });
    const line = lines[Math.max(0, place.row)];
    if (line) setAt({ songId: line.song.id, sceneIndex: line.sceneIndex, column: key });
  };
  const taken = useMemo(() => new Set(columns.map((c) => c.key)), [columns]);
  // A table with the names of its columns is read as one; other cells go where one is in hand.
  const onPaste = (event: ClipboardEvent<HTMLElement>) => {
    const isField = event.target instanceof HTMLElement && event.target.closest('input, textarea, select');
    const text = event.clipboardData.getData('text/plain');
    if (isField || (at !== null && !isBookTable(text))) return;
    event.preventDefault();
    event.stopPropagation();
    setPanel({ kind: 'table', text });
  };
  const addScene = ({ song, sceneIndex }: BookLine) => {
    editSong(song.id, 'add a scene', (s) => withNewSceneAfter(s, sceneIndex));
    setAt({ songId: song.id, sceneIndex: sceneIndex + 1, column: 'scene' });
  };
  const onKey = (event: KeyboardEvent) => {
    const line = lines[place.row];
    if (!line || event.key !== 'Enter' || !(event.ctrlKey || event.metaKey)) return;
    event.preventDefault();
    event.stopPropagation();
    if (grid.typing === null || grid.commit(grid.typing.text)) addScene(line);
  };
  const save = () =>
    saveTextFile(`${book.set?.name ?? rig.name}, book.csv`, 'text/csv', writeBookCsv(songs, columns, sheets));
  const show = (songId: string | null) => {
    if (songId) setAt({ songId, sceneIndex: 0, column: 'scene' });
  };
  const inHand = lines[place.row] ?? null;
  const name = book.set && book.wanted.trim() === '' ? book.set.name : rig.name;
  return (
    // The place takes the keyboard, so that a table can be pasted as soon as it is opened.
    <section
      className="book-place"
      aria-label="The book"
      tabIndex={-1}
      ref={focusOnce}
      onPasteCapture={onPaste}
    >
      <div className="place-head">
        <h1>The book</h1>
        <span className="muted">
          {name}, {counted(songs.length, 'song')},{' '}
          {counted(lines.filter((l) => l.sceneIndex >= 0).length, 'scene')}
        </span>
        <span className="gap" />
        <Button variant="quiet" onClick={() => setPanel({ kind: 'table', text: '' })}>
          <ClipboardPaste size={16} strokeWidth={1.75} aria-hidden="true" />
          Paste a table
        </Button>
        <Button variant="quiet" disabled={songs.length === 0} onClick={save}>
          Save as CSV
        </Button>
        <Button
          variant="go"
          disabled={book.list.items.length === 0}
          onClick={() => setPanel({ kind: 'like' })}
        >
          <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
          Songs like this
        </Button>
      </div>
      <BookTabs songId={inHand?.song.id ?? songs[0]?.id ?? null} book={book}>
        <AddRow rig={rig} presets={presets} taken={taken} onAdd={addLine} />
      </BookTabs>
      {panel?.kind === 'table' && (
        <PasteTable
          rig={rig}
          presets={presets}
          set={book.set}
          start={panel.text}
          onTaken={(songId) => {
            show(songId);
            setPanel(null);
          }}
          onLeave={() => setPanel(null)}
        />
      )}
      {panel?.kind === 'like' && (
        <SongsLike
          rig={rig}
          set={book.set}
          onTaken={show}
          wantedId={inHand?.song.id ?? songs[0]?.id ?? book.list.items[0]?.id ?? ''}
          onLeave={() => setPanel(null)}
        />
      )}
      {lines.length > 0 ? (
        <BookGrid
          label={`Scenes of ${name}`}
          lines={lines}
          numbers={book.numbers}
          columns={columns}
          sheets={sheets}
          at={place}
          grid={grid}
          onKey={onKey}
        />
      ) : (
        <p className="muted py-3" role="status">
          {!book.isLoaded
            ? 'Fetching the songs …'
            : book.wanted.trim() !== ''
              ? 'No song is like that.'
              : 'There is no song here yet. Paste a table of songs, or write one in Songs.'}
        </p>
      )}
      {(grid.typing?.error ?? grid.sentence) && (
        <p className="field-error" role="alert">
          {grid.typing?.error ?? grid.sentence}
        </p>
      )}
      {book.count > SONGS_SHOWN && (
        <p className="muted small">
          The first {SONGS_SHOWN} of {book.count} songs; find others by title, key or tag.
        </p>
      )}
      {inHand && (
        <BookBar
          line={inHand}
          grid={grid}
          onAdd={() => addScene(inHand)}
          onMove={setAt}
          column={at!.column}
        />
      )}
    </section>
  );
}

const focusOnce = (place: HTMLElement | null) => {
  if (place && (document.activeElement === null || document.activeElement === document.body))
    place.focus({ preventScroll: true });
};

/** The way back to one song, which songs are shown, and in what order. */
function BookTabs({
  songId,
  book,
  children,
}: {
  songId: string | null;
  book: ReturnType<typeof useBookSongs>;
  children: React.ReactNode;
}) {
  return (
    <div className="book-tabs">
      <nav className="tabs" aria-label="Songs, one by one or all">
        <NavLink end to={songId ? `/songs/${songId}` : '/songs'}>
          Song
        </NavLink>
        <NavLink end to="/songs/book" className="on">
          The book
        </NavLink>
      </nav>
      <span className="gap" />
      <Pick
        hideLabel
        label="Songs of"
        value={book.scope}
        options={[
          ...book.sets.map((s: SetSummary) => ({ value: s.id, text: s.name })),
          { value: ALL, text: 'all songs' },
        ]}
        onPick={book.setScope}
      />
      <SearchField
        label="Find songs"
        placeholder="Title, key or tag"
        value={book.wanted}
        onChange={book.setWanted}
      />
      <Pick
        hideLabel
        label="Order of the songs"
        value={book.order}
        options={SONG_ORDERS.map((o) => ({ value: o, text: ORDER_WORDS[o] }))}
        onPick={(o) => book.setOrder(o)}
      />
      {children}
    </div>
  );
}
