import type { Board } from '@idle-step/core/floor';
import { handRows, handSteps } from '@idle-step/core/memory';
import { Fragment } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useParams } from 'react-router-dom';
import { usePresets, useRig } from '../../../drafts/useDocs';
import { LIST_WORDS } from '../presets/listWords';
import { useHandDone } from './useHandDone';

function whyNot(board: Board | undefined): string {
  if (!board) return 'This board is not in the rig. ';
  return board.presetId === null ? 'This board has no preset in force. ' : 'Loading … ';
}

/** The steps for hands on paper, with a box for each. */
export function HandPrintPlace() {
  const { rig, isLoading } = useRig();
  const { boardId } = useParams();
  const presets = usePresets(rig?.id);
  const board = rig?.boards.find((b) => b.id === boardId);
  const preset = presets.find((p) => p.id === board?.presetId);
  const { done } = useHandDone(preset?.id ?? '');
  if (!rig || !board || !preset)
    return (
      <main className="print-sheet">
        <p>
          {!rig || isLoading ? 'Loading … ' : whyNot(board)}
          <Link to="/floor">Floor</Link>
        </p>
      </main>
    );
  const { steps, leftOut } = handSteps(rig, board, preset);
  const { rows, toClear } = handRows(steps, done);
  const device = rig.devices.find((d) => d.id === board.deviceId);
  return (
    <main className="print-sheet hand-print" data-bs-theme="light">
      <div className="print-tools">
        <Button variant="go" onClick={() => window.print()}>
          Print
        </Button>
        <Link to={`/floor/${board.id}/by-hand`}>Back to the board</Link>
      </div>
      <h1>{device?.name}</h1>
      <p className="print-about">
        {preset.name}, set by hand. Channels count from 1; a ticked box is set already.
      </p>
      <table>
        <tbody>
          {toClear.map((c) => (
            <tr key={c.key}>
              <td>☐</td>
              <td>{c.controlName}</td>
              <td>{LIST_WORDS[c.list]}</td>
              <td>
                take out <s>{c.text}</s>
              </td>
              <td>{c.pageName}</td>
            </tr>
          ))}
          {rows.map(({ step, state }, i) => (
            <Fragment key={step.key}>
              {step.pageId !== rows[i - 1]?.step.pageId && (
                <tr>
                  <th scope="colgroup" colSpan={5}>
                    {step.pageName}
                  </th>
                </tr>
              )}
              <tr>
                <td aria-label={state === 'done' ? 'set' : 'to set'}>{state === 'done' ? '☑' : '☐'}</td>
                <td>{step.controlName}</td>
                <td>{LIST_WORDS[step.list]}</td>
                <td className="num">{step.text}</td>
                <td>{step.does}</td>
              </tr>
            </Fragment>
          ))}
        </tbody>
      </table>
      {leftOut.length > 0 && (
        <>
          <h2>Left out</h2>
          <ul>
            {leftOut.map((l) => (
              <li key={l.key}>
                {l.pageName}, {l.controlName}, {LIST_WORDS[l.list]}: {l.sentence}
              </li>
            ))}
          </ul>
        </>
      )}
    </main>
  );
}
