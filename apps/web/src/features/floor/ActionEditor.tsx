import { measure, RawByte, type ActionDoc } from '@idle-step/contract';
import { parseShown, shownValue, type ChartFunction, type Device } from '@idle-step/core/gear';
import { hex, parseBytes } from '@idle-step/core/midi';
import { useWorld } from '../../live/useLive';
import { Form } from 'react-bootstrap';
import { NumberField, Pick, TypedField } from '../../ui/Fields';
import { whole } from '@idle-step/contract';
import { FunctionPick, ValuePick } from '../../gear/FunctionPick';
import {
  ArmStepFields,
  ClockFields,
  MessageFields,
  OneOfFields,
  PageFields,
  RampFields,
  RouteFields,
} from './actionFields';
import { ACTION_KINDS, armsTrack, endsOf, firstValues, outputs, withKind } from './actionKinds';
import { firstValue } from '../../edits/presetEdits';
import type { World } from '@idle-step/core/engine';

/** One action, opened: what it does, to what, and with which value. */
export function ActionEditor({
  boardIndex,
  action,
  onChange,
}: {
  boardIndex: number;
  action: ActionDoc;
  onChange(action: ActionDoc): void;
}) {
  const world = useWorld();
  return (
    <div className="action-editor">
      <Pick
        label="Does"
        value={action.kind}
        options={ACTION_KINDS.filter(
          ({ value }) => value === action.kind || withKind(world, boardIndex, action, value),
        )}
        onPick={(kind) => {
          const next = withKind(world, boardIndex, action, kind);
          if (next) onChange(next);
        }}
      />
      <Details world={world} boardIndex={boardIndex} action={action} onChange={onChange} />
      <DelayFields action={action} onChange={onChange} />
    </div>
  );
}

function Details({
  world,
  boardIndex,
  action,
  onChange,
}: {
  world: World;
  boardIndex: number;
  action: ActionDoc;
  onChange(action: ActionDoc): void;
}) {
  switch (action.kind) {
    case 'set':
      return (
        <>
          <FunctionPick
            functionId={action.functionId}
            accepts={() => true}
            onPick={(fn) => onChange({ ...action, functionId: fn.id, value: firstValue(fn) })}
          />
          <ValuePick
            functionId={action.functionId}
            value={action.value}
            onPick={(value) => onChange({ ...action, value })}
          />
        </>
      );
    case 'toggle':
      return (
        <FunctionPick
          functionId={action.functionId}
          accepts={(fn) => fn.shape.kind === 'switch'}
          onPick={(fn) => onChange({ ...action, functionId: fn.id })}
        />
      );
    case 'arm-only':
      return (
        <FunctionPick
          functionId={action.functionId}
          accepts={armsTrack}
          onPick={(fn) => onChange({ ...action, functionId: fn.id })}
        />
      );
    case 'momentary':
      return (
        <>
          <FunctionPick
            functionId={action.functionId}
            accepts={(fn) => fn.shape.kind !== 'trigger'}
            onPick={(fn) => onChange({ ...action, functionId: fn.id, ...endsOf(fn) })}
          />
          <ValuePick
            label="Down"
            functionId={action.functionId}
            value={action.down}
            onPick={(down) => onChange({ ...action, down })}
          />
          <ValuePick
            label="Up"
            functionId={action.functionId}
            value={action.up}
            onPick={(up) => onChange({ ...action, up })}
          />
        </>
      );
    case 'step':
      return <StepFields action={action} onChange={onChange} />;
    case 'one-of':
      return <OneOfFields action={action} onChange={onChange} />;
    case 'ramp':
      return <RampFields action={action} onChange={onChange} />;
    case 'message':
      return <MessageFields world={world} action={action} onChange={onChange} />;
    case 'arm-step':
      return <ArmStepFields world={world} action={action} onChange={onChange} />;
    case 'route':
      return <RouteFields world={world} action={action} onChange={onChange} />;
    case 'clock':
      return <ClockFields world={world} action={action} onChange={onChange} />;
    case 'page':
      return <PageFields world={world} boardIndex={boardIndex} action={action} onChange={onChange} />;
    case 'tap':
      return <p className="small muted">The time between two taps is a beat.</p>;
    case 'raw':
      return <RawFields world={world} action={action} onChange={onChange} />;
    case 'bank':
      return <BankPick world={world} action={action} onChange={onChange} />;
    case 'scene':
      return (
        <>
          <Pick
            label="Which"
            value={action.to.kind}
            options={[
              { value: 'next', text: 'the next' },
              { value: 'previous', text: 'the one before' },
              { value: 'at', text: 'by number' },
            ]}
            onPick={(kind) => onChange({ ...action, to: kind === 'at' ? { kind, index: 0 } : { kind } })}
          />
          {action.to.kind === 'at' && (
            <NumberField
              label="Scene"
              className="narrow"
              value={action.to.index}
              shownOffset={1}
              schema={whole('Scene', 0, 199)}
              onCommit={(index) => onChange({ ...action, to: { kind: 'at', index } })}
            />
          )}
        </>
      );
    case 'song':
      return (
        <Pick
          label="Which"
          value={action.to}
          options={[
            { value: 'next', text: 'the next' },
            { value: 'previous', text: 'the one before' },
          ]}
          onPick={(to) => onChange({ ...action, to })}
        />
      );
    case 'panic':
      return (
        <p className="small muted">Ends every note, lifts dampers, all sound off, on every channel in use.</p>
      );
  }
}

/** The values in the order in which they come, as people see them. */
function StepFields({
  action,
  onChange,
}: {
  action: ActionDoc & { kind: 'step' };
  onChange(action: ActionDoc): void;
}) {
  const world = useWorld();
  const found = world.functions.get(action.functionId);
  const shown = found
    ? action.values.map((v) => shownValue(found.device, found.fn, v)).map((v) => v.number || v.label)
    : action.values.map(String);
  return (
    <>
      <FunctionPick
        functionId={action.functionId}
        accepts={(fn) => fn.shape.kind !== 'trigger'}
        onPick={(fn) => onChange({ ...action, functionId: fn.id, values: firstValues(fn) })}
      />
      <TypedField
        label="Values in order, with commas"
        shown={shown.join(', ')}
        parse={(text) => parseValues(text, found)}
        onCommit={(values) => onChange({ ...action, values })}
      />
      <Pick
        label="Goes"
        value={action.direction}
        options={[
          { value: 'forward', text: 'forward' },
          { value: 'back', text: 'back' },
          { value: 'reset', text: 'to the first' },
        ]}
        onPick={(direction) => onChange({ ...action, direction })}
      />
      <Pick
        label="At the end"
        value={action.atEnd}
        options={[
          { value: 'round', text: 'begins again' },
          { value: 'stop', text: 'stays there' },
        ]}
        onPick={(atEnd) => onChange({ ...action, atEnd })}
      />
    </>
  );
}

function parseValues(
  text: string,
  found: { device: Device; fn: ChartFunction } | undefined,
): { value: number[]; error?: undefined } | { error: string } {
  const pieces = text
    .split(/[,;]/)
    .map((p) => p.trim())
    .filter(Boolean);
  if (!found) return { error: 'The function is gone; pick another one.' };
  if (pieces.length === 0) return { error: 'One value at least.' };
  const values: number[] = [];
  for (const piece of pieces) {
    const parsed = parseShown(found.device, found.fn, piece);
    if (!parsed.ok)
      return { error: `“${piece}” is none of its values; ${parsed.error.expected} would be right.` };
    values.push(parsed.value);
  }
  return { value: values };
}

/** How long the action waits after its gesture, and whether it is left out. */
function DelayFields({ action, onChange }: { action: ActionDoc; onChange(action: ActionDoc): void }) {
  const { amount, unit } = action.delay ?? { amount: 0, unit: 'ms' as const };
  const set = (next: { amount: number; unit: 'ms' | 'beats' }) => {
    const { delay: _before, ...rest } = action;
    onChange((next.amount === 0 && next.unit === 'ms' ? rest : { ...rest, delay: next }) as ActionDoc);
  };
  return (
    <>
      <NumberField
        label="After"
        className="narrow"
        value={amount}
        schema={measure('Delay', 0, unit === 'ms' ? 60_000 : 64, unit)}
        onCommit={(n) => set({ amount: n, unit })}
      />
      <Pick
        hideLabel
        label="Unit of the delay"
        className="narrow"
        value={unit}
        options={[
          { value: 'ms', text: 'ms' },
          { value: 'beats', text: 'beats' },
        ]}
        onPick={(u) => set({ amount, unit: u })}
      />
      <Form.Check
        id={`on-${action.id}`}
        className="action-on"
        label="on"
        checked={!action.isOff}
        onChange={(e) => {
          const { isOff: _before, ...rest } = action;
          onChange((e.target.checked ? rest : { ...rest, isOff: true }) as ActionDoc);
        }}
      />
    </>
  );
}

function RawFields({
  world,
  action,
  onChange,
}: {
  world: World;
  action: ActionDoc & { kind: 'raw' };
  onChange(action: ActionDoc): void;
}) {
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

function BankPick({
  world,
  action,
  onChange,
}: {
  world: World;
  action: ActionDoc & { kind: 'bank' };
  onChange(action: ActionDoc): void;
}) {
  const banks = world.boards.flatMap((b) =>
    b.banks.map(({ bank }) => ({ value: bank.id, text: `${b.device.name}: ${bank.name}` })),
  );
  const value = action.to.kind === 'bank' ? action.to.bankId : action.to.kind;
  return (
    <Pick
      label="To"
      value={value}
      options={[
        { value: 'up', text: 'up, round at the end' },
        { value: 'down', text: 'down, round at the end' },
        ...banks,
      ]}
      onPick={(to) =>
        onChange({
          ...action,
          to: to === 'up' || to === 'down' ? { kind: to } : { kind: 'bank', bankId: to },
        })
      }
    />
  );
}
