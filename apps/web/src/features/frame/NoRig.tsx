import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { useNavigate } from 'react-router-dom';
import { BinLink } from '../../documents/BinLink';
import { useWholeRigs } from '../../drafts/whole/useWholeRigs';
import { demoCopy, emptyRig } from '../../edits/newRig';
import { useWorld } from '../../live/use/useLive';
import { Trouble } from '../../ui/Trouble';

/** What stands in every place before there is a rig. */
export function NoRig({ isLoading, isError }: { isLoading: boolean; isError: boolean }) {
  const whole = useWholeRigs();
  const world = useWorld();
  const navigate = useNavigate();
  const [isBusy, setBusy] = useState(false);
  const [error, setError] = useState<string | null>(null);
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
          {world.songs.length > 0 && (
            <p>
              The set that was in play here lies in this browser: {world.show.setName || 'its songs'} can be
              played on the stage without the server.
            </p>
          )}
          <div className="d-flex gap-2">
            {world.songs.length > 0 && (
              <Button variant="go" onClick={() => void navigate('/stage')}>
                Play it on the stage
              </Button>
            )}
            <Button variant={world.songs.length > 0 ? 'quiet' : 'go'} onClick={() => location.reload()}>
              Try again
            </Button>
          </div>
        </div>
      </div>
    );
  const start = (file: Promise<Parameters<typeof whole.create>[0]>, to: string) => {
    setBusy(true);
    // The place that stands there once there is a rig.
    void navigate(to, { replace: true });
    void file
      .then((f) => whole.create(f))
      .then((refused) => setError(refused?.sentence ?? null))
      .finally(() => setBusy(false));
  };
  return (
    <div className="work-pad">
      <div className="empty-place">
        <h2>No rig yet</h2>
        <p>
          A rig is all your gear written down once: what each device is, how it is cabled, on which channel it
          listens and what it answers to. Switches, songs and sets are built on it.
        </p>
        <div className="d-flex gap-2">
          <Button
            variant="go"
            disabled={isBusy}
            onClick={() => start(Promise.resolve(emptyRig('My rig')), '/begin')}
          >
            Start a rig
          </Button>
          <Button variant="quiet" disabled={isBusy} onClick={() => start(demoCopy('Demo rig'), '/rig')}>
            Look at the demo rig first
          </Button>
          <BinLink withWord />
        </div>
        <Trouble>{error}</Trouble>
      </div>
    </div>
  );
}
