import { CurvePick } from '../../ui/CurvePick';
import { Name, PlainNumber, PlainValue, RampAmount, whole, type ActionDoc } from '@idle-step/contract';
import type { World } from '@idle-step/core/engine';
import { noteLabel, parseNote } from '@idle-step/core/midi';
import { useWorld } from '../../live/useLive';
import { NumberField, Pick, TextField, TypedField } from '../../ui/Fields';
import { armsTrack, outputs, receivers } from './actionKinds';
import { FunctionPick, ValuePick } from '../../gear/FunctionPick';

type Fields<K extends ActionDoc['kind']> = {
  action: ActionDoc & { kind: K };
  onChange(action: ActionDoc): void;
};

/** A function that goes on while the others that name the same circle go off. */
export function OneOfFields({ action, onChange }: Fields<'one-of'>) {
  return (
    <>
      <FunctionPick
        functionId={action.functionId}
        accepts={(fn) => fn.shape.kind === 'switch'}
        onPick={(fn) => onChange({ ...action, functionId: fn.id })}
      />
      <TextField
        label="The others say the same name"
        value={action.circle}
        schema={Name}
        onCommit={(circle) => onChange({ ...action, circle })}
      />
    </>
  );
}

/** A glide: from where to where, how long, along which curve. */
export function RampFields({ action, onChange }: Fields<'ramp'>) {
  const { amount, unit } = action.time;
  return (
    <>
      <FunctionPick
        functionId={action.functionId}
        accepts={(fn) => fn.shape.kind === 'range'}
        onPick={(fn) =>
          fn.shape.kind === 'range' &&
          onChange({ ...action, functionId: fn.id, from: null, to: fn.shape.max })
        }
      />
      <Pick
        label="From"
        value={action.from === null ? 'now' : 'value'}
        options={[
          { value: 'now', text: 'where it is' },
          { value: 'value', text: 'a value' },
        ]}
        onPick={(from) => onChange({ ...action, from: from === 'now' ? null : action.to })}
      />
      {action.from !== null && (
        <ValuePick
          label="From value"
          functionId={action.functionId}
          value={action.from}
          onPick={(from) => onChange({ ...action, from })}
        />
      )}
      <ValuePick
        label="To"
        functionId={action.functionId}
        value={action.to}
        onPick={(to) => onChange({ ...action, to })}
      />
      <NumberField
        label="In"
        className="narrow"
        value={amount}
        schema={RampAmount}
        onCommit={(n) => onChange({ ...action, time: { amount: n, unit } })}
      />
      <Pick
        hideLabel
        label="Unit of the glide"
        className="narrow"
        value={unit}
        options={[
          { value: 's', text: 's' },
          { value: 'beats', text: 'beats' },
        ]}
        onPick={(u) => onChange({ ...action, time: { amount, unit: u } })}
      />
      <CurvePick label="Curve" value={action.curve} onPick={(curve) => onChange({ ...action, curve })} />
    </>
  );
}

/** Channels 1–16, with the device's own one first. */
export const channelOptions = (own: number | null): { value: number; text: string }[] => [
  { value: -1, text: own === null ? 'its own' : `its own, ${own + 1}` },
  ...Array.from({ length: 16 }, (_, i) => ({ value: i, text: String(i + 1) })),
];

/** A note, controller or program by its number, whether or not a chart names it. */
export function MessageFields({ world, action, onChange }: Fields<'message'> & { world: World }) {
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
        options={[
          { value: 'note', text: 'note while down' },
          { value: 'controller', text: 'controller' },
          { value: 'program', text: 'program' },
        ]}
        onPick={(send) => onChange({ ...action, send })}
      />
      {action.send === 'note' ? (
        <NoteField
          label="Note"
          value={action.number}
          onCommit={(number) => onChange({ ...action, number })}
        />
      ) : (
        <NumberField
          label={action.send === 'program' ? 'Program' : 'Controller'}
          className="narrow"
          value={action.number}
          shownOffset={action.send === 'program' ? (device?.programsShownFrom ?? 0) : 0}
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

/** A note by number or name, shown as both. */
export function NoteField({
  label,
  value,
  onCommit,
}: {
  label: string;
  value: number;
  onCommit(note: number): void;
}) {
  const { middleC } = useWorld().show.rig;
  return (
    <TypedField
      label={label}
      className="narrow"
      numeric
      shown={noteLabel(value, middleC)}
      parse={(text) => {
        const result = parseNote(text.trim().split(/\s+/)[0] ?? '', middleC);
        return result.ok
          ? { value: result.value }
          : { error: `“${text}” is no note; 0 to 127 or a name like C3 would be right.` };
      }}
      onCommit={onCommit}
    />
  );
}

/** The device whose tracks are armed one after the other. */
export function ArmStepFields({ world, action, onChange }: Fields<'arm-step'> & { world: World }) {
  const hosts = [...world.ways.values()].filter(({ device }) => device.chart.some(armsTrack));
  return (
    <>
      <Pick
        label="Of"
        value={action.deviceId}
        options={hosts.map(({ device }) => ({ value: device.id, text: device.name }))}
        onPick={(deviceId) => onChange({ ...action, deviceId })}
      />
      <Pick
        label="Which"
        value={action.to}
        options={[
          { value: 'next', text: 'the next track' },
          { value: 'previous', text: 'the track before' },
        ]}
        onPick={(to) => onChange({ ...action, to })}
      />
    </>
  );
}

/** The route or gate that a switch works. A gate that follows something else is moved by that again. */
export function RouteFields({ world, action, onChange }: Fields<'route'> & { world: World }) {
  const { routes } = world.routes.routing;
  const isGate = action.part === 'gate';
  return (
    <>
      <Pick
        label="Route"
        value={action.routeId}
        options={routes.map((r) => ({ value: r.id, text: r.name }))}
        onPick={(routeId) => onChange({ ...action, routeId })}
      />
      <Pick
        label="What of it"
        value={action.part}
        options={[
          { value: 'route', text: 'the route itself' },
          { value: 'gate', text: 'its gate' },
        ]}
        onPick={(part) => onChange({ ...action, part })}
      />
      <Pick
        label="Switches it"
        value={action.to}
        options={[
          { value: 'turn', text: isGate ? 'open or close' : 'on or off' },
          { value: 'on', text: isGate ? 'open' : 'on' },
          { value: 'off', text: isGate ? 'close' : 'off' },
        ]}
        onPick={(to) => onChange({ ...action, to })}
      />
    </>
  );
}

export function ClockFields({ world, action, onChange }: Fields<'clock'> & { world: World }) {
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
        options={[
          { value: 'start', text: 'start' },
          { value: 'continue', text: 'continue' },
          { value: 'stop', text: 'stop' },
        ]}
        onPick={(to) => onChange({ ...action, to })}
      />
    </>
  );
}

/** The group whose page is turned, and to which. */
export function PageFields({
  world,
  boardIndex,
  action,
  onChange,
}: Fields<'page'> & { world: World; boardIndex: number }) {
  const groups = world.boards[boardIndex]?.groups ?? [];
  const pages = groups.find((g) => g.group.id === action.groupId)?.pages ?? [];
  const { to } = action;
  return (
    <>
      <Pick
        label="Of the group"
        value={action.groupId}
        options={groups.map(({ group }) => ({ value: group.id, text: group.name }))}
        onPick={(groupId) => onChange({ ...action, groupId, to: { kind: 'up' } })}
      />
      <Pick
        label="To"
        value={to.kind === 'bank' ? to.bankId : to.kind}
        options={[
          { value: 'up', text: 'the next, round at the end' },
          { value: 'down', text: 'the one before, round at the end' },
          ...pages.map(({ bank }) => ({ value: bank.id, text: bank.name })),
        ]}
        onPick={(id) =>
          onChange({
            ...action,
            to: id === 'up' || id === 'down' ? { kind: id } : { kind: 'bank', bankId: id },
          })
        }
      />
    </>
  );
}
