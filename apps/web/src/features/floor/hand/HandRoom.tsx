import { handRows, handSteps, type HandDone, type HandRow, type HandStep } from '@idle-step/core/memory';
import type { Board, Preset } from '@idle-step/core/floor';
import type { FullRig } from '@idle-step/core/routing';
import { Printer } from 'lucide-react';
import { Fragment, useMemo, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useNavigate } from 'react-router-dom';
import { counted } from '../../../words/counted';
import { LIST_WORDS } from '../presets/listWords';
import { LeftOut } from './LeftOut';
import { useHandDone } from './useHandDone';

/** A preset set by hand on a board that works by itself: step by step, ticked off as one goes. */
export function HandRoom({
  rig,
  board,
  preset,
  onGo,
}: {
  rig: FullRig;
  board: Board;
  preset: Preset;
  onGo(pageId: string, controlId: string): void;
}) {
  const navigate = useNavigate();
  const { steps, leftOut } = useMemo(() => handSteps(rig, board, preset), [rig, board, preset]);
  const { done, isRefused, keep } = useHandDone(preset.id);
  const [unticked, setUnticked] = useState<HandDone | null>(null);
  const { rows, toClear } = useMemo(() => handRows(steps, done), [steps, done]);
  const left = rows.filter((r) => r.state !== 'done').length + toClear.length;
  const next = rows.find((r) => r.state !== 'done')?.step.key;
  const tick = ({ key, text, pageName, controlName, list }: HandStep, isDone: boolean) => {
    setUnticked(null);
    keep((now) => (isDone ? { ...now, [key]: { text, pageName, controlName, list } } : without(now, key)));
  };
  const untickAll = () => {
    setUnticked(done);
    keep(() => ({}));
  };
  return (
    <section className="hand-room" aria-label="Set by hand">
      <div className="place-head">
        <span className="hand-left" role="status">
          {leftWords(steps.length, left, Object.keys(done).length)}
        </span>
        <span className="gap" />
        {unticked ? (
          <Button
            variant="quiet"
            onClick={() => {
              keep(() => unticked);
              setUnticked(null);
            }}
          >
            Take the ticks back
          </Button>
        ) : (
          <Button variant="quiet" disabled={Object.keys(done).length === 0} onClick={untickAll}>
            Untick all
          </Button>
        )}
        <Button
          variant="quiet"
          disabled={steps.length === 0}
          onClick={() => void navigate(`/floor/${board.id}/by-hand/print`)}
        >
          <Printer size={16} strokeWidth={1.75} aria-hidden="true" />
          Print view
        </Button>
      </div>
      <p className="muted small">
        This board works by itself: set this on it, from top to bottom, and tick off what is set.{' '}
        {isRefused
          ? 'This browser keeps nothing, so the ticks are gone with the page.'
          : 'This browser keeps the ticks.'}
      </p>
      {steps.length === 0 && toClear.length === 0 ? (
        <p className="muted">
          {leftOut.length === 0
            ? 'Nothing yet. What the switches and pedals of this preset send is listed here, as it is set on the board.'
            : 'Nothing of this preset can be set on this board; why stands below.'}
        </p>
      ) : (
        <div className="preset-scroll">
          <table className="sends-list hand-list">
            <thead>
              <tr>
                <th scope="col">Set</th>
                <th scope="col">Control</th>
                <th scope="col">When</th>
                <th scope="col">What is set</th>
                <th scope="col">What it does</th>
              </tr>
            </thead>
            <tbody>
              {toClear.length > 0 && <PageRow text="Still in the board, and in this preset no more" />}
              {toClear.map((c) => (
                <tr key={c.key} className="changed">
                  <td>
                    <Form.Check
                      aria-label={`Taken out: ${c.pageName}, ${c.controlName}, ${LIST_WORDS[c.list]}`}
                      checked={false}
                      onChange={() => keep((now) => without(now, c.key))}
                    />
                  </td>
                  <td>{c.controlName}</td>
                  <td>{LIST_WORDS[c.list]}</td>
                  <td>
                    take out <s className="num">{c.text}</s>
                  </td>
                  <td>{c.pageName}</td>
                </tr>
              ))}
              {rows.map((row, i) => (
                <Fragment key={row.step.key}>
                  {row.step.pageId !== rows[i - 1]?.step.pageId && <PageRow text={row.step.pageName} />}
                  <StepRow row={row} isNext={row.step.key === next} onTick={tick} />
                </Fragment>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {leftOut.length > 0 && <LeftOut leftOut={leftOut} isOpen={steps.length === 0} onGo={onGo} />}
    </section>
  );
}

const without = (done: HandDone, key: string): HandDone =>
  Object.fromEntries(Object.entries(done).filter(([k]) => k !== key));

function leftWords(all: number, left: number, done: number): string {
  if (all === 0 && left === 0) return 'Nothing to set';
  if (left === 0) return `All ${counted(all, 'step')} set`;
  return done === 0 ? `${counted(all, 'step')} to set` : `${left} still to do of ${counted(all, 'step')}`;
}

function PageRow({ text }: { text: string }) {
  return (
    <tr className="hand-page">
      <th scope="colgroup" colSpan={5}>
        {text}
      </th>
    </tr>
  );
}

function StepRow({
  row: { step, state, was },
  isNext,
  onTick,
}: {
  row: HandRow;
  isNext: boolean;
  onTick(step: HandStep, isDone: boolean): void;
}) {
  return (
    <tr className={`${state} ${isNext ? 'next' : ''}`} aria-current={isNext ? 'step' : undefined}>
      <td>
        <Form.Check
          aria-label={`Set: ${step.pageName}, ${step.controlName}, ${LIST_WORDS[step.list]}`}
          checked={state === 'done'}
          onChange={(e) => onTick(step, e.target.checked)}
        />
      </td>
      <td>{step.controlName}</td>
      <td>{LIST_WORDS[step.list]}</td>
      <td className="num">
        {step.text}
        {was !== null && (
          <div className="hand-was">
            changed since it was set: was <s>{was}</s>
          </div>
        )}
      </td>
      <td>{step.does}</td>
    </tr>
  );
}
