import { type Preset, GESTURES, replaceInMessages, type Gesture } from '@idle-step/core/floor';
import { ChannelNumber, PlainNumber } from '@idle-step/contract';
import { Eraser, Replace } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useEdit } from '../../../drafts/useDocs';
import { useWorld } from '../../../live/use/useLive';
import { NumberField, Pick } from '../../../ui/Fields';
import { FillPanel } from './FillPanel';
import { filledCells, gesturesUsed, tableColumns, tableRows, type FillOrder } from './tableCells';
import { TableGrid } from './TableGrid';
import { useTable } from './useTable';
import { nth } from '@idle-step/core/sure';

const SHOWN_WORDS: Record<Gesture, string> = {
  press: 'press',
  release: 'release',
  hold: 'hold',
  doublePress: 'double press',
};

/** The whole preset at a glance, to be filled, typed, pasted and searched. */
export function TableRoom({ preset, boardIndex }: { preset: Preset; boardIndex: number }) {
  const world = useWorld();
  const edit = useEdit('presets');
  const { board } = nth(world.boards, boardIndex);
  const [shown, setShown] = useState<ReadonlySet<Gesture>>(() => gesturesUsed(preset));
  const [order, setOrder] = useState<FillOrder>('down');
  const [isReplacing, setReplacing] = useState(false);
  const [said, setSaid] = useState<string | null>(null);
  const rows = useMemo(() => tableRows(board, shown), [board, shown]);
  const columns = useMemo(() => tableColumns(preset), [preset]);
  const change = (label: string, next: Preset) => {
    setSaid(null);
    edit(preset.id, label, () => next);
  };
  const table = useTable({ world, preset, rows, columns, change });
  const cells = table.cells(order);
  const error = table.typing?.error ?? table.sentence;
  return (
    <section className="table-room" aria-label="The preset as a table">
      <div className="place-head">
        <span className="muted small">Lines for</span>
        {GESTURES.map((g) => (
          <Form.Check
            key={g}
            id={`shown-${g}`}
            label={SHOWN_WORDS[g]}
            checked={shown.has(g)}
            disabled={shown.size === 1 && shown.has(g)}
            onChange={(e) => {
              const next = new Set(shown);
              if (e.target.checked) next.add(g);
              else next.delete(g);
              setShown(next);
            }}
          />
        ))}
        <span className="gap" />
        <Button variant="quiet" aria-expanded={isReplacing} onClick={() => setReplacing(!isReplacing)}>
          <Replace size={16} strokeWidth={1.75} aria-hidden="true" />
          Find and replace
        </Button>
        <Button
          variant="quiet"
          disabled={cells.length === 0}
          onClick={() => {
            const { preset: next, changed } = filledCells(preset, cells, { kind: 'clear' });
            if (changed > 0) change('clear cells', next);
            setSaid(
              changed === 0 ? 'These cells are empty already.' : `${changed} cleared; undo brings them back.`,
            );
          }}
        >
          <Eraser size={16} strokeWidth={1.75} aria-hidden="true" />
          Clear {cells.length === 1 ? 'the cell' : `${cells.length} cells`}
        </Button>
      </div>
      <FillPanel
        world={world}
        cells={cells}
        order={order}
        onOrder={setOrder}
        onFill={(label, fill) => {
          const { preset: next, changed } = filledCells(preset, cells, fill);
          if (changed > 0) change(label, next);
          setSaid(
            changed === 0 && fill.kind === 'on'
              ? 'The first cell in hand says nothing that could go on; write it first.'
              : changed === 0
                ? 'Nothing there to change: these cells send no message of that kind yet.'
                : `${changed} filled${changed < cells.length ? `, ${cells.length - changed} left as they were` : ''}.`,
          );
        }}
      />
      {isReplacing && (
        <ReplacePanel
          preset={preset}
          onReplaced={(next, changed, what) => {
            if (changed > 0) change(what, next);
            setSaid(changed === 0 ? 'No message like that in this preset.' : `${changed} changed.`);
          }}
        />
      )}
      <p className={`small ${error ? 'field-error' : 'muted'}`} role={error ? 'alert' : 'status'}>
        {error ??
          said ??
          'Drag, or hold Shift with the arrows, to take several cells in hand; type into one: note 36, CC 7 value 100, program 5.'}
      </p>
      <TableGrid world={world} board={board} preset={preset} rows={rows} columns={columns} table={table} />
    </section>
  );
}

function ReplacePanel({
  preset,
  onReplaced,
}: {
  preset: Preset;
  onReplaced(preset: Preset, changed: number, what: string): void;
}) {
  const [field, setField] = useState<'channel' | 'number'>('number');
  const [send, setSend] = useState<'any' | 'note' | 'controller' | 'program'>('any');
  const [from, setFrom] = useState(0);
  const [to, setTo] = useState(0);
  const offset = field === 'channel' ? 1 : 0;
  const schema = field === 'channel' ? ChannelNumber : PlainNumber;
  const kind = send === 'any' ? null : send;
  const { changed: found } = replaceInMessages(preset, field, from, to, kind);
  return (
    <div className="fill-panel">
      <Pick
        label="Find the"
        value={field}
        options={['number', 'channel']}
        onPick={(next) => {
          setField(next);
          setFrom(0);
          setTo(0);
        }}
      />
      <NumberField
        label="That is"
        className="narrow"
        value={from}
        shownOffset={offset}
        schema={schema}
        onCommit={setFrom}
      />
      <Pick
        label="Of"
        value={send}
        options={[
          { value: 'any', text: 'every message' },
          { value: 'note', text: 'notes' },
          { value: 'controller', text: 'controllers' },
          { value: 'program', text: 'programs' },
        ]}
        onPick={(next) => setSend(next)}
      />
      <NumberField
        label="Make it"
        className="narrow"
        value={to}
        shownOffset={offset}
        schema={schema}
        onCommit={setTo}
      />
      <Button
        variant="quiet"
        onClick={() => {
          const { preset: next, changed } = replaceInMessages(preset, field, from, to, kind);
          onReplaced(next, changed, `replace ${field} ${from + offset} with ${to + offset}`);
        }}
      >
        Replace {found}
      </Button>
    </div>
  );
}
