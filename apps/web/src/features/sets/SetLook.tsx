import type { SetlistDoc, SongSummary } from '@idle-step/contract';
import { Button } from 'react-bootstrap';
import { minutes } from '../../words/times';

/** What would be made of a running order that was read, before it is. */
export function SetLook({
  set,
  songs,
  onMake,
  onLeave,
}: {
  set: SetlistDoc;
  songs: readonly SongSummary[];
  onMake(): void;
  onLeave(): void;
}) {
  const names = new Map(songs.map((s) => [s.id, s.name]));
  return (
    <section className="work-pad smf-look" aria-label="Running order that was read">
      <div className="place-head">
        <h1>{set.name}</h1>
        <span className="muted">{set.entries.length} lines</span>
        <span className="gap" />
        <Button variant="go" onClick={onMake}>
          Make this set
        </Button>
        <Button variant="quiet" onClick={onLeave}>
          Leave it
        </Button>
      </div>
      <ol className="look-lines">
        {set.entries.map((e) => (
          <li key={e.id}>
            <b>{e.kind === 'song' ? names.get(e.songId) : e.name}</b>{' '}
            <span className="muted">
              {[
                e.kind === 'song' ? '' : e.kind,
                e.lengthS === null ? '' : minutes(e.lengthS),
                e.isEncore ? 'encore' : '',
                e.remark,
              ]
                .filter(Boolean)
                .join(' · ')}
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}
