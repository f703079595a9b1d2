import type { HandLeftOut } from '@idle-step/core/memory';
import { TriangleAlert } from 'lucide-react';
import { counted } from '../../../words/counted';
import { LIST_WORDS } from '../presets/listWords';

/** What a board by itself cannot do, each with a way to where it is assigned. */
export function LeftOut({
  leftOut,
  isOpen,
  onGo,
}: {
  leftOut: readonly HandLeftOut[];
  isOpen: boolean;
  onGo(pageId: string, controlId: string): void;
}) {
  return (
    <details className="hand-left-out" open={isOpen}>
      <summary>
        <TriangleAlert size={16} aria-hidden="true" /> Left out: {counted(leftOut.length, 'thing')} that this
        board cannot do
      </summary>
      <ul>
        {leftOut.map((l) => (
          <li key={l.key}>
            <button type="button" className="as-link" onClick={() => onGo(l.pageId, l.controlId)}>
              {l.controlName}
            </button>{' '}
            <span className="muted">
              {l.pageName}, {LIST_WORDS[l.list]}: {l.does}.
            </span>{' '}
            {l.sentence}
          </li>
        ))}
      </ul>
    </details>
  );
}
