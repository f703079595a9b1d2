import type { RigPath } from '@idle-step/core/gear';
import { pathWords } from '../../words/linkWords';

/** Ways written out; more are there than a person reads. */
const WRITTEN = 8;

/** Every way through the rig that leads through what is picked. */
export function PathList({ paths, name }: { paths: readonly RigPath[]; name: string }) {
  return (
    <section aria-label={`Ways through ${name}`}>
      <h3 className="sub-head">
        {paths.length === 0
          ? 'No way leads'
          : paths.length === 1
            ? 'One way leads'
            : `${paths.length} ways lead`}{' '}
        through {name}
      </h3>
      <ol className="path-list">
        {paths.slice(0, WRITTEN).map((path, i) => (
          <li key={i}>{pathWords(path)}</li>
        ))}
      </ol>
      {paths.length > WRITTEN && <p className="muted small">and {paths.length - WRITTEN} more</p>}
    </section>
  );
}
