import { Plus } from 'lucide-react';
import { Button, Dropdown } from 'react-bootstrap';
import { useNavigate, useParams } from 'react-router-dom';
import { useEdit, useRig } from '../../drafts/useDocs';
import { useLive } from '../../live/useLive';
import { StandInPanel } from '../../ui/StandInPanel';
import { SaveState } from '../frame/SaveState';
import { ChartTable } from './ChartTable';
import { DeviceSettings } from './DeviceSettings';
import { DEVICE_KINDS, withNewDevice, type DeviceKind } from './newDevice';
import { RigMap } from './RigMap';

/** What gear there is, how it is cabled, on which channel each device listens, what it answers to. */
export function RigPlace() {
  const { rig } = useRig();
  const { deviceId } = useParams();
  const navigate = useNavigate();
  const edit = useEdit('rigs');
  const { standIns } = useLive();
  if (!rig) return null;
  const device =
    rig.devices.find((d) => d.id === deviceId) ??
    rig.devices.find((d) => d.chart.length > 0) ??
    rig.devices[0];
  const standIn = device && standIns.get(device.id);
  const select = (id: string) => void navigate(`/rig/${id}`, { replace: true });
  const add = (kind: DeviceKind) => {
    const added = withNewDevice(rig, kind);
    edit(rig.id, 'add a device', () => added.rig);
    select(added.deviceId);
  };
  const away = rig.devices.filter((d) => d.away).length;
  return (
    <div className="work-pad rig-place">
      <div className="place-head">
        <h1>Rig</h1>
        <span className="muted">
          {rig.devices.length} devices{away > 0 ? `, ${away} away` : ''}, {rig.cables.length} cables
        </span>
        <SaveState resource="rigs" id={rig.id} />
        <span className="gap" />
        <Dropdown align="end">
          <Dropdown.Toggle variant="go" className="no-caret">
            <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
            Add device
          </Dropdown.Toggle>
          <Dropdown.Menu>
            {DEVICE_KINDS.map(({ kind, text }) => (
              <Dropdown.Item key={kind} as="button" onClick={() => add(kind)}>
                {text}
              </Dropdown.Item>
            ))}
          </Dropdown.Menu>
        </Dropdown>
      </div>
      {!device ? (
        <div className="empty-place">
          <h2>What is in your rig?</h2>
          <p>
            Write down each board, interface and piece of gear once. Start with what is under your feet, or
            with what it should move.
          </p>
          <div className="d-flex gap-2">
            <Button variant="go" onClick={() => add('foot-board')}>
              Add a foot board
            </Button>
            <Button variant="quiet" onClick={() => add('string-processor')}>
              Add a string processor
            </Button>
          </div>
        </div>
      ) : (
        <>
          <RigMap rig={rig} selectedId={device.id} onSelect={select} />
          <DeviceSettings key={device.id} rig={rig} device={device} onSelect={select} />
          {standIn && <StandInPanel device={device} standIn={standIn} />}
          <ChartTable rig={rig} device={device} />
        </>
      )}
    </div>
  );
}
