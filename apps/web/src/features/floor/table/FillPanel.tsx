import { CurvePick } from '../../../ui/CurvePick';
import { whole } from '@idle-step/contract';
import type { World } from '@idle-step/core/engine';
import {
  TAKEOVERS,
  type PlainCurve,
  type TableCell,
  type Fill,
  type FillOn,
  type Series,
} from '@idle-step/core/floor';
import { shownValue, valueBounds, type ChartFunction } from '@idle-step/core/gear';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { NumberField, Pick } from '../../../ui/Fields';
import { channelOptions, OWN_CHANNEL } from '../../../actions/channelOptions';
import { NoteField } from '../../../actions/NoteField';
import { receivers } from '../../../actions/targets';
import { FunctionPick, ValuePick } from '../../../gear/FunctionPick';
import type { FillOrder } from './tableCells';

type What =
  | 'on'
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
  { value: 'on', text: 'what the first cell says, counting on' },
  { value: 'channel', text: 'the channel' },
  { value: 'number', text: 'the number' },
  { value: 'value', text: 'the value' },
  { value: 'holdMs', text: 'the time of a hold' },
  { value: 'doubleMs', text: 'the window of a double press' },
];
const FOR_PEDALS: readonly { value: What; text: string }[] = [
  { value: 'sweep', text: 'a function to move' },
  { value: 'on', text: 'what the first cell says, counting on' },
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
  onFill(label: string, fill: Fill | FillOn): void;
};

/** What the cells in hand are filled with: the same, or counting on. */
export function FillPanel({ world, cells, order, onOrder, onFill }: Props) {
  const wish = useFill(world, cells);
  const { what, to, found, isPlain, devices } = wish;
  const count = cells.length;
  return (
    <form
      className="fill-panel"
      aria-label="Fill the cells in hand"
      onSubmit={(e) => {
        e.preventDefault();
        if (wish.fill) onFill(`fill ${count} ${count === 1 ? 'cell' : 'cells'}`, wish.fill);
      }}
    >
      <Pick label="Fill with" value={what} options={wish.offered} onPick={wish.setWhat} />
      {isPlain && devices.length > 0 && (
        <>
          <Pick label="To" value={to} options={devices} onPick={(id) => wish.set({ deviceId: id })} />
          <Pick
            label="Channel"
            className="narrow"
            value={wish.channel}
            options={channelOptions(world.ways.get(to)?.device.channel ?? null)}
            onPick={(channel) => wish.set({ channel })}
          />
        </>
      )}
      {(what === 'set' || what === 'sweep') && found && (
        <FunctionPick
          functionId={found.fn.id}
          accepts={wish.accepts}
          onPick={(fn) => wish.set({ chosen: { ...wish.chosen, [what]: fn.id } })}
        />
      )}
      <SeriesFields wish={wish} order={order} onOrder={onOrder} />
      {(what === 'note' || what === 'controller') && (
        <NumberField
          label={what === 'note' ? 'Velocity' : 'Value'}
          className="narrow"
          value={wish.fixed[what]}
          schema={whole('Value', what === 'note' ? 1 : 0, 127)}
          onCommit={(n) => wish.set({ fixed: { ...wish.fixed, [what]: n } })}
        />
      )}
      {what === 'curve' && (
        <CurvePick label="Curve" value={wish.curve} onPick={(curve) => wish.set({ curve })} />
      )}
      {what === 'takeover' && (
        <Pick
          label="After a change elsewhere"
          value={wish.takeover}
          options={TAKEOVERS.map((value) => ({ value, text: TAKEOVER_WORDS[value] }))}
          onPick={(takeover) => wish.set({ takeover })}
        />
      )}
      <Button type="submit" variant="go" disabled={count === 0 || !wish.fill || (isPlain && to === '')}>
        Fill {count} {count === 1 ? 'cell' : 'cells'}
      </Button>
    </form>
  );
}

/** Where the counting begins, by how much it goes on, and what comes after its end. */
function SeriesFields({
  wish: { what, found, bounds, series, set, setStart },
  order,
  onOrder,
}: Pick<Props, 'order' | 'onOrder'> & { wish: ReturnType<typeof useFill> }) {
  const { start, step, atEnd } = series;
  return (
    <>
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
      {(bounds || what === 'on') && (
        <>
          <NumberField
            label="Then by"
            className="narrow"
            value={step}
            schema={whole('Step', -1000, 1000)}
            onCommit={(by) => set({ step: by })}
          />
          <Pick
            label={bounds ? `After ${endWords(found, what, bounds)}` : 'After the last'}
            value={atEnd}
            options={[
              { value: 'stay', text: 'stay there' },
              { value: 'again', text: 'begin again' },
              { value: 'leave', text: 'leave the rest' },
            ]}
            onPick={(end) => set({ atEnd: end })}
          />
          <Pick
            label="Counts"
            className="wider"
            value={order}
            options={[
              { value: 'down', text: 'down, bank by bank' },
              { value: 'across', text: 'across the banks' },
            ]}
            onPick={onOrder}
          />
        </>
      )}
    </>
  );
}

/** What was chosen last, for each thing that cells can be filled with. */
type Chosen = {
  readonly pedals: What;
  readonly switches: What;
  readonly deviceId: string | null;
  readonly channel: number;
  readonly starts: Partial<Record<What, number>>;
  readonly step: number;
  readonly atEnd: Series['atEnd'];
  readonly fixed: { readonly note: number; readonly controller: number };
  readonly chosen: Partial<Record<'set' | 'sweep', string>>;
  readonly curve: PlainCurve;
  readonly takeover: (typeof TAKEOVERS)[number];
};

const AT_FIRST: Chosen = {
  pedals: 'sweep',
  switches: 'note',
  deviceId: null,
  channel: OWN_CHANNEL,
  starts: {},
  step: 1,
  atEnd: 'stay',
  fixed: { note: 100, controller: 127 },
  chosen: {},
  curve: 'linear',
  takeover: 'pickup',
};

/** What the cells in hand would be filled with. */
function useFill(world: World, cells: readonly TableCell[]) {
  const [chosen, setChosen] = useState(AT_FIRST);
  const set = (part: Partial<Chosen>) => setChosen({ ...chosen, ...part });
  const arePedals = cells.length > 0 && cells.every((c) => c.list === 'sweeps');
  const side = arePedals ? 'pedals' : 'switches';
  const what = chosen[side];
  const devices = receivers(world);
  const accepts = (fn: ChartFunction) =>
    what === 'sweep' ? fn.shape.kind === 'range' : fn.shape.kind !== 'trigger';
  const { rows } = world;
  const found =
    world.functions.get(chosen.chosen[what === 'sweep' ? 'sweep' : 'set'] ?? '') ??
    rows.find(({ fn }) => (what === 'set' ? fn.shape.kind === 'choice' : accepts(fn))) ??
    rows.find(({ fn }) => accepts(fn));
  const bounds = what === 'set' && found ? boundsOf(found.fn) : BOUNDS[what];
  const series: Series = {
    start: chosen.starts[what] ?? bounds?.start ?? 0,
    step: chosen.step,
    atEnd: chosen.atEnd,
    low: bounds?.low ?? 0,
    high: bounds?.high ?? 127,
  };
  const to = chosen.deviceId ?? devices[0]?.value ?? '';
  return {
    ...chosen,
    set,
    what,
    setWhat: (next: What) => set({ [side]: next }),
    setStart: (n: number) => set({ starts: { ...chosen.starts, [what]: n } }),
    offered: arePedals ? FOR_PEDALS : FOR_SWITCHES,
    devices,
    to,
    accepts,
    found,
    bounds,
    series,
    isPlain: what === 'note' || what === 'controller' || what === 'program',
    fill:
      what === 'on'
        ? { kind: 'on' as const, step: chosen.step, atEnd: chosen.atEnd, limits: limitsIn(world) }
        : fillOf(what, chosen, series, to, found?.fn),
  };
}

const limitsIn =
  ({ functions }: World): FillOn['limits'] =>
  (functionId) => {
    const fn = functions.get(functionId)?.fn;
    return fn ? boundsOf(fn) : null;
  };

function boundsOf(fn: ChartFunction) {
  const { min, max } = valueBounds(fn.shape);
  return { low: min, high: max, start: min };
}

function fillOf(
  what: Exclude<What, 'on'>,
  { channel, fixed, curve, takeover }: Chosen,
  numbers: Series,
  deviceId: string,
  fn: ChartFunction | undefined,
): Fill | null {
  switch (what) {
    case 'note':
    case 'controller':
    case 'program':
      return {
        kind: 'message',
        deviceId,
        channel: channel === OWN_CHANNEL ? null : channel,
        send: what,
        numbers,
        value: what === 'program' ? 0 : fixed[what],
      };
    case 'set':
      return fn ? { kind: 'set', functionId: fn.id, values: numbers } : null;
    case 'sweep': {
      if (!fn) return null;
      const { min, max } = valueBounds(fn.shape);
      return { kind: 'sweep', functionId: fn.id, from: min, to: max };
    }
    case 'curve':
      return { kind: 'curve', curve };
    case 'takeover':
      return { kind: 'takeover', takeover };
    default:
      return { kind: what, numbers };
  }
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
