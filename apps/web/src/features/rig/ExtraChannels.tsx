import type { Device } from '@idle-step/core/gear';
import { ChannelNumber, Name } from '@idle-step/contract';
import { Plus, X } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { NumberField, TextField } from '../../ui/Fields';
import { IconButton } from '../../ui/IconButton';
import { renamedIn } from '../../edits/rigEdits';

type Props = { device: Device; change(label: string, part: Partial<Device>): void };

/** Channels with a meaning of their own, such as “the track selected now”; rows of the chart can be on them. */
export function ExtraChannels({ device, change }: Props) {
  const set = (index: number, part: Partial<Device['extraChannels'][number]>) =>
    device.extraChannels.map((e, i) => (i === index ? { ...e, ...part } : e));
  const add = () => {
    const taken = new Set(device.extraChannels.map((e) => e.name));
    let name = 'the track selected now';
    for (let n = 2; taken.has(name); n++) name = `extra channel ${n}`;
    const used = new Set([device.channel, ...device.extraChannels.map((e) => e.channel)]);
    const channel = Array.from({ length: 16 }, (_, i) => i).find((c) => !used.has(c)) ?? 0;
    change('add a channel', { extraChannels: [...device.extraChannels, { name, channel }] });
  };
  return (
    <>
      {device.extraChannels.map((extra, i) => (
        <span key={i} className="extra-channel">
          <TextField
            label={i === 0 ? 'Extra channel, called' : `Extra channel ${i + 1}, called`}
            value={extra.name}
            schema={Name}
            onCommit={(name) =>
              change('rename a channel', {
                extraChannels: set(i, { name }),
                chart: renamedIn(device.chart, 'extraChannel', extra.name, name),
              })
            }
          />
          <NumberField
            label="on"
            className="tiny"
            value={extra.channel}
            shownOffset={1}
            schema={ChannelNumber}
            onCommit={(channel) => change('move a channel', { extraChannels: set(i, { channel }) })}
          />
          <IconButton
            icon={X}
            label={`Remove ${extra.name}; its rows go to the device’s own channel`}
            onClick={() =>
              change('remove a channel', {
                extraChannels: device.extraChannels.filter((_, k) => k !== i),
                chart: renamedIn(device.chart, 'extraChannel', extra.name, null),
              })
            }
          />
        </span>
      ))}
      <Button variant="quiet" title="For gear with a channel that means something of its own" onClick={add}>
        <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
        Extra channel
      </Button>
    </>
  );
}
