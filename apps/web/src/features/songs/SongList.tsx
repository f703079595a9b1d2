import type { Setlist } from '@idle-step/core/show';
import { cutText } from '@idle-step/core/typed';
import type { SetSummary, SongSummary } from '@idle-step/contract';
import { useVirtualizer } from '@tanstack/react-virtual';
import { CheckSquare, ListPlus, Tag, Trash2 } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import { Dropdown, Form } from 'react-bootstrap';
import { NavLink } from 'react-router-dom';
import type { LoadedResource } from '../../api/api';
import { BinLink } from '../../documents/BinLink';
import { loadDocs } from '../../drafts/loadDocs';
import { useEdit, useEditAll } from '../../drafts/useDocs';
import { useSteps } from '../../drafts/useSteps';
import { useAppDispatch } from '../../store';
import { Pick } from '../../ui/Fields';
import { IconButton } from '../../ui/IconButton';
import { SearchField } from '../../ui/SearchField';
import { Trouble } from '../../ui/Trouble';
import { songEntry } from '../../edits/songEdits';
import { SONG_ORDERS, songLines, type SongOrder } from '../../edits/songList';
import { ORDER_WORDS } from '../../words/orderWords';
import { minutes } from '../../words/times';
import { counted } from '../../words/counted';
import { nth } from '@idle-step/core/sure';

/** From so many songs on they are looked for and put in order. */
const SEARCHED_FROM = 8;
const LINE_PX = 33;
/** Of one song; the contract's own bound. */
const TAGS_AT_MOST = 20;

type Props = {
  rigId: string;
  songs: readonly SongSummary[];
  /** How many there are, also while they are still coming. */
  total: number;
  /** The set in play, `null` when there is none. */
  set: Setlist | null;
  sets: readonly SetSummary[];
  shownId: string | undefined;
};

/** All songs: found as one types, in an order, and several in hand at once. */
export function SongList({ rigId, songs, total, set, sets, shownId }: Props) {
  const [wanted, setWanted] = useState('');
  const [order, setOrder] = useState<SongOrder>('set');
  const [picked, setPicked] = useState<ReadonlySet<string> | null>(null);
  const list = useRef<HTMLOListElement>(null);
  const lines = useMemo(() => songLines(songs, set, wanted, order), [songs, set, wanted, order]);
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => list.current,
    estimateSize: () => LINE_PX,
    overscan: 8,
    initialRect: { width: 172, height: 500 },
  });
  const inSetS = useMemo(
    () => lines.reduce((s, l) => s + (l.kind === 'song' && l.number !== null ? l.song.lengthS : 0), 0),
    [lines],
  );
  const toggle = (id: string, on: boolean) => {
    const next = new Set(picked);
    if (on) next.add(id);
    else next.delete(id);
    setPicked(next);
  };
  return (
    <>
      {songs.length >= SEARCHED_FROM && (
        <div className="song-search">
          <SearchField
            label="Find a song"
            placeholder="Title, key or tag"
            value={wanted}
            onChange={setWanted}
          />
          <Pick
            hideLabel
            label="Order of the list"
            value={order}
            options={SONG_ORDERS.map((o) => ({ value: o, text: ORDER_WORDS[o] }))}
            onPick={(o) => setOrder(o)}
          />
          <IconButton
            icon={CheckSquare}
            label="Take several in hand"
            pressed={picked !== null}
            onClick={() => setPicked(picked === null ? new Set() : null)}
          />
        </div>
      )}
      {lines.length === 0 && songs.length > 0 && <p className="muted px-2">No song is like that.</p>}
      <ol ref={list} className="song-rows" aria-label="Songs">
        <li aria-hidden="true" className="song-room" style={{ height: virtual.getTotalSize() }} />
        {virtual.getVirtualItems().map((item) => {
          const line = nth(lines, item.index);
          const style = { top: item.start, height: LINE_PX };
          if (line.kind === 'head')
            return (
              <li key="head" style={style} className="muted list-rest">
                {line.text}
              </li>
            );
          const { song, number } = line;
          return (
            <li key={`${song.id}/${item.index}`} style={style}>
              {picked && (
                <Form.Check
                  aria-label={`Take ${song.name} in hand`}
                  checked={picked.has(song.id)}
                  onChange={(e) => toggle(song.id, e.target.checked)}
                />
              )}
              <NavLink to={`/songs/${song.id}`} className={song.id === shownId ? 'on' : ''}>
                <span className="num muted">{number ?? ''}</span>
                <span className="song-name" title={song.name}>
                  {song.name}
                </span>
                <span className="num">
                  {order === 'length' ? minutes(song.lengthS) : order === 'key' ? song.key : song.tempoBpm}
                </span>
              </NavLink>
            </li>
          );
        })}
      </ol>
      {picked ? (
        <SeveralBar
          rigId={rigId}
          songs={songs.filter((s) => picked.has(s.id))}
          sets={sets}
          onAll={() => setPicked(new Set(lines.flatMap((l) => (l.kind === 'song' ? l.song.id : []))))}
          onDone={() => setPicked(null)}
        />
      ) : (
        <div className="song-list-foot small muted">
          <span>
            {songs.length < total ? `${songs.length} of ` : ''}
            {counted(total, 'song')}
            {inSetS > 0 && `, ${minutes(inSetS)} in set`}
          </span>
          <BinLink />
        </div>
      )}
    </>
  );
}

/** What is done with several songs at once. */
function SeveralBar({
  rigId,
  songs,
  sets,
  onAll,
  onDone,
}: {
  rigId: string;
  songs: readonly SongSummary[];
  sets: readonly SetSummary[];
  onAll(): void;
  onDone(): void;
}) {
  const editAll = useEditAll('songs');
  const editSet = useEdit('sets');
  const { deleteDoc } = useSteps();
  const [tag, setTag] = useState('');
  const [sentence, setSentence] = useState<string | null>(null);
  const none = songs.length === 0;
  const dispatch = useAppDispatch();
  /** What is done with songs or a set is done once they are in the page. @returns whether they are. */
  const brought = async (resource: LoadedResource, ids: readonly string[]): Promise<boolean> => {
    if (await dispatch(loadDocs(resource, rigId, ids))) return true;
    setSentence('The server does not answer, so nothing was changed.');
    return false;
  };
  const addTag = async () => {
    const word = cutText(tag.trim(), 40);
    if (word === '' || none) return;
    if (
      !(await brought(
        'songs',
        songs.map((s) => s.id),
      ))
    )
      return;
    const full = songs.filter((s) => !s.tags.includes(word) && s.tags.length >= TAGS_AT_MOST);
    const tagged = songs.filter((s) => !s.tags.includes(word) && !full.includes(s));
    editAll(
      tagged.length === 1 ? `tag ${word}` : `tag ${tagged.length} songs ${word}`,
      tagged.map(({ id }) => ({ id, change: (s) => ({ ...s, tags: [...s.tags, word] }) })),
    );
    setSentence(
      full.length === 0 ? null : `${full.map((s) => s.name).join(', ')} has ${TAGS_AT_MOST} tags already.`,
    );
    setTag('');
  };
  const intoSet = async (setId: string) => {
    if (!(await brought('sets', [setId]))) return;
    editSet(setId, `add ${counted(songs.length, 'song')}`, (x) => ({
      ...x,
      entries: [...x.entries, ...songs.map((song) => songEntry(song.id))],
    }));
    onDone();
  };
  const remove = async () => {
    if (
      !(await brought(
        'songs',
        songs.map((s) => s.id),
      ))
    )
      return;
    for (const song of songs) await deleteDoc('songs', song.id, song.name, () => undefined);
    onDone();
  };
  return (
    <div className="several" role="group" aria-label="Songs in hand">
      <span className="small">
        {songs.length} in hand{' '}
        <button type="button" className="btn btn-bare" onClick={onAll}>
          all
        </button>
      </span>
      <form
        className="several-tag"
        onSubmit={(e) => {
          e.preventDefault();
          void addTag();
        }}
      >
        <Form.Control
          aria-label="Tag for the songs in hand"
          placeholder="tag"
          value={tag}
          onChange={(e) => setTag(e.target.value)}
        />
        <IconButton
          icon={Tag}
          label="Tag the songs in hand"
          disabled={none || tag.trim() === ''}
          onClick={() => void addTag()}
        />
      </form>
      <Trouble>{sentence}</Trouble>
      <IntoSet sets={sets} isOff={none} onPick={(id) => void intoSet(id)} />
      <IconButton
        icon={Trash2}
        label="Delete the songs in hand; each can be brought back"
        disabled={none}
        onClick={() => void remove()}
      />
    </div>
  );
}

function IntoSet({
  sets,
  isOff,
  onPick,
}: {
  sets: readonly SetSummary[];
  isOff: boolean;
  onPick(setId: string): void;
}) {
  return (
    <Dropdown drop="up">
      <Dropdown.Toggle variant="quiet" className="no-caret" disabled={isOff || sets.length === 0}>
        <ListPlus size={16} strokeWidth={1.75} aria-hidden="true" />
        Into a set
      </Dropdown.Toggle>
      <Dropdown.Menu className="long-menu">
        {sets.map((s) => (
          <Dropdown.Item key={s.id} as="button" onClick={() => onPick(s.id)}>
            {s.name}
          </Dropdown.Item>
        ))}
      </Dropdown.Menu>
    </Dropdown>
  );
}
