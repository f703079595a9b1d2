import type { Setlist, SetTimes as Times } from '@idle-step/core/show';
import { minutes, timeInSet } from '../../words/times';

/** When the set begins and ends, and how it fits its slot. */
export function SetTimes({ set, times }: { set: Setlist; times: Times }) {
  const { playedS, encoreS, overS } = times;
  return (
    <span className="set-times" role="status">
      <b>{minutes(playedS)}</b>
      {encoreS > 0 && <span className="muted"> + {minutes(encoreS)} encore</span>}
      {set.startMin !== null && (
        <span className="muted">
          , {timeInSet(set, 0)} to {timeInSet(set, playedS)}
        </span>
      )}
      {overS !== null && (
        <span className={overS > 0 ? 'over' : 'under'}>
          {Math.round(overS) === 0
            ? ', fills its slot exactly'
            : overS > 0
              ? `, ${minutes(overS)} over the slot`
              : `, ${minutes(-overS)} left of the slot`}
        </span>
      )}
    </span>
  );
}
