import type { FullRig } from '@idle-step/core/routing';
import {
  type Device,
  BANK_SELECT_HABITS,
  DEVICE_ROLES,
  TAPE_COLOURS,
  TAPE_SHAPES,
  type Listening,
} from '@idle-step/core/gear';
import { readWhole } from '@idle-step/core/typed';
import { ChannelNumber, Name, Remark } from '@idle-step/contract';
import { Form } from 'react-bootstrap';
import { NumberField, Pick, TextField, TypedField } from '../../ui/Fields';
import { TapeMark } from '../../ui/TapeMark';
import { ExtraChannels } from './ExtraChannels';
import { ProgramCounting } from './chart/ProgramCounting';
import { SettingEditor } from './SettingEditor';

type Props = {
  rig: FullRig;
  device: Device;
  change(label: string, part: Partial<Device>): void;
};

const ROLE_WORDS = {
  controller: 'sends what feet do',
  receiver: 'answers',
  carrier: 'only passes on',
} as const;
const BANK_WORDS = { both: 'MSB and LSB', msb: 'MSB only', lsb: 'LSB only', none: 'no bank select' } as const;
const PANIC_WORDS = { cut: 'all sound off', spared: 'only all notes off' } as const;
const LISTENS_WORDS: readonly { value: Listening['kind']; text: string }[] = [
  { value: 'one', text: 'its own channel' },
  { value: 'omni', text: 'every channel (omni)' },
  { value: 'several', text: 'several channels' },
  { value: 'parts', text: 'a part per channel' },
];

/** One device: what it is, how it is marked, and which channels it hears. Edited in place. */
export function DeviceSettings({ device, change }: Props) {
  const setMark = (part: Partial<Device['mark']>) =>
    change('change a tape mark', { mark: { ...device.mark, ...part } });
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
        <TextField
          label="Where it stands"
          value={device.place}
          schema={Remark}
          onCommit={(place) => change('place a device', { place })}
        />
        <Pick
          label="Role"
          value={device.role}
          options={DEVICE_ROLES.map((value) => ({ value, text: ROLE_WORDS[value] }))}
          onPick={(role) => change('change a role', { role })}
        />
        <Pick
          label="Tape mark"
          value={device.mark.shape}
          options={TAPE_SHAPES.map((value) => ({ value, text: value }))}
          onPick={(shape) => setMark({ shape })}
        />
        <Pick
          label="Its colour"
          value={device.mark.colour}
          options={TAPE_COLOURS.map((value) => ({ value, text: value }))}
          onPick={(colour) => setMark({ colour })}
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
      </div>
      {device.role !== 'carrier' && (
        <div className="device-fields">
          <NumberField
            label="Channel"
            className="narrow"
            value={device.channel}
            shownOffset={1}
            schema={ChannelNumber}
            onCommit={(channel) => change('change a channel', { channel })}
          />
          {device.role === 'receiver' && <Answers device={device} change={change} />}
        </div>
      )}
      {device.role === 'receiver' && (
        <div className="device-fields">
          <SettingEditor device={device} change={change} />
          <ExtraChannels device={device} change={change} />
        </div>
      )}
    </section>
  );
}

/** What it hears, and how it wants to be spoken to. */
function Answers({ device, change }: Omit<Props, 'rig'>) {
  const { listens } = device;
  const fresh: Record<Listening['kind'], Listening> = {
    one: { kind: 'one' },
    omni: { kind: 'omni' },
    several: { kind: 'several', channels: [device.channel] },
    parts: { kind: 'parts', count: Math.min(4, 16 - device.channel) },
  };
  const set = (next: Listening) => change('change what is heard', { listens: next });
  return (
    <>
      <Pick
        label="Listens on"
        value={listens.kind}
        options={LISTENS_WORDS}
        onPick={(kind) => set(fresh[kind])}
      />
      {listens.kind === 'several' && (
        <TypedField
          label="These channels"
          shown={listens.channels.map((c) => c + 1).join(', ')}
          parse={parseChannels}
          onCommit={(channels) => set({ kind: 'several', channels })}
        />
      )}
      {listens.kind === 'parts' && (
        <TypedField
          label="Parts"
          className="narrow"
          numeric
          shown={String(listens.count)}
          parse={(text) => parseParts(text, device.channel)}
          onCommit={(count) => set({ kind: 'parts', count })}
        />
      )}
      {listens.kind === 'parts' && (
        <span className="small muted field-note">
          part 1 on channel {device.channel + 1} to part {listens.count} on channel{' '}
          {device.channel + listens.count}
        </span>
      )}
      <ProgramCounting device={device} onChange={(part) => change('number programs', part)} />
      <Pick
        label="Bank select"
        value={device.bankSelect}
        options={BANK_SELECT_HABITS.map((value) => ({ value, text: BANK_WORDS[value] }))}
        onPick={(bankSelect) => change('change bank select', { bankSelect })}
      />
      <Pick
        label="At panic"
        value={device.soundOffAtPanic ? 'cut' : 'spared'}
        options={(['cut', 'spared'] as const).map((value) => ({ value, text: PANIC_WORDS[value] }))}
        onPick={(value) => change('change what panic says', { soundOffAtPanic: value === 'cut' })}
      />
    </>
  );
}

/** `3, 5, 9-12`, shown 1–16. */
function parseChannels(text: string): { value: number[] } | { error: string } {
  const channels = new Set<number>();
  for (const piece of text.split(/[\s,;]+/).filter(Boolean)) {
    const match = /^(\d+)(?:[-–](\d+))?$/.exec(piece);
    const [from, to] = [Number(match?.[1]), Number(match?.[2] ?? match?.[1])];
    if (!(from >= 1 && to <= 16 && from <= to))
      return { error: `“${piece}” is no channel; 1 to 16 like 3, 5, 9-12 would be right.` };
    for (let c = from; c <= to; c++) channels.add(c - 1);
  }
  if (channels.size === 0) return { error: 'One channel at least; 1 to 16 like 3, 5 would be right.' };
  return { value: [...channels].sort((a, b) => a - b) };
}

function parseParts(text: string, channel: number): { value: number } | { error: string } {
  const count = readWhole(text);
  const most = 16 - channel;
  return count !== null && count >= 2 && count <= most
    ? { value: count }
    : { error: `“${text}” parts from channel ${channel + 1} on do not fit; 2 to ${most} would be right.` };
}
