import { parseShown, shownValue, type ChartFunction, type Device } from '@idle-step/core/gear';
import { Pick, TypedField } from '../../ui/Fields';
import { FunctionPick } from '../../gear/FunctionPick';
import type { Fields } from '../entry';
import { lastOf, nth } from '@idle-step/core/sure';

/** The values in the order in which they come, as people see them. */
export function StepFields({
  world,
  action,
  onChange,
  firstValues,
}: Fields<'step'> & { firstValues(fn: ChartFunction): number[] }) {
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
        label="Values in order: 1, 4, 6 to 9"
        shown={shown.join(', ')}
        parse={(text) => parseValues(text, found)}
        onCommit={(values) => onChange({ ...action, values })}
      />
      <Pick
        label="Direction"
        value={action.direction}
        options={['forward', 'back', { value: 'reset', text: 'to the first' }]}
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
    const ends = /^(\d+)\s*(?:-|–|to)\s*(\d+)$/.exec(piece)?.slice(1) ?? [piece];
    const range: number[] = [];
    for (const end of ends) {
      const parsed = parseShown(found.device, found.fn, end);
      if (!parsed.ok)
        return { error: `“${end}” is none of its values; ${parsed.error.expected} would be right.` };
      range.push(parsed.value);
    }
    const [from, to] = [nth(range, 0), lastOf(range)];
    // 8 to 1 goes down.
    for (let v = from; from <= to ? v <= to : v >= to; v += from <= to ? 1 : -1) values.push(v);
  }
  return { value: values };
}
