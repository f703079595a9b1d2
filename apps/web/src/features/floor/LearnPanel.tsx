import { Button } from 'react-bootstrap';
import { Corners } from '../../ui/Corners';
import { askWords, messageWords, sentWords, type LearnState } from './useLearn';

/** The hands leave the mouse: Escape has to reach the panel. */
const takeFocus = (panel: HTMLElement | null) => panel?.focus({ preventScroll: true });

/** What learning asks for, what it has heard, and the choices where there are some. */
export function LearnPanel({ learn }: { learn: LearnState }) {
  const { learning } = learn;
  if (!learning)
    return learn.said ? (
      <p className="small muted" role="status">
        {learn.said}
      </p>
    ) : null;
  const { candidates, isQuiet, bound, left, control } = learning;
  const needsChoice = isQuiet && candidates.length > 0 && (candidates.length > 1 || bound !== null);
  return (
    <div
      className="learn-panel"
      role="group"
      aria-label="Learning"
      tabIndex={-1}
      ref={takeFocus}
      onKeyDown={(e) => {
        if (e.key === 'Escape') learn.cancel();
      }}
    >
      <Corners />
      <p className="learn-ask" role="status">
        {askWords(learning)}
        {left > 0 && <span className="muted small"> Then {left} more, one after the other.</span>}
      </p>
      {candidates.length === 0 && (
        <p className="small muted">Listening. Nothing that was touched has been heard yet.</p>
      )}
      {candidates.length > 0 && (
        <ul className="learn-candidates">
          {candidates.slice(0, 6).map((c) => (
            <li key={`${c.portId}/${c.channel}/${messageWords(c.sends)}`}>
              <span className="num">{sentWords(c)}</span>
              <span className="muted small">
                {c.looksLike}, heard {c.count} {c.count === 1 ? 'time' : 'times'}
              </span>
              {(needsChoice || c.wants !== null) && isQuiet && (
                <Button
                  variant="quiet"
                  onClick={() => learn.take(c, false)}
                  disabled={bound !== null && c === candidates[0]}
                >
                  This one
                </Button>
              )}
            </li>
          ))}
        </ul>
      )}
      {isQuiet && bound && candidates[0] && (
        <p className="small">
          {bound.name} sends {messageWords(candidates[0].sends)} already.{' '}
          <Button variant="quiet" onClick={() => learn.take(candidates[0]!, true)}>
            Give it to {control.name}; {bound.name} takes {messageWords(control.sends)}
          </Button>{' '}
          <Button variant="quiet" onClick={learn.skip}>
            Keep it with {bound.name}
          </Button>
        </p>
      )}
      <div className="learn-tools">
        <Button variant="quiet" onClick={learn.again}>
          Begin again
        </Button>
        {left > 0 && (
          <Button variant="quiet" onClick={learn.skip}>
            Skip {control.name}
          </Button>
        )}
        <Button variant="bare" onClick={learn.cancel}>
          Stop learning
        </Button>
      </div>
    </div>
  );
}
