import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { useCreateDoc } from '../../drafts/useDocChanges';

/** What stands in every place before there is a rig. */
export function NoRig({ isLoading, isError }: { isLoading: boolean; isError: boolean }) {
  const create = useCreateDoc();
  const [isBusy, setBusy] = useState(false);
  if (isLoading) return <div className="work-pad muted">Fetching the rig …</div>;
  if (isError)
    return (
      <div className="work-pad">
        <div className="empty-place" role="alert">
          <h2>The server does not answer</h2>
          <p>
            Nothing can be shown before the rig is fetched. Is the program that started this page still
            running?
          </p>
          <Button variant="go" onClick={() => location.reload()}>
            Try again
          </Button>
        </div>
      </div>
    );
  return (
    <div className="work-pad">
      <div className="empty-place">
        <h2>No rig yet</h2>
        <p>
          A rig is all your gear written down once: what each device is, how it is cabled, on which channel it
          listens and what it answers to. Switches, songs and sets are built on it.
        </p>
        <Button
          variant="go"
          disabled={isBusy}
          onClick={() => {
            setBusy(true);
            const id = crypto.randomUUID();
            void create('rigs', {
              id,
              name: 'My rig',
              middleC: 3,
              devices: [],
              cables: [],
              boards: [],
              routing: { lines: [], routes: [], othersTo: [] },
            }).finally(() => setBusy(false));
          }}
        >
          Start a rig
        </Button>
      </div>
    </div>
  );
}
