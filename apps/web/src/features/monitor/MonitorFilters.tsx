import { portWords } from '@idle-step/core/gear';
import { Download, ListFilter } from 'lucide-react';
import { Button, Dropdown, Form } from 'react-bootstrap';
import { saveTextFile } from '../../files/saveTextFile';
import { useWorld } from '../../live/use/useLive';
import { Pick } from '../../ui/Fields';
import { SearchField } from '../../ui/SearchField';
import { monitorCsv } from './monitorCsv';
import { allOf, DIRECTIONS, MESSAGE_KINDS, type LineDirection, type MessageKind } from './monitorFilter';
import type { MonitorView } from './useMonitor';
import { counted } from '../../words/counted';

const DIRECTION_WORDS: Record<LineDirection, string> = {
  in: 'Coming in',
  out: 'Going out',
  inside: 'Inside, between stand-ins',
};
const ANY = '';

/** What is shown, behind one button: for the narrow drawer. */
export function FilterMenu({ monitor }: { monitor: MonitorView }) {
  return (
    <Dropdown autoClose="outside" align="end">
      <Dropdown.Toggle
        variant="bare"
        className="btn-icon no-caret"
        aria-label="What is shown"
        title="What is shown"
      >
        <ListFilter size={16} strokeWidth={1.75} aria-hidden="true" />
      </Dropdown.Toggle>
      <Dropdown.Menu className="px-3 filter-menu">
        <Ticks monitor={monitor} />
        <Lists monitor={monitor} />
      </Dropdown.Menu>
    </Dropdown>
  );
}

/** The same laid out in a row: for the wide monitor. */
export function FilterBar({ monitor }: { monitor: MonitorView }) {
  const save = () =>
    saveTextFile(
      `monitor ${new Date().toISOString().slice(0, 19)}.csv`,
      'text/csv',
      monitorCsv(allOf(monitor.lines)),
    );
  return (
    <div className="filter-bar">
      <Lists monitor={monitor} />
      <Dropdown autoClose="outside">
        <Dropdown.Toggle variant="quiet" className="no-caret">
          <ListFilter size={16} strokeWidth={1.75} aria-hidden="true" />
          Kinds and directions
        </Dropdown.Toggle>
        <Dropdown.Menu className="px-3 filter-menu">
          <Ticks monitor={monitor} />
        </Dropdown.Menu>
      </Dropdown>
      <span className="gap" />
      <span className="muted small">{counted(monitor.lines.length, 'line')}</span>
      <Button variant="quiet" disabled={monitor.lines.length === 0} onClick={save}>
        <Download size={16} strokeWidth={1.75} aria-hidden="true" />
        Save as CSV
      </Button>
    </div>
  );
}

function Ticks({ monitor: { filter, setFilter } }: { monitor: MonitorView }) {
  const tick = (what: LineDirection | MessageKind, text: string) => (
    <Form.Check
      key={what}
      id={`filter-${what.replaceAll(' ', '-')}`}
      className="py-1 text-nowrap"
      label={text}
      checked={!filter.hidden.includes(what)}
      onChange={(e) =>
        setFilter({
          ...filter,
          hidden: e.target.checked ? filter.hidden.filter((h) => h !== what) : [...filter.hidden, what],
        })
      }
    />
  );
  return (
    <>
      {DIRECTIONS.map((d) => tick(d, DIRECTION_WORDS[d]))}
      <Dropdown.Divider />
      {MESSAGE_KINDS.map((k) => tick(k, k))}
      <Form.Check
        id="filter-timing"
        className="py-1 text-nowrap"
        label="clock and active sensing"
        checked={filter.timing}
        onChange={(e) => setFilter({ ...filter, timing: e.target.checked })}
      />
    </>
  );
}

function Lists({ monitor: { filter, setFilter } }: { monitor: MonitorView }) {
  const world = useWorld();
  const { devices } = world.show.rig;
  const ports = devices.flatMap((d) =>
    d.ports.filter((p) => p.atComputer).map((p) => ({ value: p.id, text: portWords(d, p) })),
  );
  return (
    <>
      <SearchField
        label="Search the monitor"
        value={filter.search}
        onChange={(search) => setFilter({ ...filter, search })}
      />
      <Pick
        hideLabel
        label="Device shown"
        value={filter.deviceId ?? ANY}
        options={[
          { value: ANY, text: 'all devices' },
          ...devices.map((d) => ({ value: d.id, text: d.name })),
        ]}
        onPick={(id) => setFilter({ ...filter, deviceId: id === ANY ? null : id })}
      />
      <Pick
        hideLabel
        label="Port shown"
        value={filter.portId ?? ANY}
        options={[{ value: ANY, text: 'all ports' }, ...ports]}
        onPick={(id) => setFilter({ ...filter, portId: id === ANY ? null : id })}
      />
      <Pick
        hideLabel
        label="Channel shown"
        value={filter.channel === null ? ANY : String(filter.channel)}
        options={[
          { value: ANY, text: 'all channels' },
          ...Array.from({ length: 16 }, (_, i) => ({ value: String(i), text: `channel ${i + 1}` })),
        ]}
        onPick={(c) => setFilter({ ...filter, channel: c === ANY ? null : Number(c) })}
      />
    </>
  );
}
