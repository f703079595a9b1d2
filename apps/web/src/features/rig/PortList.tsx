import { type FullRig, portName } from '@idle-step/core/routing';
import {
  type Device,
  ESTIMATED_LATENCY_MS,
  inputsAtComputer,
  outputsAtComputer,
  PLAIN_PORT,
  type CableFinding,
  LINK_WORDS,
} from '@idle-step/core/gear';
import { LINK_KINDS, measure, Name } from '@idle-step/contract';
import { Plus, X } from 'lucide-react';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useEdit } from '../../drafts/useDocs';
import { useLiveHost, useLiveOf } from '../../live/use/useLive';
import { NumberField, Pick, TextField } from '../../ui/Fields';
import { IconButton } from '../../ui/IconButton';
import { FaultList } from './FaultList';
import { plugCable, withLink, withoutPort, type PortDoc } from '../../edits/rigEdits';

type Props = { rig: FullRig; device: Device; change(label: string, part: Partial<Device>): void };

const NOWHERE = '';

/** The ports of a device: their link, where their cables lead, and the browser's port that each stands for. */
export function PortList({ rig, device, change }: Props) {
  const [faults, setFaults] = useState<readonly CableFinding[]>([]);
  const add = () => {
    const direction = device.role === 'controller' ? ('out' as const) : ('in' as const);
    const port: PortDoc = {
      ...PLAIN_PORT,
      id: crypto.randomUUID(),
      name: freePortName(device),
      direction,
      link: 'din',
    };
    change('add a port', { ports: [...device.ports, port] });
  };
  return (
    <section aria-label={`Ports of ${device.name}`}>
      <table className="port-list">
        <thead>
          <tr>
            <th>Port</th>
            <th>Direction</th>
            <th>Link</th>
            <th>Latency</th>
            <th title="Reached directly from the computer that this runs on">Here</th>
            <th title="Enabled for playing">Plays</th>
            <th title="Enabled for learning and looking">Learns</th>
            <th>Cable</th>
            <th>Browser’s port</th>
            <th>
              <Button
                variant="bare"
                className="btn-icon"
                aria-label="Add a port"
                title="Add a port"
                onClick={add}
              >
                <Plus size={16} aria-hidden="true" />
              </Button>
            </th>
          </tr>
        </thead>
        <tbody>
          {device.ports.map((port) => (
            <PortRow
              key={port.id}
              rig={rig}
              device={device}
              port={port}
              onChange={(label, part) =>
                change(label, { ports: device.ports.map((p) => (p.id === port.id ? { ...p, ...part } : p)) })
              }
              onFaults={setFaults}
            />
          ))}
        </tbody>
      </table>
      {device.ports.length === 0 && (
        <p className="muted py-2">
          No port yet. A port is a socket, or a connection of software, that messages pass.
        </p>
      )}
      <FaultList faults={faults} />
    </section>
  );
}

/** One port: its socket, whether it is used, its cables, and which of the browser's ports it is. */
function PortRow({
  rig,
  device,
  port,
  onChange: set,
  onFaults,
}: {
  rig: FullRig;
  device: Device;
  port: PortDoc;
  onChange(label: string, part: Partial<PortDoc>): void;
  onFaults(faults: readonly CableFinding[]): void;
}) {
  const edit = useEdit('rigs');
  return (
    <tr>
      <td>
        <TextField
          hideLabel
          label={`Name of ${port.name}`}
          value={port.name}
          schema={Name}
          onCommit={(name) => set('rename a port', { name })}
        />
      </td>
      <td>
        <Pick
          hideLabel
          label={`Direction of ${port.name}`}
          value={port.direction}
          options={(['in', 'out', 'thru'] as const)
            .filter((d) => d !== 'thru' || port.link === 'din')
            .map((value) => ({ value, text: value }))}
          onPick={(direction) => set('turn a port', { direction })}
        />
      </td>
      <td>
        <Pick
          hideLabel
          label={`Link of ${port.name}`}
          value={port.isUsbHost ? 'usb-host' : port.link}
          options={LINK_OPTIONS}
          onPick={(picked) =>
            set('change a link', {
              ...withLink(port, picked === 'usb-host' ? 'usb' : picked),
              isUsbHost: picked === 'usb-host',
            })
          }
        />
      </td>
      <td>
        {ESTIMATED_LATENCY_MS[port.link] !== undefined && (
          <span className="estimate" title="An estimate: nothing on this link says how long it takes">
            about
            <NumberField
              hideLabel
              className="tiny"
              label={`Estimated latency of ${port.name} in ms`}
              value={port.latencyMs}
              schema={measure('Latency', 0, 1000, 'ms')}
              onCommit={(latencyMs) => set('estimate a latency', { latencyMs })}
            />
            ms
          </span>
        )}
      </td>
      <td>
        <Form.Check
          id={`at-${port.id}`}
          aria-label={`${port.name} is at this computer`}
          checked={port.atComputer}
          onChange={(e) => set('move a port', { atComputer: e.target.checked })}
        />
      </td>
      <td>
        <Form.Check
          id={`plays-${port.id}`}
          aria-label={`${port.name} is enabled for playing`}
          checked={port.plays}
          onChange={(e) => set('enable a port', { plays: e.target.checked })}
        />
      </td>
      <td>
        <Form.Check
          id={`learns-${port.id}`}
          aria-label={`${port.name} is enabled for learning`}
          checked={port.learns}
          onChange={(e) => set('enable a port', { learns: e.target.checked })}
        />
      </td>
      <td>
        <PortCables rig={rig} device={device} port={port} onFaults={onFaults} />
      </td>
      <td>{port.atComputer && <BoundPort rig={rig} port={port} />}</td>
      <td>
        <IconButton
          icon={X}
          label={`Remove ${port.name}`}
          onClick={() => edit(rig.id, `remove ${port.name}`, (r) => withoutPort(r, device.id, port.id))}
        />
      </td>
    </tr>
  );
}

/** USB has two sides, so it stands in the list twice. */
type LinkChoice = PortDoc['link'] | 'usb-host';
const LINK_OPTIONS = LINK_KINDS.flatMap((value): { value: LinkChoice; text: string }[] =>
  value === 'usb'
    ? [
        { value, text: 'USB device' },
        { value: 'usb-host', text: 'USB host' },
      ]
    : [{ value, text: LINK_WORDS[value] }],
);

function freePortName(device: Device): string {
  const taken = new Set(device.ports.map((p) => p.name));
  for (let n = device.ports.length + 1; ; n++) if (!taken.has(`Port ${n}`)) return `Port ${n}`;
}

/** Cables at a port: each with its way out, and a list to draw one more. */
function PortCables({
  rig,
  device,
  port,
  onFaults,
}: {
  rig: FullRig;
  device: Device;
  port: PortDoc;
  onFaults(faults: readonly CableFinding[]): void;
}) {
  const edit = useEdit('rigs');
  const isIn = port.direction === 'in';
  const cables = rig.cables.filter((c) => (isIn ? c.toPortId : c.fromPortId) === port.id);
  const ends = rig.devices
    .filter((d) => d.id !== device.id)
    .flatMap((d) => d.ports.filter((p) => (p.direction === 'in') !== isIn));
  const draw = (other: string) => {
    const result = isIn ? plugCable(rig, other, port.id) : plugCable(rig, port.id, other);
    onFaults(result.faults);
    const drawn = result.rig?.cables.at(-1);
    if (drawn) edit(rig.id, 'draw a cable', (now) => ({ ...now, cables: [...now.cables, drawn] }));
  };
  return (
    <span className="port-cables">
      {cables.map((cable) => {
        const other = portName(rig, isIn ? cable.fromPortId : cable.toPortId);
        return (
          <span key={cable.id} className="port-cable">
            <span className="small">
              {isIn ? 'from' : 'to'} {other}
            </span>
            <IconButton
              icon={X}
              label={`Take out the cable ${isIn ? 'from' : 'to'} ${other}`}
              onClick={() =>
                edit(rig.id, 'take out a cable', (r) => ({
                  ...r,
                  cables: r.cables.filter((c) => c.id !== cable.id),
                }))
              }
            />
          </span>
        );
      })}
      {(cables.length === 0 || port.link !== 'din') && (
        <Pick
          hideLabel
          label={`${isIn ? 'Cable into' : 'Cable from'} ${port.name}`}
          value={NOWHERE}
          options={[
            { value: NOWHERE, text: 'no cable' },
            ...ends.map((p) => ({ value: p.id, text: portName(rig, p.id) })),
          ]}
          onPick={(other) => other !== NOWHERE && draw(other)}
        />
      )}
    </span>
  );
}

/** The browser's port that stands for a rig port: an input of the computer hears what the device sends. */
function BoundPort({ rig, port }: { rig: FullRig; port: PortDoc }) {
  const host = useLiveHost();
  const ports = useLiveOf((live) => live.ports);
  const portsStatus = useLiveOf((live) => live.portsStatus);
  if (portsStatus.kind !== 'on')
    return (
      <span className="muted small">
        {portsStatus.kind === 'none'
          ? portsStatus.why
          : portsStatus.kind === 'elsewhere'
            ? 'another window plays; see “Play here” above'
            : 'ports not opened; see “Open ports” above'}
      </span>
    );
  const hears = inputsAtComputer(rig).some((at) => at.port.id === port.id);
  const sends = outputsAtComputer(rig).some((at) => at.port.id === port.id);
  const offered = ports.filter((p) => p.connected && (p.direction === 'in' ? hears : sends));
  const bound = host.ports.boundName(port.id);
  const sharing = host.ports.sharing(port.id).map((id) => portName(rig, id));
  const names = [...new Set([...offered.map((p) => p.name), ...(bound ? [bound] : [])])];
  return (
    <span className="bound-port">
      <Pick
        hideLabel
        label={`Browser’s port for ${port.name}`}
        value={bound ?? NOWHERE}
        options={[{ value: NOWHERE, text: 'not bound' }, ...names]}
        onPick={(name) => host.ports.bind(port.id, name === NOWHERE ? null : name)}
      />
      <BoundState port={port} />
      {sharing.length > 0 && (
        <span className="small text-caution">
          {bound} is bound to {sharing.join(' and ')} too: each message counts at both
        </span>
      )}
    </span>
  );
}

/** How a bound port is, and what to do where it is not as it should be. */
function BoundState({ port }: { port: PortDoc }) {
  const host = useLiveHost();
  const state = host.ports.stateOf(port.id);
  if (state === 'unbound') return null;
  if (!port.plays && state === 'present')
    return <span className="small text-caution">disabled: tick “Plays” to use it</span>;
  if (state === 'present') return <span className="small text-ok">present</span>;
  if (state === 'busy')
    return (
      <span className="small text-danger">
        busy: another program holds it; close that, and it opens by itself
      </span>
    );
  return <span className="small text-danger">absent: plug it in, and it is bound again by itself</span>;
}
