import { type FullRig, portName } from '@idle-step/core/routing';
import { useEffect, useRef } from 'react';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router-dom';
import { LearnPanel } from '../../boards/LearnPanel';
import { useLearn } from '../../boards/useLearn';
import type { FirstRig } from '../../edits/firstRig';
import { StandInPanel } from '../../gear/StandInPanel';
import { useLiveHost, useLiveOf } from '../../live/use/useLive';
import { Pick } from '../../ui/Fields';

const NOWHERE = '';

/** The first switch is learned from what it sends, its gear is found, and the press moves something. */
export function FirstPress({ rig, made }: { rig: FullRig; made: FirstRig }) {
  const target = rig.devices.find((d) => d.id === made.targetId);
  const board = rig.boards.find((b) => b.id === made.boardId);
  const control = board?.controls.find((c) => c.id === made.controlId);
  return (
    <section aria-labelledby="begin-head">
      <h1 id="begin-head">{control ? 'The first press' : 'That is the beginning'}</h1>
      {board && control && (
        <>
          <LearnFirst rig={rig} boardId={board.id} controlId={control.id} name={control.name} />
          {target && !target.standIn && made.outPortId && (
            <OutPick portId={made.outPortId} words={portName(rig, made.outPortId)} gear={target.name} />
          )}
          <Moved controlId={control.id} name={control.name} gear={target?.name ?? ''} />
        </>
      )}
      {target?.standIn && <StandInPanel device={target} />}
      <div className="begin-choices">
        {board && (
          <Link className="btn btn-quiet" to={`/floor/${board.id}`}>
            Say what the other switches do
          </Link>
        )}
        {board && (
          <Link className="btn btn-quiet" to={`/floor/${board.id}/board`}>
            Learn the other switches
          </Link>
        )}
        {target && (
          <Link className="btn btn-quiet" to={`/rig/${target.id}/chart`}>
            Write down what {target.name} answers to
          </Link>
        )}
        <Link className="btn btn-quiet" to="/songs">
          Write a song
        </Link>
      </div>
    </section>
  );
}

/** Listens at once: the foot is next, not the mouse. */
function LearnFirst({
  rig,
  boardId,
  controlId,
  name,
}: {
  rig: FullRig;
  boardId: string;
  controlId: string;
  name: string;
}) {
  const learn = useLearn(rig, boardId);
  const { start } = learn;
  const isStarted = useRef(false);
  useEffect(() => {
    if (isStarted.current) return;
    isStarted.current = true;
    start([controlId]);
  }, [start, controlId]);
  return (
    <>
      <p>
        Press {name} of your board now: what it sends is learned. Without a board at hand, press it on the
        floor below.
      </p>
      <LearnPanel learn={learn} />
      {!learn.learning && (
        <Button variant="quiet" onClick={() => start([controlId])}>
          Learn {name} again
        </Button>
      )}
    </>
  );
}

/** The output by which the gear hears; where there is only one, it is taken. */
function OutPick({ portId, words, gear }: { portId: string; words: string; gear: string }) {
  const host = useLiveHost();
  const ports = useLiveOf((live) => live.ports);
  const outputs = ports.filter((p) => p.direction === 'out' && p.connected);
  const bound = host.ports.boundName(portId);
  const [only] = outputs;
  useEffect(() => {
    if (outputs.length === 1 && only && bound === null) host.ports.bind(portId, only.name);
  }, [host, portId, outputs.length, only, bound]);
  if (outputs.length === 0)
    return (
      <p className="muted">
        No output of this browser is open, so {gear} hears nothing yet. Presses are shown in the monitor all
        the same.
      </p>
    );
  return (
    <Pick
      label={`${gear} hears by (${words})`}
      value={bound ?? NOWHERE}
      options={[
        { value: NOWHERE, text: 'not bound yet' },
        ...outputs.map((p) => ({ value: p.name, text: p.name })),
      ]}
      onPick={(name) => host.ports.bind(portId, name === NOWHERE ? null : name)}
    />
  );
}

/** What came of the first press. */
function Moved({ controlId, name, gear }: { controlId: string; name: string; gear: string }) {
  const lastPress = useLiveOf((live) => live.lastPress);
  if (lastPress?.controlId !== controlId)
    return (
      <p className="begin-next" role="status">
        Then press {name} once more: it moves {gear || 'what it is given'}.
      </p>
    );
  const { messages, untaken, label } = lastPress;
  return (
    <p className="begin-next moved" role="status">
      {messages > untaken
        ? `${name} was pressed, and ${gear} was told: ${label}.`
        : `${name} was pressed, and nobody was told: choose where ${gear} hears.`}
    </p>
  );
}
