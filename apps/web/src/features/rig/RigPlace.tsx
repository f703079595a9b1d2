import type { FullRig } from '@idle-step/core/routing';
import { cableFaults, pathsThrough, rigPaths, type CableFinding } from '@idle-step/core/gear';
import { ChevronsDown, ChevronsUp, Ear, ListChecks, Plus, Printer } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Button, Dropdown } from 'react-bootstrap';
import { Link, useNavigate, useParams } from 'react-router-dom';
import { useEdit, useRig } from '../../drafts/useDocs';
import { screenChanged } from '../../screen/screenSlice';
import { useAppDispatch, useAppSelector } from '../../store';
import { IconButton } from '../../ui/IconButton';
import { SearchField } from '../../ui/SearchField';
import { StandInPanel } from '../../gear/StandInPanel';
import { PlaceHint } from '../../documents/PlaceHint';
import { DocumentHead } from '../../documents/DocumentHead';
import { CablePanel } from './CablePanel';
import { DeviceDetail } from './DeviceDetail';
import { DeviceStrip } from './DeviceStrip';
import { FaultList } from './FaultList';
import { withNewBoard } from '../../edits/boardEdits';
import { ControllerItems } from '../../gear/ControllerItems';
import { DEVICE_KINDS, withNewDevice, type DeviceKind } from '../../edits/newDevice';
import { PathList } from './PathList';
import { RigMap, type MapPick } from '../../gear/RigMap';
import { StartUpCheck } from './StartUpList';
import { useCableInHand } from '../../gear/useCableInHand';
import { WhatIsThis } from './WhatIsThis';
import { there } from '@idle-step/core/sure';

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

function RigOf({ rig }: { rig: FullRig }) {
  const { deviceId, room } = useParams();
  const navigate = useNavigate();
  const edit = useEdit('rigs');
  const [cableId, setCableId] = useState<string | null>(null);
  const [sheet, setSheet] = useState<Sheet>(null);
  const [wanted, setWanted] = useState('');
  const isFolded = useAppSelector((s) => s.screen.mapFolded);
  const dispatch = useAppDispatch();
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
  const took = (added: { rig: FullRig; deviceId: string }) => {
    edit(rig.id, 'add a device', () => added.rig);
    setCableId(null);
    select(added.deviceId, 'device');
  };
  const add = (kind: DeviceKind) => took(withNewDevice(rig, kind));
  const paths = cable
    ? pathsThrough(allPaths, { cableId: cable.id })
    : device
      ? pathsThrough(allPaths, { deviceId: device.id })
      : [];
  return (
    <div className="work-pad rig-place">
      <RigHead
        rig={rig}
        sheet={sheet}
        onSheet={(next) => setSheet(sheet === next ? null : next)}
        onAdd={add}
        onAddBoard={took}
        wanted={wanted}
        onWanted={setWanted}
      />
      {sheet === 'start-up' && <StartUpCheck rig={rig} onClose={() => setSheet(null)} />}
      {sheet === 'what-is-this' && <WhatIsThis rig={rig} onClose={() => setSheet(null)} />}
      {!device ? (
        <FirstStep onAdd={add} onAddBoard={() => took(withNewBoard(rig, 'ten-and-two', false))} />
      ) : (
        <>
          <div className={`map-holder ${isFolded ? 'is-folded' : ''}`}>
            {isFolded ? (
              <DeviceStrip
                rig={rig}
                deviceId={device.id}
                wanted={wanted}
                onPick={(id) => pick({ kind: 'device', id })}
              />
            ) : (
              <RigMap
                rig={rig}
                picked={cable ? { kind: 'cable', id: cable.id } : { kind: 'device', id: device.id }}
                onPick={pick}
                paths={paths}
                drawing={drawing}
                wanted={wanted}
              />
            )}
            <IconButton
              icon={isFolded ? ChevronsDown : ChevronsUp}
              label={isFolded ? 'Show the map with its cables' : 'Fold the map to a strip'}
              onClick={() => dispatch(screenChanged({ mapFolded: !isFolded }))}
            />
          </div>
          {drawing.inHand && !drawing.inHand.free && (
            <p className="notice" role="status">
              A cable is in hand: press the socket where it goes, or Escape to let go.
            </p>
          )}
          <FaultList faults={drawing.faults} />
          {drawing.faults.length === 0 && (
            <Warnings
              faults={warnings}
              onShow={(f) => pick({ kind: 'device', id: there(there(f.place.deviceIds)[0]) })}
            />
          )}
          {cable ? (
            <CablePanel rig={rig} cable={cable} paths={paths} onGone={() => setCableId(null)} />
          ) : (
            <>
              <DeviceDetail key={device.id} rig={rig} device={device} select={select}>
                <PathList paths={paths} name={device.name} />
              </DeviceDetail>
              {device.standIn && <StandInPanel device={device} />}
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
  onAddBoard,
  wanted,
  onWanted,
}: {
  rig: FullRig;
  sheet: Sheet;
  onSheet(sheet: Sheet): void;
  onAdd(kind: DeviceKind): void;
  onAddBoard(made: { rig: FullRig; deviceId: string }): void;
  wanted: string;
  onWanted(text: string): void;
}) {
  const away = rig.devices.filter((d) => d.away).length;
  const steps = rig.devices.filter((d) => !d.away).flatMap((d) => d.startUp);
  const open = steps.filter((s) => !s.done).length;
  return (
    <>
      <DocumentHead
        title="Rig"
        doc={{ resource: 'rigs', id: rig.id }}
        facts={
          <span className="muted">
            {rig.devices.length} {rig.devices.length === 1 ? 'device' : 'devices'}
            {away > 0 ? `, ${away} away` : ''}, {rig.cables.length}{' '}
            {rig.cables.length === 1 ? 'cable' : 'cables'}
          </span>
        }
      >
        <span className="gap" />
        {rig.devices.length >= SEARCHED_FROM && (
          <SearchField label="Find a device" placeholder="Find a device" value={wanted} onChange={onWanted} />
        )}
        <Link className="btn btn-quiet" to="/paper/rig">
          <Printer size={16} strokeWidth={1.75} aria-hidden="true" />
          On paper
        </Link>
        <Button variant="quiet" aria-pressed={sheet === 'start-up'} onClick={() => onSheet('start-up')}>
          <ListChecks size={16} strokeWidth={1.75} aria-hidden="true" />
          Start-up{steps.length > 0 && `, ${open === 0 ? 'done' : `${open} to do`}`}
        </Button>
        <Button
          variant="quiet"
          aria-pressed={sheet === 'what-is-this'}
          onClick={() => onSheet('what-is-this')}
        >
          <Ear size={16} strokeWidth={1.75} aria-hidden="true" />
          What is this?
        </Button>
        <Dropdown align="end">
          <Dropdown.Toggle variant="go" className="no-caret">
            <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
            Add device
          </Dropdown.Toggle>
          <Dropdown.Menu className="long-menu">
            <ControllerItems rig={rig} onAdd={onAddBoard} />
            <Dropdown.Divider />
            <Dropdown.Header>What carries and what answers</Dropdown.Header>
            {DEVICE_KINDS.map(({ kind, text }) => (
              <Dropdown.Item key={kind} as="button" onClick={() => onAdd(kind)}>
                {text}
              </Dropdown.Item>
            ))}
          </Dropdown.Menu>
        </Dropdown>
      </DocumentHead>
      <PlaceHint place="rig" />
    </>
  );
}

function FirstStep({ onAdd, onAddBoard }: { onAdd(kind: DeviceKind): void; onAddBoard(): void }) {
  return (
    <div className="empty-place">
      <h2>What is in your rig?</h2>
      <p>
        Write down each board, interface and piece of gear once. Start with what is under your feet, or with
        what it should move; then draw a cable from socket to socket.
      </p>
      <div className="d-flex gap-2">
        <Link className="btn btn-go" to="/begin">
          Begin with three questions
        </Link>
        <Button variant="quiet" onClick={onAddBoard}>
          Add a foot board
        </Button>
        <Button variant="quiet" onClick={() => onAdd('string-processor')}>
          Add a string processor
        </Button>
      </div>
    </div>
  );
}

function Warnings({
  faults,
  onShow,
}: {
  faults: readonly CableFinding[];
  onShow(fault: CableFinding): void;
}) {
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
