import type { FullRig, Route } from '@idle-step/core/routing';
import type { Song } from '@idle-step/core/show';
import { ControllerNumber, DataByte, whole } from '@idle-step/contract';
import { SOUND_LIMIT } from '@idle-step/core/gear';
import { NumberField, Pick } from '../../../ui/Fields';
import { ManyPick } from '../ManyPick';
import { sourceOptions } from '../routePorts';

import { CHANNEL_OPTIONS, KIND_OPTIONS, type PartProps } from './partFields';

type GateBy = NonNullable<Route['gate']>['by'];

const GATE_OPTIONS = [
  { value: 'none', text: 'always' },
  { value: 'controller', text: 'by a controller' },
  { value: 'function', text: 'by a function' },
  { value: 'scenes', text: 'in some scenes' },
  { value: 'switch', text: 'by a switch' },
] as const;

/** When it is open. */
export function GateEditor({ rig, route, onChange, songs }: PartProps & { songs: readonly Song[] }) {
  const { gate } = route;
  const functions = rig.devices.flatMap((d) =>
    d.chart
      .filter((f) => f.shape.kind !== 'trigger')
      .map((f) => ({ value: f.id, text: `${d.name} ${f.name}` })),
  );
  const byOf = (kind: GateBy['kind']): GateBy => {
    switch (kind) {
      case 'controller':
        return { kind, portId: null, channel: null, controller: 20, from: 64, to: 127 };
      case 'function':
        return { kind, functionId: functions[0]?.value ?? '', from: 1, to: 127 };
      case 'scenes':
        return { kind, sceneIds: [] };
      case 'switch':
        return { kind };
    }
  };
  const set = (part: Partial<NonNullable<Route['gate']>>) =>
    gate && onChange({ ...route, gate: { ...gate, ...part } });
  const by = gate?.by;
  return (
    <>
      <div className="field-row">
        <Pick
          label="Open"
          value={by?.kind ?? 'none'}
          options={functions.length > 0 ? GATE_OPTIONS : GATE_OPTIONS.filter((o) => o.value !== 'function')}
          onPick={(kind) =>
            onChange({
              ...route,
              gate:
                kind === 'none'
                  ? null
                  : gate
                    ? { ...gate, by: byOf(kind) }
                    : { by: byOf(kind), startsOpen: true, holds: [], others: 'pass' },
            })
          }
        />
        {by && (
          <GateBySettings rig={rig} by={by} functions={functions} onChange={(next) => set({ by: next })} />
        )}
      </div>
      {by?.kind === 'scenes' &&
        songs.map((song) => (
          <ManyPick
            key={song.id}
            legend={song.name}
            none="closed"
            options={song.scenes.map((s) => ({ value: s.id, text: s.name }))}
            chosen={by.sceneIds.filter((id) => song.scenes.some((s) => s.id === id))}
            onChange={(chosen) =>
              set({
                by: {
                  ...by,
                  sceneIds: [...by.sceneIds.filter((id) => !song.scenes.some((s) => s.id === id)), ...chosen],
                },
              })
            }
          />
        ))}
      {gate && (
        <>
          <div className="field-row">
            <Pick
              label="Until then"
              value={gate.startsOpen ? 'open' : 'closed'}
              options={[
                { value: 'open', text: 'it is open' },
                { value: 'closed', text: 'it is closed' },
              ]}
              onPick={(start) => set({ startsOpen: start === 'open' })}
            />
            <Pick
              label="Other kinds"
              value={gate.others}
              options={['pass', { value: 'stop', text: 'are stopped' }]}
              onPick={(others) => set({ others })}
            />
          </div>
          <ManyPick
            legend="Holds back while closed"
            none="everything"
            options={KIND_OPTIONS}
            chosen={gate.holds}
            onChange={(holds) => set({ holds })}
          />
        </>
      )}
    </>
  );
}

/** What opens and closes a gate, and from where to where it is open. */
function GateBySettings({
  rig,
  by,
  functions,
  onChange,
}: {
  rig: FullRig;
  by: GateBy;
  functions: readonly { value: string; text: string }[];
  onChange(by: GateBy): void;
}) {
  return (
    <>
      {by.kind === 'controller' && (
        <>
          <NumberField
            label="Controller"
            className="narrow"
            value={by.controller}
            schema={ControllerNumber}
            onCommit={(controller) => onChange({ ...by, controller })}
          />
          <Pick
            label="On channel"
            className="narrow"
            value={by.channel ?? -1}
            options={[{ value: -1, text: 'any' }, ...CHANNEL_OPTIONS]}
            onPick={(channel) => onChange({ ...by, channel: channel < 0 ? null : channel })}
          />
          <Pick
            label="Input"
            value={by.portId ?? ''}
            options={[{ value: '', text: 'any input' }, ...sourceOptions(rig)]}
            onPick={(portId) => onChange({ ...by, portId: portId === '' ? null : portId })}
          />
        </>
      )}
      {by.kind === 'function' && (
        <Pick
          label="Function"
          value={by.functionId}
          options={functions}
          onPick={(functionId) => onChange({ ...by, functionId })}
        />
      )}
      {(by.kind === 'controller' || by.kind === 'function') && (
        <>
          <NumberField
            label="Open from"
            className="narrow"
            value={by.from}
            schema={by.kind === 'controller' ? DataByte : whole('Value', 0, SOUND_LIMIT)}
            onCommit={(from) => onChange({ ...by, from })}
          />
          <NumberField
            label="to"
            className="narrow"
            value={by.to}
            schema={by.kind === 'controller' ? DataByte : whole('Value', 0, SOUND_LIMIT)}
            onCommit={(to) => onChange({ ...by, to })}
          />
        </>
      )}
    </>
  );
}
