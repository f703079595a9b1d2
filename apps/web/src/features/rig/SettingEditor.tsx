import type { Device } from '@idle-step/core/gear';
import { Name } from '@idle-step/contract';
import { Plus, X } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { Pick, TextField, TypedField } from '../../ui/Fields';
import { IconButton } from '../../ui/IconButton';
import { renamedIn } from '../../edits/rigEdits';
import { nth } from '@idle-step/core/sure';

type Props = { device: Device; change(label: string, part: Partial<Device>): void };

/** A setting of the device that changes what it answers to, with the option in force. */
export function SettingEditor({ device, change }: Props) {
  const { setting } = device;
  if (!setting)
    return (
      <Button
        variant="quiet"
        title="For gear with a setting that changes its chart, such as one that keeps numbers for its front panel"
        onClick={() =>
          change('add a setting', { setting: { name: 'Mode', options: ['A', 'B'], inForce: 'A' } })
        }
      >
        <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
        Setting that changes the chart
      </Button>
    );
  return (
    <>
      <TextField
        label="Setting"
        value={setting.name}
        schema={Name}
        onCommit={(name) => change('rename a setting', { setting: { ...setting, name } })}
      />
      <TypedField
        label="Its options, with commas"
        shown={setting.options.join(', ')}
        parse={parseOptions}
        onCommit={(options) => change('change the options', withOptions(device, setting, options))}
      />
      <Pick
        label="Now"
        value={setting.inForce}
        options={setting.options.map((value) => ({ value, text: value }))}
        onPick={(inForce) => change(`set ${setting.name}`, { setting: { ...setting, inForce } })}
      />
      <IconButton
        icon={X}
        label={`Remove the setting ${setting.name}; its rows then always hold`}
        onClick={() =>
          change('remove a setting', {
            setting: null,
            chart: setting.options.reduce((chart, o) => renamedIn(chart, 'under', o, null), device.chart),
          })
        }
      />
    </>
  );
}

/** Options renamed in place carry their rows along; those taken out leave rows that always hold. */
function withOptions(
  device: Device,
  setting: NonNullable<Device['setting']>,
  options: string[],
): Partial<Device> {
  const renamed = new Map(
    setting.options.map((old, i) => [
      old,
      options.includes(old) ? old : options.length === setting.options.length ? nth(options, i) : null,
    ]),
  );
  return {
    setting: {
      ...setting,
      options,
      inForce: renamed.get(setting.inForce) ?? nth(options, 0),
    },
    chart: device.chart.map((f) => (f.under === null ? f : { ...f, under: renamed.get(f.under) ?? null })),
  };
}

function parseOptions(text: string): { value: string[] } | { error: string } {
  const options = text
    .split(',')
    .map((o) => o.trim())
    .filter(Boolean);
  if (options.length < 2) return { error: 'A setting needs at least two options, with a comma between.' };
  return new Set(options).size === options.length
    ? { value: options }
    : { error: 'An option is there twice.' };
}
