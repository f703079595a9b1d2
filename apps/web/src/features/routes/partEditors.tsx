import {
  ControllerNumber,
  DataByte,
  type RigDoc,
  type RouteDoc,
  type SongDoc,
  whole,
} from '@idle-step/contract';
import {
  CHANGED_KINDS,
  numbersText,
  numberTableText,
  parseNumbers,
  parseNumberTable,
  PLAIN_MODULATION,
  ROUTE_KINDS,
} from '@idle-step/core/routing';
import type { Result } from '@idle-step/core';
import { Plus, Trash2 } from 'lucide-react';
import { Button, Form } from 'react-bootstrap';
import { NumberField, Pick, TypedField } from '../../ui/Fields';
import { IconButton } from '../../ui/IconButton';
import { ManyPick } from './ManyPick';
import { inPieces } from '../../ui/inPieces';
import { destinationOptions, sourceOptions } from './routePorts';
import { KIND_WORDS } from './routeWords';

const ModulationFields = inPieces(
  () => import('./ModulationFields').then((m) => m.ModulationFields),
  <p className="muted small">Drawing …</p>,
);

/** The fields of each part of a route's sentence. */

type Props = { rig: RigDoc; route: RouteDoc; onChange(route: RouteDoc): void };

const KIND_OPTIONS = ROUTE_KINDS.map((value) => ({ value, text: KIND_WORDS[value] }));
const CHANNEL_OPTIONS = Array.from({ length: 16 }, (_, value) => ({ value, text: String(value + 1) }));
const CURVE_OPTIONS = [
  { value: 'linear', text: 'straight' },
  { value: 'audio', text: 'audio taper' },
  { value: 'reverse-audio', text: 'reverse audio' },
  { value: 's', text: 's-shaped' },
] as const;

const typed = <T,>(read: Result<T, string>): { value: T } | { error: string } =>
  read.ok ? { value: read.value } : { error: read.error };

/** A number from 0 to 127, or nothing. */
function optional(
  text: string,
  refusal: (text: string) => string,
): { value: number | null } | { error: string } {
  if (text.trim() === '') return { value: null };
  const read = DataByte.safeParse(Number(text));
  return read.success ? { value: read.data } : { error: refusal(text) };
}

export function FromEditor({ rig, route, onChange }: Props) {
  return (
    <ManyPick
      legend="Comes by"
      none="any input"
      options={sourceOptions(rig)}
      chosen={route.from.portIds}
      onChange={(portIds) => onChange({ ...route, from: { ...route.from, portIds } })}
    />
  );
}

export function WhatEditor({ rig, route, onChange }: Props) {
  const { from } = route;
  const set = (part: Partial<RouteDoc['from']>) => onChange({ ...route, from: { ...from, ...part } });
  return (
    <>
      <ManyPick
        legend="Kinds"
        none="everything"
        options={KIND_OPTIONS}
        chosen={from.kinds}
        onChange={(kinds) => set({ kinds })}
      />
      <ManyPick
        legend="Channels"
        none="any"
        options={CHANNEL_OPTIONS}
        chosen={from.channels}
        onChange={(channels) => set({ channels })}
      />
      <div className="field-row">
        <TypedField
          label="Numbers"
          className="wide"
          placeholder="any; or 7, 20 to 27, C3 to B3"
          shown={numbersText(from.numbers)}
          parse={(text) => typed(parseNumbers(text, rig.middleC))}
          onCommit={(numbers) => set({ numbers: numbers.map((s) => ({ ...s })) })}
        />
        <NumberField
          label="Lowest value"
          className="narrow"
          value={from.values?.from ?? 0}
          schema={DataByte}
          onCommit={(value) => set({ values: spanOf(value, from.values?.to ?? 127) })}
        />
        <NumberField
          label="Highest value"
          className="narrow"
          value={from.values?.to ?? 127}
          schema={DataByte}
          onCommit={(value) => set({ values: spanOf(from.values?.from ?? 0, value) })}
        />
      </div>
    </>
  );
}

/** All values is no filter at all. */
const spanOf = (a: number, b: number) =>
  Math.min(a, b) === 0 && Math.max(a, b) === 127 ? null : { from: Math.min(a, b), to: Math.max(a, b) };

const AS_OPTIONS = [
  { value: 'keep', text: 'the same kind' },
  ...CHANGED_KINDS.map((value) => ({ value, text: `a ${value.replace('-', ' ')}` })),
] as const;

export function ChangeEditor({ rig, route, onChange }: Props) {
  const { change, modulation } = route;
  const set = (part: Partial<RouteDoc['change']>) => onChange({ ...route, change: { ...change, ...part } });
  const setValue = (part: Partial<RouteDoc['change']['value']>) =>
    set({ value: { ...change.value, ...part } });
  return (
    <>
      <div className="field-row">
        <Pick
          label="Goes on"
          value={modulation ? 'swell' : 'message'}
          options={[
            { value: 'message', text: 'the message itself' },
            { value: 'swell', text: 'a swell that its notes start' },
          ]}
          onPick={(kind) =>
            onChange({ ...route, modulation: kind === 'swell' ? { ...PLAIN_MODULATION } : null })
          }
        />
      </div>
      {modulation ? (
        <ModulationFields
          modulation={modulation}
          onChange={(next) => onChange({ ...route, modulation: next })}
        />
      ) : (
        <>
          <TypedField
            label="Numbers in and out"
            className="wide"
            placeholder="CC 30 to 7, 31 to 10; note 40 to 52"
            shown={numberTableText(change.numbers, rig.middleC)}
            parse={(text) => typed(parseNumberTable(text, rig.middleC))}
            onCommit={(numbers) => set({ numbers: numbers.map((n) => ({ ...n })) })}
          />
          <div className="field-row">
            <NumberField
              label="Transpose, semitones"
              className="narrow"
              value={change.transpose}
              schema={whole('Transposition', -127, 127, ' semitones')}
              onCommit={(transpose) => set({ transpose })}
            />
            <Pick
              label="Channel"
              value={change.channel.kind}
              options={[
                { value: 'keep', text: 'as it is' },
                { value: 'force', text: 'always' },
                { value: 'shift', text: 'moved by' },
              ]}
              onPick={(kind) =>
                set({
                  channel:
                    kind === 'force'
                      ? { kind, channel: 0 }
                      : kind === 'shift'
                        ? { kind, by: 1 }
                        : { kind: 'keep' },
                })
              }
            />
            {change.channel.kind === 'force' && (
              <Pick
                label="Which"
                className="narrow"
                value={change.channel.channel}
                options={CHANNEL_OPTIONS}
                onPick={(channel) => set({ channel: { kind: 'force', channel } })}
              />
            )}
            {change.channel.kind === 'shift' && (
              <NumberField
                label="By"
                className="narrow"
                value={change.channel.by}
                schema={whole('Shift', -15, 15, ' channels')}
                onCommit={(by) => set({ channel: { kind: 'shift', by } })}
              />
            )}
            <Pick
              label="Becomes"
              value={change.as?.kind ?? 'keep'}
              options={AS_OPTIONS}
              onPick={(kind) => set({ as: kind === 'keep' ? null : { kind, number: null } })}
            />
            {change.as && (
              <TypedField
                label="Its number"
                className="narrow"
                numeric
                placeholder="the same"
                shown={change.as.number === null ? '' : String(change.as.number)}
                parse={(text) =>
                  optional(text, (t) => `${t} is no number from 0 to 127; leave it empty to keep the number.`)
                }
                onCommit={(number) => set({ as: { ...change.as!, number } })}
              />
            )}
          </div>
          <div className="field-row">
            <NumberField
              label="Value at the lowest"
              className="narrow"
              value={change.value.from}
              schema={DataByte}
              onCommit={(from) => setValue({ from })}
            />
            <NumberField
              label="Value at the highest"
              className="narrow"
              value={change.value.to}
              schema={DataByte}
              onCommit={(to) => setValue({ to })}
            />
            <Pick
              label="Curve"
              value={change.value.curve}
              options={CURVE_OPTIONS}
              onPick={(curve) => setValue({ curve })}
            />
            <TypedField
              label="Always"
              className="narrow"
              numeric
              placeholder="no"
              shown={change.value.fixed === null ? '' : String(change.value.fixed)}
              parse={(text) =>
                optional(text, (t) => `${t} is no value from 0 to 127; leave it empty to let values through.`)
              }
              onCommit={(fixed) => setValue({ fixed })}
            />
            <Button
              variant="quiet"
              onClick={() => setValue({ from: change.value.to, to: change.value.from })}
            >
              Invert
            </Button>
          </div>
        </>
      )}
    </>
  );
}

type GateBy = NonNullable<RouteDoc['gate']>['by'];

const GATE_OPTIONS = [
  { value: 'none', text: 'always' },
  { value: 'controller', text: 'by a controller' },
  { value: 'function', text: 'by a function' },
  { value: 'scenes', text: 'in some scenes' },
  { value: 'switch', text: 'by a switch' },
] as const;

export function GateEditor({ rig, route, onChange, songs }: Props & { songs: readonly SongDoc[] }) {
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
  const set = (part: Partial<NonNullable<RouteDoc['gate']>>) =>
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
        {by?.kind === 'controller' && (
          <>
            <NumberField
              label="Controller"
              className="narrow"
              value={by.controller}
              schema={ControllerNumber}
              onCommit={(controller) => set({ by: { ...by, controller } })}
            />
            <Pick
              label="On channel"
              className="narrow"
              value={by.channel ?? -1}
              options={[{ value: -1, text: 'any' }, ...CHANNEL_OPTIONS]}
              onPick={(channel) => set({ by: { ...by, channel: channel < 0 ? null : channel } })}
            />
            <Pick
              label="Comes by"
              value={by.portId ?? ''}
              options={[{ value: '', text: 'any input' }, ...sourceOptions(rig)]}
              onPick={(portId) => set({ by: { ...by, portId: portId === '' ? null : portId } })}
            />
          </>
        )}
        {by?.kind === 'function' && (
          <Pick
            label="Function"
            value={by.functionId}
            options={functions}
            onPick={(functionId) => set({ by: { ...by, functionId } })}
          />
        )}
        {(by?.kind === 'controller' || by?.kind === 'function') && (
          <>
            <NumberField
              label="Open from"
              className="narrow"
              value={by.from}
              schema={by.kind === 'controller' ? DataByte : whole('Value', 0, 16383)}
              onCommit={(from) => set({ by: { ...by, from } })}
            />
            <NumberField
              label="to"
              className="narrow"
              value={by.to}
              schema={by.kind === 'controller' ? DataByte : whole('Value', 0, 16383)}
              onCommit={(to) => set({ by: { ...by, to } })}
            />
          </>
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
              options={[
                { value: 'pass', text: 'pass' },
                { value: 'stop', text: 'are stopped' },
              ]}
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

export function ToEditor({ rig, route, onChange }: Props) {
  const options = destinationOptions(rig);
  const set = (to: RouteDoc['to']) => onChange({ ...route, to });
  return (
    <>
      {route.to.map((t, i) => (
        <div className="field-row" key={i}>
          <Pick
            label={`Destination ${i + 1}`}
            value={t.portId}
            options={
              options.some((o) => o.value === t.portId)
                ? options
                : [{ value: t.portId, text: 'a port that is gone' }, ...options]
            }
            onPick={(portId) => set(route.to.map((x, k) => (k === i ? { ...x, portId } : x)))}
          />
          <Pick
            label={`Channel of ${i + 1}`}
            className="narrow"
            value={t.channel ?? -1}
            options={[{ value: -1, text: 'as it is' }, ...CHANNEL_OPTIONS]}
            onPick={(channel) =>
              set(route.to.map((x, k) => (k === i ? { ...x, channel: channel < 0 ? null : channel } : x)))
            }
          />
          <IconButton
            icon={Trash2}
            label={`Remove destination ${i + 1}`}
            onClick={() => set(route.to.filter((_, k) => k !== i))}
          />
        </div>
      ))}
      <div className="field-row">
        <Button
          variant="bare"
          disabled={options.length === 0}
          onClick={() => set([...route.to, { portId: options[0]!.value, channel: null }])}
        >
          <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
          Add a destination
        </Button>
        <Form.Check
          id={`${route.id}-after`}
          type="checkbox"
          label="offer the message to the routes below as well"
          checked={route.after === 'pass'}
          onChange={(e) => onChange({ ...route, after: e.target.checked ? 'pass' : 'stop' })}
        />
      </div>
      {options.length === 0 && (
        <p className="small muted">No output is at the computer yet; add one in Rig.</p>
      )}
    </>
  );
}
