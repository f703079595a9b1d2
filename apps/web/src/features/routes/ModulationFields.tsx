import type { z } from 'zod';
import { type Route, modulationSteps } from '@idle-step/core/routing';
import { CurvePick } from '../../ui/CurvePick';
import { ControllerNumber, DataByte, measure, whole } from '@idle-step/contract';
import { Chart, LinearScale, LineController, LineElement, PointElement } from 'chart.js';
import { useMemo } from 'react';
import { Line } from 'react-chartjs-2';
import { NumberField } from '../../ui/Fields';
import { counted } from '../../words/counted';

Chart.register(LineController, LineElement, PointElement, LinearScale);

type Modulation = NonNullable<Route['modulation']>;

const MS = measure('Time', 0, 60_000, 'ms');
/** The note of the chart is held until all that moves under it has come to rest, and a little longer. */
const HELD_REST_MS = 400;

const colour = (name: string): string =>
  getComputedStyle(document.documentElement).getPropertyValue(name).trim();

type NumberKey = {
  [K in keyof Modulation]: Modulation[K] extends number ? K : never;
}[keyof Modulation];

/** A controller that a note moves: its times, how far it goes, and every step that is sent for one note. */
export function ModulationFields({
  modulation: m,
  onChange,
}: {
  modulation: Modulation;
  onChange(modulation: Modulation): void;
}) {
  const set = (part: Partial<Modulation>) => onChange({ ...m, ...part });
  const heldMs = m.delayMs + m.attackMs + m.decayMs + HELD_REST_MS;
  const steps = useMemo(() => modulationSteps(m, heldMs), [m, heldMs]);
  const [ink, line, primary] = [colour('--is-muted'), colour('--is-line'), colour('--is-primary')];
  const number = (label: string, key: NumberKey, schema: z.ZodType<number> = MS) => (
    <NumberField
      label={label}
      className="narrow"
      value={m[key]}
      schema={schema}
      onCommit={(value) => set({ [key]: value })}
    />
  );
  const endMs = heldMs + m.releaseMs;
  const axis = (text: string, max: number) => ({
    type: 'linear' as const,
    min: 0,
    max,
    grid: { color: line },
    ticks: { color: ink, font: { size: 12 } },
    title: { display: true, text, color: ink, font: { size: 12 } },
  });
  return (
    <div className="modulation">
      <div>
        <div className="field-row">
          {number('Delay, ms', 'delayMs')}
          {number('Attack, ms', 'attackMs')}
          {number('Decay, ms', 'decayMs')}
          <NumberField
            label="Sustain, %"
            className="narrow"
            value={Math.round(m.sustain * 100)}
            schema={whole('Sustain', 0, 100, ' %')}
            onCommit={(percent) => set({ sustain: percent / 100 })}
          />
          {number('Release, ms', 'releaseMs')}
        </div>
        <div className="field-row">
          {number('Controller', 'controller', ControllerNumber)}
          {number('Rests at', 'rest', DataByte)}
          {number('Goes to', 'peak', DataByte)}
          {number('Every, ms', 'everyMs', measure('Time between two values', 5, 1000, 'ms'))}
          <CurvePick label="Curve" value={m.curve} onPick={(curve) => set({ curve })} />
        </div>
        <p className="small muted">
          {counted(steps.length, 'message')} for a note held {Math.round(heldMs)} ms.
        </p>
      </div>
      <div className="modulation-chart">
        <Line
          role="img"
          aria-label={`Controller ${m.controller} for one note: from ${m.rest} to ${m.peak} in ${m.attackMs} ms, back in ${m.releaseMs} ms, in ${steps.length} steps`}
          data={{
            datasets: [
              {
                data: [...steps, { atMs: endMs * 1.05, value: steps.at(-1)?.value ?? m.rest }].map((s) => ({
                  x: s.atMs,
                  y: s.value,
                })),
                borderColor: primary,
                borderWidth: 2,
                pointRadius: steps.length > 120 ? 0 : 2,
                pointBackgroundColor: primary,
                stepped: 'before' as const,
              },
            ],
          }}
          options={{
            animation: false,
            maintainAspectRatio: false,
            events: [],
            scales: { x: axis('ms since the note', Math.ceil(endMs * 1.05)), y: axis('sent', 127) },
          }}
        />
      </div>
    </div>
  );
}
