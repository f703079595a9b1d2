import {
  expectedText,
  isUsable,
  parseShown,
  shownText,
  shownValue,
  valueBounds,
  type ChartFunction,
  type Device,
} from '@idle-step/core/gear';
import { useWorld } from '../live/use/useLive';
import { Pick, TypedField } from '../ui/Fields';
import { FilterPick } from '../ui/FilterPick';

type FunctionPickProps = {
  functionId: string;
  accepts(fn: ChartFunction): boolean;
  onPick(fn: ChartFunction): void;
};

/** Device first, then one of its functions. */
export function FunctionPick({ functionId, accepts, onPick }: FunctionPickProps) {
  const world = useWorld();
  const found = world.functions.get(functionId);
  const offers = (d: Device) => d.chart.filter((fn) => isUsable(d, fn) && accepts(fn));
  const devices = world.show.rig.devices.filter((d) => offers(d).length > 0);
  const device = found?.device ?? devices[0];
  const offered = device ? offers(device) : [];
  const pickDevice = (id: string) => {
    const picked = devices.find((d) => d.id === id);
    const first = picked && offers(picked)[0];
    if (first) onPick(first);
  };
  const gone = { value: functionId, text: 'gone from the chart' };
  return (
    <>
      <Pick
        label="Device"
        value={device?.id ?? ''}
        options={devices.map((d) => ({ value: d.id, text: d.name }))}
        onPick={pickDevice}
      />
      <FilterPick
        label="Function"
        value={functionId}
        options={[...(found ? [] : [gone]), ...offered.map((f) => ({ value: f.id, text: f.name }))]}
        onPick={(id) => {
          const fn = offered.find((f) => f.id === id);
          if (fn) onPick(fn);
        }}
      />
    </>
  );
}

/** A value of a function as people see it on the device: from a list, or typed. */
export function ValuePick({
  functionId,
  value,
  onPick,
  label = 'Value',
}: {
  functionId: string;
  value: number;
  onPick(value: number): void;
  label?: string;
}) {
  const world = useWorld();
  const found = world.functions.get(functionId);
  if (!found || found.fn.shape.kind === 'trigger') return null;
  const { device, fn } = found;
  if (fn.shape.kind === 'choice' || fn.shape.kind === 'switch') {
    const { min, max } = valueBounds(fn.shape);
    const values = Array.from({ length: max - min + 1 }, (_, i) => min + i);
    return (
      <Pick
        label={label}
        value={value}
        options={values.map((v) => ({ value: v, text: shownText(device, fn, v) }))}
        onPick={onPick}
      />
    );
  }
  return (
    <TypedField
      label={`${label}, ${expectedText(device, fn)}`}
      className="value-field"
      numeric
      shown={shownValue(device, fn, value).number}
      parse={(text) => {
        const result = parseShown(device, fn, text);
        return result.ok
          ? { value: result.value }
          : {
              error: `“${result.error.received}” is not a value of ${fn.name}; ${result.error.expected} would be right.`,
            };
      }}
      onCommit={onPick}
    />
  );
}
