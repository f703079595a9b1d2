import type { Setlist } from '@idle-step/core/show';
import type { SongSummary } from '@idle-step/contract';
import { Button } from 'react-bootstrap';
import { minutes, timeInSet } from '../../words/times';

type Props = {
  set: Setlist;
  /** The set that may become what was read, and whether it is that already. */
  into: { readonly name: string; readonly isSame: boolean } | null;
  songs: readonly SongSummary[];
  onMake(): void;
  onInto(): void;
  onLeave(): void;
};

/** What would be made of a running order that was read, before it is. */
export function SetLook({ set, into, songs, onMake, onInto, onLeave }: Props) {
  const names = new Map(songs.map((s) => [s.id, s.name]));
  const evening = [set.date, set.startMin === null ? '' : timeInSet(set, 0), set.place].filter(Boolean);
  return (
    <section className="work-pad smf-look" aria-label="Running order that was read">
      <div className="place-head">
        <h1>{set.name}</h1>
        <span className="muted">
          {[...evening, `${set.entries.length} ${set.entries.length === 1 ? 'line' : 'lines'}`].join(', ')}
        </span>
        <span className="gap" />
        <Button variant="go" onClick={onMake}>
          Make a new set
        </Button>
        {into && !into.isSame && (
          <Button variant="quiet" onClick={onInto}>
            Read it into {into.name}
          </Button>
        )}
        <Button variant="quiet" onClick={onLeave}>
          Leave it
        </Button>
      </div>
      {into && (
        <p className="muted small">
          {into.isSame
            ? `${into.name} is the same already.`
            : `Read into ${into.name}, its running order becomes this one; undo takes it back.`}
        </p>
      )}
      <ol className="look-lines">
        {set.entries.map((e) => (
          <li key={e.id}>
            <b>{e.kind === 'song' ? names.get(e.songId) : e.name}</b>{' '}
            <span className="muted">
              {[
                e.kind === 'song' ? '' : e.kind,
                e.lengthS === null ? '' : minutes(e.lengthS),
                e.isEncore ? 'encore' : '',
                e.kind === 'song' && e.leftOutSceneIds.length > 0
                  ? `${e.leftOutSceneIds.length} left out`
                  : '',
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
