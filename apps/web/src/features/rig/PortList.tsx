import { LINK_KINDS, Name, type DeviceDoc, type RigDoc } from '@idle-step/contract';
import { Plus, X } from 'lucide-react';
import { Button, Form } from 'react-bootstrap';
import { useEdit } from '../../drafts/useDocs';
import { useLive, useLiveHost } from '../../live/useLive';
import { Pick, TextField } from '../../ui/Fields';
import { IconButton } from '../../ui/IconButton';

type PortDoc = DeviceDoc['ports'][number];
type Props = { rig: RigDoc; device: DeviceDoc; change(label: string, part: Partial<DeviceDoc>): void };

const LINK_WORDS = {
  din: 'DIN',
  usb: 'USB',
  bluetooth: 'Bluetooth',
  virtual: 'virtual',
  network: 'network',
} as const;
const NOWHERE = '';

/** The ports of a device: their link, where their cable leads, and the browser's port that each stands for. */
export function PortList({ rig, device, change }: Props) {
  const setPort = (label: string, port: PortDoc, part: Partial<PortDoc>) =>
    change(label, { ports: device.ports.map((p) => (p.id === port.id ? { ...p, ...part } : p)) });
  const add = () => {
    const port: PortDoc = {
      id: crypto.randomUUID(),
      name: `Port ${device.ports.length + 1}`,
      direction: device.role === 'controller' ? 'out' : 'in',
      link: 'din',
      atComputer: false,
    };
    change('add a port', { ports: [...device.ports, port] });
  };
  return (
    <table className="port-list">
      <thead>
        <tr>
          <th>Port</th>
          <th>Direction</th>
          <th>Link</th>
          <th>At this computer</th>
          <th>Cable to</th>
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
          <tr key={port.id}>
            <td>
              <TextField
                hideLabel
                label="Port name"
                value={port.name}
                schema={Name}
                onCommit={(name) => setPort('rename a port', port, { name })}
              />
            </td>
            <td>
              <Pick
                hideLabel
                label={`Direction of ${port.name}`}
                value={port.direction}
                options={(['in', 'out', 'thru'] as const).map((value) => ({ value, text: value }))}
                onPick={(direction) => setPort('turn a port', port, { direction })}
              />
            </td>
            <td>
              <Pick
                hideLabel
                label={`Link of ${port.name}`}
                value={port.link}
                options={LINK_KINDS.map((value) => ({ value, text: LINK_WORDS[value] }))}
                onPick={(link) => setPort('change a link', port, { link })}
              />
            </td>
            <td>
              <Form.Check
                id={`at-${port.id}`}
                aria-label={`${port.name} is at this computer`}
                checked={port.atComputer}
                onChange={(e) => setPort('move a port', port, { atComputer: e.target.checked })}
              />
            </td>
            <td>
              {port.direction === 'in' ? (
                <CableFrom rig={rig} port={port} />
              ) : (
                <CableTo rig={rig} device={device} port={port} />
              )}
            </td>
            <td>{port.atComputer && <BoundPort port={port} device={device} />}</td>
            <td>
              <IconButton
                icon={X}
                label={`Remove ${port.name}`}
                onClick={() =>
                  change('remove a port', { ports: device.ports.filter((p) => p.id !== port.id) })
                }
              />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const portName = (rig: RigDoc, portId: string): string => {
  const device = rig.devices.find((d) => d.ports.some((p) => p.id === portId));
  return device ? `${device.name} ${device.ports.find((p) => p.id === portId)!.name}` : 'gone';
};

function CableFrom({ rig, port }: { rig: RigDoc; port: PortDoc }) {
  const cable = rig.cables.find((c) => c.toPortId === port.id);
  return (
    <span className="muted small">
      {cable ? `from ${portName(rig, cable.fromPortId)}` : port.atComputer ? '' : 'free'}
    </span>
  );
}

function CableTo({ rig, device, port }: { rig: RigDoc; device: DeviceDoc; port: PortDoc }) {
  const edit = useEdit('rigs');
  const cable = rig.cables.find((c) => c.fromPortId === port.id);
  const inputs = rig.devices
    .filter((d) => d.id !== device.id)
    .flatMap((d) => d.ports.filter((p) => p.direction === 'in'));
  const pick = (toPortId: string) =>
    edit(rig.id, 'move a cable', (r) => {
      const others = r.cables.filter((c) => c.fromPortId !== port.id);
      if (toPortId === NOWHERE) return { ...r, cables: others };
      return {
        ...r,
        cables: [...others, { id: cable?.id ?? crypto.randomUUID(), fromPortId: port.id, toPortId }],
      };
    });
  return (
    <Pick
      hideLabel
      label={`Cable from ${port.name}`}
      value={cable?.toPortId ?? NOWHERE}
      options={[
        { value: NOWHERE, text: 'no cable' },
        ...inputs.map((p) => ({ value: p.id, text: portName(rig, p.id) })),
      ]}
      onPick={pick}
    />
  );
}

/** The browser's port that stands for a rig port: an input of the computer hears what the device sends. */
function BoundPort({ port, device }: { port: PortDoc; device: DeviceDoc }) {
  const host = useLiveHost();
  const { ports, portsStatus } = useLive();
  if (portsStatus.kind !== 'on')
    return (
      <span className="muted small">
        {portsStatus.kind === 'none' ? portsStatus.why : 'ports not opened; see “Open ports” above'}
      </span>
    );
  const hears = device.role === 'carrier' ? port.direction === 'in' : port.direction === 'out';
  const offered = ports.filter((p) => p.direction === (hears ? 'in' : 'out'));
  const bound = host.ports.boundName(port.id);
  const absent = bound !== null && !offered.some((p) => p.name === bound && p.connected);
  return (
    <span className="d-flex gap-2 align-items-center">
      <Pick
        hideLabel
        label={`Browser’s port for ${port.name}`}
        value={bound ?? NOWHERE}
        options={[
          { value: NOWHERE, text: 'not bound' },
          ...[...new Set([...offered.map((p) => p.name), ...(bound ? [bound] : [])])].map((name) => ({
            value: name,
            text: name,
          })),
        ]}
        onPick={(name) => host.ports.bind(port.id, name === NOWHERE ? null : name)}
      />
      {absent && <span className="small text-danger">not there</span>}
    </span>
  );
}
