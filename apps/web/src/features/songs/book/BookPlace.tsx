import type { FullRig } from '@idle-step/core/routing';
import { isBookTable, writeBookCsv } from '@idle-step/core/sheet';
import type { SetSummary } from '@idle-step/contract';
import { ClipboardPaste, Plus } from 'lucide-react';
import { useMemo, useState, type ClipboardEvent } from 'react';
import { Button } from 'react-bootstrap';
import { NavLink } from 'react-router-dom';
import { usePresets, useRig } from '../../../drafts/useDocs';
import { SONG_ORDERS } from '../../../edits/songList';
import { saveTextFile } from '../../../files/saveTextFile';
import { Pick } from '../../../ui/Fields';
import { SearchField } from '../../../ui/SearchField';
import { counted } from '../../../words/counted';
import { ORDER_WORDS } from '../../../words/orderWords';
import { AddRow } from '../sheet/AddRow';
import { BookBar } from './BookBar';
import { BookGrid } from './BookGrid';
import { PasteTable } from './PasteTable';
import { SongsLike } from './SongsLike';
import { useBookHand } from './useBookHand';
import { ALL_SONGS, SONGS_SHOWN, useBookSongs } from './useBookSongs';
import { there } from '@idle-step/core/sure';

/** What is shown above the table. */
type Panel = { readonly kind: 'table'; readonly text: string } | { readonly kind: 'like' } | null;

/** All songs of a set or of a search as one table, a row a scene. */
export function BookPlace() {
  const { rig } = useRig();
  return rig && <BookOf key={rig.id} rig={rig} />;
}

function BookOf({ rig }: { rig: FullRig }) {
  const book = useBookSongs(rig.id);
  const presets = usePresets(rig.id);
  const hand = useBookHand(rig, presets, book.songs, book);
  const { lines, columns, sheets, grid, at, place, setAt, addLine, addScene, onKey, show } = hand;
  const { songs } = book;
  const [panel, setPanel] = useState<Panel>(null);
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
  const save = () =>
    saveTextFile(`${book.set?.name ?? rig.name}, book.csv`, 'text/csv', writeBookCsv(songs, columns, sheets));
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
          column={there(at).column}
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
          { value: ALL_SONGS, text: 'all songs' },
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
