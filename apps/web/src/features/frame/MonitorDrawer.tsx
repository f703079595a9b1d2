import { Eraser, ListFilter, PanelRightClose, PanelRightOpen, Pause, Play } from 'lucide-react';
import { useMemo, useState, type Ref } from 'react';
import { Dropdown, Form } from 'react-bootstrap';
import { useLive, useLiveHost } from '../../live/useLive';
import type { LogLine } from '../../live/monitorLog';
import { useAppDispatch, useAppSelector } from '../../store';
import { IconButton } from '../../ui/IconButton';
import { MonitorLine } from './MonitorLine';
import { screenChanged } from './screenSlice';

/** Lines drawn; older ones are still recorded. */
const DRAWN = 80;

type Filter = { readonly in: boolean; readonly out: boolean; readonly timing: boolean };

const isTiming = (line: LogLine): boolean =>
  (line.kind === 'in' || line.kind === 'out') && ['clock', 'active-sensing'].includes(line.message.kind);

/** Every message in and out, decoded, the newest on top. */
export function MonitorDrawer({ wireSlot }: { wireSlot: Ref<HTMLDivElement> }) {
  const host = useLiveHost();
  const dispatch = useAppDispatch();
  const folded = useAppSelector((s) => s.screen.drawerFolded);
  const live = useLive();
  const [filter, setFilter] = useState<Filter>({ in: true, out: true, timing: false });
  const [paused, setPaused] = useState<LogLine[] | null>(null);
  const lines = useMemo(
    () => host.log.newest(DRAWN, (line) => passes(filter, line)),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the log is read anew when it has grown
    [host, filter, live.logSize],
  );
  const shown = paused ?? lines;
  const fold = (drawerFolded: boolean) => dispatch(screenChanged({ drawerFolded }));
  if (folded)
    return (
      <aside className="drawer" aria-label="Monitor, folded">
        <div className="drawer-head">
          <IconButton icon={PanelRightOpen} label="Unfold the monitor" onClick={() => fold(false)} />
        </div>
      </aside>
    );
  return (
    <aside className="drawer" aria-label="Monitor">
      <div ref={wireSlot} />
      <div className="drawer-head">
        <h2>Monitor</h2>
        <FilterMenu filter={filter} onChange={setFilter} />
        <IconButton
          icon={paused ? Play : Pause}
          label={paused ? 'Go on' : 'Pause; nothing is lost'}
          pressed={paused !== null}
          onClick={() => setPaused(paused ? null : lines)}
        />
        <IconButton icon={Eraser} label="Clear" onClick={() => host.clearLog()} />
        <IconButton icon={PanelRightClose} label="Fold the monitor" onClick={() => fold(true)} />
      </div>
      {shown.length === 0 ? (
        <p className="drawer-empty">Nothing yet. Press a switch below, and what it sends stands here.</p>
      ) : (
        <ol className="messages" aria-label="Messages, newest first" tabIndex={0}>
          {shown.map((line) => (
            <MonitorLine key={line.seq} line={line} world={live.world} />
          ))}
        </ol>
      )}
      <div className="drawer-foot">
        {paused
          ? 'Paused; recording goes on'
          : filter.timing
            ? 'Newest on top'
            : 'Clock and active sensing hidden'}
      </div>
    </aside>
  );
}

function FilterMenu({ filter, onChange }: { filter: Filter; onChange(filter: Filter): void }) {
  const kinds: [keyof Filter, string][] = [
    ['in', 'Coming in'],
    ['out', 'Going out'],
    ['timing', 'Clock and active sensing'],
  ];
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
      <Dropdown.Menu className="px-3">
        {kinds.map(([kind, text]) => (
          <Form.Check
            key={kind}
            id={`filter-${kind}`}
            className="py-1 text-nowrap"
            label={text}
            checked={filter[kind]}
            onChange={(e) => onChange({ ...filter, [kind]: e.target.checked })}
          />
        ))}
      </Dropdown.Menu>
    </Dropdown>
  );
}

function passes(filter: Filter, line: LogLine): boolean {
  if (!filter.timing && isTiming(line)) return false;
  return line.kind === 'in' ? filter.in : line.kind === 'out' ? filter.out : true;
}
