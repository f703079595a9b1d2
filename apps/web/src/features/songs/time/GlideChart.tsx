import type { PlainCurve } from '@idle-step/core/floor';
import { glideSteps } from '@idle-step/core/show';
import { Chart, LinearScale, LineController, LineElement, PointElement } from 'chart.js';
import { useMemo } from 'react';
import { Line } from 'react-chartjs-2';
import { cssColour } from '../../../ui/cssColour';
import { glideTimeWords } from '../../../words/transitionWords';

Chart.register(LineController, LineElement, PointElement, LinearScale);
Chart.defaults.animation = false;

type Props = {
  from: number;
  to: number;
  curve: PlainCurve;
  time: { readonly amount: number; readonly unit: 's' | 'beats' };
  bpm: number;
};

/** A glide as it is sent, in its steps, with its real length. */
export function GlideChart({ from, to, curve, time, bpm }: Props) {
  const ms = time.unit === 's' ? time.amount * 1000 : (time.amount * 60_000) / bpm;
  const steps = useMemo(() => glideSteps(from, to, curve, ms), [from, to, curve, ms]);
  const words = `${glideTimeWords(time, bpm)}, up to ${steps.length} steps`;
  return (
    <figure className="glide-chart">
      <div>
        <Line
          aria-label={`Glide, ${words}`}
          data={{
            datasets: [
              {
                data: [{ x: 0, y: from }, ...steps.map((s) => ({ x: s.atMs, y: s.value })), { x: ms, y: to }],
                stepped: true,
                borderColor: cssColour('--is-primary'),
                borderWidth: 1.5,
                pointRadius: 0,
              },
            ],
          }}
          options={{
            responsive: true,
            maintainAspectRatio: false,
            events: [],
            plugins: {},
            scales: {
              x: { type: 'linear', display: false, min: 0, max: Math.max(1, ms) },
              y: { type: 'linear', display: false, min: Math.min(from, to), max: Math.max(from, to) },
            },
          }}
        />
      </div>
      <figcaption className="small muted">{words}</figcaption>
    </figure>
  );
}
