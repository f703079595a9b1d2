import type { Song } from '@idle-step/core/show';
import { captureFor, type Captured } from '@idle-step/core/engine';
import { shownText } from '@idle-step/core/gear';
import { useMemo, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useEdit } from '../../../drafts/useDocs';
import { useLiveState, useWorld } from '../../../live/use/useLive';
import { Cloth } from '../../../ui/Cloth';
import { TapeMark } from '../../../ui/TapeMark';
import { withCaptured } from '../../../edits/songEdits';
import { nth } from '@idle-step/core/sure';

/** What the rig stands at, into a scene: looked at before it is taken, by device or one by one. */
export function CapturePanel({
  song,
  sceneIndex,
  onDone,
}: {
  song: Song;
  sceneIndex: number;
  onDone(): void;
}) {
  const edit = useEdit('songs');
  const world = useWorld();
  const known = useLiveState('registers', 'pending');
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const found = useMemo(() => captureFor(world, known, song, sceneIndex), [world, known, song, sceneIndex]);
  const wanted = found.filter((c) => !left.has(c.fn.id));
  const devices = [...new Map(found.map((c) => [c.device.id, c.device])).values()];
  const leave = (list: readonly Captured[], isLeft: boolean) => {
    const next = new Set(left);
    for (const { fn } of list)
      if (isLeft) next.add(fn.id);
      else next.delete(fn.id);
    setLeft(next);
  };
  const scene = nth(song.scenes, sceneIndex);
  return (
    <section className="recall-plan" aria-label="Capture">
      <div className="place-head">
        <h2>Capture into</h2>
        <Cloth text={scene.name} colour={scene.colour} />
        <span className="gap" />
        <Button
          variant="go"
          disabled={wanted.length === 0}
          onClick={() => {
            edit(song.id, 'capture', (s) => withCaptured(s, scene.id, wanted));
            onDone();
          }}
        >
          Take {wanted.length} {wanted.length === 1 ? 'value' : 'values'}
        </Button>
        <Button variant="quiet" onClick={onDone}>
          Leave it
        </Button>
      </div>
      {found.length === 0 ? (
        <p className="muted">
          The rig stands as this scene says, as far as is known. Turn or press something, and it can be taken
          here.
        </p>
      ) : (
        devices.map((device) => {
          const own = found.filter((c) => c.device.id === device.id);
          return (
            <div key={device.id} className="captured">
              <Form.Check
                id={`capture-${device.id}`}
                className="captured-device"
                checked={own.every((c) => !left.has(c.fn.id))}
                onChange={(e) => leave(own, !e.target.checked)}
                label={
                  <span className="plan-device">
                    <TapeMark mark={device.mark} /> {device.name}
                  </span>
                }
              />
              {own.map(({ fn, value, before }) => (
                <Form.Check
                  key={fn.id}
                  id={`capture-${fn.id}`}
                  checked={!left.has(fn.id)}
                  onChange={(e) =>
                    leave(
                      own.filter((c) => c.fn.id === fn.id),
                      !e.target.checked,
                    )
                  }
                  label={
                    <>
                      {fn.name}{' '}
                      <span className="muted">
                        {before === null ? 'not set' : shownText(device, fn, before)} →
                      </span>{' '}
                      <b>{shownText(device, fn, value)}</b>
                    </>
                  }
                />
              ))}
            </div>
          );
        })
      )}
    </section>
  );
}
