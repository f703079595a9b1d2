import { Button, ProgressBar } from 'react-bootstrap';
import type { SearchState } from '../../proof/ProofSearch';

type Props = {
  readonly state: SearchState<unknown>;
  readonly what: string;
  cancel(): void;
  again(): void;
};

/** How far a search has come, with a way to break it off and to begin it anew; nothing once it has found. */
export function SearchLine({ state, what, cancel, again }: Props) {
  if (state.kind === 'found' || state.kind === 'idle') return null;
  if (state.kind === 'running')
    return (
      <div className="notice search-line">
        {state.now !== null && state.now.share !== null && (
          <ProgressBar now={state.now.share * 100} aria-label={what} />
        )}
        <span role="status">
          {what}
          {state.now ? `: ${state.now.text}` : ' …'}
          {state.last !== null && '. Below is what was found before the last edit.'}
        </span>
        <Button variant="quiet" onClick={cancel}>
          Cancel
        </Button>
      </div>
    );
  return (
    <div className="notice search-line">
      <span role={state.kind === 'failed' ? 'alert' : 'status'}>
        {state.kind === 'failed' ? state.sentence : `${what} was broken off.`}
      </span>
      <Button variant="quiet" onClick={again}>
        Look again
      </Button>
    </div>
  );
}
