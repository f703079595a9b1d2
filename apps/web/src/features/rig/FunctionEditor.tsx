import {
  ChartFunctionSchema,
  ControllerNumber,
  DataByte,
  measure,
  Name,
  NoteNumber,
  whole,
  type DeviceDoc,
} from '@idle-step/contract';
import type { ChartFunction, Drive, FunctionKind, FunctionShape } from '@idle-step/core/gear';
import { MAX_TRACK, TRANSPORT, type TransportCommand } from '@idle-step/core/midi';
import { CircleAlert } from 'lucide-react';
import { useState } from 'react';
import { z } from 'zod';
import { NumberField, Pick, TextField, TypedField } from '../../ui/Fields';

type FunctionDoc = DeviceDoc['chart'][number];
type Props = { device: DeviceDoc; fn: FunctionDoc; onChange(fn: FunctionDoc): void };

const DRIVES: readonly { value: Drive['kind']; text: string }[] = [
  { value: 'controller', text: 'controller' },
  { value: 'note', text: 'note' },
  { value: 'program', text: 'program change' },
  { value: 'transport', text: 'machine transport' },
  { value: 'record-ready', text: 'machine record-ready' },
];

const KINDS: Record<Drive['kind'], readonly FunctionKind[]> = {
  controller: ['trigger', 'switch', 'range', 'choice'],
  note: ['trigger', 'switch'],
  program: ['program'],
  transport: ['trigger'],
  'record-ready': ['switch'],
};

const COMMANDS = (Object.keys(TRANSPORT) as TransportCommand[]).map((value) => ({
  value,
  text: value.replaceAll('-', ' '),
}));

/** One row of a chart, opened. What the contract refuses is said at once and not taken over. */
export function FunctionEditor({ device, fn, onChange }: Props) {
  const [sentence, setSentence] = useState<string | null>(null);
  const change = (part: Partial<ChartFunction>) => {
    const next = { ...fn, ...part } as FunctionDoc;
    const taken = device.chart.some(
      (f) => f.id !== fn.id && f.name.toLowerCase() === next.name.toLowerCase(),
    );
    const result = ChartFunctionSchema.safeParse(next);
    if (taken) setSentence(`${device.name} has a function called ${next.name} already.`);
    else if (!result.success) setSentence(result.error.issues[0]!.message);
    else {
      setSentence(null);
      onChange(next);
    }
  };
  return (
    <div className="function-editor">
      <TextField label="Name" value={fn.name} schema={Name} onCommit={(name) => change({ name })} />
      <Pick
        label="Driven by"
        value={fn.drive.kind}
        options={DRIVES}
        onPick={(kind) => change(withDrive(fn, kind))}
      />
      <DriveFields drive={fn.drive} onChange={(drive) => change({ drive })} />
      {KINDS[fn.drive.kind].length > 1 && (
        <Pick
          label="Kind"
          value={fn.shape.kind}
          options={KINDS[fn.drive.kind].map((value) => ({ value, text: value }))}
          onPick={(kind) => change({ shape: freshShape(kind), arms: kind === 'switch' ? fn.arms : null })}
        />
      )}
      <ShapeFields shape={fn.shape} drive={fn.drive} onChange={(shape) => change({ shape })} />
      <NumberField
        label="Settles in, ms"
        className="narrow"
        value={fn.settleMs}
        schema={measure('Settle time', 0, 10_000, 'ms')}
        onCommit={(settleMs) => change({ settleMs })}
      />
      {fn.shape.kind === 'switch' && (
        <TypedField
          label="Arms the track"
          shown={fn.arms ?? ''}
          placeholder="none"
          parse={(text) => ({ value: text.trim() === '' ? null : text.trim() })}
          onCommit={(arms) => change({ arms })}
        />
      )}
      {sentence && (
        <p className="field-error" role="alert">
          <CircleAlert size={14} aria-hidden="true" />
          {sentence}
        </p>
      )}
    </div>
  );
}

function DriveFields({ drive, onChange }: { drive: Drive; onChange(drive: Drive): void }) {
  switch (drive.kind) {
    case 'controller':
      return (
        <NumberField
          label="CC"
          className="narrow"
          value={drive.controller}
          schema={ControllerNumber}
          onCommit={(controller) => onChange({ kind: 'controller', controller })}
        />
      );
    case 'note':
      return (
        <NumberField
          label="Note"
          className="narrow"
          value={drive.note}
          schema={NoteNumber}
          onCommit={(note) => onChange({ kind: 'note', note })}
        />
      );
    case 'program':
      return (
        <TypedField
          label="Bank select, MSB/LSB"
          shown={drive.bank === null ? '' : `${drive.bank >> 7}/${drive.bank & 127}`}
          placeholder="none"
          parse={parseBank}
          onCommit={(bank) => onChange({ kind: 'program', bank })}
        />
      );
    case 'transport':
      return (
        <Pick
          label="Command"
          value={drive.command}
          options={COMMANDS}
          onPick={(command) => onChange({ kind: 'transport', command })}
        />
      );
    case 'record-ready':
      return (
        <NumberField
          label="Track"
          className="narrow"
          value={drive.track}
          schema={whole('Track', 1, MAX_TRACK)}
          onCommit={(track) => onChange({ kind: 'record-ready', track })}
        />
      );
  }
}

function parseBank(text: string): { value: number | null; error?: undefined } | { error: string } {
  if (text.trim() === '') return { value: null };
  const match = /^(\d{1,3})\s*\/\s*(\d{1,3})$/.exec(text.trim());
  const [msb, lsb] = match ? [Number(match[1]), Number(match[2])] : [NaN, NaN];
  if (!(msb <= 127 && lsb <= 127))
    return { error: `“${text}” is no bank; two numbers 0 to 127 like 1/0 would be right.` };
  return { value: (msb << 7) | lsb };
}

function ShapeFields({
  shape,
  drive,
  onChange,
}: {
  shape: FunctionShape;
  drive: Drive;
  onChange(shape: FunctionShape): void;
}) {
  const number = (label: string, value: number, set: (n: number) => FunctionShape) => (
    <NumberField
      label={label}
      className="narrow"
      value={value}
      schema={DataByte}
      onCommit={(n) => onChange(set(n))}
    />
  );
  switch (shape.kind) {
    case 'trigger':
      return drive.kind === 'transport' ? null : number('Sends', shape.sent, (sent) => ({ ...shape, sent }));
    case 'switch':
      if (drive.kind === 'record-ready') return null;
      return (
        <>
          {number('Off', shape.off, (off) => ({ ...shape, off }))}
          {number('On', shape.on, (on) => ({ ...shape, on }))}
        </>
      );
    case 'range':
      return (
        <>
          {number('Lowest', shape.min, (min) => ({ ...shape, min }))}
          {number('Highest', shape.max, (max) => ({ ...shape, max }))}
          {number('Lowest is shown as', shape.shownFrom, (shownFrom) => ({ ...shape, shownFrom }))}
        </>
      );
    case 'choice':
      return (
        <>
          {number('First is sent as', shape.first, (first) => ({ ...shape, first }))}
          {number('First is shown as', shape.shownFrom, (shownFrom) => ({ ...shape, shownFrom }))}
          <NamesField names={shape.labels} onCommit={(labels) => onChange({ ...shape, labels })} />
        </>
      );
    case 'program':
      return null;
  }
}

function NamesField({ names, onCommit }: { names: readonly string[]; onCommit(names: string[]): void }) {
  return (
    <TextField
      label="Values in order, with commas"
      className="wide"
      value={names.join(', ')}
      schema={z.string().refine((t) => t.trim() !== '', { error: 'A choice needs at least one value.' })}
      onCommit={(text) => onCommit(text.split(',').map((name) => name.trim()))}
    />
  );
}

function freshShape(kind: FunctionKind): FunctionShape {
  switch (kind) {
    case 'trigger':
      return { kind, sent: 127 };
    case 'switch':
      return { kind, off: 0, on: 127 };
    case 'range':
      return { kind, min: 0, max: 127, shownFrom: 0 };
    case 'choice':
      return { kind, first: 0, shownFrom: 1, labels: ['1', '2', '3', '4'] };
    case 'program':
      return { kind, names: [] };
  }
}

/** A drive of another kind, with a shape that goes with it. */
function withDrive(fn: FunctionDoc, kind: Drive['kind']): { drive: Drive; shape: FunctionShape } {
  const drives: Record<Drive['kind'], Drive> = {
    controller: { kind: 'controller', controller: 20 },
    note: { kind: 'note', note: 60 },
    program: { kind: 'program', bank: null },
    transport: { kind: 'transport', command: 'play' },
    'record-ready': { kind: 'record-ready', track: 1 },
  };
  const stays = KINDS[kind].includes(fn.shape.kind);
  return { drive: drives[kind], shape: stays ? fn.shape : freshShape(KINDS[kind][0]!) };
}
