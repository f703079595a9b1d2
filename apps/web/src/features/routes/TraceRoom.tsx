import type { FullRig } from '@idle-step/core/routing';
import type { LiveState, World } from '@idle-step/core/engine';
import { ACTION_LISTS, isPressed, type ActionListName } from '@idle-step/core/floor';
import { describeMessage, parseBytes, type Message, parseTypedBytes } from '@idle-step/core/midi';
import { trace, type Trace, type TraceStart } from '@idle-step/core/proof';
import { CircleAlert } from 'lucide-react';
import { useId, useMemo, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useLiveHost, useLiveOf, useLiveState, useWorld } from '../../live/use/useLive';
import { Pick } from '../../ui/Fields';
import { MoversList } from './MoversList';
import { arrivalOptions } from './routePorts';
import { useChosen } from './useChosen';
import { timeOfDay } from '../../words/times';
import { TraceResult } from './TraceResult';
import { nth } from '@idle-step/core/sure';

const GESTURES: Record<ActionListName | 'sweep', string> = {
  press: 'press',
  release: 'release',
  hold: 'hold',
  doublePress: 'double press',
  toe: 'toe down',
  heel: 'heel down',
  sweep: 'sweep',
};

/** Half way is where a sweep is looked at. */
const SWEEP_TO = 90;
/** Lines of the monitor that are offered. */
const OFFERED = 30;

type How = 'control' | 'message' | 'monitor' | 'function';

/** Why does nothing happen? The way of a press through the rig, or the hop at which it is lost. */
export function TraceRoom({ rig }: { rig: FullRig }) {
  const world = useWorld();
  const [how, setHow] = useState<How>('control');
  const controls = world.boards.flatMap((b) =>
    b.board.controls.map((c) => ({ value: c.id, text: `${b.device.name} ${c.name}` })),
  );
  const [controlId, setControlId] = useChosen(controls);
  const control = world.controls.get(controlId)?.control;
  const gestures = (
    control && isPressed(control.kind)
      ? ACTION_LISTS.filter((g) => g !== 'toe' && g !== 'heel')
      : (['sweep', 'toe', 'heel'] as const)
  ).map((value: ActionListName | 'sweep') => ({ value, text: GESTURES[value] }));
  const [gesture, setGesture] = useState<ActionListName | 'sweep'>('press');
  const chosen = gestures.some((g) => g.value === gesture) ? gesture : nth(gestures, 0).value;
  const inputs = arrivalOptions(rig);
  const [portId, setPortId] = useChosen(inputs);
  const [text, setText] = useState('90 3C 64');
  const [error, setError] = useState<string | null>(null);
  const [start, setStart] = useState<TraceStart | null>(null);
  // Traced anew whenever the rig changes: a mend shows at once what it mended.
  const found = useTrace(world, start);
  const begin = (next: TraceStart) => {
    setError(null);
    setStart(next);
  };
  const traceControl = () =>
    begin(
      chosen === 'sweep'
        ? { kind: 'sweep', controlId, travel: SWEEP_TO }
        : { kind: 'gesture', controlId, gesture: chosen },
    );
  return (
    <section className="trace" aria-label="Trace">
      <div className="field-row">
        <Pick
          label="Trace"
          value={how}
          options={[
            { value: 'control', text: 'a control' },
            { value: 'message', text: 'a message' },
            { value: 'monitor', text: 'one of the monitor' },
            { value: 'function', text: 'back from a function' },
          ]}
          onPick={(next) => {
            setHow(next);
            setStart(null);
          }}
        />
        {how === 'control' && controls.length > 0 && (
          <>
            <Pick
              label="Control"
              value={controlId}
              options={controls}
              onPick={(next) => {
                setControlId(next);
                setStart(null);
              }}
            />
            <Pick
              label="Gesture"
              value={chosen}
              options={gestures}
              onPick={(next) => {
                setGesture(next);
                setStart(null);
              }}
            />
            <Button variant="go" onClick={traceControl}>
              Trace it
            </Button>
          </>
        )}
        {how === 'control' && controls.length === 0 && (
          <p className="muted">There is no board yet; add one in Floor.</p>
        )}
        {how === 'message' && (
          <MessageFields
            inputs={inputs}
            portId={portId}
            onPort={setPortId}
            text={text}
            onText={setText}
            isWrong={error !== null}
            onError={setError}
            onTrace={begin}
          />
        )}
        {how === 'monitor' && <MonitorPick onPick={begin} rig={rig} />}
      </div>
      {error && (
        <p className="field-error" role="alert">
          <CircleAlert size={14} aria-hidden="true" />
          {error}
        </p>
      )}
      {how === 'function' ? (
        <MoversList rig={rig} />
      ) : found ? (
        <TraceResult rig={rig} found={found} />
      ) : (
        <p className="muted">
          Choose what to follow. Nothing is sent: the rig is asked what it would do, and every hop is listed
          with its time, as far as it comes.
        </p>
      )}
    </section>
  );
}

/** A message as typed, at an input. */
function MessageFields({
  inputs,
  portId,
  onPort,
  text,
  onText,
  isWrong,
  onError,
  onTrace,
}: {
  inputs: ReturnType<typeof arrivalOptions>;
  portId: string;
  onPort(portId: string): void;
  text: string;
  onText(text: string): void;
  isWrong: boolean;
  onError(sentence: string): void;
  onTrace(start: TraceStart): void;
}) {
  const id = useId();
  const traceTyped = () => {
    const bytes = parseTypedBytes(text);
    const messages: readonly Message[] = typeof bytes === 'string' ? [] : parseBytes(bytes).messages;
    if (messages[0]) onTrace({ kind: 'message', portId, message: messages[0] });
    else onError(typeof bytes === 'string' ? bytes : 'This is no whole message; 90 3C 64 would be right.');
  };
  return (
    <>
      <Pick label="Input" value={portId} options={inputs} onPick={(next) => onPort(next)} />
      <Form.Group controlId={id}>
        <Form.Label>Bytes</Form.Label>
        <Form.Control
          className="num"
          value={text}
          isInvalid={isWrong}
          autoComplete="off"
          onChange={(e) => onText(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === 'Enter') traceTyped();
          }}
        />
      </Form.Group>
      <Button variant="go" onClick={traceTyped}>
        Trace it
      </Button>
    </>
  );
}

/** The trace of what was chosen, found anew when the rig changes or what is known of it has settled. */
function useTrace(world: World, start: TraceStart | null): Trace | null {
  const host = useLiveHost();
  const ports = useLiveOf((live) => live.ports);
  // Tracing reads these parts only.
  const state = useLiveState('registers', 'pending', 'banks', 'pages', 'position', 'routes') as LiveState;
  return useMemo(
    () => start && trace(world, state, start, host.clock(), (port) => host.portNow(port)),
    // Ports that come and go change what is lost.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [world, state, start, host, ports],
  );
}

/** The last messages that came in, to be followed. */
function MonitorPick({ rig, onPick }: { rig: FullRig; onPick(start: TraceStart): void }) {
  const host = useLiveHost();
  useLiveOf(() => host.log.total);
  const lines = host.log
    .since(0)
    .flatMap((l) => (l.kind === 'in' ? [l] : []))
    .slice(-OFFERED)
    .reverse();
  const [seq, setSeq] = useState<number | null>(null);
  const line = lines.find((l) => l.seq === seq) ?? lines[0];
  if (!line) return <p className="muted">Nothing has come in yet; press something.</p>;
  return (
    <>
      <Pick
        label="Message"
        value={line.seq}
        options={lines.map((l) => ({
          value: l.seq,
          text: `${timeOfDay(l.wallMs, true)} ${describeMessage(l.message, rig.middleC)}`,
        }))}
        onPick={(next) => setSeq(next)}
      />
      <Button
        variant="go"
        onClick={() => onPick({ kind: 'message', portId: line.portId, message: line.message })}
      >
        Trace it
      </Button>
    </>
  );
}
