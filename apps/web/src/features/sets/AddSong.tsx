import type { SongSummary } from '@idle-step/contract';
import { Plus } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import { songLines } from '../../edits/songList';
import { SearchField } from '../../ui/SearchField';

/** Songs shown before anything was typed, and after. */
const SONGS_SHOWN = 40;
/** From so many on they are looked for. */
const SEARCHED_FROM = 12;

/** Songs to be added to the running order, found as one types. */
export function AddSong({ songs, onAdd }: { songs: readonly SongSummary[]; onAdd(songId: string): void }) {
  const [wanted, setWanted] = useState('');
  const found = useMemo(
    () => songLines(songs, null, wanted, 'title').flatMap((l) => (l.kind === 'song' ? l.song : [])),
    [songs, wanted],
  );
  return (
    <Dropdown align="end" onToggle={() => setWanted('')}>
      <Dropdown.Toggle variant="quiet" className="no-caret" disabled={songs.length === 0}>
        <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
        Song
      </Dropdown.Toggle>
      <Dropdown.Menu className="long-menu">
        {songs.length >= SEARCHED_FROM && (
          <div className="menu-search">
            <SearchField label="Find a song to add" value={wanted} onChange={setWanted} />
          </div>
        )}
        {found.slice(0, SONGS_SHOWN).map((s) => (
          <Dropdown.Item key={s.id} as="button" onClick={() => onAdd(s.id)}>
            {s.name}
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
