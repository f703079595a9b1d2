import { Button } from 'react-bootstrap';
import { isTyping } from '../documents/useUndoKeys';
import { Corners } from '../ui/Corners';
import { askWords, messageWords, sentWords, type Learning, type LearnState } from './useLearn';

/** The hands leave the mouse: Escape has to reach the panel. */
const takeFocus = (panel: HTMLElement | null) => panel?.focus({ preventScroll: true });

/** What learning asks for, what it has heard, the choices where there are some, and what came of it. */
export function LearnPanel({ learn }: { learn: LearnState }) {
  const { learning } = learn;
  if (!learning && learn.said.length === 0) return null;
  return (
    <>
      {learning && <LearnNow learn={learn} learning={learning} />}
      {learn.said.length > 0 && (
        <div role="status">
          <ul className="learn-said small muted" aria-label="What was learned">
            {learn.said.map((sentence) => (
              <li key={sentence}>{sentence}</li>
            ))}
          </ul>
        </div>
      )}
      {!learning && learn.way && <WayOffer learn={learn} way={learn.way} />}
    </>
  );
}

/** The board would stay deaf: what is missing, to be put right with one press. */
function WayOffer({ learn, way }: { learn: LearnState; way: NonNullable<LearnState['way']> }) {
  return (
    <div className="notice" role="alert">
      <span>{way.sentence}</span>{' '}
      {way.offers.map((offer) => (
        <Button key={offer.text} variant="quiet" onClick={() => learn.open(offer.change)}>
          {offer.text}
        </Button>
      ))}
    </div>
  );
}

function LearnNow({ learn, learning }: { learn: LearnState; learning: Learning }) {
  const { candidates, others, isQuiet, left, control } = learning;
  const other = candidates.length === 0 ? others[0] : undefined;
  return (
    <div
      className="learn-panel"
      role="group"
      aria-label="Learning"
      tabIndex={-1}
      ref={takeFocus}
      onKeyDown={(e) => {
        if (e.key === 'Escape' && !isTyping(e.nativeEvent)) learn.cancel();
      }}
    >
      <Corners />
      <p className="learn-ask" role="status">
        {askWords(learning)}
        {left > 0 && <span className="muted small"> Then {left} more, one after the other.</span>}
      </p>
      {candidates.length === 0 && !other && (
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
              {isQuiet && (candidates.length > 1 || c.wants !== null) && (
                <Button variant="quiet" onClick={() => learn.take(c, null)}>
                  This one
                </Button>
              )}
            </li>
          ))}
        </ul>
      )}
      {other && (
        <p className="small">
          That was {other.control.name}: it sends {messageWords(other.candidate.sends)} already.{' '}
          {isQuiet && (
            <Button variant="quiet" onClick={() => learn.take(other.candidate, other.control)}>
              Give it to {control.name}; {other.control.name} takes {messageWords(control.sends)}
            </Button>
          )}
        </p>
      )}
      <div className="learn-tools">
        <Button variant="quiet" onClick={learn.again}>
          Begin again
        </Button>
        {left > 0 && (
          <Button variant="quiet" onClick={learn.skip}>
            Pass over {control.name}
          </Button>
        )}
        <Button variant="bare" onClick={learn.cancel}>
          Stop learning
        </Button>
      </div>
    </div>
  );
}
