import { RigSchema, type DeviceDoc, type RigDoc } from '@idle-step/contract';
import { cableFaults, pathsThrough, rigPaths, type CableFault } from '@idle-step/core/gear';
import { Copy, Ear, ListChecks, Plus, Trash2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Button, Dropdown, Form, Nav } from 'react-bootstrap';
import { useNavigate, useParams } from 'react-router-dom';
import { useEdit, useRig } from '../../drafts/useDocs';
import { useLive } from '../../live/useLive';
import { IconButton } from '../../ui/IconButton';
import { StandInPanel } from '../../ui/StandInPanel';
import { TapeMark } from '../../ui/TapeMark';
import { SaveState } from '../frame/SaveState';
import { CablePanel } from './CablePanel';
import { ChartRoom } from './ChartRoom';
import { newRow } from './chartEdits';
import { DeviceSettings } from './DeviceSettings';
import { FaultList } from './FaultList';
import { DEVICE_KINDS, withDuplicate, withNewDevice, type DeviceKind } from './newDevice';
import { NumbersRoom } from './NumbersRoom';
import { PathList } from './PathList';
import { PortList } from './PortList';
import { RigMap, type MapPick } from './RigMap';
import { withDevice, withoutDevice } from './rigEdits';
import { StartUpCheck, StartUpSteps } from './StartUpList';
import { useCableInHand } from './useCableInHand';
import { useRemoval } from './useRemoval';
import { WhatIsThis } from './WhatIsThis';

/** From so many devices on they are looked for by name. */
const SEARCHED_FROM = 10;
/** Warnings written out under the map. */
const WARNINGS = 2;

type Sheet = 'start-up' | 'what-is-this' | null;

/** What gear there is, how it is cabled, on which channel each device listens, what it answers to. */
export function RigPlace() {
  const { rig } = useRig();
  return rig && <RigOf rig={rig} />;
}

function RigOf({ rig }: { rig: RigDoc }) {
  const { deviceId, room } = useParams();
  const navigate = useNavigate();
  const edit = useEdit('rigs');
  const { standIns } = useLive();
  const [cableId, setCableId] = useState<string | null>(null);
  const [sheet, setSheet] = useState<Sheet>(null);
  const [wanted, setWanted] = useState('');
  const drawing = useCableInHand(rig, setCableId);
  const allPaths = useMemo(() => rigPaths(rig), [rig]);
  const warnings = useMemo(() => cableFaults(rig).filter((f) => f.severity === 'warned'), [rig]);
  const cable = rig.cables.find((c) => c.id === cableId);
  const device =
    rig.devices.find((d) => d.id === deviceId) ??
    rig.devices.find((d) => d.chart.length > 0) ??
    rig.devices[0];
  const select = (id: string, to = room) =>
    void navigate(`/rig/${id}${to ? `/${to}` : ''}`, { replace: true });
  const pick = (next: MapPick) => {
    setCableId(next.kind === 'cable' ? next.id : null);
    if (next.kind === 'device') select(next.id);
  };
  const add = (kind: DeviceKind) => {
    const added = withNewDevice(rig, kind);
    edit(rig.id, 'add a device', () => added.rig);
    setCableId(null);
    select(added.deviceId, 'device');
  };
  const paths = cable
    ? pathsThrough(allPaths, { cableId: cable.id })
    : device
      ? pathsThrough(allPaths, { deviceId: device.id })
      : [];
  const standIn = device && standIns.get(device.id);
  return (
    <div className="work-pad rig-place">
      <RigHead
        rig={rig}
        sheet={sheet}
        onSheet={(next) => setSheet(sheet === next ? null : next)}
        onAdd={add}
        wanted={wanted}
        onWanted={setWanted}
      />
      {sheet === 'start-up' && <StartUpCheck rig={rig} onClose={() => setSheet(null)} />}
      {sheet === 'what-is-this' && <WhatIsThis rig={rig} onClose={() => setSheet(null)} />}
      {!device ? (
        <FirstStep onAdd={add} />
      ) : (
        <>
          <RigMap
            rig={rig}
            picked={cable ? { kind: 'cable', id: cable.id } : { kind: 'device', id: device.id }}
            onPick={pick}
            paths={paths}
            drawing={drawing}
            wanted={wanted}
          />
          {drawing.inHand && !drawing.inHand.free && (
            <p className="notice" role="status">
              A cable is in hand: press the socket where it goes, or Escape to let go.
            </p>
          )}
          <FaultList faults={drawing.faults} />
          {drawing.faults.length === 0 && (
            <Warnings faults={warnings} onShow={(f) => pick({ kind: 'device', id: f.deviceIds[0]! })} />
          )}
          {cable ? (
            <CablePanel rig={rig} cable={cable} paths={paths} onGone={() => setCableId(null)} />
          ) : (
            <>
              <DeviceDetail key={device.id} rig={rig} device={device} select={select}>
                <PathList paths={paths} name={device.name} />
              </DeviceDetail>
              {standIn && <StandInPanel device={device} standIn={standIn} />}
            </>
          )}
        </>
      )}
    </div>
  );
}

function RigHead({
  rig,
  sheet,
  onSheet,
  onAdd,
  wanted,
  onWanted,
}: {
  rig: RigDoc;
  sheet: Sheet;
  onSheet(sheet: Sheet): void;
  onAdd(kind: DeviceKind): void;
  wanted: string;
  onWanted(text: string): void;
}) {
  const away = rig.devices.filter((d) => d.away).length;
  const steps = rig.devices.filter((d) => !d.away).flatMap((d) => d.startUp);
  const open = steps.filter((s) => !s.done).length;
  return (
    <div className="place-head">
      <h1>Rig</h1>
      <span className="muted">
        {rig.devices.length} {rig.devices.length === 1 ? 'device' : 'devices'}
        {away > 0 ? `, ${away} away` : ''}, {rig.cables.length} {rig.cables.length === 1 ? 'cable' : 'cables'}
      </span>
      <SaveState resource="rigs" id={rig.id} />
      <span className="gap" />
      {rig.devices.length >= SEARCHED_FROM && (
        <Form.Control
          className="chart-search"
          type="search"
          aria-label="Find a device"
          placeholder="Find a device"
          value={wanted}
          onChange={(e) => onWanted(e.target.value)}
        />
      )}
      <Button variant="quiet" aria-pressed={sheet === 'start-up'} onClick={() => onSheet('start-up')}>
        <ListChecks size={16} strokeWidth={1.75} aria-hidden="true" />
        Start-up{steps.length > 0 && `, ${open === 0 ? 'done' : `${open} to do`}`}
      </Button>
      <Button variant="quiet" aria-pressed={sheet === 'what-is-this'} onClick={() => onSheet('what-is-this')}>
        <Ear size={16} strokeWidth={1.75} aria-hidden="true" />
        What is this?
      </Button>
      <Dropdown align="end">
        <Dropdown.Toggle variant="go" className="no-caret">
          <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
          Add device
        </Dropdown.Toggle>
        <Dropdown.Menu>
          {DEVICE_KINDS.map(({ kind, text }) => (
            <Dropdown.Item key={kind} as="button" onClick={() => onAdd(kind)}>
              {text}
            </Dropdown.Item>
          ))}
        </Dropdown.Menu>
      </Dropdown>
    </div>
  );
}

function FirstStep({ onAdd }: { onAdd(kind: DeviceKind): void }) {
  return (
    <div className="empty-place">
      <h2>What is in your rig?</h2>
      <p>
        Write down each board, interface and piece of gear once. Start with what is under your feet, or with
        what it should move; then draw a cable from socket to socket.
      </p>
      <div className="d-flex gap-2">
        <Button variant="go" onClick={() => onAdd('foot-board')}>
          Add a foot board
        </Button>
        <Button variant="quiet" onClick={() => onAdd('string-processor')}>
          Add a string processor
        </Button>
      </div>
    </div>
  );
}

function Warnings({ faults, onShow }: { faults: readonly CableFault[]; onShow(fault: CableFault): void }) {
  const [isOpen, setOpen] = useState(false);
  if (faults.length === 0) return null;
  const rest = faults.length - WARNINGS;
  return (
    <div>
      <FaultList faults={isOpen ? faults : faults.slice(0, WARNINGS)} onShow={onShow} />
      {rest > 0 && (
        <Button variant="bare" onClick={() => setOpen(!isOpen)}>
          {isOpen ? 'Show fewer' : `${rest} more`}
        </Button>
      )}
    </div>
  );
}

const ROOMS = [
  { room: 'chart', text: 'Chart' },
  { room: 'device', text: 'Device' },
  { room: 'ports', text: 'Ports' },
  { room: 'numbers', text: 'Free numbers' },
  { room: 'start-up', text: 'Start-up' },
] as const;
type RoomName = (typeof ROOMS)[number]['room'];

/** Everything that is written down of one device, room by room. */
function DeviceDetail({
  rig,
  device,
  select,
  children,
}: {
  rig: RigDoc;
  device: DeviceDoc;
  select(id: string, room?: string): void;
  children: React.ReactNode;
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
  const change = (label: string, part: Partial<DeviceDoc>) => {
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
    change: (r: RigDoc) => withDevice(r, device.id, (d) => ({ ...d, away: true })),
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
      {open === 'numbers' && <NumbersRoom rig={rig} device={device} onAdd={addOn} />}
      {open === 'start-up' && <StartUpSteps device={device} change={change} />}
      {removal.dialog}
    </section>
  );
}
