import type { FullRig } from '@idle-step/core/routing';
import { type Device, READY_CHARTS, valueBounds, type FunctionKind } from '@idle-step/core/gear';
import { useFileChooser } from '../../../files/useFileChooser';

import type { FileFault } from '@idle-step/core/formats';
import { valueOf } from '@idle-step/core/engine';
import {
  CircleAlert,
  Copy,
  Download,
  Ear,
  Plus,
  Send,
  Split,
  TextCursorInput,
  Trash2,
  Upload,
} from 'lucide-react';
import { useState } from 'react';
import { Button, Dropdown } from 'react-bootstrap';
import { useEdit } from '../../../drafts/useDocs';
import { saveTextFile } from '../../../files/saveTextFile';
import { useIsShown, useLiveHost } from '../../../live/use/useLive';
import { Pick } from '../../../ui/Fields';
import { SearchField } from '../../../ui/SearchField';
import { IconButton } from '../../../ui/IconButton';
import { ChartByIdentity, ChartByMoving } from './ChartFromWire';
import { ChartGrid } from './ChartGrid';
import { RowsFromText } from './RowsFromText';
import { counted } from '../../../words/counted';
import { addRows, duplicateRows, newRow, spreadOverParts } from '../../../edits/chartEdits';
import { chartAsCsv, chartAsMidnam, loadChartFile } from '../../../files/chartFiles';
import type { FunctionDoc } from '../../../words/chartWords';
import { withDevice } from '../../../edits/rigEdits';
import { NO_FILTER, useChartGrid, type ChartFilter } from './useChartGrid';
import { useRemoval } from '../../../gear/useRemoval';
import { nth } from '@idle-step/core/sure';

const KINDS: readonly FunctionKind[] = ['trigger', 'switch', 'range', 'choice', 'program', 'sound'];
/** From so many rows on they are searched and filtered. */
const FILTERED_FROM = 8;

type Told = { readonly text: string; readonly faults: readonly FileFault[] };

/** What a device answers to: the table, and what is done with its rows. */
export function ChartRoom({ rig, device }: { rig: FullRig; device: Device }) {
  const edit = useEdit('rigs');
  const removal = useRemoval(rig);
  const [filter, setFilter] = useState(NO_FILTER);
  const [told, setTold] = useState<Told | null>(null);
  // A chart without rows begins with what the manual says.
  const [isReading, setReading] = useState<'from-start' | boolean>(device.chart.length === 0 && 'from-start');
  const [manual, setManual] = useState('');
  const [isMoving, setMoving] = useState(false);
  const change = (label: string, part: Partial<Device>) =>
    edit(rig.id, label, (r) => withDevice(r, device.id, (d) => ({ ...d, ...part })));
  const setChart = (label: string, chart: Device['chart']) =>
    edit(rig.id, label, (r) => withDevice(r, device.id, (d) => ({ ...d, chart })));
  const take = (label: string, result: ReturnType<typeof addRows>) => {
    if ('chart' in result) setChart(label, result.chart);
    setTold(
      'chart' in result
        ? { text: `${counted(result.count, 'function')} added.`, faults: [] }
        : { text: 'Nothing was added.', faults: result.faults },
    );
  };
  const remove = (rows: readonly FunctionDoc[]) => {
    const ids = new Set(rows.map((f) => f.id));
    if (ids.size > 0)
      removal.ask(rows.length === 1 ? nth(rows, 0).name : `${rows.length} functions`, (r) =>
        withDevice(r, device.id, (d) => ({ ...d, chart: d.chart.filter((f) => !ids.has(f.id)) })),
      );
  };
  const grid = useChartGrid({
    rig,
    device,
    filter,
    setChart,
    onPasted: (result) =>
      setTold(
        'faults' in result
          ? { text: 'Nothing was pasted.', faults: result.faults }
          : { text: `${counted(result.count, 'row')} pasted.`, faults: [] },
      ),
    onDelete: remove,
  });
  const { selected } = grid;
  const add = () => {
    setFilter(NO_FILTER);
    const row = newRow(device);
    setChart('add a function', [...device.chart, row]);
    grid.goTo(row.id);
  };
  return (
    <section className="chart" aria-label={`Chart of ${device.name}`}>
      <div className="chart-tools">
        <Button variant="quiet" onClick={add}>
          <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
          Function
        </Button>
        <IconButton
          icon={Ear}
          label="Learn by moving"
          pressed={isMoving}
          onClick={() => setMoving(!isMoving)}
        />
        {device.role === 'receiver' && <ChartByIdentity rig={rig} device={device} onChange={change} />}
        <Button variant="quiet" aria-expanded={isReading !== false} onClick={() => setReading(!isReading)}>
          <TextCursorInput size={16} strokeWidth={1.75} aria-hidden="true" />
          Rows from text
        </Button>
        <RowTools rig={rig} device={device} selected={selected} setChart={setChart} onRemove={remove} />
        <span className="gap" />
        {device.chart.length >= FILTERED_FROM && (
          <FilterFields device={device} filter={filter} onFilter={setFilter} />
        )}
        <Files device={device} rig={rig} onLoaded={(result) => take('load a chart', result)} onReady={take} />
      </div>
      {isMoving && (
        <ChartByMoving rig={rig} device={device} onChange={change} onClose={() => setMoving(false)} />
      )}
      {isReading !== false && (
        <RowsFromText
          hasFocus={isReading === true}
          rig={rig}
          device={device}
          text={manual}
          onText={setManual}
          onTake={(result) => take('add rows from text', result)}
          onLeave={() => setReading(false)}
        />
      )}
      {told && <ToldFaults told={told} onClose={() => setTold(null)} />}
      <ChartGrid rig={rig} device={device} grid={grid} />
      <p className="small muted chart-foot">
        {grid.rows.length === device.chart.length
          ? counted(device.chart.length, 'function')
          : `${grid.rows.length} of ${counted(device.chart.length, 'function')} shown`}
        . Arrows move, typing edits, Enter opens, Escape leaves; rows copied from a spreadsheet are pasted
        where the focus is.
      </p>
      {removal.dialog}
    </section>
  );
}

/** What is done with the rows in hand. */
function RowTools({
  rig,
  device,
  selected,
  setChart,
  onRemove,
}: {
  rig: FullRig;
  device: Device;
  selected: readonly FunctionDoc[];
  setChart(label: string, chart: Device['chart']): void;
  onRemove(rows: readonly FunctionDoc[]): void;
}) {
  const host = useLiveHost();
  const isShown = useIsShown(rig.id);
  const ids = new Set(selected.map((f) => f.id));
  const first = selected[0];
  const named = selected.length > 1 ? counted(selected.length, 'row') : (first?.name ?? 'a row');
  const send = (fn: FunctionDoc) => {
    const { min, max } = valueBounds(fn.shape);
    host.command({
      kind: 'set',
      functionId: fn.id,
      value: valueOf(host.now().world, host.now().state, fn.id) === max ? min : max,
    });
  };
  return (
    <>
      <IconButton
        line
        icon={Copy}
        label={`Duplicate ${named}`}
        disabled={!first}
        onClick={() => setChart('duplicate rows', duplicateRows(device.chart, ids))}
      />
      <IconButton
        line
        icon={Trash2}
        label={`Delete ${named}`}
        disabled={!first}
        onClick={() => onRemove(selected)}
      />
      <Button
        variant="quiet"
        disabled={!first || !isShown}
        onClick={() => first && send(first)}
        title="Sends the highest value of the row in hand, and the lowest the next time"
      >
        <Send size={16} strokeWidth={1.75} aria-hidden="true" />
        Test send
      </Button>
      {device.listens.kind === 'parts' && (
        <Button
          variant="quiet"
          disabled={!first}
          onClick={() => setChart('a row for each part', spreadOverParts(device, ids))}
          title="One row for each part, on the part’s channel"
        >
          <Split size={16} strokeWidth={1.75} aria-hidden="true" />
          For each part
        </Button>
      )}
    </>
  );
}

/** Which rows of a long chart are shown. */
function FilterFields({
  device,
  filter,
  onFilter,
}: {
  device: Device;
  filter: ChartFilter;
  onFilter(filter: ChartFilter): void;
}) {
  const groups = [...new Set(device.chart.map((f) => f.group).filter(Boolean))];
  return (
    <>
      <SearchField
        label="Search the chart"
        value={filter.search}
        onChange={(search) => onFilter({ ...filter, search })}
      />
      {groups.length > 0 && (
        <Pick
          hideLabel
          label="Group shown"
          value={filter.group}
          options={[{ value: '', text: 'all groups' }, ...groups]}
          onPick={(group) => onFilter({ ...filter, group })}
        />
      )}
      <Pick
        hideLabel
        label="Kind shown"
        value={filter.kind}
        options={[{ value: '' as const, text: 'all kinds' }, ...KINDS]}
        onPick={(kind) => onFilter({ ...filter, kind })}
      />
    </>
  );
}

function ToldFaults({ told, onClose }: { told: Told; onClose(): void }) {
  return (
    <div className={`notice ${told.faults.length > 0 ? 'danger' : ''}`} role="status">
      {told.faults.length > 0 && <CircleAlert size={16} aria-hidden="true" />}
      <div className="told-faults">
        <b>{told.text}</b>
        <ul>
          {told.faults.map((f, i) => (
            <li key={i}>
              {f.line !== null && <span className="num">Line {f.line}: </span>}
              {f.sentence}
            </li>
          ))}
        </ul>
      </div>
      <Button variant="bare" onClick={onClose}>
        Close
      </Button>
    </div>
  );
}

function Files({
  rig,
  device,
  onLoaded,
  onReady,
}: {
  rig: FullRig;
  device: Device;
  onLoaded(result: ReturnType<typeof addRows>): void;
  onReady(label: string, result: ReturnType<typeof addRows>): void;
}) {
  const chooser = useFileChooser(
    'Chart file',
    '.csv,.tsv,.txt,.midnam,.xml,text/csv,text/xml',
    (file) => void loadChartFile(file, device, rig.middleC).then(onLoaded),
  );
  return (
    <>
      {chooser.input}
      <Dropdown align="end">
        <Dropdown.Toggle variant="quiet" className="no-caret">
          <Upload size={16} strokeWidth={1.75} aria-hidden="true" />
          Add rows
        </Dropdown.Toggle>
        <Dropdown.Menu>
          <Dropdown.Item as="button" onClick={chooser.choose}>
            From a file: CSV or MIDNAM …
          </Dropdown.Item>
          <Dropdown.Divider />
          {READY_CHARTS.map((chart) => (
            <Dropdown.Item
              key={chart.key}
              as="button"
              title={chart.source}
              onClick={() => onReady(`add ${chart.title}`, addRows(device, chart.rows))}
            >
              {chart.title}
            </Dropdown.Item>
          ))}
        </Dropdown.Menu>
      </Dropdown>
      <Dropdown align="end">
        <Dropdown.Toggle
          variant="quiet"
          className="no-caret"
          aria-label="Save as"
          title="Save as"
          disabled={device.chart.length === 0}
        >
          <Download size={16} strokeWidth={1.75} aria-hidden="true" />
        </Dropdown.Toggle>
        <Dropdown.Menu>
          <Dropdown.Item
            as="button"
            onClick={() => saveTextFile(`${device.name} chart.csv`, 'text/csv', chartAsCsv(device))}
          >
            CSV, everything
          </Dropdown.Item>
          <Dropdown.Item
            as="button"
            title="Names of programs, notes and controllers; times and remarks have no place in it"
            onClick={() => saveTextFile(`${device.name}.midnam`, 'text/xml', chartAsMidnam(device))}
          >
            MIDNAM, names only
          </Dropdown.Item>
        </Dropdown.Menu>
      </Dropdown>
    </>
  );
}
