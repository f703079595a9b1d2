import { PlainNumber, PlainValue, whole } from '@idle-step/contract';
import type { World } from '@idle-step/core/engine';
import { NumberField, Pick } from '../ui/Fields';
import { receivers } from './actionKinds';
import { NoteField } from './NoteField';
import { channelOptions } from './channelOptions';
import type { Fields } from './fields';

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
