import type { FileFault } from '@idle-step/core/formats';
import type { Preset } from '@idle-step/core/floor';
import type { FullRig } from '@idle-step/core/routing';
import type { Setlist } from '@idle-step/core/show';
import {
  allCueRows,
  readBookTable,
  songsInTable,
  songsOfBook,
  type BookRead,
  type BookSong,
} from '@idle-step/core/sheet';
import { isSameJson } from '@idle-step/core/edits';
import { FileUp } from 'lucide-react';
import { useDeferredValue, useMemo, useState } from 'react';
import { Button, ProgressBar } from 'react-bootstrap';
import { useAllOpened, useSetList, useSongList } from '../../../drafts/useDocs';
import { newPart, newSong } from '../../../edits/songEdits';
import { readTextFile, TEXT_FILE_LIMIT } from '../../../files/readTextFile';
import { useFileChooser } from '../../../files/useFileChooser';
import { counted } from '../../../words/counted';
import { IntoSetPick } from './IntoSetPick';
import { newScene } from './useBookGrid';
import { useTakeSongs, type IntoSet } from './useTakeSongs';

const EXAMPLE = 'song\tbpm\tscene\tbars\tSnapshot\nPaper Boat\t96\tVerse\t8\tDry\n\t\tChorus\t16\tWide';

type Props = {
  rig: FullRig;
  presets: readonly Preset[];
  /** The set that the book shows, where it shows one. */
  set: Setlist | null;
  start: string;
  /** The first song that was made or changed. */
  onTaken(songId: string | null): void;
  onLeave(): void;
};

type Look =
  | { readonly kind: 'empty' }
  | { readonly kind: 'fetching' }
  | { readonly kind: 'refused'; readonly faults: readonly FileFault[] }
  | { readonly kind: 'read'; readonly read: BookRead };

/** What a table of songs would become; the songs that it names are fetched first. */
function useLook(rig: FullRig, presets: readonly Preset[], text: string): Look {
  const { items, isFetched } = useSongList(rig.id);
  const table = useMemo(() => (text.trim() === '' ? null : readBookTable(text)), [text]);
  const ids = useMemo(() => {
    const names = new Set(table?.ok ? songsInTable(table.value).map((n) => n.toLowerCase()) : []);
    return items.flatMap((s) => (names.has(s.name.toLowerCase()) ? s.id : []));
  }, [table, items]);
  const { docs, isLoaded } = useAllOpened('songs', rig.id, ids);
  return useMemo((): Look => {
    if (!table) return { kind: 'empty' };
    if (!table.ok) return { kind: 'refused', faults: table.error };
    if (!isFetched || !isLoaded) return { kind: 'fetching' };
    const result = songsOfBook(table.value, {
      rows: allCueRows(rig, presets),
      songsNamed: (name) => docs.filter((s) => s.name.toLowerCase() === name.toLowerCase()),
      newSong: (name) => newSong(rig.id, name),
      newScene,
      newPart,
    });
    return result.ok ? { kind: 'read', read: result.value } : { kind: 'refused', faults: result.error };
  }, [table, isFetched, isLoaded, docs, rig, presets]);
}

/** A table of songs from a spreadsheet: beside it what would be made of it, before it is. */
export function PasteTable({ rig, presets, set, start, onTaken, onLeave }: Props) {
  const [text, setText] = useState(start);
  const [into, setInto] = useState<IntoSet>(set ? { kind: 'set', id: set.id } : { kind: 'none' });
  const [fileFault, setFileFault] = useState<string | null>(null);
  const sets = useSetList(rig.id).items;
  const look = useLook(rig, presets, useDeferredValue(text));
  const { take, done, sentence } = useTakeSongs(rig.id);
  const chooser = useFileChooser('Table of songs as CSV', '.csv,.tsv,.txt,text/csv', (file) => {
    void readTextFile(file, TEXT_FILE_LIMIT, 'tables of songs').then((read) => {
      setFileFault(read.error ?? null);
      if (read.error === undefined) setText(read.text);
    });
  });
  const songs = look.kind === 'read' ? look.read.songs : [];
  const fresh = songs.filter((s) => s.was === null);
  const changed = songs.filter((s) => s.was !== null && !isAsItWas(s));
  const isBusy = done !== null;
  const isSomething = fresh.length + changed.length > 0 || (songs.length > 0 && into.kind !== 'none');
  const takeAll = async () => {
    const isDone = await take({
      label: 'take a table of songs',
      fresh: fresh.map((s) => s.song),
      changed: changed.map(({ song }) => ({ id: song.id, change: () => song })),
      order: songs.map((s) => s.song.id),
      into,
    });
    if (isDone) onTaken((fresh[0] ?? changed[0])?.song.id ?? null);
  };
  return (
    <section
      className="rows-from-text book-panel"
      aria-label="Paste a table"
      onKeyDown={(event) => {
        if (event.key === 'Escape' && !isBusy) onLeave();
        else if (event.key === 'Enter' && (event.ctrlKey || event.metaKey) && isSomething && !isBusy)
          void takeAll();
        else return;
        event.preventDefault();
        event.stopPropagation();
      }}
    >
      <label className="manual-text">
        <span>The table: its first line names the columns</span>
        <textarea
          className="form-control"
          autoFocus
          rows={7}
          spellCheck={false}
          wrap="off"
          value={text}
          placeholder={EXAMPLE}
          onChange={(e) => setText(e.target.value)}
        />
      </label>
      <div className="manual-look" role="region" aria-label="What was understood" tabIndex={0}>
        <TableLook look={look} />
      </div>
      <div className="manual-foot">
        <Button
          variant="go"
          disabled={isBusy || !isSomething}
          onClick={() => void takeAll()}
          title="Ctrl+Enter"
        >
          {isBusy ? `${done} made …` : takeWords(fresh.length, changed.length)}
        </Button>
        <IntoSetPick sets={sets} into={into} onInto={setInto} />
        <Button variant="quiet" disabled={isBusy} onClick={chooser.choose}>
          <FileUp size={16} strokeWidth={1.75} aria-hidden="true" />
          Open a CSV file
        </Button>
        {chooser.input}
        <Button variant="quiet" disabled={isBusy} onClick={onLeave}>
          Close
        </Button>
        {isBusy && <ProgressBar now={done} max={Math.max(1, done + fresh.length)} aria-label="Songs made" />}
        {(sentence ?? fileFault) && (
          <span className="field-error" role="alert">
            {sentence ?? fileFault}
          </span>
        )}
      </div>
    </section>
  );
}

const isAsItWas = ({ song, was }: BookSong): boolean => isSameJson(song, was);

const takeWords = (fresh: number, changed: number): string =>
  [
    fresh > 0 && `Make ${counted(fresh, 'song')}`,
    changed > 0 && `${fresh > 0 ? 'change' : 'Change'} ${changed}`,
  ]
    .filter(Boolean)
    .join(', ') || 'Take the songs';

function TableLook({ look }: { look: Look }) {
  if (look.kind === 'empty')
    return (
      <p className="muted">
        A row a scene. Columns are song, bpm, scene, bars, and lines of the sheet by their names, like
        Snapshot or Reverb mix. New songs are made; of those that are there only what the table says is
        changed.
      </p>
    );
  if (look.kind === 'fetching') return <p className="muted">Fetching the songs that are there …</p>;
  if (look.kind === 'refused')
    return (
      <ul className="table-faults" role="alert">
        {look.faults.map(({ line, sentence }, i) => (
          <li key={i}>
            {line !== null && <span className="num">line {line}: </span>}
            {sentence}
          </li>
        ))}
      </ul>
    );
  const { songs, leftOut } = look.read;
  return (
    <>
      {leftOut.length > 0 && (
        <p className="sentence">
          Left out: {leftOut.map(({ title, why }) => `“${title}”, ${why}`).join('; ')}.
        </p>
      )}
      <table>
        <tbody>
          {songs.map((s) => (
            <tr key={s.song.id}>
              <th scope="row">{s.song.name}</th>
              <td>{s.was === null ? 'new' : isAsItWas(s) ? 'as it is' : 'changed'}</td>
              <td className="num">{s.song.tempoBpm} bpm</td>
              <td className="muted">{s.song.scenes.map((x) => x.name).join(', ')}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
