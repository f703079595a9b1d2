import type { SetlistDoc } from '@idle-step/contract';
import { timeOfDay, type SetTimes as Times } from '@idle-step/core/show';
import { minutes } from '../../words/times';

/** When the set begins and ends, and how it fits its slot. */
export function SetTimes({ set, times }: { set: SetlistDoc; times: Times }) {
  const { playedS, encoreS, overS } = times;
  const end = set.startMin === null ? null : timeOfDay(set.startMin, playedS);
  return (
    <span className="set-times" role="status">
      <b>{minutes(playedS)}</b>
      {encoreS > 0 && <span className="muted"> + {minutes(encoreS)} encore</span>}
      {end !== null && (
        <span className="muted">
          , {timeOfDay(set.startMin!, 0)} to {end}
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
