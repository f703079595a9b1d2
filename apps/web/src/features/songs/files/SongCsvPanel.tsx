import { useState } from 'react';
import { Button, ProgressBar } from 'react-bootstrap';
import { loadDocs } from '../../../drafts/loadDocs';
import { useCreateDoc } from '../../../drafts/useDocChanges';
import { useEditAll } from '../../../drafts/useDocs';
import type { SongsFromCsv } from '../../../edits/csvLists';
import { useAppDispatch } from '../../../store';

/** Songs named in the look; the rest is counted. */
const SHOWN = 40;

/** What would be made of a list of songs, before it is. */
export function SongCsvPanel({
  rigId,
  read,
  fileName,
  onLeave,
}: {
  rigId: string;
  read: SongsFromCsv;
  fileName: string;
  onLeave(): void;
}) {
  const create = useCreateDoc();
  const editAll = useEditAll('songs');
  const dispatch = useAppDispatch();
  const [done, setDone] = useState<number | null>(null);
  const [sentence, setSentence] = useState<string | null>(null);
  const { fresh, changed, same } = read;
  const take = async () => {
    setDone(0);
    for (const [i, song] of fresh.entries()) {
      const refused = await create('songs', song);
      if (refused) {
        setSentence(`${i} of ${fresh.length} songs were made; “${song.name}” was not: ${refused.sentence}`);
        setDone(null);
        return;
      }
      setDone(i + 1);
    }
    const isThere = await dispatch(
      loadDocs(
        'songs',
        rigId,
        changed.map((c) => c.id),
      ),
    );
    if (!isThere) {
      setSentence('The server does not answer, so the songs that are there already were not changed.');
      setDone(null);
      return;
    }
    editAll(
      `take ${fileName}`,
      changed.map(({ id, apply }) => ({ id, change: apply })),
    );
    onLeave();
  };
  const isBusy = done !== null;
  return (
    <section className="work-pad smf-look" aria-label="List of songs">
      <div className="place-head">
        <h1>{fileName}</h1>
        <span className="muted">
          {fresh.length} new, {changed.length} changed, {same} as they are
        </span>
        <span className="gap" />
        <Button
          variant="go"
          disabled={isBusy || fresh.length + changed.length === 0}
          onClick={() => void take()}
        >
          {isBusy ? `${done} of ${fresh.length} …` : 'Take them'}
        </Button>
        <Button variant="quiet" disabled={isBusy} onClick={onLeave}>
          Leave it
        </Button>
      </div>
      {isBusy && <ProgressBar now={done} max={Math.max(1, fresh.length)} aria-label="Songs made" />}
      {sentence && (
        <p className="field-error" role="alert">
          {sentence}
        </p>
      )}
      {changed.length > 0 && (
        <>
          <h2>Changed</h2>
          <ul>
            {changed.slice(0, SHOWN).map((c) => (
              <li key={c.id}>
                <b>{c.name}</b> <span className="muted">{c.words.join('; ')}</span>
              </li>
            ))}
            {changed.length > SHOWN && <li className="muted">and {changed.length - SHOWN} more</li>}
          </ul>
        </>
      )}
      {fresh.length > 0 && (
        <>
          <h2>New</h2>
          <ul>
            {fresh.slice(0, SHOWN).map((s) => (
              <li key={s.id}>
                <b>{s.name}</b>{' '}
                <span className="muted">
                  {[`${s.tempoBpm} bpm`, s.key, s.scenes.map((x) => x.name).join(', ')]
                    .filter(Boolean)
                    .join(' · ')}
                </span>
              </li>
            ))}
            {fresh.length > SHOWN && <li className="muted">and {fresh.length - SHOWN} more</li>}
          </ul>
        </>
      )}
    </section>
  );
}
