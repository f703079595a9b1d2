import type { FullRig } from '@idle-step/core/routing';
import type { Setlist, Song } from '@idle-step/core/show';
import { readSongNames } from '@idle-step/core/sheet';
import type { SongSummary } from '@idle-step/contract';
import { useMemo, useState } from 'react';
import { Button, Form, ProgressBar } from 'react-bootstrap';
import { useEdit, useOpened, useSetList, useSongList } from '../../../drafts/useDocs';
import { isPattern, songLike, withPattern } from '../../../edits/patterns';
import { FilterPick } from '../../../ui/FilterPick';
import { counted } from '../../../words/counted';
import { IntoSetPick } from './IntoSetPick';
import { useTakeSongs, type IntoSet } from './useTakeSongs';

type Props = {
  rig: FullRig;
  set: Setlist | null;
  /** The song in hand. */
  wantedId: string;
  onTaken(songId: string | null): void;
  onLeave(): void;
};

/** New songs with the scenes, lines and order of one that is there, by a list of their names. */
export function SongsLike({ rig, set, wantedId, onTaken, onLeave }: Props) {
  const songs = useSongList(rig.id).items;
  const sets = useSetList(rig.id).items;
  const [likeId, setLikeId] = useState(() => songs.find(isPattern)?.id ?? wantedId);
  const like = useOpened('songs', rig.id, likeId);
  const [text, setText] = useState('');
  const [keepsValues, setKeepsValues] = useState(true);
  const [into, setInto] = useState<IntoSet>(set ? { kind: 'set', id: set.id } : { kind: 'none' });
  const { take, done, sentence } = useTakeSongs(rig.id);
  const names = useMemo(
    () =>
      readSongNames(
        text,
        songs.map((s) => s.name),
      ),
    [text, songs],
  );
  const good = useMemo(() => names.filter((n) => n.refused === null), [names]);
  // The same songs when it is pressed again after an answer that was lost.
  const fresh = useMemo(
    () => (like ? good.map((n) => songLike(like, n, keepsValues)) : []),
    [like, good, keepsValues],
  );
  const isBusy = done !== null;
  const make = async () => {
    if (fresh.length === 0 || isBusy) return;
    const order = fresh.map((s) => s.id);
    const isDone = await take({ label: 'make songs', fresh, changed: [], order, into });
    if (!isDone) return;
    // What could not be made stays in the field.
    const left = text
      .split(/\r\n|\r|\n/)
      .filter((_, i) => names.some((n) => n.line === i + 1 && n.refused !== null));
    setText(left.join('\n'));
    onTaken(order[0] ?? null);
    if (left.length === 0) onLeave();
  };
  return (
    <section
      className="rows-from-text book-panel"
      aria-label="Songs like this"
      onKeyDown={(event) => {
        if (event.key === 'Escape' && !isBusy) onLeave();
        else if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) void make();
        else return;
        event.preventDefault();
        event.stopPropagation();
      }}
    >
      <label className="manual-text">
        <span>Names of the new songs, a line each; tempo and key may follow, with a semicolon between</span>
        <textarea
          className="form-control"
          autoFocus
          rows={7}
          spellCheck={false}
          value={text}
          placeholder={'Paper Boat\nTin Roof; 132; E minor'}
          onChange={(e) => setText(e.target.value)}
        />
      </label>
      <WhatLike
        songs={songs}
        likeId={likeId}
        like={like}
        onLike={setLikeId}
        keepsValues={keepsValues}
        onKeepsValues={setKeepsValues}
        names={names}
      />
      <div className="manual-foot">
        <Button
          variant="go"
          disabled={isBusy || !like || good.length === 0}
          onClick={() => void make()}
          title="Ctrl+Enter"
        >
          {isBusy
            ? `${done} made …`
            : good.length === 0
              ? 'Make songs'
              : `Make ${counted(good.length, 'song')}`}
        </Button>
        <IntoSetPick sets={sets} into={into} onInto={setInto} />
        <Button variant="quiet" disabled={isBusy} onClick={onLeave}>
          Close
        </Button>
        {isBusy && <ProgressBar now={done} max={Math.max(1, done + good.length)} aria-label="Songs made" />}
        {sentence && (
          <span className="field-error" role="alert">
            {sentence}
          </span>
        )}
      </div>
    </section>
  );
}

const patternsFirst = (a: SongSummary, b: SongSummary): number => Number(isPattern(b)) - Number(isPattern(a));

/** Which song the new ones are like, what they take from it, and which names cannot be taken. */
function WhatLike({
  songs,
  likeId,
  like,
  onLike,
  keepsValues,
  onKeepsValues,
  names,
}: {
  songs: readonly SongSummary[];
  likeId: string;
  like: Song | null | undefined;
  onLike(id: string): void;
  keepsValues: boolean;
  onKeepsValues(on: boolean): void;
  names: ReturnType<typeof readSongNames>;
}) {
  const edit = useEdit('songs');
  return (
    <div className="manual-look" role="region" aria-label="What they are like" tabIndex={0}>
      <FilterPick
        label="Like"
        value={likeId}
        options={[...songs].sort(patternsFirst).map((s) => ({
          value: s.id,
          text: isPattern(s) ? `${s.name} (pattern)` : s.name,
        }))}
        onPick={onLike}
      />
      {like && (
        <>
          <p className="muted">{like.scenes.map((s) => s.name).join(', ') || 'It has no scenes.'}</p>
          <Form.Check
            id="like-values"
            label="With what its scenes set"
            checked={keepsValues}
            onChange={(e) => onKeepsValues(e.target.checked)}
          />
          <Form.Check
            id="like-pattern"
            label={`Keep ${like.name} as a pattern, offered first for new songs`}
            checked={isPattern(like)}
            onChange={(e) => {
              const on = e.target.checked;
              edit(like.id, on ? 'keep as a pattern' : 'keep as a pattern no more', (s: Song) =>
                withPattern(s, on),
              );
            }}
          />
        </>
      )}
      {names.some((n) => n.refused !== null) && (
        <ul className="table-faults">
          {names.flatMap((n) =>
            n.refused === null
              ? []
              : [
                  <li key={n.line}>
                    <span className="num">line {n.line}: </span>“{n.name}”: {n.refused}
                  </li>,
                ],
          )}
        </ul>
      )}
    </div>
  );
}
