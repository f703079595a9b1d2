import {
  checkSentence,
  FOUND_WORDS,
  type CheckMode,
  type CheckResult,
  type CheckThing,
} from '@idle-step/core/check';
import type { FullRig } from '@idle-step/core/routing';
import type { RecordOf } from '@idle-step/contract';
import { Check, Minus, TriangleAlert } from 'lucide-react';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router-dom';
import { CheckNow } from '../../check/CheckNow';
import { useLineCheck } from '../../check/useLineCheck';
import { useEdit, useRig } from '../../drafts/useDocs';
import { useIsShown, useLiveHost } from '../../live/use/useLive';
import { NotKept } from '../../records/NotKept';
import { useRecords } from '../../records/useRecords';
import { counted } from '../../words/counted';
import { dayOf, timeOfDay } from '../../words/times';
import { Trouble } from '../../ui/Trouble';

/** Every control pressed once, in order, and compared with what should come. */
export function CheckPlace() {
  const { rig } = useRig();
  return rig ? <LineCheckRoom rig={rig} /> : <p className="work-pad muted">Fetching the rig …</p>;
}

const WAYS: readonly { mode: CheckMode; onlyUsed: boolean; text: string; isFirst?: boolean }[] = [
  { mode: 'in-order', onlyUsed: false, text: 'Check everything', isFirst: true },
  { mode: 'in-order', onlyUsed: true, text: 'Only what this set uses' },
  { mode: 'at-random', onlyUsed: false, text: 'At random, until I stop' },
];

function LineCheckRoom({ rig }: { rig: FullRig }) {
  const { lineCheck } = useLiveHost();
  const check = useLineCheck();
  const { records } = useRecords(rig.id, 'line-check');
  const [refusal, setRefusal] = useState<string | null>(null);
  const isRunning = check !== null && !check.isDone;
  const isShown = useIsShown(rig.id);
  return (
    <div className="work-pad check-place">
      <div className="place-head">
        <h1>Line check</h1>
        <span className="gap" />
        {!isRunning &&
          WAYS.map(({ mode, onlyUsed, text, isFirst }) => (
            <Button
              key={text}
              variant={isFirst ? 'go' : 'quiet'}
              disabled={!isShown}
              onClick={() => setRefusal(lineCheck.start(mode, onlyUsed))}
            >
              {text}
            </Button>
          ))}
      </div>
      <NotKept />
      <Trouble>{refusal}</Trouble>
      {isRunning ? (
        <CheckNow check={check} middleC={rig.middleC} />
      ) : (
        <p className="muted">
          Press every switch once and move every pedal from end to end, in the order in which they are asked
          for. It goes on by itself; nothing plays meanwhile. Whoever gets nothing from one goes on to the
          next, and is asked for it once more at the end.
        </p>
      )}
      {check ? (
        <Results
          rig={rig}
          rows={check.things.map((thing) => ({ thing, result: check.results[thing.id] ?? null }))}
          isRunning={isRunning}
        />
      ) : (
        <LastCheck records={records} />
      )}
    </div>
  );
}

type Row = { readonly thing: CheckThing; readonly result: CheckResult | null };

/** How each was found, board by board, and what can be done about it. */
function Results({ rig, rows, isRunning }: { rig: FullRig; rows: readonly Row[]; isRunning: boolean }) {
  const { lineCheck } = useLiveHost();
  const wrong = rows.filter(({ result }) => result && result.found !== 'right');
  return (
    <>
      {!isRunning && (
        <p className="check-sum" role="status">
          {wrong.length === 0
            ? `All ${rows.length} are right.`
            : `${counted(wrong.length, 'thing')} of ${rows.length} to be looked at.`}
          {wrong.length > 0 && (
            <Button variant="quiet" onClick={() => lineCheck.again(wrong.map(({ thing }) => thing.id))}>
              Check these again
            </Button>
          )}
        </p>
      )}
      <div className="preset-scroll" role="region" aria-label="How each was found" tabIndex={0}>
        <table className="sends-list check-list">
          <thead>
            <tr>
              <th scope="col">Where</th>
              <th scope="col">What</th>
              <th scope="col">Found</th>
              <th scope="col">What it is, and what helps</th>
              <th scope="col">Do</th>
            </tr>
          </thead>
          <tbody>
            {rows.map(({ thing, result }) => (
              <tr
                key={thing.id}
                className={result === null ? 'open' : result.found === 'right' ? 'right' : 'wrong'}
              >
                <td>{thing.kind === 'device' ? 'device' : thing.boardName}</td>
                <td>{thing.name}</td>
                <td>
                  <FoundMark result={result} />
                </td>
                <td>{result ? checkSentence(thing, result, rig.middleC) : ''}</td>
                <td>
                  {result && result.found !== 'right' && <Mends rig={rig} thing={thing} result={result} />}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}

function FoundMark({ result }: { result: CheckResult | null }) {
  if (!result) return <span className="muted">not yet</span>;
  const Icon = result.found === 'right' ? Check : result.found === 'put-off' ? Minus : TriangleAlert;
  return (
    <span className="found-mark">
      <Icon size={16} strokeWidth={2} aria-hidden="true" /> {FOUND_WORDS[result.found]}
    </span>
  );
}

/** What can be done about one that is not right. */
function Mends({ rig, thing, result }: { rig: FullRig; thing: CheckThing; result: CheckResult }) {
  const { lineCheck } = useLiveHost();
  const edit = useEdit('rigs');
  if (thing.kind === 'device')
    return (
      <Button variant="quiet" onClick={() => lineCheck.again([thing.id])}>
        Ask again
      </Button>
    );
  const { heard } = result;
  const learn = () => {
    if (!heard) return;
    const own = rig.devices.find((d) => d.id === rig.boards.find((b) => b.id === thing.boardId)?.deviceId);
    edit(rig.id, 'learn a control anew', (r) => ({
      ...r,
      boards: r.boards.map((b) =>
        b.id !== thing.boardId
          ? b
          : {
              ...b,
              controls: b.controls.map((c) =>
                c.id === thing.id
                  ? {
                      ...c,
                      sends: heard.sends,
                      channel: heard.channel === own?.channel ? null : heard.channel,
                    }
                  : c,
              ),
            },
      ),
    }));
    lineCheck.learnsWhenEdited(thing.id);
  };
  return (
    <span className="check-mends">
      {heard && (
        <Button variant="quiet" onClick={learn}>
          Learn it anew
        </Button>
      )}
      <Button variant="quiet" onClick={() => lineCheck.again([thing.id])}>
        Again
      </Button>
      <Link to={`/floor/${thing.boardId}/board`}>Its hardware</Link>
    </span>
  );
}

/** The last check that was kept. */
function LastCheck({ records }: { records: readonly RecordOf<'line-check'>[] }) {
  const last = records[0];
  if (!last) return <p>No line check was made yet.</p>;
  const { results } = last.what;
  const wrong = results.filter((r) => r.found !== 'right');
  return (
    <section aria-label="The last line check">
      <p className="check-sum">
        The last one: {dayOf(last.at)}, {timeOfDay(last.at)},{' '}
        {wrong.length === 0
          ? `all ${results.length} right.`
          : `${counted(wrong.length, 'thing')} of ${results.length} not right.`}
      </p>
      {wrong.length > 0 && (
        <ul>
          {wrong.map((r) => (
            <li key={r.thingId}>
              <b>{r.name}</b>: {FOUND_WORDS[r.found]}. <span className="muted">{r.sentence}</span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
