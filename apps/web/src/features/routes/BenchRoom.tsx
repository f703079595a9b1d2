import { type FullRig, portName, passRoutes, type Passage, type RouteMemory } from '@idle-step/core/routing';

import { conditionsOf } from '@idle-step/core/engine';
import {
  describeMessage,
  encode,
  hex,
  parseBytes,
  type Message,
  parseTypedBytes,
} from '@idle-step/core/midi';
import { CircleAlert } from 'lucide-react';
import { useId, useRef, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useIsShown, useLiveHost, useLiveOf, useLiveState, useWorld } from '../../live/use/useLive';
import { Pick as PickField } from '../../ui/Fields';
import { useChosen } from './useChosen';
import { arrivalOptions } from './routePorts';

type Pair = {
  readonly portId: string;
  readonly message: Message;
  readonly passages: readonly Pick<Passage, 'routeId' | 'outcome'>[];
  readonly sent: readonly { readonly portId: string; readonly message: Message }[];
};

/** Pairs of the bench that are drawn. */
const SHOWN = 60;

const EXAMPLE = '90 3C 64  B0 1E 40  80 3C 40';

/** Messages before and after the routes, side by side: typed here, or as they are played. */
export function BenchRoom({ rig }: { rig: FullRig }) {
  const host = useLiveHost();
  const world = useWorld();
  const state = useLiveState('routes', 'registers', 'pending', 'position');
  const routedPairs = useLiveOf((live) => live.routedPairs);
  // Before the rig has come there are no routes to try anything on.
  const isShown = useIsShown(rig.id);
  const [source, setSource] = useState<'typed' | 'played'>('typed');
  const inputs = arrivalOptions(rig);
  const [portId, setPortId] = useChosen(inputs);
  const [text, setText] = useState(EXAMPLE);
  const [error, setError] = useState<string | null>(null);
  const [typed, setTyped] = useState<readonly Pair[]>([]);
  const memory = useRef<RouteMemory | null>(null);
  const clockMs = useRef(0);
  const id = useId();
  const read = (): Message[] | null => {
    const found = wholeMessages(text);
    setError(typeof found === 'string' ? found : null);
    return typeof found === 'string' ? null : found;
  };
  const run = () => {
    const pairs = (read() ?? []).map((message): Pair => {
      // Apart from what is played: its own memory, and time enough between two messages.
      clockMs.current += 1000;
      const done = passRoutes(
        world.routes,
        memory.current ?? { ...state.routes, begun: [], runs: {}, repeats: [] },
        conditionsOf(world, state),
        portId,
        message,
        clockMs.current,
      );
      memory.current = done.memory;
      return {
        portId,
        message,
        passages: done.passages,
        sent: done.sends,
      };
    });
    setTyped((before) => [...before, ...pairs].slice(-SHOWN));
  };
  const play = () => {
    const messages = read();
    if (messages) host.hear(portId, messages.flatMap(encode));
  };
  const pairs = source === 'typed' ? typed : routedPairs.slice(-SHOWN);
  return (
    <section className="bench" aria-label="Bench">
      <div className="field-row">
        <PickField
          label="Messages"
          value={source}
          options={[
            { value: 'typed', text: 'typed here' },
            { value: 'played', text: 'as they are played' },
          ]}
          onPick={(next) => setSource(next)}
        />
        <PickField label="Input" value={portId} options={inputs} onPick={(next) => setPortId(next)} />
        <Form.Group controlId={id} className="wide">
          <Form.Label>Bytes</Form.Label>
          <Form.Control
            className="num"
            value={text}
            isInvalid={error !== null}
            autoComplete="off"
            spellCheck={false}
            onChange={(e) => setText(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === 'Enter' && isShown) (source === 'typed' ? run : play)();
            }}
          />
          {error && (
            <span className="field-error" role="alert">
              <CircleAlert size={14} aria-hidden="true" />
              {error}
            </span>
          )}
        </Form.Group>
        <Button
          variant="go"
          disabled={inputs.length === 0 || !isShown}
          onClick={source === 'typed' ? run : play}
        >
          {source === 'typed' ? 'Try' : 'Play'}
        </Button>
        <Button
          variant="quiet"
          disabled={typed.length === 0}
          onClick={() => {
            setTyped([]);
            memory.current = null;
          }}
        >
          Clear
        </Button>
      </div>
      <p className="small muted">
        {!isShown
          ? 'Fetching the routes in play …'
          : source === 'typed'
            ? 'Nothing leaves: what is tried here goes through the routes as they stand now, and only here.'
            : 'Play sends the bytes as if they had arrived at that input; everything that routes take in is listed.'}
      </p>
      {pairs.length === 0 ? (
        <p className="muted">
          {source === 'typed'
            ? 'Type bytes and try them: each message stands beside what becomes of it.'
            : 'Nothing has gone through a route yet. Play something, or press Play.'}
        </p>
      ) : (
        <PairTable rig={rig} pairs={pairs} />
      )}
    </section>
  );
}

/** The whole messages that were typed, or why there are none, as a sentence. */
function wholeMessages(text: string): Message[] | string {
  const bytes = parseTypedBytes(text);
  if (typeof bytes === 'string') return bytes;
  const { messages, faults } = parseBytes(bytes);
  if (faults[0])
    return `${hex(faults[0].bytes)} is no whole message: ${faults[0].code.replaceAll('-', ' ')}. Give it its missing bytes, or take it out.`;
  return messages.length > 0 ? messages : 'There is no whole message here; 90 3C 64 would be right.';
}

/** Each message beside what became of it, the newest first. */
function PairTable({ rig, pairs }: { rig: FullRig; pairs: readonly Pair[] }) {
  return (
    <div className="pairs-room">
      <table className="pairs">
        <thead>
          <tr>
            <th scope="col">Input</th>
            <th scope="col">Before</th>
            <th scope="col">Route</th>
            <th scope="col">After</th>
            <th scope="col">Goes to</th>
          </tr>
        </thead>
        <tbody>
          {[...pairs].reverse().map((pair, i) => (
            <tr key={pairs.length - i} data-pair>
              <td>{portName(rig, pair.portId)}</td>
              <td>
                <MessageWords message={pair.message} rig={rig} />
              </td>
              <td>
                <RouteNames passages={pair.passages} />
              </td>
              <td>
                {pair.sent.length === 0 && <span className="muted">nothing</span>}
                {pair.sent.map((s, k) => (
                  <MessageWords key={k} message={s.message} rig={rig} />
                ))}
              </td>
              <td>
                {pair.sent.map((s, k) => (
                  <span key={k} className="line-of">
                    {portName(rig, s.portId)}
                  </span>
                ))}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** The routes that took a message in; those that held it back are named as such. */
function RouteNames({ passages }: Pick<Pair, 'passages'>) {
  const world = useWorld();
  const names = (through: boolean) =>
    [
      ...new Set(
        passages
          .filter((p) => (p.outcome === 'passed' || p.outcome === 'modulated') === through)
          .map((p) => world.routes.byId.get(p.routeId)?.name ?? ''),
      ),
    ].join(', ');
  const held = names(false);
  return (
    <>
      {names(true) || (held === '' && <span className="muted">none</span>)}
      {held !== '' && <span className="held-back small muted">held back: {held}</span>}
    </>
  );
}

const MessageWords = ({ message, rig }: { message: Message; rig: FullRig }) => (
  <span className="line-of">
    <span className="num">{hex(encode(message))}</span>{' '}
    <span className="muted small">{describeMessage(message, rig.middleC)}</span>
  </span>
);
