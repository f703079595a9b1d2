import { ChannelNumber, Name, Remark, RigSchema, type DeviceDoc, type RigDoc } from '@idle-step/contract';
import { DEVICE_ROLES, TAPE_COLOURS, TAPE_SHAPES } from '@idle-step/core/gear';
import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useEdit } from '../../drafts/useDocs';
import { NumberField, Pick, TextField } from '../../ui/Fields';
import { TapeMark } from '../../ui/TapeMark';
import { PortList } from './PortList';

type Props = { rig: RigDoc; device: DeviceDoc; onSelect(deviceId: string): void };

const ROLE_WORDS = {
  controller: 'sends what feet do',
  receiver: 'answers',
  carrier: 'only passes on',
} as const;

/** One device: its name, channel, tape mark, and how it is reached. Edited in place. */
export function DeviceSettings({ rig, device, onSelect }: Props) {
  const edit = useEdit('rigs');
  const [sentence, setSentence] = useState<string | null>(null);
  /** Edits that the contract would refuse are said here and not made. */
  const change = (label: string, part: Partial<DeviceDoc>) => {
    const next = { ...rig, devices: rig.devices.map((d) => (d.id === device.id ? { ...d, ...part } : d)) };
    const result = RigSchema.safeParse(next);
    setSentence(result.success ? null : (result.error.issues[0]?.message ?? null));
    if (result.success) edit(rig.id, label, () => next);
  };
  const remove = () => {
    edit(rig.id, `remove ${device.name}`, () => withoutDevice(rig, device));
    const next = rig.devices.find((d) => d.id !== device.id);
    if (next) onSelect(next.id);
  };
  return (
    <section className="device-settings" aria-label={`Settings of ${device.name}`}>
      <div className="device-fields">
        <TextField
          label="Name"
          value={device.name}
          schema={Name}
          onCommit={(name) => change('rename a device', { name })}
        />
        <TextField
          label="What it is"
          value={device.description}
          schema={Remark}
          onCommit={(description) => change('describe a device', { description })}
        />
        {device.role !== 'carrier' && (
          <NumberField
            label="Channel"
            className="narrow"
            value={device.channel}
            shownOffset={1}
            schema={ChannelNumber}
            onCommit={(channel) => change('change a channel', { channel })}
          />
        )}
        <Pick
          label="Role"
          value={device.role}
          options={DEVICE_ROLES.map((value) => ({ value, text: ROLE_WORDS[value] }))}
          onPick={(role) => change('change a role', { role })}
        />
        {device.role === 'receiver' && (
          <Pick
            label="Programs from"
            className="narrow"
            value={device.programsShownFrom}
            options={[
              { value: 0, text: '0' },
              { value: 1, text: '1' },
            ]}
            onPick={(programsShownFrom) => change('number programs', { programsShownFrom })}
          />
        )}
        <Pick
          label="Tape mark"
          value={device.mark.shape}
          options={TAPE_SHAPES.map((value) => ({ value, text: value }))}
          onPick={(shape) => change('change a tape mark', { mark: { ...device.mark, shape } })}
        />
        <Pick
          label="Its colour"
          value={device.mark.colour}
          options={TAPE_COLOURS.map((value) => ({ value, text: value }))}
          onPick={(colour) => change('change a tape mark', { mark: { ...device.mark, colour } })}
        />
        <span className="mark-shown">
          <TapeMark mark={device.mark} size={22} name={device.name} />
        </span>
        <Form.Check
          id="device-away"
          className="away-check"
          label="packed away"
          checked={device.away}
          onChange={(e) =>
            change(e.target.checked ? 'pack a device away' : 'bring a device back', {
              away: e.target.checked,
            })
          }
        />
        <Button
          variant="quiet"
          className="btn-icon"
          aria-label={`Remove ${device.name}`}
          onClick={remove}
          title={`Remove ${device.name}; undo brings it back`}
        >
          <Trash2 size={16} strokeWidth={1.75} aria-hidden="true" />
        </Button>
      </div>
      {sentence && (
        <p className="field-error" role="alert">
          {sentence} Nothing was changed.
        </p>
      )}
      <PortList rig={rig} device={device} change={change} />
    </section>
  );
}

function withoutDevice(rig: RigDoc, device: DeviceDoc): RigDoc {
  const ports = new Set(device.ports.map((p) => p.id));
  return {
    ...rig,
    devices: rig.devices.filter((d) => d.id !== device.id),
    cables: rig.cables.filter((c) => !ports.has(c.fromPortId) && !ports.has(c.toPortId)),
    boards: rig.boards.filter((b) => b.deviceId !== device.id),
  };
}
