import type { SongSummary } from '@idle-step/contract';
import { findName } from '@idle-step/core/typed';
import { Check, Plus } from 'lucide-react';
import { useMemo, useRef, useState, type ClipboardEvent, type KeyboardEvent } from 'react';
import { Dropdown } from 'react-bootstrap';
import { songLines } from '../../edits/songList';
import { counted } from '../../words/counted';
import { nth } from '@idle-step/core/sure';

/** Songs shown before anything was typed, and after. */
const SONGS_SHOWN = 40;

type Props = {
  songs: readonly SongSummary[];
  /** Songs that stand in the running order already. */
  taken: ReadonlySet<string>;
  onAdd(songIds: readonly string[]): void;
};

/**
 * Songs to be added to the running order: one after the other by pressing them, by a part of the title and Enter, or all at
 * once by a list of titles that is pasted.
 */
export function AddSong({ songs, taken, onAdd }: Props) {
  const field = useRef<HTMLInputElement>(null);
  const [isOpen, setOpen] = useState(false);
  const [wanted, setWanted] = useState('');
  const [added, setAdded] = useState(0);
  const [missing, setMissing] = useState<readonly string[]>([]);
  const found = useMemo(
    () => songLines(songs, null, wanted, 'title').flatMap((l) => (l.kind === 'song' ? l.song : [])),
    [songs, wanted],
  );
  const add = (songIds: readonly string[], notFound: readonly string[] = []) => {
    if (songIds.length > 0) onAdd(songIds);
    setAdded(added + songIds.length);
    setMissing(notFound);
    setWanted('');
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key !== 'Enter') return;
    event.preventDefault();
    const [first] = found;
    if (wanted.trim() !== '' && first) add([first.id]);
  };
  const onPaste = (event: ClipboardEvent) => {
    const titles = titlesIn(event.clipboardData.getData('text/plain'));
    if (titles.length < 2) return;
    event.preventDefault();
    const places = titles.map((title) => placeOf(songs, title));
    add(
      places.flatMap((place) => (place === null ? [] : nth(songs, place).id)),
      titles.filter((_, i) => places[i] === null),
    );
  };
  return (
    <Dropdown
      show={isOpen}
      autoClose="outside"
      onKeyDown={(event: KeyboardEvent) => {
        if (event.key === 'Escape') setOpen(false);
      }}
      onToggle={(next) => {
        setOpen(next);
        // The field is there once the menu is drawn.
        if (next) requestAnimationFrame(() => field.current?.focus());
        setWanted('');
        setAdded(0);
        setMissing([]);
      }}
    >
      <Dropdown.Toggle variant="quiet" className="no-caret" disabled={songs.length === 0}>
        <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
        Song
      </Dropdown.Toggle>
      <Dropdown.Menu className="long-menu add-songs">
        <div className="menu-search">
          <input
            className="form-control"
            type="search"
            ref={field}
            aria-label="Songs to add"
            placeholder="part of a title, or a list pasted"
            value={wanted}
            onChange={(e) => setWanted(e.target.value)}
            onKeyDown={onKeyDown}
            onPaste={onPaste}
          />
          <p className="small muted" role="status">
            {added > 0 ? `${counted(added, 'song')} added. ` : ''}
            {missing.length > 0 && `Not found: ${missing.join(', ')}.`}
          </p>
        </div>
        {found.slice(0, SONGS_SHOWN).map((s) => (
          <Dropdown.Item key={s.id} as="button" onClick={() => add([s.id])}>
            {s.name}
            {taken.has(s.id) && (
              <Check size={14} strokeWidth={1.75} className="muted ms-2" aria-label="in this set already" />
            )}
          </Dropdown.Item>
        ))}
        {found.length > SONGS_SHOWN && (
          <p className="small muted px-2">and {found.length - SONGS_SHOWN} more: type part of the title</p>
        )}
        {found.length === 0 && <p className="small muted px-2">No song is like that.</p>}
      </Dropdown.Menu>
    </Dropdown>
  );
}

/** Titles of a list, a line each, without numbers or points in front. */
const titlesIn = (text: string): readonly string[] =>
  text
    .split(/\r\n|\r|\n/)
    .map((line) =>
      nth(line.split('\t'), 0)
        .replace(/^\s*(?:\d+[.)]\s+|[•*-]\s+)/, '')
        .trim(),
    )
    .filter((title) => title !== '');

/** The song that a title means, as a place in the list; `null` where none or several do. */
function placeOf(songs: readonly SongSummary[], title: string): number | null {
  const found = findName(
    songs.map((s) => s.name),
    title,
  );
  return typeof found === 'number' ? found : null;
}
