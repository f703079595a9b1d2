import { Button, ProgressBar } from 'react-bootstrap';
import { useTakeSongs } from '../book/useTakeSongs';
import type { SongsFromCsv } from '../../../edits/csvLists';
import { Trouble } from '../../../ui/Trouble';

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
  const { take, done, sentence } = useTakeSongs(rigId);
  const { fresh, changed, same } = read;
  const takeAll = async () => {
    const isDone = await take({
      label: `take ${fileName}`,
      fresh,
      changed: changed.map(({ id, apply }) => ({ id, change: apply })),
      order: [],
      into: { kind: 'none' },
    });
    if (isDone) onLeave();
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
          onClick={() => void takeAll()}
        >
          {isBusy ? `${done} of ${fresh.length} …` : 'Take them'}
        </Button>
        <Button variant="quiet" disabled={isBusy} onClick={onLeave}>
          Leave it
        </Button>
      </div>
      {isBusy && <ProgressBar now={done} max={Math.max(1, fresh.length)} aria-label="Songs made" />}
      <Trouble>{sentence}</Trouble>
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
