import type { Setlist } from '@idle-step/core/show';
import type { Evening, EveningLine } from '@idle-step/contract';
import { History, ListOrdered } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Button } from 'react-bootstrap';
import { NavLink, useNavigate } from 'react-router-dom';
import { useEveningsQuery } from '../../api/api';
import { IconButton } from '../../ui/IconButton';
import { dayOf, minutes, timeOfDay } from '../../words/times';
import { EveningSheet } from './EveningSheet';

/** How soon an evening that has not ended is looked at again, in ms. */
const LOOK_AGAIN_MS = 4000;

/** The evenings on which a set was played. */
export function EveningsRoom({ set, eveningId }: { set: Setlist; eveningId: string | undefined }) {
  const navigate = useNavigate();
  const [isOpenEnded, setOpenEnded] = useState(false);
  const { data, isError } = useEveningsQuery(set.rigId, {
    refetchOnMountOrArgChange: true,
    // One that is being played is looked at again until it has ended.
    pollingInterval: isOpenEnded ? LOOK_AGAIN_MS : 0,
  });
  useEffect(() => {
    setOpenEnded(data?.some((e) => e.setId === set.id && e.endedAt === null) ?? false);
  }, [data, set.id]);
  const all = data?.filter((e) => e.setId === set.id) ?? [];
  const open = all.find((e) => e.id === eveningId) ?? (eveningId === undefined ? all[0] : undefined);
  return (
    <div className="work-pad running-order">
      <div className="place-head">
        <h1>{set.name}, as it was played</h1>
        <span className="gap" />
        <IconButton
          icon={ListOrdered}
          label="Back to the running order"
          onClick={() => void navigate(`/sets/${set.id}`)}
        />
      </div>
      {isError && !data && (
        <p className="field-error" role="alert">
          The server does not answer; what was played lies in the browser that played it until it does.
        </p>
      )}
      {data && all.length === 0 && (
        <div className="empty-place">
          <History size={28} aria-hidden="true" />
          <h2>Not played yet</h2>
          <p>
            From the moment at which this set is begun on the stage until it is ended, every scene, press and
            message is written down with its time. Here the songs’ planned lengths then stand beside their
            real ones.
          </p>
          <Button variant="go" onClick={() => void navigate('/stage')}>
            Go to the stage
          </Button>
        </div>
      )}
      {all.length > 0 && (
        <nav className="evening-list" aria-label="Evenings">
          {all.map((e) => (
            <NavLink
              key={e.id}
              to={`/sets/${set.id}/evenings/${e.id}`}
              className={e.id === open?.id ? 'on' : ''}
            >
              <b>{dayOf(e.startedAt)}</b> {timeOfDay(e.startedAt)}
              <span className="muted small">{lengthWords(e)}</span>
            </NavLink>
          ))}
        </nav>
      )}
      {open && (
        <EveningSheet
          key={open.id}
          set={set}
          line={open}
          onGone={() => void navigate(`/sets/${set.id}/evenings`)}
        />
      )}
      {data && eveningId !== undefined && !open && all.length > 0 && (
        <p className="muted">This evening is gone; choose another one.</p>
      )}
    </div>
  );
}

const lengthWords = ({ startedAt, endedAt }: Evening | EveningLine): string =>
  endedAt === null ? 'not ended' : minutes((Date.parse(endedAt) - Date.parse(startedAt)) / 1000);
