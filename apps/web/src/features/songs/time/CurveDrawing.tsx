import { barBeatAt, type CurvePoint, type SongLine } from '@idle-step/core/show';
import { useRef, useState, type PointerEvent } from 'react';
import { useDragged } from '../../../ui/hooks/useDragged';
import { barBeatText } from '../../../words/times';
import { nth } from '@idle-step/core/sure';

const HEIGHT_PX = 120;
/** Room round the drawing for points at its edges, in px. */
const EDGE_PX = 8;
/** Points are drawn on halves of a beat. */
const GRID_BEATS = 0.5;

type Bounds = { readonly min: number; readonly max: number };

/** The points of a curve over the song, to be clicked into it and dragged. */
export function CurveDrawing({
  line,
  total,
  bounds,
  points,
  textOf,
  onDraw,
}: {
  line: SongLine;
  total: number;
  bounds: Bounds;
  points: readonly CurvePoint[];
  textOf(value: number): string;
  onDraw(label: string, points: readonly CurvePoint[]): void;
}) {
  const svg = useRef<SVGSVGElement>(null);
  const held = useDragged<{ readonly index: number; readonly point: CurvePoint }>();
  // A first point alone is no curve yet: it waits for the second one.
  const [first, setFirst] = useState<CurvePoint | null>(null);
  const { min, max } = bounds;
  const at = (event: PointerEvent): CurvePoint => {
    const box = svg.current!.getBoundingClientRect();
    const x = (event.clientX - box.left) / box.width;
    const y = (event.clientY - box.top - EDGE_PX) / (HEIGHT_PX - 2 * EDGE_PX);
    const share = (n: number) => Math.min(1, Math.max(0, n));
    return {
      beat: Math.round((share(x) * total) / GRID_BEATS) * GRID_BEATS,
      value: Math.round(max - share(y) * (max - min)),
    };
  };
  const leftOf = ({ beat }: CurvePoint) => `${(beat / total) * 100}%`;
  const topOf = ({ value }: CurvePoint) =>
    EDGE_PX + ((max - value) / (max - min || 1)) * (HEIGHT_PX - 2 * EDGE_PX);
  const shown = held.drawn ? points.with(held.drawn.index, held.drawn.point) : points;
  const inOrder = [...shown, ...(first && points.length === 0 ? [first] : [])].toSorted(
    (a, b) => a.beat - b.beat,
  );
  const click = (event: PointerEvent) => {
    const point = at(event);
    if (points.some((p) => p.beat === point.beat) || first?.beat === point.beat) return;
    if (points.length > 0) onDraw('add a point', [...points, point]);
    else if (first) {
      setFirst(null);
      onDraw('draw a curve', [first, point]);
    } else setFirst(point);
  };
  const drop = () => {
    const dragged = held.now();
    if (!dragged) return;
    held.set(null);
    const others = points.toSpliced(dragged.index, 1);
    if (!others.some((p) => p.beat === dragged.point.beat))
      onDraw('move a point', [...others, dragged.point]);
  };
  return (
    <svg
      ref={svg}
      className="curve-drawing"
      role="img"
      aria-label={
        points.length === 0
          ? 'No curve yet'
          : points.map((p) => `${barBeatText(barBeatAt(line, p.beat))}: ${textOf(p.value)}`).join(', ')
      }
      height={HEIGHT_PX}
      onPointerDown={(event) => {
        if (event.button === 0) click(event);
      }}
      onPointerMove={(event) => {
        const dragged = held.now();
        if (dragged) held.set({ ...dragged, point: at(event) });
      }}
      onPointerUp={drop}
      onPointerCancel={() => held.set(null)}
    >
      {inOrder.slice(1).map((point, i) => (
        <line
          key={i}
          className="curve-stretch"
          x1={leftOf(nth(inOrder, i))}
          y1={topOf(nth(inOrder, i))}
          x2={leftOf(point)}
          y2={topOf(point)}
        />
      ))}
      {shown.map((point, i) => (
        <circle
          key={i}
          className="curve-point"
          cx={leftOf(point)}
          cy={topOf(point)}
          r={6}
          onPointerDown={(event) => {
            event.stopPropagation();
            svg.current?.setPointerCapture(event.pointerId);
            held.set({ index: i, point });
          }}
        />
      ))}
      {first && points.length === 0 && (
        <circle className="curve-point" cx={leftOf(first)} cy={topOf(first)} r={6} />
      )}
    </svg>
  );
}
