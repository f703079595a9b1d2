import { cellsOf, type ChartColumn } from '@idle-step/core/formats';
import type { FullRig } from '@idle-step/core/routing';
import type { Device } from '@idle-step/core/gear';
import { Plus } from 'lucide-react';
import { useDeferredValue, useMemo } from 'react';
import { Button } from 'react-bootstrap';
import { lookAtManual, takeManual, type LookedAt } from '../../../edits/manualRows';
import type { addRows } from '../../../edits/chartEdits';
import { counted } from '../../../words/counted';

const EXAMPLE = 'program 1-128\nCC 69 Snapshot 1-4 = 0-3\nCC 24 Reverb on/off\nnote 36 ch 10 Record 1';

type Props = {
  rig: FullRig;
  device: Device;
  /** Whether one types at once, as where it was just opened. */
  hasFocus: boolean;
  text: string;
  onText(text: string): void;
  onTake(result: ReturnType<typeof addRows>): void;
  onLeave(): void;
};

/** What a manual says, typed or pasted: beside it what every line would become, before it is taken. */
export function RowsFromText({ rig, device, hasFocus, text, onText, onTake, onLeave }: Props) {
  const read = useDeferredValue(text);
  const look = useMemo(() => lookAtManual(device, read, rig.middleC), [device, read, rig.middleC]);
  const refused = look.lines.filter((l) => l.kind === 'refused').length;
  const doubtful = look.lines.filter((l) => l.kind === 'row' && l.sentences.length > 0).length;
  const take = () => {
    if (look.rows.length === 0) return;
    onTake(takeManual(device, look));
    onText(look.left);
    if (look.left === '') onLeave();
  };
  return (
    <section
      className="rows-from-text"
      aria-label="Rows from text"
      onKeyDown={(event) => {
        if (event.key === 'Escape') onLeave();
        else if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) take();
        else return;
        event.preventDefault();
        event.stopPropagation();
      }}
    >
      <label className="manual-text">
        <span>What the manual says</span>
        <textarea
          className="form-control"
          autoFocus={hasFocus}
          rows={8}
          spellCheck={false}
          wrap="off"
          value={text}
          placeholder={EXAMPLE}
          onChange={(e) => onText(e.target.value)}
        />
      </label>
      <div className="manual-look" role="region" aria-label="What was understood" tabIndex={0}>
        {look.lines.length === 0 ? (
          <p className="muted">
            A line a function, or a table copied from a page or a PDF. What each line becomes stands here
            before anything is added.
          </p>
        ) : (
          <table>
            <tbody>
              {look.lines.map((line) => (
                <LineLook key={line.line} line={line} rig={rig} />
              ))}
            </tbody>
          </table>
        )}
      </div>
      <div className="manual-foot">
        <Button variant="go" disabled={look.rows.length === 0} onClick={take} title="Ctrl+Enter">
          <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
          {look.rows.length === 0 ? 'Add functions' : `Add ${counted(look.rows.length, 'function')}`}
        </Button>
        <Button variant="quiet" onClick={onLeave}>
          Close
        </Button>
        <span className="muted" role="status">
          {[
            doubtful > 0 && `${counted(doubtful, 'line')} to look at`,
            refused > 0 && `${counted(refused, 'line')} not understood; what is not added stays in the field`,
          ]
            .filter(Boolean)
            .join(', ')}
        </span>
      </div>
    </section>
  );
}

const SHOWN: readonly ChartColumn[] = ['message', 'values'];

function LineLook({ line, rig }: { line: LookedAt; rig: FullRig }) {
  if (line.kind === 'heading')
    return (
      <tr className="is-heading">
        <td className="num">{line.line}</td>
        <td colSpan={3}>{line.text.trim()}</td>
      </tr>
    );
  if (line.kind === 'names')
    return (
      <tr className="is-part">
        <td className="num">{line.line}</td>
        <td colSpan={3}>
          {line.text.trim()} <span className="muted">belongs to {line.made?.name ?? 'the row above'}</span>
        </td>
      </tr>
    );
  const cells = line.made && cellsOf(line.made, rig.middleC);
  return (
    <tr className={line.kind === 'refused' ? 'is-refused' : line.sentences.length > 0 ? 'is-doubtful' : ''}>
      <td className="num">{line.line}</td>
      {cells ? (
        <>
          <th scope="row">
            {cells.name}
            {cells.channel !== '' && <span className="muted"> ch {cells.channel}</span>}
            <Sentences line={line} />
          </th>
          {SHOWN.map((column) => (
            <td key={column} className="mono">
              {column === 'values' ? `${cells.kind} ${cells.values}` : cells[column]}
            </td>
          ))}
        </>
      ) : (
        <td colSpan={3}>
          {line.text.trim()}
          <Sentences line={line} />
        </td>
      )}
    </tr>
  );
}

const Sentences = ({ line }: { line: LookedAt }) =>
  line.sentences.map((sentence) => (
    <span key={sentence} className="sentence">
      {sentence}
    </span>
  ));
