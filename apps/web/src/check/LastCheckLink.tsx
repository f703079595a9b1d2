import { Link } from 'react-router-dom';
import { useRecords } from '../records/useRecords';
import { dayOf } from '../words/times';

/** How the last line check ended, before this set where there was one; behind it the check. */
export function LastCheckLink({ rigId, setId }: { rigId: string; setId: string }) {
  const { records, isFetched } = useRecords(rigId, 'line-check');
  const last = records.find((r) => r.what.setId === setId) ?? records[0];
  const right = last?.what.results.filter((r) => r.found === 'right').length ?? 0;
  const all = last?.what.results.length ?? 0;
  return (
    <Link to="/check" className={`last-check ${last && right < all ? 'open' : ''}`}>
      {last
        ? `Line check: ${right} of ${all} right, ${dayOf(last.at)}`
        : isFetched
          ? 'Line check: not made yet'
          : 'Line check: …'}
    </Link>
  );
}
