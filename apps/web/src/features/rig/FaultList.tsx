import type { CableFinding } from '@idle-step/core/gear';
import { CircleAlert, TriangleAlert } from 'lucide-react';

/** What the cable rules hold against the rig: refused in red, warned in amber. */
export function FaultList({
  faults,
  onShow,
}: {
  faults: readonly CableFinding[];
  onShow?(fault: CableFinding): void;
}) {
  if (faults.length === 0) return null;
  return (
    <ul className="fault-list" role="alert">
      {faults.map((fault, i) => (
        <li key={i} className={fault.severity}>
          {fault.severity === 'refused' ? (
            <CircleAlert size={15} aria-hidden="true" />
          ) : (
            <TriangleAlert size={15} aria-hidden="true" />
          )}
          <span>
            {fault.severity === 'refused' && <b>Not drawn. </b>}
            {fault.sentence}
          </span>
          {onShow && (fault.place.deviceIds?.length ?? 0) > 0 && (
            <button type="button" className="btn btn-bare" onClick={() => onShow(fault)}>
              Show
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}
