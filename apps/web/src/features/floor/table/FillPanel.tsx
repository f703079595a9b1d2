import { CurvePick } from '../../../ui/CurvePick';
import { whole } from '@idle-step/contract';
import type { World } from '@idle-step/core/engine';
import { TAKEOVERS, type PlainCurve, type TableCell, type Fill, type Series } from '@idle-step/core/floor';
import { shownValue, valueBounds, type ChartFunction } from '@idle-step/core/gear';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { NumberField, Pick } from '../../../ui/Fields';
import { channelOptions } from '../../../actions/channelOptions';
import { NoteField } from '../../../actions/NoteField';
import { receivers } from '../../../actions/targets';
import { FunctionPick, ValuePick } from '../../../gear/FunctionPick';
import type { FillOrder } from './tableCells';

type What =
  | 'note'
  | 'controller'
  | 'program'
  | 'set'
  | 'sweep'
  | 'channel'
  | 'number'
  | 'value'
  | 'holdMs'
  | 'doubleMs'
  | 'curve'
  | 'takeover';

const FOR_SWITCHES: readonly { value: What; text: string }[] = [
  { value: 'note', text: 'notes' },
  { value: 'controller', text: 'controllers' },
  { value: 'program', text: 'programs' },
  { value: 'set', text: 'values of a function' },
  { value: 'channel', text: 'the channel' },
  { value: 'number', text: 'the number' },
  { value: 'value', text: 'the value' },
  { value: 'holdMs', text: 'the time of a hold' },
  { value: 'doubleMs', text: 'the window of a double press' },
];
const FOR_PEDALS: readonly { value: What; text: string }[] = [
  { value: 'sweep', text: 'a function to move' },
  { value: 'curve', text: 'the curve' },
  { value: 'takeover', text: 'how it takes hold' },
];

export const TAKEOVER_WORDS: Record<(typeof TAKEOVERS)[number], string> = {
  jump: 'jump at once',
  pickup: 'wait until it crosses the value',
  scale: 'close in on it by and by',
};

/** Lowest and highest of what is counted, and where it begins. */
const BOUNDS: Partial<Record<What, { low: number; high: number; start: number; offset?: number }>> = {
  note: { low: 0, high: 127, start: 36 },
  controller: { low: 0, high: 127, start: 20 },
  program: { low: 0, high: 127, start: 0 },
  channel: { low: 0, high: 15, start: 0, offset: 1 },
  number: { low: 0, high: 127, start: 36 },
  value: { low: 0, high: 127, start: 0 },
  holdMs: { low: 100, high: 10_000, start: 600 },
  doubleMs: { low: 100, high: 2000, start: 300 },
};

type Props = {
  world: World;
  cells: readonly TableCell[];
  order: FillOrder;
  onOrder(order: FillOrder): void;
  onFill(label: string, fill: Fill): void;
};

/** What the cells in hand are filled with: the same, or counting on. */
export function FillPanel({ world, cells, order, onOrder, onFill }: Props) {
  const arePedals = cells.length > 0 && cells.every((c) => c.list === 'sweeps');
  const offered = arePedals ? FOR_PEDALS : FOR_SWITCHES;
  const [wanted, setWanted] = useState<Record<'pedals' | 'switches', What>>({
    pedals: 'sweep',
    switches: 'note',
  });
  const side = arePedals ? 'pedals' : 'switches';
  const what = wanted[side];
  const devices = receivers(world);
  const [deviceId, setDeviceId] = useState<string | null>(null);
  const [channel, setChannel] = useState(-1);
  const [starts, setStarts] = useState<Partial<Record<What, number>>>({});
  const [step, setStep] = useState(1);
  const [atEnd, setAtEnd] = useState<Series['atEnd']>('stay');
  const [fixed, setFixed] = useState({ note: 100, controller: 127 });
  const [chosen, setChosen] = useState<Partial<Record<'set' | 'sweep', string>>>({});
  const [curve, setCurve] = useState<PlainCurve>('linear');
  const [takeover, setTakeover] = useState<(typeof TAKEOVERS)[number]>('pickup');
  const to = deviceId ?? devices[0]?.value ?? '';
  const accepts = (fn: ChartFunction) =>
    what === 'sweep' ? fn.shape.kind === 'range' : fn.shape.kind !== 'trigger';
  const functions = world.rows;
  const kept = chosen[what === 'sweep' ? 'sweep' : 'set'] ?? '';
  const found =
    world.functions.get(kept) ??
    functions.find(({ fn }) => (what === 'set' ? fn.shape.kind === 'choice' : accepts(fn))) ??
    functions.find(({ fn }) => accepts(fn));
  const bounds =
    what === 'set' && found
      ? {
          low: valueBounds(found.fn.shape).min,
          high: valueBounds(found.fn.shape).max,
          start: valueBounds(found.fn.shape).min,
        }
      : BOUNDS[what];
  const start = starts[what] ?? bounds?.start ?? 0;
  const series: Series = { start, step, atEnd, low: bounds?.low ?? 0, high: bounds?.high ?? 127 };
  const setStart = (n: number) => setStarts({ ...starts, [what]: n });
  const isPlain = what === 'note' || what === 'controller' || what === 'program';
  const fill = (): Fill | null => {
    switch (what) {
      case 'note':
      case 'controller':
      case 'program':
        return {
          kind: 'message',
          deviceId: to,
          channel: channel < 0 ? null : channel,
          send: what,
          numbers: series,
          value: what === 'program' ? 0 : fixed[what],
        };
      case 'set':
        return found ? { kind: 'set', functionId: found.fn.id, values: series } : null;
      case 'sweep': {
        if (!found) return null;
        const { min, max } = valueBounds(found.fn.shape);
        return { kind: 'sweep', functionId: found.fn.id, from: min, to: max };
      }
      case 'curve':
        return { kind: 'curve', curve };
      case 'takeover':
        return { kind: 'takeover', takeover };
      default:
        return { kind: what, numbers: series };
    }
  };
  const ready = fill();
  const count = cells.length;
  return (
    <form
      className="fill-panel"
      aria-label="Fill the cells in hand"
      onSubmit={(e) => {
        e.preventDefault();
        if (ready) onFill(`fill ${count} ${count === 1 ? 'cell' : 'cells'}`, ready);
      }}
    >
      <Pick
        label="Fill with"
        value={what}
        options={offered}
        onPick={(next) => setWanted({ ...wanted, [side]: next })}
      />
      {isPlain && devices.length > 0 && (
        <>
          <Pick label="To" value={to} options={devices} onPick={(id) => setDeviceId(String(id))} />
          <Pick
            label="Channel"
            className="narrow"
            value={channel}
            options={channelOptions(world.ways.get(to)?.device.channel ?? null)}
            onPick={(c) => setChannel(Number(c))}
          />
        </>
      )}
      {(what === 'set' || what === 'sweep') && found && (
        <FunctionPick
          functionId={found.fn.id}
          accepts={accepts}
          onPick={(fn) => setChosen({ ...chosen, [what]: fn.id })}
        />
      )}
      {what === 'set' && found && (
        <ValuePick label="First value" functionId={found.fn.id} value={start} onPick={setStart} />
      )}
      {what === 'note' && <NoteField label="First note" value={start} onCommit={setStart} />}
      {bounds && what !== 'note' && what !== 'set' && (
        <NumberField
          label={FIRST_WORDS[what] ?? 'First'}
          className="narrow"
          value={start}
          shownOffset={BOUNDS[what]?.offset ?? 0}
          schema={whole('Number', bounds.low, bounds.high)}
          onCommit={setStart}
        />
      )}
      {bounds && (
        <>
          <NumberField
            label="Then by"
            className="narrow"
            value={step}
            schema={whole('Step', -1000, 1000)}
            onCommit={setStep}
          />
          <Pick
            label={`After ${endWords(found, what, bounds)}`}
            value={atEnd}
            options={[
              { value: 'stay', text: 'stay there' },
              { value: 'again', text: 'begin again' },
              { value: 'leave', text: 'leave the rest' },
            ]}
            onPick={(end) => setAtEnd(end)}
          />
          <Pick
            label="Counts"
            className="wider"
            value={order}
            options={[
              { value: 'down', text: 'down, bank by bank' },
              { value: 'across', text: 'across the banks' },
            ]}
            onPick={(o) => onOrder(o)}
          />
        </>
      )}
      {(what === 'note' || what === 'controller') && (
        <NumberField
          label={what === 'note' ? 'Velocity' : 'Value'}
          className="narrow"
          value={fixed[what]}
          schema={whole('Value', what === 'note' ? 1 : 0, 127)}
          onCommit={(n) => setFixed({ ...fixed, [what]: n })}
        />
      )}
      {what === 'curve' && <CurvePick label="Curve" value={curve} onPick={setCurve} />}
      {what === 'takeover' && (
        <Pick
          label="After a change elsewhere"
          value={takeover}
          options={TAKEOVERS.map((value) => ({ value, text: TAKEOVER_WORDS[value] }))}
          onPick={(t) => setTakeover(t)}
        />
      )}
      <Button type="submit" variant="go" disabled={count === 0 || !ready || (isPlain && to === '')}>
        Fill {count} {count === 1 ? 'cell' : 'cells'}
      </Button>
    </form>
  );
}

const FIRST_WORDS: Partial<Record<What, string>> = {
  controller: 'First controller',
  program: 'First program, as sent',
  channel: 'First channel',
  holdMs: 'First, ms',
  doubleMs: 'First, ms',
};

function endWords(
  found: { device: Parameters<typeof shownValue>[0]; fn: ChartFunction } | undefined,
  what: What,
  bounds: { high: number },
): string {
  if (what === 'set' && found) return shownValue(found.device, found.fn, bounds.high).number || 'the last';
  return String(bounds.high + (BOUNDS[what]?.offset ?? 0));
}
