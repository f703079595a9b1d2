import { ArchiveRestore } from 'lucide-react';
import { Link } from 'react-router-dom';

/** The way to what was deleted. @param withWord with its name beside the sign, where there is room. */
export function BinLink({ withWord = false }: { withWord?: boolean }) {
  const label = 'Bin: what was deleted, to be brought back';
  return (
    <Link
      className={withWord ? 'btn btn-quiet' : 'btn btn-bare btn-icon'}
      to="/bin"
      aria-label={label}
      title={label}
    >
      <ArchiveRestore size={16} strokeWidth={1.75} aria-hidden="true" />
      {withWord && 'Bin'}
    </Link>
  );
}
