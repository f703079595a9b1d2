import type { FullRig } from '@idle-step/core/routing';
import type { Device } from '@idle-step/core/gear';
import { RigSchema } from '@idle-step/contract';
import { Copy, Trash2 } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import { Nav } from 'react-bootstrap';
import { useParams } from 'react-router-dom';
import { useEdit } from '../../drafts/useDocs';
import { IconButton } from '../../ui/IconButton';
import { TapeMark } from '../../ui/TapeMark';
import { ChartRoom } from './chart/ChartRoom';
import { newRow } from '../../edits/chartEdits';
import { DeviceSettings } from './DeviceSettings';
import { DumpsRoom } from './DumpsRoom';
import { withDuplicate } from '../../edits/newDevice';
import { NumbersRoom } from './NumbersRoom';
import { PortList } from './PortList';
import { withDevice, withoutDevice } from '../../edits/rigEdits';
import { StartUpSteps } from './StartUpList';
import { useRemoval } from '../../gear/useRemoval';

const ROOMS = [
  { room: 'chart', text: 'Chart' },
  { room: 'device', text: 'Device' },
  { room: 'ports', text: 'Ports' },
  { room: 'numbers', text: 'Free numbers' },
  { room: 'start-up', text: 'Start-up' },
  { room: 'dumps', text: 'Dumps' },
] as const;
type RoomName = (typeof ROOMS)[number]['room'];

/** Everything that is written down of one device, room by room. */
export function DeviceDetail({
  rig,
  device,
  select,
  children,
}: {
  rig: FullRig;
  device: Device;
  select(id: string, room?: string): void;
  children: ReactNode;
}) {
  const { room } = useParams();
  const edit = useEdit('rigs');
  const removal = useRemoval(rig);
  const [sentence, setSentence] = useState<string | null>(null);
  const isChartless =
    device.role === 'carrier' || (device.role === 'controller' && device.chart.length === 0);
  const rooms = ROOMS.filter(
    (r) => device.role === 'receiver' || !isChartless || !['chart', 'numbers'].includes(r.room),
  );
  const fallback: RoomName = isChartless ? 'ports' : 'chart';
  const open = rooms.find((r) => r.room === room)?.room ?? fallback;
  /** Edits that the contract would refuse are said here and not made. */
  const change = (label: string, part: Partial<Device>) => {
    const next = withDevice(rig, device.id, (d) => ({ ...d, ...part }));
    const result = RigSchema.safeParse(next);
    setSentence(result.success ? null : (result.error.issues[0]?.message ?? null));
    if (result.success) edit(rig.id, label, () => next);
  };
  const duplicate = () => {
    const copy = withDuplicate(rig, device);
    edit(rig.id, `duplicate ${device.name}`, () => copy.rig);
    select(copy.deviceId, 'device');
  };
  const packAway = {
    text: 'Pack it away instead',
    change: (r: FullRig) => withDevice(r, device.id, (d) => ({ ...d, away: true })),
  };
  const remove = () => {
    const next = rig.devices.find((d) => d.id !== device.id);
    removal.ask(
      device.name,
      (r) => withoutDevice(r, device),
      packAway,
      () => next && select(next.id),
    );
  };
  const addOn = (controller: number) => {
    const fn = newRow(device, { kind: 'controller', controller });
    edit(rig.id, 'add a function', (r) =>
      withDevice(r, device.id, (d) => ({ ...d, chart: [...d.chart, fn] })),
    );
    select(device.id, 'chart');
  };
  return (
    <section className="detail" aria-label={device.name}>
      <div className="place-head">
        <TapeMark mark={device.mark} size={18} />
        <h2>{device.name}</h2>
        <Nav variant="underline" as="div" role="tablist" aria-label={`What is written of ${device.name}`}>
          {rooms.map((r, i) => (
            <Nav.Link
              key={r.room}
              as="button"
              role="tab"
              active={r.room === open}
              aria-selected={r.room === open}
              tabIndex={r.room === open ? 0 : -1}
              onClick={() => select(device.id, r.room)}
              onKeyDown={(e) => {
                const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
                const next = by && rooms[i + by];
                if (!next) return;
                e.preventDefault();
                select(device.id, next.room);
                const tabs = e.currentTarget.parentElement!.querySelectorAll<HTMLElement>('[role="tab"]');
                tabs[i + by]?.focus();
              }}
            >
              {r.text}
            </Nav.Link>
          ))}
        </Nav>
        <span className="gap" />
        <IconButton line icon={Copy} label={`Duplicate ${device.name}`} onClick={duplicate} />
        <IconButton line icon={Trash2} label={`Remove ${device.name}`} onClick={remove} />
      </div>
      {sentence && (
        <p className="field-error" role="alert">
          {sentence} Nothing was changed.
        </p>
      )}
      {open === 'chart' && <ChartRoom rig={rig} device={device} />}
      {open === 'device' && <DeviceSettings rig={rig} device={device} change={change} />}
      {open === 'ports' && (
        <>
          <PortList rig={rig} device={device} change={change} />
          {children}
        </>
      )}
      {open === 'numbers' && (
        <NumbersRoom
          rig={rig}
          device={device}
          onAdd={addOn}
          onKeep={(keptNumbers) => change('say which numbers a device keeps', { keptNumbers })}
        />
      )}
      {open === 'start-up' && <StartUpSteps device={device} change={change} />}
      {open === 'dumps' && <DumpsRoom key={device.id} rig={rig} device={device} onChange={change} />}
      {removal.dialog}
    </section>
  );
}
