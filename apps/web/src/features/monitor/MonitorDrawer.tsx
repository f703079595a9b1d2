import { Eraser, Expand, PanelRightClose, PanelRightOpen, Pause, Play, Shrink } from 'lucide-react';
import type { Ref } from 'react';
import { useAppDispatch, useAppSelector } from '../../store';
import { ByItself, type Folding } from '../../ui/ByItself';
import { IconButton } from '../../ui/IconButton';
import { screenChanged } from '../../screen/screenSlice';
import { FilterBar, FilterMenu } from './MonitorFilters';
import { MonitorList } from './MonitorList';
import { useMonitor, type MonitorView } from './useMonitor';
import { counted } from '../../words/counted';

type Props = { wireSlot: Ref<HTMLDivElement>; folding: Folding };

/** Every message in, out and inside, decoded, the newest on top: a drawer, or wide over the place. */
export function MonitorDrawer({ wireSlot, folding }: Props) {
  if (!folding.isFolded) return <OpenMonitor wireSlot={wireSlot} folding={folding} />;
  return (
    <aside className="drawer" aria-label="Monitor, folded">
      <div className="drawer-head">
        <IconButton icon={PanelRightOpen} label="Unfold the monitor" onClick={() => folding.fold(false)} />
        <ByItself folding={folding} of="monitor" />
      </div>
    </aside>
  );
}

function OpenMonitor({ wireSlot, folding }: Props) {
  const dispatch = useAppDispatch();
  const isWide = useAppSelector((s) => s.screen.monitorWide);
  const monitor = useMonitor();
  const { lines, waiting } = monitor;
  return (
    <aside
      ref={folding.ref}
      className={`drawer ${isWide ? 'wide-monitor' : ''}`}
      aria-label="Monitor"
      data-recorded={monitor.recorded}
    >
      {!isWide && <div ref={wireSlot} />}
      <div className="drawer-head">
        <h2>Monitor</h2>
        {!isWide && <FilterMenu monitor={monitor} />}
        <IconButton
          icon={waiting === null ? Pause : Play}
          label={waiting === null ? 'Pause; nothing is lost' : 'Go on'}
          pressed={waiting !== null}
          onClick={() => monitor.pause(waiting === null)}
        />
        <IconButton icon={Eraser} label="Clear" onClick={monitor.clear} />
        <IconButton
          icon={isWide ? Shrink : Expand}
          label={isWide ? 'Make the monitor narrow' : 'Make the monitor wide'}
          onClick={() => dispatch(screenChanged({ monitorWide: !isWide }))}
        />
        {!isWide && (
          <IconButton icon={PanelRightClose} label="Fold the monitor" onClick={() => folding.fold(true)} />
        )}
      </div>
      {isWide && <FilterBar monitor={monitor} />}
      {lines.length === 0 ? (
        <p className="drawer-empty">
          Nothing {monitor.filter.search ? 'like that' : 'yet'}. Press a switch below, and what it sends
          stands here.
        </p>
      ) : (
        <MonitorList key={String(isWide)} lines={lines} isWide={isWide} isFlood={monitor.isThinned} />
      )}
      <div className="drawer-foot">
        <span role="status">{footWords(monitor)}</span>
        {!isWide && <ByItself folding={folding} of="monitor" />}
      </div>
    </aside>
  );
}

/** Example: `Paused; 412 more recorded`, `1000/s: drawn every 2 s, all recorded`. */
function footWords({ waiting, floodPerSecond, timing, filter, lines }: MonitorView): string {
  const drawn = floodPerSecond === null ? '' : `${floodPerSecond}/s: drawn every 2 s, all recorded. `;
  if (waiting !== null) return `Paused; ${waiting} more recorded`;
  const held = filter.timing
    ? ''
    : timing === 0
      ? 'Clock and active sensing hidden'
      : `${timing} clock and sensing hidden`;
  return `${drawn}${held || counted(lines.length, 'line')}`;
}
