import { parseShown, shownText, valueBounds, type ChartFunction, type Device } from '@idle-step/core/gear';
import {
  barBeatAt,
  beatAt,
  curveOf,
  withCurve,
  type CurvePoint,
  type Song,
  type SongLine,
} from '@idle-step/core/show';
import { Plus, Trash2, X } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useEdit } from '../../../drafts/useDocs';
import { useWorld } from '../../../live/use/useLive';
import { FunctionPick } from '../../../gear/FunctionPick';
import { TypedField } from '../../../ui/Fields';
import { IconButton } from '../../../ui/IconButton';
import { barBeatText, parseBarBeat } from '../../../words/times';
import { CurveDrawing } from './CurveDrawing';

const isRange = (fn: ChartFunction): boolean => fn.shape.kind === 'range';
/** How far behind the last point a new one lies, in beats. */
const NEXT_BEATS = 4;

/** A curve of one function over the song, by its points: drawn, dragged or typed. */
export function CurvePanel({
  song,
  line,
  total,
  here,
  onClose,
}: {
  song: Song;
  line: SongLine;
  /** Beats that are drawn. */
  total: number;
  /** Where the first point of a new curve lies. */
  here: number;
  onClose(): void;
}) {
  const world = useWorld();
  const edit = useEdit('songs');
  const begun = useMemo(
    () => world.rows.find(({ fn }) => isRange(fn) && curveOf(line, fn.id).length > 0)?.fn.id,
    [world, line],
  );
  const [chosen, setChosen] = useState<string | null>(null);
  const functionId = chosen ?? begun ?? world.rows.find(({ fn }) => isRange(fn))?.fn.id;
  const found = functionId === undefined ? undefined : world.functions.get(functionId);
  const points = useMemo(
    () => (functionId === undefined ? [] : curveOf(line, functionId)),
    [line, functionId],
  );
  if (!found)
    return (
      <section className="line-detail" aria-label="A curve">
        <p className="muted">
          No device of this rig has a function that moves; write one into its chart first.
        </p>
      </section>
    );
  const { device, fn } = found;
  const draw = (label: string, next: readonly CurvePoint[]) =>
    edit(song.id, label, (s) => withCurve(s, line, fn.id, next, fn.name, () => crypto.randomUUID()));
  const add = () => {
    const { min, max } = valueBounds(fn.shape);
    const last = points.at(-1);
    if (last) draw('add a point', [...points, { beat: last.beat + NEXT_BEATS, value: last.value }]);
    else
      draw('draw a curve', [
        { beat: here, value: min },
        { beat: here + NEXT_BEATS, value: max },
      ]);
  };
  const put = (i: number, point: CurvePoint) => draw('move a point', points.with(i, point));
  return (
    <section className="line-detail" aria-label={`The curve of ${fn.name}`}>
      <div className="line-detail-head">
        <FunctionPick functionId={fn.id} accepts={isRange} onPick={(next) => setChosen(next.id)} />
        <Button variant="quiet" onClick={add}>
          <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
          Point
        </Button>
        <Button variant="quiet" disabled={points.length === 0} onClick={() => draw('take a curve away', [])}>
          <Trash2 size={16} strokeWidth={1.75} aria-hidden="true" />
          Take it away
        </Button>
        <span className="gap" />
        <IconButton icon={X} label="Close" onClick={onClose} />
      </div>
      <CurveDrawing
        line={line}
        total={Math.max(total, points.at(-1)?.beat ?? 0)}
        bounds={valueBounds(fn.shape)}
        points={points}
        textOf={(value) => shownText(device, fn, value)}
        onDraw={draw}
      />
      <p className="small muted">
        {points.length === 0
          ? 'Click where the curve is to begin, then where it goes on; it is held in cues and runs with the time line.'
          : 'Drag a point, or type its bar and its value. It is held in cues and runs with the time line.'}
      </p>
      <ol className="curve-points">
        {points.map((point, i) => (
          <PointFields
            key={i}
            {...{ line, device, fn, point }}
            onChange={(next) => put(i, next)}
            onRemove={() => draw('take a point out', points.toSpliced(i, 1))}
          />
        ))}
      </ol>
    </section>
  );
}

/** Where a point lies, typed. */
function PointFields({
  line,
  device,
  fn,
  point,
  onChange,
  onRemove,
}: {
  line: SongLine;
  device: Device;
  fn: ChartFunction;
  point: CurvePoint;
  onChange(point: CurvePoint): void;
  onRemove(): void;
}) {
  const place = barBeatText(barBeatAt(line, point.beat));
  return (
    <li>
      <TypedField
        label={`Bar of the point at ${place}`}
        hideLabel
        className="narrow"
        shown={place}
        parse={parseBarBeat}
        onCommit={(at) => onChange({ ...point, beat: beatAt(line, at) })}
      />
      <TypedField
        label={`Value at ${place}`}
        hideLabel
        className="narrow"
        numeric
        shown={shownText(device, fn, point.value)}
        parse={(text): { value: number } | { error: string } => {
          const read = parseShown(device, fn, text);
          return read.ok
            ? { value: read.value }
            : {
                error: `“${text.trim()}” is not a value of ${fn.name}; ${read.error.expected} would be right.`,
              };
        }}
        onCommit={(value) => onChange({ ...point, value })}
      />
      <IconButton icon={X} label={`Take the point at ${place} out`} onClick={onRemove} />
    </li>
  );
}
