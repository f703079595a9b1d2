import { PlainNumber, PlainValue, RawByte, whole } from '@idle-step/contract';
import type { World } from '@idle-step/core/engine';
import type { Action } from '@idle-step/core/floor';
import { programSpan, programText, typedProgram, type Device } from '@idle-step/core/gear';
import { hex, noteName, parseBytes } from '@idle-step/core/midi';
import { Clock, Waves } from 'lucide-react';
import { NumberField, Pick, TypedField } from '../../ui/Fields';
import { channelOptions } from '../channelOptions';
import type { ActionEntry, Fields } from '../entry';
import { NoteField } from '../NoteField';
import { outputs, receivers } from '../targets';

export const MESSAGE: ActionEntry<'message'> = {
  text: 'send a note, CC or program',
  sign: null,
  words(action, world) {
    const device = world.ways.get(action.deviceId)?.device;
    const channel = device ? `, channel ${(action.channel ?? device.channel) + 1}` : '';
    return {
      title: device?.name ?? 'a device that is gone',
      value: `${messageWords(world, action)}${channel}`,
    };
  },
  instead: () => null,
  fields: MessageFields,
  begin: ({ deviceId }) =>
    deviceId === undefined
      ? null
      : { kind: 'message', deviceId, channel: null, send: 'note', number: 60, value: 100 },
};

/** Example: `note 60 C3`, `CC 22 value 2`, `program 5`. */
function messageWords(world: World, action: Action & { kind: 'message' }): string {
  switch (action.send) {
    case 'note':
      return `note ${action.number} ${noteName(action.number, world.show.rig.middleC)}`;
    case 'controller':
      return `CC ${action.number} value ${action.value}`;
    case 'program': {
      const device = world.ways.get(action.deviceId)?.device;
      return `program ${device ? programText(device, action.number) : action.number}`;
    }
  }
}

/** A program as its device calls it. */
function ProgramField({
  device,
  value,
  onCommit,
}: {
  device: Device;
  value: number;
  onCommit(program: number): void;
}) {
  return (
    <TypedField
      label="Program"
      className="narrow"
      shown={programText(device, value)}
      parse={(text) => {
        const program = typedProgram(device, text);
        return typeof program === 'number'
          ? { value: program }
          : { error: `“${text}” is no program of ${device.name}; ${programSpan(device)} would be right.` };
      }}
      onCommit={onCommit}
    />
  );
}

/** A note, controller or program by its number, whether or not a chart names it. */
function MessageFields({ world, action, onChange }: Fields<'message'>) {
  const device = world.ways.get(action.deviceId)?.device;
  return (
    <>
      <Pick
        label="To"
        value={action.deviceId}
        options={receivers(world)}
        onPick={(deviceId) => onChange({ ...action, deviceId })}
      />
      <Pick
        label="Sends"
        value={action.send}
        options={[{ value: 'note', text: 'note while down' }, 'controller', 'program']}
        onPick={(send) => onChange({ ...action, send })}
      />
      {action.send === 'note' ? (
        <NoteField
          label="Note"
          value={action.number}
          onCommit={(number) => onChange({ ...action, number })}
        />
      ) : action.send === 'program' && device ? (
        <ProgramField
          device={device}
          value={action.number}
          onCommit={(number) => onChange({ ...action, number })}
        />
      ) : (
        <NumberField
          label="Controller"
          className="narrow"
          value={action.number}
          schema={PlainNumber}
          onCommit={(number) => onChange({ ...action, number })}
        />
      )}
      {action.send !== 'program' && (
        <NumberField
          label={action.send === 'note' ? 'Velocity' : 'Value'}
          className="narrow"
          value={action.value}
          schema={action.send === 'note' ? whole('Velocity', 1, 127) : PlainValue}
          onCommit={(value) => onChange({ ...action, value })}
        />
      )}
      <Pick
        label="Channel"
        className="narrow"
        value={action.channel ?? -1}
        options={channelOptions(device?.channel ?? null)}
        onPick={(channel) => onChange({ ...action, channel: channel < 0 ? null : channel })}
      />
    </>
  );
}

export const RAW: ActionEntry<'raw'> = {
  text: 'send raw bytes',
  sign: Waves,
  words: () => ({ title: 'Raw bytes', value: '' }),
  instead: () => null,
  fields: RawFields,
  begin: ({ portId }) => (portId === undefined ? null : { kind: 'raw', portId, bytes: [] }),
};

/** Bytes that are sent as they are. */
function RawFields({ world, action, onChange }: Fields<'raw'>) {
  return (
    <>
      <Pick
        label="To the port"
        value={action.portId}
        options={outputs(world)}
        onPick={(portId) => onChange({ ...action, portId })}
      />
      <TypedField
        label="Bytes, in hexadecimal"
        className="wide bytes"
        shown={hex(action.bytes)}
        parse={parseHex}
        onCommit={(bytes) => onChange({ ...action, bytes })}
      />
    </>
  );
}

/** Whole messages in hexadecimal, or a sentence that says what is wrong and where. */
function parseHex(text: string): { value: number[]; error?: undefined } | { error: string } {
  const words = text
    .trim()
    .split(/[\s,]+/)
    .filter(Boolean);
  const bytes: number[] = [];
  for (const [i, word] of words.entries()) {
    const byte = /^(0x)?[0-9a-f]{1,2}$/i.test(word) ? Number.parseInt(word.replace(/^0x/i, ''), 16) : NaN;
    if (!RawByte.safeParse(byte).success)
      return { error: `“${word}”, word ${i + 1}, is no byte; two digits 00 to FF like B2 would be right.` };
    bytes.push(byte);
  }
  const fault = parseBytes(bytes).faults[0];
  if (fault)
    return {
      error: `${fault.code.replace('-', ' ')} at byte ${fault.offset + 1}; whole messages like B2 16 02 would be right.`,
    };
  return { value: bytes };
}

export const CLOCK: ActionEntry<'clock'> = {
  text: 'run MIDI clock',
  sign: Clock,
  words: ({ to }) => ({ title: 'MIDI clock', value: to }),
  instead: ({ to }) => ({ start: 'FA, then F8 24 times a beat', continue: 'FB, then F8', stop: 'FC' })[to],
  fields: ClockFields,
  begin: ({ portId }) => (portId === undefined ? null : { kind: 'clock', portId, to: 'start' }),
};

/** Starts, continues or stops MIDI clock at a port. */
function ClockFields({ world, action, onChange }: Fields<'clock'>) {
  return (
    <>
      <Pick
        label="To the port"
        value={action.portId}
        options={outputs(world)}
        onPick={(portId) => onChange({ ...action, portId })}
      />
      <Pick
        label="Sends"
        value={action.to}
        options={['start', 'continue', 'stop']}
        onPick={(to) => onChange({ ...action, to })}
      />
    </>
  );
}
