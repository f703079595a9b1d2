import { Name } from '@idle-step/contract';
import type { World } from '@idle-step/core/engine';
import type { Action } from '@idle-step/core/floor';
import { shownText, soundValue, valueBounds, type ChartFunction, type Device } from '@idle-step/core/gear';
import { firstValue } from '../../edits/presetEdits';
import { FunctionPick, ValuePick } from '../../gear/FunctionPick';
import { CurvePick } from '../../ui/CurvePick';
import { Pick, TextField } from '../../ui/Fields';
import { GlideTime } from '../../ui/GlideTime';
import { valueWords } from '../../words/chartWords';
import type { ActionEntry, Beginning } from '../entry';
import { StepFields } from './StepFields';
import { nth } from '@idle-step/core/sure';

/** Title and value of something that moves a function of a chart. */
export const movingWords =
  <A extends Action & { functionId: string }>(
    value: (action: A, device: Device, fn: ChartFunction) => string,
  ) =>
  (action: A, world: World) => {
    const found = world.functions.get(action.functionId);
    if (!found) return { title: 'a function that is gone', value: '' };
    return { title: `${found.device.name} ${found.fn.name}`, value: value(action, found.device, found.fn) };
  };

const isSwitch = (fn: ChartFunction): boolean => fn.shape.kind === 'switch';
const isValued = (fn: ChartFunction): boolean => fn.shape.kind !== 'trigger';
const isRange = (fn: ChartFunction): boolean => fn.shape.kind === 'range';

/** Begins with a function of the rig. */
export const withFunction =
  <A,>(accepts: (fn: ChartFunction) => boolean, make: (fn: ChartFunction) => A) =>
  (at: Beginning): A | null => {
    const fn = at.function(accepts);
    return fn && make(fn);
  };

/** Toe and heel of a function: the highest while down, the lowest when up. */
const endsOf = (fn: ChartFunction): { down: number; up: number } => {
  const { min, max } = valueBounds(fn.shape);
  return { down: max, up: min };
};

export const SET: ActionEntry<'set'> = {
  text: 'set a function',
  sign: null,
  words: movingWords(({ value }, device, fn) => valueWords(device, fn, value)),
  instead: () => null,
  fields: ({ action, onChange }) => (
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
  ),
  begin: withFunction(
    () => true,
    (fn) => ({ kind: 'set', functionId: fn.id, value: firstValue(fn) }),
  ),
};

export const TOGGLE: ActionEntry<'toggle'> = {
  text: 'toggle a switch',
  sign: null,
  words: movingWords(() => 'toggle'),
  instead: () => null,
  fields: ({ action, onChange }) => (
    <FunctionPick
      functionId={action.functionId}
      accepts={isSwitch}
      onPick={(fn) => onChange({ ...action, functionId: fn.id })}
    />
  ),
  begin: withFunction(isSwitch, (fn) => ({ kind: 'toggle', functionId: fn.id })),
};

export const MOMENTARY: ActionEntry<'momentary'> = {
  text: 'hold a value while down',
  sign: null,
  words: movingWords(
    ({ down, up }, device, fn) => `${shownText(device, fn, down)}, up ${shownText(device, fn, up)}`,
  ),
  instead: () => null,
  fields: ({ action, onChange }) => (
    <>
      <FunctionPick
        functionId={action.functionId}
        accepts={isValued}
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
  ),
  begin: withFunction(isValued, (fn) => ({ kind: 'momentary', functionId: fn.id, ...endsOf(fn) })),
};

/** Values for a list to step through: all that have a name, as programs and choices do, else the first few. */
const firstValues = (fn: ChartFunction): number[] => {
  const { min, max } = valueBounds(fn.shape);
  if (fn.shape.kind === 'program' && fn.shape.names.length > 0)
    return fn.shape.names.map((n) => n.program).sort((a, b) => a - b);
  if (fn.shape.kind === 'sound' && fn.shape.names.length > 0) return fn.shape.names.map(soundValue);
  if (fn.shape.kind === 'choice') return fn.shape.labels.map((_, i) => min + i);
  return Array.from({ length: Math.min(4, max - min + 1) }, (_, i) => min + i);
};

export const STEP: ActionEntry<'step'> = {
  text: 'step through values',
  sign: null,
  words: movingWords(({ direction, values }, device, fn) =>
    direction === 'reset'
      ? `back to ${shownText(device, fn, nth(values, 0))}`
      : values.map((v) => shownText(device, fn, v)).join(', '),
  ),
  instead: () => null,
  fields: (props) => <StepFields {...props} firstValues={firstValues} />,
  begin: withFunction(isValued, (fn) => ({
    kind: 'step',
    functionId: fn.id,
    values: firstValues(fn),
    direction: 'forward',
    atEnd: 'round',
  })),
};

export const ONE_OF: ActionEntry<'one-of'> = {
  text: 'switch on one of several',
  sign: null,
  words: movingWords(({ circle }) => `on, others of “${circle}” off`),
  instead: () => null,
  fields: ({ action, onChange }) => (
    <>
      <FunctionPick
        functionId={action.functionId}
        accepts={isSwitch}
        onPick={(fn) => onChange({ ...action, functionId: fn.id })}
      />
      <TextField
        label="The others say the same name"
        value={action.circle}
        schema={Name}
        onCommit={(circle) => onChange({ ...action, circle })}
      />
    </>
  ),
  begin: withFunction(isSwitch, (fn) => ({ kind: 'one-of', functionId: fn.id, circle: 'one of these' })),
};

export const RAMP: ActionEntry<'ramp'> = {
  text: 'glide to a value',
  sign: null,
  words: movingWords(({ from, to, time }, device, fn) => {
    const start = from === null ? '' : `${shownText(device, fn, from)} `;
    return `${start}to ${shownText(device, fn, to)} in ${time.amount} ${time.unit}`;
  }),
  instead: () => null,
  fields: ({ action, onChange }) => (
    <>
      <FunctionPick
        functionId={action.functionId}
        accepts={isRange}
        onPick={(fn) => onChange({ ...action, functionId: fn.id, from: null, to: endsOf(fn).down })}
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
      <GlideTime
        label="In"
        unitLabel="Unit of the glide"
        time={action.time}
        onTime={(time) => onChange({ ...action, time })}
      />
      <CurvePick label="Curve" value={action.curve} onPick={(curve) => onChange({ ...action, curve })} />
    </>
  ),
  begin: withFunction(isRange, (fn) => ({
    kind: 'ramp',
    functionId: fn.id,
    from: null,
    to: endsOf(fn).down,
    time: { amount: 4, unit: 'beats' },
    curve: 'linear',
  })),
};
