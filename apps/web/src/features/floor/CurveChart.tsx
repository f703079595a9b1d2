import type { SweepDoc } from '@idle-step/contract';
import { sweepValue } from '@idle-step/core/floor';
import { Chart, LinearScale, LineController, LineElement, PointElement } from 'chart.js';
import { useMemo } from 'react';
import { Line } from 'react-chartjs-2';

Chart.register(LineController, LineElement, PointElement, LinearScale);
Chart.defaults.animation = false;
Chart.defaults.font.family = 'IBM Plex Mono';

/** Quarters of the travel; the last step is 127. */
const TICKS = [0, 32, 64, 96, 127];

const colour = (name: string): string =>
  getComputedStyle(document.documentElement).getPropertyValue(name).trim();

/** Input against output as the receiver gets it, in its steps, with the pedal's position on it. */
export function CurveChart({ sweep, position, name }: { sweep: SweepDoc; position: number; name: string }) {
  const { from, to, invert, curve, points: own } = sweep;
  const points = useMemo(
    () =>
      Array.from({ length: 128 }, (_, x) => ({
        x,
        y: sweepValue({ from, to, invert, curve, points: own }, x),
      })),
    [from, to, invert, curve, own],
  );
  const [ink, line, primary] = [colour('--is-muted'), colour('--is-line'), colour('--is-primary')];
  const axis = (text: string) => ({
    type: 'linear' as const,
    min: 0,
    max: 127,
    grid: { color: line },
    ticks: { color: ink, font: { size: 12 } },
    afterBuildTicks: (scale: { ticks: { value: number }[] }) => {
      scale.ticks = TICKS.map((value) => ({ value }));
    },
    title: { display: true, text, color: ink, font: { size: 12 } },
  });
  return (
    <div className="curve-chart">
      <Line
        aria-label={`${name} against the pedal: heel ${points[0]!.y}, half way ${points[64]!.y}, toe ${points[127]!.y}`}
        role="img"
        data={{
          datasets: [
            { data: points, borderColor: primary, borderWidth: 2, pointRadius: 0, stepped: true },
            {
              data: [{ x: position, y: sweepValue(sweep, position) }],
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
          scales: { x: axis('pedal, heel to toe'), y: axis('sent') },
        }}
      />
    </div>
  );
}
