import { type Sweep, CURVES, CURVE_WORDS, movedBy, sweepValue } from '@idle-step/core/floor';
import { whole } from '@idle-step/contract';
import { shownText } from '@idle-step/core/gear';
import { Plus, X } from 'lucide-react';
import { Button, Form } from 'react-bootstrap';
import { useLiveOf, useWorld } from '../../../live/use/useLive';
import { NumberField, Pick } from '../../../ui/Fields';
import { IconButton } from '../../../ui/IconButton';
import { TapeMark } from '../../../ui/TapeMark';
import { inPieces } from '../../../ui/inPieces';
import { FunctionPick, ValuePick } from '../../../gear/FunctionPick';
import { newPlainSweep, newSweep } from '../../../edits/presetEdits';
import { receivers } from '../../../actions/targets';
import { channelOptions, OWN_CHANNEL } from '../../../actions/channelOptions';

const CurveChart = inPieces(
  () => import('./CurveChart').then((m) => m.CurveChart),
  <p className="muted small">Drawing …</p>,
);

type Props = {
  sweeps: readonly Sweep[];
  controlId: string;
  /** A pedal has heel and toe, a knob its lowest and highest. */
  isPedal: boolean;
  onChange(what: string, sweeps: Sweep[]): void;
};

/** What a pedal drives, from heel to toe. */
export function SweepList({ sweeps, controlId, isPedal, onChange }: Props) {
  const world = useWorld();
  const position = useLiveOf((live) => live.state.pedals[controlId] ?? 0);
  const ranges = world.rows.filter(({ fn }) => fn.shape.kind === 'range');
  const [device] = receivers(world);
  /** Expression: what a pedal that nobody wrote a chart for is most often meant to send. */
  const addPlain = () => device && onChange('add a controller', [...sweeps, newPlainSweep(device.value, 11)]);
  const add = () => {
    const first = ranges[0];
    if (first) onChange('add a sweep', [...sweeps, newSweep(first.fn)]);
  };
  return (
    <div className="sweeps">
      {sweeps.length === 0 && (
        <p className="muted">
          {ranges.length === 0
            ? 'No device has a function with a range yet; write one down in Rig.'
            : 'This pedal moves nothing yet.'}
        </p>
      )}
      {sweeps.map((sweep) => (
        <SweepItem
          key={sweep.id}
          sweep={sweep}
          position={position}
          isPedal={isPedal}
          onChange={(what, next) =>
            onChange(
              what,
              sweeps.flatMap((s) => (s.id !== sweep.id ? s : (next ?? []))),
            )
          }
        />
      ))}
      {ranges.length > 0 && (
        <Button variant="quiet" onClick={add}>
          <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
          {sweeps.length === 0 ? 'Move something with it' : 'Move something else too'}
        </Button>
      )}{' '}
      {device && (
        <Button variant="quiet" onClick={addPlain}>
          <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
          Send a controller by its number
        </Button>
      )}
    </div>
  );
}

/** One thing that a pedal drives. */
function SweepItem({
  sweep,
  position,
  isPedal,
  onChange,
}: {
  sweep: Sweep;
  /** Where the pedal stands, 0–127. */
  position: number;
  isPedal: boolean;
  /** @param next `null` takes it away. */
  onChange(what: string, next: Sweep | null): void;
}) {
  const world = useWorld();
  const found = world.functions.get(movedBy(sweep));
  // A part of a sweep keeps it one: the fields that change its kind come together.
  const set = (what: string, part: Partial<Sweep>) => onChange(what, { ...sweep, ...part } as Sweep);
  return (
    <div className="sweep">
      <div className="sweep-fields">
        {found && <TapeMark mark={found.device.mark} size={18} name={found.device.name} />}
        {sweep.functionId === null ? (
          <PlainFields sweep={sweep} onChange={(part) => set('aim a controller', part)} />
        ) : (
          <FunctionPick
            functionId={sweep.functionId}
            accepts={(fn) => fn.shape.kind === 'range'}
            onPick={(fn) => onChange('aim a sweep', { ...newSweep(fn), id: sweep.id })}
          />
        )}
        <ValuePick
          label={isPedal ? 'Heel' : 'Lowest'}
          functionId={movedBy(sweep)}
          value={sweep.from}
          onPick={(from) => set('set the heel', { from })}
        />
        <ValuePick
          label={isPedal ? 'Toe' : 'Highest'}
          functionId={movedBy(sweep)}
          value={sweep.to}
          onPick={(to) => set('set the toe', { to })}
        />
        <Pick
          label="Curve"
          value={sweep.curve}
          options={CURVES.map((value) => ({ value, text: CURVE_WORDS[value] }))}
          onPick={(curve) =>
            set('bend a sweep', {
              curve,
              points:
                curve === 'points' && sweep.points.length === 0
                  ? [
                      { x: 0.33, y: 0.2 },
                      { x: 0.66, y: 0.7 },
                    ]
                  : sweep.points,
            })
          }
        />
        <Form.Check
          id={`invert-${sweep.id}`}
          className="invert-check"
          label="inverted"
          checked={sweep.invert}
          onChange={(e) => set('turn a sweep round', { invert: e.target.checked })}
        />
        <IconButton icon={X} label="Remove this sweep" onClick={() => onChange('remove a sweep', null)} />
      </div>
      {found && (
        <>
          <CurveChart
            onPoints={sweep.curve === 'points' ? (points) => set('bend a sweep', { points }) : null}
            sweep={sweep}
            position={position}
            name={`${found.device.name} ${found.fn.name}`}
          />
          <p className="small muted">
            Pedal at {Math.round(position)}: {found.fn.name}{' '}
            {shownText(found.device, found.fn, sweepValue(sweep, position))}
          </p>
        </>
      )}
    </div>
  );
}

type PlainSweepDoc = Extract<Sweep, { functionId: null }>;

/** To which device, on which channel and by which number, without a row of a chart. */
function PlainFields({
  sweep,
  onChange,
}: {
  sweep: PlainSweepDoc;
  onChange(part: Partial<PlainSweepDoc>): void;
}) {
  const world = useWorld();
  const own = world.ways.get(sweep.deviceId)?.device.channel ?? 0;
  return (
    <>
      <Pick
        label="To"
        value={sweep.deviceId}
        options={receivers(world)}
        onPick={(deviceId) => onChange({ deviceId })}
      />
      <NumberField
        label="Controller"
        className="narrow"
        value={sweep.controller}
        schema={whole('Controller', 0, 127)}
        onCommit={(controller) => onChange({ controller })}
      />
      <Pick
        label="Channel"
        value={sweep.channel ?? OWN_CHANNEL}
        options={channelOptions(own)}
        onPick={(c) => onChange({ channel: Number(c) === OWN_CHANNEL ? null : Number(c) })}
      />
    </>
  );
}
