import { type Sweep, sweepValue } from '@idle-step/core/floor';
import { Chart, LinearScale, LineController, LineElement, PointElement } from 'chart.js';
import { Plus } from 'lucide-react';
import { useMemo, useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { Line } from 'react-chartjs-2';
import { cssColour } from '../../../ui/cssColour';
import { useDragged } from '../../../ui/hooks/useDragged';
import { Button } from 'react-bootstrap';
import { nth } from '@idle-step/core/sure';

Chart.register(LineController, LineElement, PointElement, LinearScale);
Chart.defaults.animation = false;
Chart.defaults.font.family = 'IBM Plex Mono';

/** Quarters of the travel; the last step is 127. */
const TICKS = [0, 32, 64, 96, 127];
/** How far an arrow key moves a point, as a share. */
const NUDGE = 0.02;

type Point = Sweep['points'][number];
type Props = {
  sweep: Sweep;
  position: number;
  name: string;
  /** Takes over points that were dragged; `null` where the curve has none. */
  onPoints: ((points: readonly Point[]) => void) | null;
};

/** Input against output as the receiver gets it, in its steps, with the pedal's position on it. */
export function CurveChart({ sweep, position, name, onPoints }: Props) {
  const { from, to, invert, curve } = sweep;
  const chart = useRef<Chart<'line'> | null>(null);
  const held = useDragged<{ index: number; points: readonly Point[] }>();
  const own = held.drawn?.points ?? sweep.points;
  const points = useMemo(
    () =>
      Array.from({ length: 128 }, (_, x) => ({
        x,
        y: sweepValue({ from, to, invert, curve, points: own }, x),
      })),
    [from, to, invert, curve, own],
  );
  const [start, end] = invert ? [to, from] : [from, to];
  const dots = onPoints ? own.map((p) => ({ x: p.x * 127, y: start + (end - start) * p.y })) : [];
  const highest = Math.max(127, from, to);
  const [ink, line, primary, back] = [
    cssColour('--is-muted'),
    cssColour('--is-line'),
    cssColour('--is-primary'),
    cssColour('--is-ground'),
  ];
  const axis = (text: string, max: number) => ({
    type: 'linear' as const,
    min: 0,
    max,
    grid: { color: line },
    ticks: { color: ink, font: { size: 12 } },
    afterBuildTicks: (scale: { ticks: { value: number }[] }) => {
      if (max === 127) scale.ticks = TICKS.map((value) => ({ value }));
    },
    title: { display: true, text, color: ink, font: { size: 12 } },
  });
  /** The share of travel and range under the mouse. */
  const placeOf = (e: PointerEvent): Point | null => {
    const { current } = chart;
    const x = current?.scales['x'];
    const y = current?.scales['y'];
    if (!current || !x || !y) return null;
    const box = current.canvas.getBoundingClientRect();
    const value = y.getValueForPixel(e.clientY - box.top) ?? 0;
    return {
      x: clamp((x.getValueForPixel(e.clientX - box.left) ?? 0) / 127),
      y: end === start ? 0 : clamp((value - start) / (end - start)),
    };
  };
  const grab = (e: PointerEvent<HTMLElement>) => {
    const at = onPoints && placeOf(e);
    if (!at) return;
    const index = nearest(sweep.points, at);
    if (index < 0) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    held.set({ index, points: sweep.points });
  };
  const pull = (e: PointerEvent) => {
    const pulled = held.now();
    const at = pulled && placeOf(e);
    if (pulled && at) held.set({ ...pulled, points: movedPoint(pulled.points, pulled.index, at) });
  };
  const drop = () => {
    const pulled = held.now();
    if (pulled && pulled.points !== sweep.points) onPoints?.(pulled.points);
    held.set(null);
  };
  return (
    <>
      <div
        className={`curve-chart ${onPoints ? 'with-points' : ''}`}
        onPointerDown={grab}
        onPointerMove={pull}
        onPointerUp={drop}
        onPointerCancel={drop}
      >
        <Line
          ref={(c) => {
            chart.current = c ?? null;
          }}
          aria-label={`${name} against the pedal: heel ${nth(points, 0).y}, half way ${nth(points, 64).y}, toe ${nth(points, 127).y}`}
          role="img"
          data={{
            datasets: [
              {
                data: dots,
                showLine: false,
                pointRadius: 7,
                pointBackgroundColor: back,
                pointBorderWidth: 2,
                borderColor: primary,
              },
              { data: points, borderColor: primary, borderWidth: 2, pointRadius: 0, stepped: true },
              {
                data: [{ x: position, y: sweepValue({ from, to, invert, curve, points: own }, position) }],
                pointRadius: 6,
                pointBackgroundColor: primary,
                borderColor: primary,
              },
            ],
          }}
          options={{
            animation: false,
            maintainAspectRatio: false,
            events: [],
            scales: { x: axis('pedal, heel to toe', 127), y: axis('sent', highest) },
          }}
        />
      </div>
      {onPoints && <PointList points={sweep.points} onPoints={onPoints} />}
    </>
  );
}

/** The same points by keyboard: arrows move one, Delete takes it away. */
function PointList({
  points,
  onPoints,
}: {
  points: readonly Point[];
  onPoints(points: readonly Point[]): void;
}) {
  const onKey = (e: KeyboardEvent, index: number) => {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
    const point = nth(points, index);
    if (by) {
      e.preventDefault();
      onPoints(
        movedPoint(points, index, {
          x: clamp(point.x + nth(by, 0) * NUDGE),
          y: clamp(point.y + nth(by, 1) * NUDGE),
        }),
      );
    } else if (e.key === 'Delete' || e.key === 'Backspace') {
      e.preventDefault();
      onPoints(points.filter((_, i) => i !== index));
    }
  };
  const add = () => {
    const all = [{ x: 0, y: 0 }, ...points, { x: 1, y: 1 }];
    // Into the widest gap, on the line that is there.
    const gap = all.slice(1).map((p, i) => p.x - nth(all, i).x);
    const at = gap.indexOf(Math.max(...gap));
    const middle = {
      x: (nth(all, at).x + nth(all, at + 1).x) / 2,
      y: (nth(all, at).y + nth(all, at + 1).y) / 2,
    };
    onPoints([...points.slice(0, at), middle, ...points.slice(at)]);
  };
  return (
    <div className="curve-points">
      <span className="small muted">Drag the points, or move one with the arrows; Delete takes it away.</span>
      {points.map((p, i) => (
        <button
          key={i}
          type="button"
          className="btn btn-quiet num"
          aria-label={`Point ${i + 1} at ${Math.round(p.x * 100)} % of the travel, ${Math.round(p.y * 100)} % of the range`}
          onKeyDown={(e) => onKey(e, i)}
        >
          {Math.round(p.x * 100)}/{Math.round(p.y * 100)}
        </button>
      ))}
      <Button variant="bare" disabled={points.length >= 16} onClick={add}>
        <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
        Add a point
      </Button>
    </div>
  );
}

const clamp = (share: number): number => Math.round(Math.min(1, Math.max(0, share)) * 1000) / 1000;

function nearest(points: readonly Point[], at: Point): number {
  const far = points.map((p) => Math.hypot(p.x - at.x, p.y - at.y));
  const least = Math.min(...far);
  return least < 0.12 ? far.indexOf(least) : -1;
}

/** A point put elsewhere, kept between its neighbours so that the curve still goes from heel to toe. */
function movedPoint(points: readonly Point[], index: number, to: Point): Point[] {
  const low = (points[index - 1]?.x ?? 0) + 0.01;
  const high = (points[index + 1]?.x ?? 1) - 0.01;
  const x = Math.round(Math.min(high, Math.max(low, to.x)) * 1000) / 1000;
  return points.map((p, i) => (i === index ? { x, y: to.y } : p));
}
